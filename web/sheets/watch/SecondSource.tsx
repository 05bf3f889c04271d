import { useState } from 'react';
import { readId } from '#core/pairing/ids.ts';
import type { RigWheel } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import type { WatchView, WheelView } from '#schema/alarm.ts';
import type { Sensor, Wheel } from '#schema/unit.ts';
import { ask } from '../../data/api.ts';
import { useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { duration, parseNumber, useFormat } from '../../parts/format.ts';
import { useAge } from '../../parts/useAge.ts';
import { freshKey } from '../../state/keys.ts';
import { toast, toastError } from '../../state/toast.ts';
import { withWheel } from '../../state/wheels.ts';

/** Two readings may be this far apart in time and still be compared, s. */
const COMPARABLE_S = 900;

/** What another system says of this wheel, beside the sensor that is trusted: the vehicle's own, or a second kit. */
export function SecondSource({ w, view, wheel }: { w: WheelView; view: WatchView; wheel: RigWheel }) {
  const f = useFormat();
  const { changeUnit } = useRecords();
  const ageS = useAge(view, w.second ?? undefined) ?? 0;
  const [name, setName] = useState('The vehicle’s own');
  const [id, setId] = useState('');
  const [figure, setFigure] = useState('');
  const [error, setError] = useState<string | null>(null);
  const change = async (said: string, work: (now: Wheel) => Wheel) => {
    let before: Wheel | null = null;
    try {
      await changeUnit(wheel.unit.id, (u) =>
        withWheel(
          wheel,
          (now) => {
            before = now;
            return work(now);
          },
          u,
        ),
      );
      toast(said, {
        undo: () =>
          changeUnit(wheel.unit.id, (u) => withWheel(wheel, (now) => before ?? now, u)).then(() => undefined, toastError),
      });
    } catch (e) {
      toastError(e);
    }
  };
  const { second } = w;
  if (!second || !wheel.wheel.second) {
    if (!wheel.wheel.sensor) return null;
    const add = (e: React.FormEvent) => {
      e.preventDefault();
      const read = id.trim() === '' ? null : readId(id);
      if (name.trim() === '') setError('Give it a name');
      else if (read && read.fault !== null) setError('Six hexadecimal digits, or leave it empty');
      else {
        setError(null);
        const sensor: Sensor = { id: read?.id ?? freshKey(), kind: 'internal' };
        void change(`${w.position} has a second source.`, (now) => ({ ...now, second: { name: name.trim(), sensor } }));
      }
    };
    return (
      <details className="mt-3 text-body">
        <summary className="min-h-[32px] cursor-pointer">Another system reports {w.position} too</summary>
        <form onSubmit={add} noValidate className="mt-2 flex flex-wrap items-end gap-3">
          <Field label="What it is" value={name} maxLength={40} onChange={(e) => setName(e.target.value)} />
          <Field
            label="Its sensor’s ID (empty: unknown)"
            value={id}
            error={error ?? undefined}
            onChange={(e) => setId(e.target.value)}
          />
          <button type="submit" className="btn">
            Add it
          </button>
        </form>
      </details>
    );
  }
  const comparable =
    w.pressureKpa !== null && second.pressureKpa !== null && Math.abs((w.ageS ?? 0) - (second.ageS ?? 0)) <= COMPARABLE_S;
  const difference = comparable ? (second.pressureKpa as number) - (w.pressureKpa as number) : null;
  const note = async (e: React.FormEvent) => {
    e.preventDefault();
    const n = parseNumber(figure);
    if (n === null || n < 0) {
      setError('Type a pressure');
      return;
    }
    setError(null);
    try {
      const reading = {
        wheel: { rigId: view.rigId, position: w.position, second: true },
        time: new Date().toISOString(),
        pressureKpa: convert(n, f.unit, 'kPa'),
        tempC: w.tempC ?? view.airC ?? 20,
      };
      const { refused } = await ask('ingest', {
        query: {},
        raw: new Blob([JSON.stringify([reading])], { type: 'application/json' }),
      });
      if (refused[0]) {
        setError(refused[0].detail);
        return;
      }
      setFigure('');
    } catch (failed) {
      toastError(failed);
    }
  };
  return (
    <section aria-label={`Second source of ${w.position}`} className="mt-3 border-t border-rule pt-2 text-body">
      <h4 className="font-semibold">{second.name}</h4>
      {second.pressureKpa === null ? (
        <p>No reading from it yet.</p>
      ) : (
        <p>
          {ageS > 300 ? `(${f.pressure(second.pressureKpa)})` : <b>{f.pressure(second.pressureKpa)}</b>}, {duration(ageS)} old
          {second.everyS === null ? '' : `, ${duration(second.everyS)} after the one before`}
          {difference === null
            ? '. Too far apart in time to compare.'
            : Math.abs(difference) < 0.5
              ? ', the same as this sensor.'
              : `, ${f.pressure(Math.abs(difference))} ${difference > 0 ? 'more' : 'less'} than this sensor.`}
        </p>
      )}
      <p className="text-ink2">Alarms come from the sensor above.</p>
      <form onSubmit={note} noValidate className="mt-2 flex flex-wrap items-end gap-3">
        <Field
          label="It shows now"
          unit={f.unit}
          className="w-[140px]"
          inputMode="decimal"
          value={figure}
          error={error ?? undefined}
          onChange={(e) => setFigure(e.target.value)}
        />
        <button type="submit" className="btn btn-small">
          Note it
        </button>
        <button
          type="button"
          className="btn btn-small"
          onClick={() =>
            void change(`Alarms of ${w.position} come from the other source now.`, (now) =>
              now.sensor && now.second
                ? { ...now, sensor: now.second.sensor, second: { name: 'The kit', sensor: now.sensor } }
                : now,
            )
          }
        >
          Trust this one instead
        </button>
        <button
          type="button"
          className="btn btn-small"
          onClick={() => void change(`${w.position} has one source.`, ({ second: _gone, ...now }) => now)}
        >
          Remove it
        </button>
      </form>
    </section>
  );
}
