import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { wheelsOf } from '#core/rig/positions.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { nextStep, progressOf } from '../../app/sheets.ts';
import { checkedBy } from '../../data/forms.ts';
import { unitsOf, useMonitors, useRecords, useRigs, useUnits, useWatch } from '../../data/queries.ts';
import { Box, Field } from '../../parts/controls.tsx';
import { SmallPlan } from '../../parts/RigPlan.tsx';
import { toast, toastError } from '../../parts/toast.ts';
import { inkOf } from '../../parts/words.ts';
import { templates } from './templates.ts';

function RigCard({ rig, units, monitor }: { rig: Rig; units: Unit[]; monitor: string | undefined }) {
  const watch = useWatch(rig.id);
  const { removeRig, restoreRig } = useRecords();
  const wheels = wheelsOf(units);
  const views = new Map(watch.data?.wheels.map((w) => [w.position, w]));
  const progress = progressOf({ rig, units, wheels }, watch.data);
  const next = nextStep(progress);
  const active = watch.data?.wheels.filter((w) => w.active.length > 0) ?? [];
  const paired = wheels.filter((w) => w.wheel.sensor).length;
  const remove = async () => {
    try {
      await removeRig(rig);
      toast(`${rig.name} is deleted. Its units are kept.`, {
        undo: () => restoreRig(rig).catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <article className="flex flex-col border border-ink p-4">
      <div className="flex min-h-[76px] items-center">
        <SmallPlan units={units} wheels={wheels} ink={(w) => inkOf(views.get(w.position))} />
      </div>
      <h2 className="mt-3 font-display text-[20px] font-semibold">
        <Link to={`/rigs/${rig.id}/watch`} className="underline-offset-4 hover:underline">
          {rig.name}
        </Link>
      </h2>
      <p className="text-[14px] text-ink2">{rig.note ?? units.map((u) => u.name).join(', ')}</p>
      <p className="mt-2 text-[14px]">
        {active.length > 0 ? (
          <span className="bg-ink px-2 py-[2px] font-semibold text-paper">
            {active.length === 1 ? '1 wheel in alarm' : `${active.length} wheels in alarm`}:{' '}
            {active.map((w) => w.position).join(', ')}
          </span>
        ) : (
          <span>
            {paired} of {wheels.length} wheels paired, {progress.alarms?.state === 'done' ? 'alarms set' : 'alarms not all set'}
          </span>
        )}
      </p>
      {monitor && <p className="text-[13px] text-ink2">{monitor}</p>}
      <div className="mt-auto flex flex-wrap items-center gap-2 pt-4">
        <Link to={`/rigs/${rig.id}/${next.path}`} className="btn btn-solid">
          {next.text}
        </Link>
        <Link to={`/rigs/${rig.id}/layout`} className="btn">
          Layout
        </Link>
        <button type="button" className="btn btn-plain ml-auto" onClick={remove}>
          Delete<span className="sr-only"> {rig.name}</span>
        </button>
      </div>
    </article>
  );
}

interface NewRigForm {
  name: string;
  template: string;
}

function NewRigBox({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const { addUnit, addRig } = useRecords();
  const form = useForm<NewRigForm>({
    defaultValues: { name: '', template: 'car' },
    resolver: checkedBy(validators.newRig, (typed: NewRigForm) => ({ value: { ...typed, name: typed.name.trim() } })),
  });
  const create = form.handleSubmit(async ({ name, template }) => {
    const chosen = templates.find((t) => t.id === template);
    if (!chosen) return;
    try {
      const unitIds: string[] = [];
      for (const u of chosen.units) unitIds.push((await addUnit(u)).id);
      const rig = await addRig({ name, unitIds, loadState: chosen.loadState });
      navigate(`/rigs/${rig.id}/layout`);
    } catch (error) {
      toastError(error);
    }
  });
  return (
    <Box open title="New rig" onClose={onClose}>
      <form onSubmit={create} className="flex flex-col gap-4">
        <Field
          label="What do you call it?"
          autoFocus
          placeholder="Sunday run"
          error={form.formState.errors.name && 'Give it a name'}
          {...form.register('name')}
        />
        <fieldset>
          <legend className="mb-1 text-[13px] text-ink2">What does it look like? You can change every axle afterwards.</legend>
          <div className="grid gap-2 sm:grid-cols-2">
            {templates.map((t) => {
              const units = t.units.map((u, i): Unit => ({ ...u, id: String(i), version: 1 }));
              return (
                <label
                  key={t.id}
                  className="cursor-pointer border border-rule p-2 has-checked:border-2 has-checked:border-ink has-focus-visible:outline-3"
                >
                  <span className="flex items-center gap-2 text-[14px]">
                    <input type="radio" value={t.id} className="accent-ink" {...form.register('template')} />
                    {t.name}
                  </span>
                  <SmallPlan units={units} wheels={wheelsOf(units)} ink={() => 'plain'} />
                </label>
              );
            })}
          </div>
        </fieldset>
        <div>
          <button type="submit" className="btn btn-solid" disabled={form.formState.isSubmitting}>
            Draw it
          </button>
        </div>
      </form>
    </Box>
  );
}

const steps: [string, string][] = [
  ['Draw your rig', 'Vehicle, trailers, every wheel. Two minutes.'],
  ['Key cold pressures, pick an alarm rule', 'Druckwerk does the arithmetic and says why.'],
  ['Pair the sensors and watch', 'Practise on a simulated kit first: nothing can go wrong there.'],
];

/** All rigs. */
export default function Yard() {
  const rigs = useRigs();
  const units = useUnits();
  const monitors = useMonitors();
  const [making, setMaking] = useState(false);
  if (rigs.error || units.error) {
    return (
      <div>
        <h1>Yard</h1>
        <p className="my-3">{(rigs.error ?? units.error)?.message}</p>
        <button type="button" className="btn" onClick={() => void Promise.all([rigs.refetch(), units.refetch()])}>
          Try again
        </button>
      </div>
    );
  }
  if (!rigs.data || !units.data) return <p className="text-ink2">One moment…</p>;
  const empty = rigs.data.length === 0;
  return (
    <div className="mx-auto max-w-[1240px]">
      <div className="mb-5 flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
        <div>
          <h1>{empty ? 'Know your tires before they tell you' : 'Yard'}</h1>
          <p className="lede mt-1.5 max-w-[66ch]">
            Druckwerk sets up and watches tire sensors that you fit yourself: which pressure, which alarm, which sensor on which
            wheel, and what to do when one rings.
          </p>
        </div>
        {!empty && (
          <button type="button" className="btn btn-solid" onClick={() => setMaking(true)}>
            New rig
          </button>
        )}
      </div>
      {empty ? (
        <>
          <ol className="grid gap-4 md:grid-cols-3">
            {steps.map(([head, text], i) => (
              <li key={head} className="border border-ink p-5">
                <span className="figure text-[44px] leading-none font-bold">{i + 1}</span>
                <h2 className="mt-3 font-display text-[20px] font-semibold">{head}</h2>
                <p className="mt-1 text-ink2">{text}</p>
              </li>
            ))}
          </ol>
          <p className="mt-6">
            <button type="button" className="btn btn-solid" onClick={() => setMaking(true)}>
              Draw your first rig
            </button>
          </p>
          <p className="mt-3 text-[14px] text-ink2">
            To look around first, start the demo world beside it: npm run demo. It never touches your data.
          </p>
        </>
      ) : (
        <div className="grid gap-4 sm:grid-cols-2 xl:grid-cols-3">
          {rigs.data.map((rig) => (
            <RigCard
              key={rig.id}
              rig={rig}
              units={unitsOf(rig, units.data)}
              monitor={monitors.data?.find((m) => m.id === rig.monitorId)?.name}
            />
          ))}
        </div>
      )}
      <p className="mt-6 max-w-[80ch] text-[13px] text-ink2">
        A monitor does not replace a gauge, an eye on the tread, or the placard. Follow the vehicle’s and the tire maker’s
        instructions, local codes and licensed shops above this app.
      </p>
      {making && <NewRigBox onClose={() => setMaking(false)} />}
    </div>
  );
}
