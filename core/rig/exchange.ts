import type { RigExport } from '#schema/exchange.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { NewUnit, Rig, Unit, Wheel } from '#schema/unit.ts';

/** A document without what only this store knows of it. */
function bare<T extends { id: string; version: number }>({ id: _id, version: _version, ...rest }: T): Omit<T, 'id' | 'version'> {
  return rest;
}

/** A rig, its units in order and its monitor as one document. */
export function exportRig(rig: Rig, units: readonly Unit[], monitor: Monitor | null): RigExport {
  const { name, note, loadState, capSchool, kit, map, climate, keyed, pairing, fitting, repeater, towVehicle } = rig;
  return {
    format: 'druckwerk-rig',
    version: 1,
    rig: {
      name,
      ...(note === undefined ? {} : { note }),
      loadState,
      ...(capSchool === undefined ? {} : { capSchool }),
      ...(kit === undefined ? {} : { kit }),
      ...(map === undefined ? {} : { map }),
      ...(climate === undefined ? {} : { climate }),
      ...(keyed === undefined ? {} : { keyed }),
      ...(pairing === undefined ? {} : { pairing }),
      ...(fitting === undefined ? {} : { fitting }),
      ...(repeater === undefined ? {} : { repeater }),
      ...(towVehicle === undefined ? {} : { towVehicle }),
    },
    units: units.map((u) => bare(u)),
    monitor: monitor === null ? null : bare(monitor),
  };
}

/** Every sensor of a unit with the pointer to its wheel, those of stored wheel sets too. */
export function sensorsOf(unit: NewUnit): { pointer: string; wheel: Pick<Wheel, 'position' | 'sensor'>; set?: string }[] {
  return [
    ...unit.axles.flatMap((axle, i) => axle.wheels.map((wheel, j) => ({ wheel, pointer: `/axles/${i}/wheels/${j}` }))),
    ...unit.spares.map((spare, i) => ({ wheel: spare.wheel, pointer: `/spares/${i}/wheel` })),
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
  // What lies loose and what once was belongs to the unit it was noted for.
  delete copy.loose;
  delete copy.idBook;
  return copy;
}
