import { useEffect } from 'react';
import { type UseFormRegisterReturn, useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { wheelsOf } from '#core/rig/positions.ts';
import type { Unit } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { useRecords } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Field } from '../../parts/controls.tsx';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { checkedBy } from '../../state/forms.ts';
import { toastError } from '../../state/toast.ts';
import { rigOf, type Template, trailers, vehicles } from './templates.ts';

interface NewRigForm {
  name: string;
  vehicle: string;
  trailer: string;
}

function Choices({ legend, list, field }: { legend: string; list: readonly Template[]; field: UseFormRegisterReturn }) {
  return (
    <fieldset className="min-w-0">
      <legend className="border-b border-ink pb-1 text-body font-bold">{legend}</legend>
      {list.map((t) => (
        <label
          key={t.id}
          className="flex min-h-[32px] cursor-pointer items-center gap-2 border-b border-rule text-body has-checked:font-bold pointer-coarse:min-h-[44px]"
        >
          <input type="radio" value={t.id} className="size-[16px] shrink-0" {...field} />
          {t.name}
        </label>
      ))}
    </fieldset>
  );
}

/** A new rig: what is in front, what is behind, and a name that is proposed. */
export function NewRigBox({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const { addUnit, addRig } = useRecords();
  const form = useForm<NewRigForm>({
    defaultValues: { name: rigOf('car', 'none').name, vehicle: 'car', trailer: 'none' },
    resolver: checkedBy(validators.newRig, (typed: NewRigForm) => ({ value: { ...typed, name: typed.name.trim() } })),
  });
  const [vehicle, trailer] = useWatch({ control: form.control, name: ['vehicle', 'trailer'] });
  const rig = rigOf(vehicle, trailer);
  const units = rig.units.map((u, i): Unit => ({ ...u, id: String(i), version: 1 }));
  // The name follows the choice until the owner types one.
  const { name: touched } = form.formState.dirtyFields;
  useEffect(() => {
    if (!touched) form.resetField('name', { defaultValue: rig.name });
  }, [form, touched, rig.name]);
  const create = form.handleSubmit(async ({ name }) => {
    try {
      const unitIds: string[] = [];
      for (const u of rig.units) unitIds.push((await addUnit(u)).id);
      const made = await addRig({ name, unitIds, loadState: rig.loadState });
      navigate(`/rigs/${made.id}/layout`);
    } catch (error) {
      toastError(error);
    }
  });
  return (
    <Box open title="New rig" onClose={onClose}>
      <form onSubmit={create}>
        <Field
          label="What do you call it?"
          autoFocus
          onFocus={(e) => e.target.select()}
          error={form.formState.errors.name && 'Give it a name'}
          {...form.register('name')}
        />
        <div className="mt-3 grid grid-cols-2 gap-x-6">
          <Choices legend="In front" list={vehicles} field={form.register('vehicle')} />
          <Choices legend="Behind it" list={trailers} field={form.register('trailer')} />
        </div>
        <div className="next-step">
          <button type="submit" className="btn btn-solid" disabled={form.formState.isSubmitting || units.length === 0}>
            Draw it
          </button>
          <div className="min-w-[200px] grow">
            {units.length === 0 ? (
              <p>Choose a vehicle or a trailer.</p>
            ) : (
              <SmallPlan units={units} wheels={wheelsOf(units)} ink={() => 'plain'} />
            )}
          </div>
          <p className="w-full text-note text-ink2">You can change every axle, wheel and spare afterwards.</p>
        </div>
      </form>
    </Box>
  );
}
