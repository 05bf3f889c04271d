import type { Sensor, Unit, Wheel, WheelSet } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';

/** The fitted wheels of a unit as a set that can be stored. */
function asSet(unit: Unit, name: string): WheelSet {
  const wheels = [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)];
  return {
    name,
    wheels: [...wheels],
    markings: unit.axles.map((a) => a.marking ?? null),
    axles: unit.axles.map((a) => ({ settings: a.settings, ...(a.tire ? { tire: a.tire } : {}) })),
  };
}

/**
 * The unit with the wheels of a set on it: their sensors, stems and what was done at them. Of a wheel the set says nothing of nothing is
 * known. A set that has no pressures and limits of
 * its own yet takes over those in force, so that no wheel is left without a limit; what stands on the sidewall it does not take over.
 */
function withSet(unit: Unit, set: WheelSet): Unit {
  const own = new Map(set.wheels.map((w) => [w.position, w]));
  const put = (w: Wheel): Wheel => own.get(w.position) ?? { position: w.position, sensor: null };
  return {
    ...unit,
    axles: unit.axles.map((axle, i) => {
      const { marking: _old, tire: _tire, ...rest } = axle;
      const marking = set.markings[i];
      const facts = set.axles?.[i];
      return {
        ...rest,
        ...(marking ? { marking } : {}),
        ...(facts?.tire ? { tire: facts.tire } : {}),
        settings: facts?.settings ?? axle.settings,
        wheels: axle.wheels.map(put),
      };
    }),
    spares: unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
  };
}

/**
 * Add a second (third, …) set of wheels, without sensors yet, and put it on; what was on is kept under its own name.
 * @param fitted what the wheels on it now are called, such as "summer"; kept when the unit already has sets
 * @param name what the new set is called
 * @param along the sensors that are on now go along to it
 * @throws FieldError at `/name` when a set already has this name
 */
export function addSet(unit: Unit, fitted: string, name: string, along = false): Unit {
  const current = unit.wheelSets?.fitted ?? fitted;
  const stored = unit.wheelSets?.stored ?? [];
  if (name === current || stored.some((s) => s.name === name))
    throw new FieldError('/name', `there is a set called ${name} already`);
  const fresh: WheelSet = { name, wheels: [], markings: unit.axles.map(() => null) };
  const now = asSet(unit, current);
  const { going, coming } = along ? takeAlong(now, fresh) : { going: now, coming: fresh };
  return { ...withSet(unit, coming), wheelSets: { fitted: name, stored: [...stored, going], oneSetOfSensors: along } };
}

/** A wheel whose sensor went to another one. */
const bareOf = ({ fitting: _ticks, ...w }: Wheel): Wheel => ({ ...w, sensor: null });

/**
 * The sensors of the wheels that are on now, moved to the set that comes on. They have to be screwed on there, so they count as not fitted
 * yet; a sensor that the other set had there becomes a spare.
 * @returns the set that goes, the set that comes, and the sensors that are left over
 */
function takeAlong(going: WheelSet, coming: WheelSet): { going: WheelSet; coming: WheelSet; loose: Sensor[] } {
  const loose: Sensor[] = [];
  const positions = new Set([...going.wheels, ...coming.wheels].map((w) => w.position));
  const wheels = [...positions].map((position): Wheel => {
    const there = coming.wheels.find((w) => w.position === position) ?? { position, sensor: null };
    const moved = going.wheels.find((w) => w.position === position)?.sensor;
    // A sensor inside a tire stays with its wheel.
    if (!moved || moved.kind === 'internal') return there;
    if (there.sensor) loose.push(there.sensor);
    const { fitting: _ticks, fitOverride: _override, ...bare } = there;
    return { ...bare, sensor: { ...moved, fitted: false } };
  });
  return {
    going: { ...going, wheels: going.wheels.map((w) => (w.sensor?.kind === 'internal' ? w : bareOf(w))) },
    coming: { ...coming, wheels },
    loose,
  };
}

/**
 * Change to another set: its sensors and markings come on, those of the fitted one are stored with it.
 * Sensors whose wheel the unit no longer has stay behind in a set of their own.
 * @param along the sensors of the wheels that are on now go along to the other set
 * @throws FieldError at `/name` when there is no such set
 */
export function fitSet(unit: Unit, name: string, along = false): Unit {
  const sets = unit.wheelSets;
  const set = sets?.stored.find((s) => s.name === name);
  if (!sets || !set) throw new FieldError('/name', `there is no set called ${name}`);
  const there = new Set(asSet(unit, '').wheels.map((w) => w.position));
  const left = set.wheels.filter((w) => w.sensor && !there.has(w.position));
  const stored = sets.stored.filter((s) => s !== set);
  const now = asSet(unit, sets.fitted);
  if (along) {
    const moved = takeAlong(now, { ...set, wheels: set.wheels.filter((w) => there.has(w.position)) });
    stored.push(moved.going);
    const loose = [...(unit.loose ?? []), ...moved.loose];
    const next = withSet(unit, moved.coming);
    return {
      ...next,
      ...(loose.length > 0 ? { loose } : {}),
      wheelSets: { ...sets, fitted: name, stored, oneSetOfSensors: true },
    };
  }
  stored.push(now);
  if (left.length > 0) stored.push({ name: `${name.slice(0, 28)}, left over`, wheels: left, markings: [] });
  return { ...withSet(unit, set), wheelSets: { ...sets, fitted: name, stored, oneSetOfSensors: false } };
}
