import { useState } from 'react';
import { FieldError } from '#core/errors.ts';
import { addSet, fitSet } from '#core/rig/sets.ts';
import type { Unit } from '#schema/unit.ts';
import { Field } from '../../parts/controls.tsx';

/** Summer, winter, track: each set has sensors of its own, and one of them is fitted. */
export function WheelSets({
  unit,
  idSets,
  onChange,
}: {
  unit: Unit;
  /** Sets of IDs that the monitor holds at once. */
  idSets: number;
  onChange: (what: string, unit: Unit) => void;
}) {
  const [open, setOpen] = useState(false);
  const [fitted, setFitted] = useState('summer');
  const [name, setName] = useState('winter');
  const [error, setError] = useState<string | null>(null);
  const sets = unit.wheelSets;
  const [along, setAlong] = useState(sets?.oneSetOfSensors ?? false);
  const add = () => {
    if (name.trim() === '' || (!sets && fitted.trim() === '')) {
      setError('Give it a name');
      return;
    }
    try {
      const next = addSet(unit, fitted.trim(), name.trim(), along);
      setOpen(false);
      setError(null);
      onChange(`${name.trim()} set added`, next);
    } catch (e) {
      if (!(e instanceof FieldError)) throw e;
      setError(e.message);
    }
  };
  const alongBox = (
    <label className="flex min-h-[44px] items-center gap-2">
      <input type="checkbox" className="size-[20px] accent-ink" checked={along} onChange={(e) => setAlong(e.target.checked)} />
      One set of sensors: they go along
    </label>
  );
  return (
    <section aria-label="Wheel sets" className="text-body">
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
              onClick={() => onChange(`${s.name} set fitted`, fitSet(unit, s.name, along))}
            >
              Fit {s.name} ({along ? 'with these sensors' : `${s.wheels.filter((w) => w.sensor).length} sensors`})
            </button>
          ))}
          {alongBox}
          <p className="w-full text-note text-ink2">
            {along
              ? 'Screw each sensor onto the same position of the other wheels. Nothing has to be paired; Fitting asks for the wheels again.'
              : idSets > 1
                ? `Your monitor holds ${idSets} sets of IDs: switch it to the other set. Nothing has to be paired again.`
                : 'Each set has sensors of its own. Your monitor holds one set of IDs: pair the other set’s when it goes on.'}
          </p>
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
          {!sets && alongBox}
          <p className="text-note text-ink2">
            {along
              ? 'The sensors that are on now go onto the other wheels, each at its own position.'
              : 'The other set goes on without sensors: pair its own. The one on now keeps its sensors for when it comes back.'}
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
