import type { Unit, Wheel, WheelSet } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';

/** The fitted wheels of a unit as a set that can be stored. */
function asSet(unit: Unit, name: string): WheelSet {
  const wheels = [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)];
  return {
    name,
    wheels: wheels.map(({ position, sensor }) => ({ position, sensor })),
    markings: unit.axles.map((a) => a.marking ?? null),
    axles: unit.axles.map((a) => ({ settings: a.settings, ...(a.tire ? { tire: a.tire } : {}) })),
  };
}

/**
 * The unit with the wheels of a set on it. A wheel the set says nothing of has no sensor. A set that has no pressures and limits of
 * its own yet takes over those in force, so that no wheel is left without a limit; what stands on the sidewall it does not take over.
 */
function withSet(unit: Unit, set: WheelSet): Unit {
  const sensors = new Map(set.wheels.map((w) => [w.position, w.sensor]));
  const put = (w: Wheel): Wheel => ({ ...w, sensor: sensors.get(w.position) ?? null });
  return {
    ...unit,
    axles: unit.axles.map((axle, i) => {
      const { marking: _old, tire: _tire, ...rest } = axle;
      const marking = set.markings[i];
      const own = set.axles?.[i];
      return {
        ...rest,
        ...(marking ? { marking } : {}),
        ...(own?.tire ? { tire: own.tire } : {}),
        settings: own?.settings ?? axle.settings,
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
 * @throws FieldError at `/name` when a set already has this name
 */
export function addSet(unit: Unit, fitted: string, name: string): Unit {
  const current = unit.wheelSets?.fitted ?? fitted;
  const stored = unit.wheelSets?.stored ?? [];
  if (name === current || stored.some((s) => s.name === name))
    throw new FieldError('/name', `there is a set called ${name} already`);
  const next = withSet(unit, { name, wheels: [], markings: unit.axles.map(() => null) });
  return { ...next, wheelSets: { fitted: name, stored: [...stored, asSet(unit, current)] } };
}

/**
 * Change to another set: its sensors and markings come on, those of the fitted one are stored with it.
 * Sensors whose wheel the unit no longer has stay behind in a set of their own.
 * @throws FieldError at `/name` when there is no such set
 */
export function fitSet(unit: Unit, name: string): Unit {
  const sets = unit.wheelSets;
  const set = sets?.stored.find((s) => s.name === name);
  if (!sets || !set) throw new FieldError('/name', `there is no set called ${name}`);
  const there = new Set(asSet(unit, '').wheels.map((w) => w.position));
  const left = set.wheels.filter((w) => w.sensor && !there.has(w.position));
  const stored = sets.stored.filter((s) => s !== set);
  stored.push(asSet(unit, sets.fitted));
  if (left.length > 0) stored.push({ name: `${name.slice(0, 28)}, left over`, wheels: left, markings: [] });
  return { ...withSet(unit, set), wheelSets: { fitted: name, stored } };
}
