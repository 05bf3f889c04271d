import { useState } from 'react';
import { FieldError } from '#core/errors.ts';
import { addSet, fitSet } from '#core/rig/sets.ts';
import type { Unit } from '#schema/unit.ts';
import { Field } from '../../parts/controls.tsx';

/** Summer, winter, track: each set has sensors of its own, and one of them is fitted. */
export function WheelSets({ unit, onChange }: { unit: Unit; onChange: (what: string, unit: Unit) => void }) {
  const [open, setOpen] = useState(false);
  const [fitted, setFitted] = useState('summer');
  const [name, setName] = useState('winter');
  const [error, setError] = useState<string | null>(null);
  const sets = unit.wheelSets;
  const add = () => {
    if (name.trim() === '' || (!sets && fitted.trim() === '')) {
      setError('Give it a name');
      return;
    }
    try {
      const next = addSet(unit, fitted.trim(), name.trim());
      setOpen(false);
      setError(null);
      onChange(`${name.trim()} set added`, next);
    } catch (e) {
      if (!(e instanceof FieldError)) throw e;
      setError(e.message);
    }
  };
  return (
    <section aria-label="Wheel sets" className="text-[14px]">
      {sets && (
        <div className="mb-2 flex flex-wrap items-center gap-2">
          <span>
            Wheel set on it: <b>{sets.fitted}</b>
          </span>
          {sets.stored.map((s) => (
            <button
              key={s.name}
              type="button"
              className="btn btn-small"
              onClick={() => onChange(`${s.name} set fitted`, fitSet(unit, s.name))}
            >
              Fit {s.name} ({s.wheels.filter((w) => w.sensor).length} sensors)
            </button>
          ))}
        </div>
      )}
      {open ? (
        <div className="flex flex-col gap-2 border border-rule p-3">
          {!sets && (
            <Field
              label="The wheels on it now are called"
              value={fitted}
              maxLength={40}
              onChange={(e) => setFitted(e.target.value)}
            />
          )}
          <Field
            label="The other set is called"
            value={name}
            maxLength={40}
            error={error ?? undefined}
            onChange={(e) => setName(e.target.value)}
          />
          <p className="text-[13px] text-ink2">
            The other set goes on without sensors: pair its own. The one on now keeps its sensors for when it comes back.
          </p>
          <div className="flex gap-2">
            <button type="button" className="btn btn-small btn-solid" onClick={add}>
              Put the other set on
            </button>
            <button type="button" className="btn btn-small" onClick={() => setOpen(false)}>
              Leave it
            </button>
          </div>
        </div>
      ) : (
        <button type="button" className="btn btn-small" disabled={(sets?.stored.length ?? 0) >= 6} onClick={() => setOpen(true)}>
          {sets ? 'Add another wheel set' : 'Add a second wheel set'}
        </button>
      )}
    </section>
  );
}
