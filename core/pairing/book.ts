import type { BookEntry, Sensor, Unit, Wheel } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { isSensorKey } from './ids.ts';

/** The most entries of a unit's history that are kept: the latest. */
export const MOST_ENTRIES = 400;

const change = (unit: Unit, position: string, work: (w: Wheel) => Wheel): Unit => ({
  ...unit,
  axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map((w) => (w.position === position ? work(w) : w)) })),
  spares: unit.spares.map((s) => (s.wheel.position === position ? { ...s, wheel: work(s.wheel) } : s)),
});

const wheelAt = (unit: Unit, position: string): Wheel => {
  const wheel = [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)].find((w) => w.position === position);
  if (!wheel) throw new FieldError('/position', `there is no wheel ${position}`);
  return wheel;
};

/** A line of the history for a sensor that leaves a wheel. */
function entry(wheel: Wheel, until: string, why: BookEntry['why']): BookEntry[] {
  const { sensor } = wheel;
  if (!sensor) return [];
  return [
    {
      position: wheel.position,
      sensorId: sensor.id,
      kind: sensor.kind,
      ...(sensor.pairedAt === undefined ? {} : { since: sensor.pairedAt }),
      ...(sensor.style === undefined ? {} : { style: sensor.style }),
      until,
      why,
    },
  ];
}

const noted = (unit: Unit, entries: readonly BookEntry[]): Unit =>
  entries.length === 0 ? unit : { ...unit, idBook: [...(unit.idBook ?? []), ...entries].slice(-MOST_ENTRIES) };

/** The unit without a sensor among those lying loose. */
function withoutLoose(unit: Unit, id: string): Unit {
  const loose = unit.loose?.filter((s) => s.id.toUpperCase() !== id.toUpperCase()) ?? [];
  const { loose: _old, ...rest } = unit;
  return loose.length > 0 ? { ...rest, loose } : rest;
}

/**
 * Pair a sensor to a wheel. The one that was there is retired with its date.
 * @param at now, ISO 8601
 * @throws FieldError at `/position` when there is no such wheel
 */
export function pairSensor(unit: Unit, position: string, sensor: Sensor, at: string): Unit {
  const wheel = wheelAt(unit, position);
  const same = wheel.sensor?.id.toUpperCase() === sensor.id.toUpperCase();
  const next = noted(unit, same ? [] : entry(wheel, at, 'replaced'));
  return withoutLoose(
    change(next, position, (w) => ({ ...w, sensor })),
    sensor.id,
  );
}

/**
 * Open a position. Its sensor is retired, or kept at hand as a spare that no watch waits for.
 * @throws FieldError at `/position` when there is no such wheel
 */
export function openPosition(unit: Unit, position: string, at: string, keep: boolean): Unit {
  const wheel = wheelAt(unit, position);
  if (!wheel.sensor) return unit;
  const next = change(noted(unit, entry(wheel, at, keep ? 'takenOff' : 'deleted')), position, (w) => ({ ...w, sensor: null }));
  if (!keep) return next;
  const { fitted: _fitted, ...sensor } = wheel.sensor;
  return { ...next, loose: [...(next.loose ?? []), sensor] };
}

/**
 * Note the ID of a sensor that was paired without one. What was recorded of it stays where it is.
 * @throws FieldError at `/position` when no such sensor is there
 */
export function addShownId(unit: Unit, position: string, shownId: string): Unit {
  const { sensor } = wheelAt(unit, position);
  if (!sensor || !isSensorKey(sensor.id)) throw new FieldError('/position', `${position} has no sensor without an ID`);
  return change(unit, position, (w) => ({ ...w, sensor: { ...sensor, shownId } }));
}

/** Move a sensor to another wheel of the unit; one that is there goes the other way. */
export function moveSensor(unit: Unit, from: string, to: string, at: string): Unit {
  const a = wheelAt(unit, from);
  const b = wheelAt(unit, to);
  if (from === to || (!a.sensor && !b.sensor)) return unit;
  const stamped = (s: Sensor | null): Sensor | null => s && { ...s, pairedAt: at };
  const next = noted(unit, [...entry(a, at, 'moved'), ...entry(b, at, 'moved')]);
  return change(
    change(next, from, (w) => ({ ...w, sensor: stamped(b.sensor) })),
    to,
    (w) => ({ ...w, sensor: stamped(a.sensor) }),
  );
}

/** The history of a wheel, the youngest first. */
export const historyOf = (unit: Unit, position: string): BookEntry[] =>
  (unit.idBook ?? []).filter((e) => e.position === position).reverse();
