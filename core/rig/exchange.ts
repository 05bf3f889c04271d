import type { RigExport } from '#schema/exchange.ts';
import type { Monitor, NewMonitor } from '#schema/monitor.ts';
import type { NewUnit, Rig, Unit, Wheel } from '#schema/unit.ts';
import { rigKeyed } from '../alarms/keyed.ts';

/** A document without what only this store knows of it. */
function bare<T extends { id: string; version: number }>({ id: _id, version: _version, ...rest }: T): Omit<T, 'id' | 'version'> {
  return rest;
}

/** A monitor's description without what was keyed into it. */
function withoutMemory({ keyed: _keyed, keyedHotC: _hot, ...monitor }: Omit<Monitor, 'id' | 'version'>): NewMonitor {
  return monitor;
}

/** A rig, its units in order and its monitor as one document. */
export function exportRig(rig: Rig, units: readonly Unit[], monitor: Monitor | null): RigExport {
  const { unitIds: _units, monitorId: _monitor, archived: _archived, keyed: _keyed, ...rest } = bare(rig);
  // What is keyed belongs to the monitor's lists here; elsewhere it is all that is known of that monitor.
  const keyed = rigKeyed(rig, units, monitor);
  return {
    format: 'druckwerk-rig',
    version: 1,
    rig: { ...rest, ...(keyed ? { keyed } : {}) },
    units: units.map((u) => bare(u)),
    monitor: monitor === null ? null : withoutMemory(bare(monitor)),
  };
}

/** Every sensor of a unit with the pointer to its wheel, those of stored wheel sets too. */
export function sensorsOf(unit: NewUnit): { pointer: string; wheel: Pick<Wheel, 'position' | 'sensor'>; set?: string }[] {
  const both = (wheel: Wheel, pointer: string) => [
    { wheel, pointer },
    ...(wheel.second ? [{ wheel: { position: wheel.position, sensor: wheel.second.sensor }, pointer: `${pointer}/second` }] : []),
  ];
  return [
    ...unit.axles.flatMap((axle, i) => axle.wheels.flatMap((wheel, j) => both(wheel, `/axles/${i}/wheels/${j}`))),
    ...unit.spares.flatMap((spare, i) => both(spare.wheel, `/spares/${i}/wheel`)),
    ...(unit.wheelSets?.stored ?? []).flatMap((set, i) =>
      set.wheels.map((wheel, j) => ({ wheel, pointer: `/wheelSets/stored/${i}/wheels/${j}`, set: set.name })),
    ),
  ];
}

/** The unit without some of its sensors, or without any. */
export function withoutSensors<T extends NewUnit>(unit: T, drop: (id: string) => boolean = () => true): T {
  const copy = JSON.parse(JSON.stringify(unit)) as T;
  for (const { wheel } of sensorsOf(copy)) {
    const { sensor } = wheel;
    if (sensor && (drop(sensor.id.toUpperCase()) || (sensor.shownId !== undefined && drop(sensor.shownId.toUpperCase()))))
      wheel.sensor = null;
  }
  for (const wheel of [...copy.axles.flatMap((a) => a.wheels), ...copy.spares.map((s) => s.wheel)])
    if (wheel.second && drop(wheel.second.sensor.id.toUpperCase())) delete wheel.second;
  // What lies loose and what once was belongs to the unit it was noted for.
  delete copy.loose;
  delete copy.idBook;
  return copy;
}
