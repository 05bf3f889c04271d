import { useState } from 'react';
import { v4 as newId } from 'uuid';
import { axleOf } from '#core/rig/positions.ts';
import type { Direction } from '#core/track/sessions.ts';
import type { TrackDay } from '#schema/unit.ts';
import { ask } from '../../../data/api.ts';
import { useRecords, useWatch } from '../../../data/queries.ts';
import { Field, Notice } from '../../../parts/controls.tsx';
import { dayHere, fieldFigure, useFormat } from '../../../parts/format.ts';
import { LOCALE } from '../../../parts/locale.ts';
import { TrackMode } from '../../../parts/TrackMode.tsx';
import { isFresh } from '../../../parts/words.ts';
import { useDraft } from '../../../state/drafts.ts';
import { usePlans } from '../../../state/plans.ts';
import { toast, toastError } from '../../../state/toast.ts';
import { useRig } from '../../../state/useRig.ts';
import { freshDay, freshSession, isBegun, keptDay, kpaOf, type Read, type TypedDay, typedDay } from './day.ts';
import { Findings } from './Findings.tsx';
import { SessionTable } from './SessionTable.tsx';

const MINUTE = 60_000;

/** A day of the calendar where its owner is. */
const dayText = (date: string): string =>
  new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' }).format(Date.parse(date));

const labelOf = (d: TrackDay) => `${dayText(d.date)}${d.place ? `, ${d.place}` : ''}`;

/** Per wheel and session: what was read, what comes out now, what to start with next time. */
export function TrackPart() {
  const whole = useRig();
  const { rig, wheels } = whole;
  const f = useFormat();
  const view = useWatch(rig.id).data;
  const plans = usePlans(whole);
  const { changeRig } = useRecords();
  const kept = rig.trackDays ?? [];
  const latest = kept.toSorted((a, b) => (a.date < b.date ? 1 : -1))[0];
  const today = dayHere(new Date().toISOString());
  // Figures are kept as typed, each in the unit it was typed in.
  const [day, setDay, drop] = useDraft<TypedDay>(
    `trackday.${rig.id}`,
    latest ? typedDay(latest, f.unit, f.temp) : freshDay(today, f.unit),
  );
  const [taking, setTaking] = useState(false);
  const own = wheels.filter((w) => w.unit.kind === 'vehicle' && w.place !== 'S');
  if (own.length === 0) return <p>A track day is for a vehicle. This rig has none.</p>;

  const last = day.sessions.length - 1;
  const same = kept.find((d) => d.id === day.id);
  const changed =
    isBegun(day) && JSON.stringify(keptDay({ ...day, id: '' }, f.temp)) !== JSON.stringify(same ? { ...same, id: '' } : null);
  const open = (next: TypedDay) => {
    const before = day;
    drop(next);
    if (changed) toast('What was not kept is put aside.', { undo: () => setDay(before) });
  };
  const keep = async () => {
    const id = day.id || newId();
    const record = keptDay({ ...day, id }, f.temp);
    try {
      await changeRig(rig.id, (now) => ({
        ...now,
        trackDays: [...(now.trackDays ?? []).filter((d) => d.id !== id), record].slice(-100),
      }));
      drop({ ...day, id });
      toast('The day is kept.');
    } catch (error) {
      toastError(error);
    }
  };
  const remove = async () => {
    if (!same) return;
    try {
      await changeRig(rig.id, (now) => ({ ...now, trackDays: (now.trackDays ?? []).filter((d) => d.id !== same.id) }));
      drop(freshDay(today, f.unit));
      toast('The day is deleted.', {
        undo: () =>
          void changeRig(rig.id, (now) => ({ ...now, trackDays: [...(now.trackDays ?? []), same] }))
            .then(() => drop(typedDay(same, f.unit, f.temp)))
            .catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  /** Put readings of now, or the most of the last half hour, into the last session. Typed figures stay. */
  const put = (read: Read, figures: ReadonlyMap<string, number>) => {
    setDay((now) => ({
      ...now,
      sessions: now.sessions.map((s, i) =>
        i !== now.sessions.length - 1
          ? s
          : {
              ...s,
              wheels: {
                ...s.wheels,
                ...Object.fromEntries(
                  [...figures]
                    .filter(([p]) => (s.wheels[p]?.[read]?.text ?? '') === '')
                    .map(([p, kpa]) => [p, { ...s.wheels[p], [read]: { text: fieldFigure(kpa, f.unit), unit: f.unit } }]),
                ),
              },
            },
      ),
    }));
    toast(
      figures.size === 0
        ? 'No sensor is reporting.'
        : `Taken from ${figures.size === 1 ? '1 sensor' : `${figures.size} sensors`}.`,
    );
  };
  const takeNow = (read: Read) =>
    put(
      read,
      new Map(
        (view?.wheels ?? [])
          .filter((w) => isFresh(w) && w.pressureKpa !== null && own.some((o) => o.position === w.position))
          .map((w) => [w.position, w.pressureKpa as number]),
      ),
    );
  const takePeak = async () => {
    const to = Date.parse(view?.time ?? '');
    if (Number.isNaN(to)) return;
    setTaking(true);
    try {
      const answer = await ask('chart', {
        params: { rig: rig.id },
        query: {
          from: new Date(to - 30 * MINUTE).toISOString(),
          to: new Date(to).toISOString(),
          positions: own.map((w) => w.position).join(),
          points: 400,
        },
      });
      put(
        'peak',
        new Map(
          answer.series
            .filter((s) => s.points.length > 0)
            .map((s) => [s.position, Math.max(...s.points.map((p) => p.highKpa ?? p.lastKpa))]),
        ),
      );
    } catch (error) {
      toastError(error);
    }
    setTaking(false);
  };
  const minimumOf = (position: string) => plans.find((p) => p.code === axleOf(position))?.facts.minimum?.kpa ?? null;
  const target = kpaOf(day.target, 'target');
  const minima = own.flatMap((w) => minimumOf(w.position) ?? []);
  const mostMinimum = minima.length === 0 ? null : Math.max(...minima);
  return (
    <section aria-label="Track day">
      {view && (
        <div className="mb-4 print:hidden">
          <TrackMode view={view} />
        </div>
      )}
      <div className="mb-4 flex flex-wrap items-end gap-3 print:hidden">
        {kept.length > 0 && (
          <div className="field w-[280px]">
            <label htmlFor="track-day">Day</label>
            <select
              id="track-day"
              className="input"
              value={same ? day.id : ''}
              onChange={(e) => {
                const next = kept.find((d) => d.id === e.target.value);
                open(next ? typedDay(next, f.unit, f.temp) : freshDay(today, f.unit));
              }}
            >
              <option value="">A new day</option>
              {kept
                .toSorted((a, b) => (a.date < b.date ? 1 : -1))
                .map((d) => (
                  <option key={d.id} value={d.id}>
                    {labelOf(d)}
                  </option>
                ))}
            </select>
          </div>
        )}
        <Field
          className="w-[150px]"
          label="Date"
          type="date"
          value={day.date}
          onChange={(e) => e.target.value !== '' && setDay((now) => ({ ...now, date: e.target.value }))}
        />
        <Field
          className="w-[200px]"
          label="Where"
          maxLength={60}
          value={day.place}
          onChange={(e) => setDay((now) => ({ ...now, place: e.target.value }))}
        />
        <div className="field w-[190px]">
          <label htmlFor="track-direction">It goes</label>
          <select
            id="track-direction"
            className="input"
            value={day.direction}
            onChange={(e) => setDay((now) => ({ ...now, direction: e.target.value as TypedDay['direction'] }))}
          >
            <option value="">either way</option>
            <option value="clockwise">clockwise</option>
            <option value="counter">counter-clockwise</option>
          </select>
        </div>
        <Field
          className="w-[150px]"
          label="Target, hot"
          unit={day.target.unit}
          inputMode="decimal"
          value={day.target.text}
          error={
            target === null
              ? `${f.figure(30)} to ${f.pressure(1000)}`
              : target !== undefined && mostMinimum !== null && target < mostMinimum
                ? `Under the load minimum, ${f.pressure(mostMinimum)} cold`
                : undefined
          }
          onChange={(e) => setDay((now) => ({ ...now, target: { text: e.target.value, unit: now.target.unit } }))}
        />
      </div>
      <SessionTable day={day} setDay={setDay} wheels={own} minimumOf={minimumOf} />
      <div className="next-step print:hidden">
        <button type="button" className={`btn ${changed ? 'btn-solid' : ''}`} disabled={!changed} onClick={() => void keep()}>
          Keep the day
        </button>
        <button
          type="button"
          className={`btn ${changed ? '' : 'btn-solid'}`}
          disabled={day.sessions.length >= 12}
          onClick={() => setDay((now) => ({ ...now, sessions: [...now.sessions, freshSession()] }))}
        >
          Add a session
        </button>
      </div>
      <div className="mt-2 flex flex-wrap gap-2 print:hidden">
        {view?.wheels.some((w) => w.sensorId !== null) && (
          <>
            <button type="button" className="btn" disabled={taking} onClick={() => void takePeak()}>
              Take the peak of the last 30 min
            </button>
            <button type="button" className="btn" onClick={() => takeNow('pit')}>
              Take the pit readings
            </button>
          </>
        )}
        {same ? (
          <button type="button" className="btn" onClick={() => void remove()}>
            Delete the day
          </button>
        ) : (
          <button type="button" className="btn" disabled={!isBegun(day)} onClick={() => open(freshDay(today, f.unit))}>
            Clear the day
          </button>
        )}
        <button type="button" className="btn" onClick={() => window.print()}>
          Print for the car
        </button>
      </div>
      <Findings day={day} wheels={own} session={last} direction={(day.direction || null) as Direction | null} />
      <div className="mt-4">
        <Notice>
          A tire cools on the cool-down lap and in the pit, so a pit reading is lower than the lap’s. With both readings once,
          later pit readings are corrected by that. Go back to the road pressure, cold, before you drive home.
        </Notice>
      </div>
    </section>
  );
}
