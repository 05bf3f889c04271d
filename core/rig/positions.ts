import type { LoadState } from '#schema/common.ts';
import type { Axle, Limits, Rig, Setting, Spare, Unit, Wheel } from '#schema/unit.ts';

/** Where on its axle a wheel sits: left, right, the inner and outer of duals, or on the centre line. */
export type Place = 'L' | 'R' | 'LO' | 'LI' | 'RI' | 'RO' | 'C';

/** A wheel as the rig sees it. */
export interface RigWheel {
  /** Rig code, such as A2RO. */
  position: string;
  /** Code inside the unit, such as 2RO. */
  local: string;
  unitIndex: number;
  unit: Unit;
  /** Axle index from 0; null for a spare. */
  axleIndex: number | null;
  place: Place | 'S';
  wheel: Wheel;
  /** The axle or spare that holds its settings. */
  holder: Axle | Spare;
}

export const MAX_UNITS = 8;

/** Unit letter by order from the front: A, B, C. */
export const unitLetter = (index: number): string => String.fromCharCode(65 + index);

/** Place of a local code: `2RO` gives RO; a spare gives S. */
export const placeOf = (local: string): Place | 'S' => (local.startsWith('S') ? 'S' : (local.slice(1) as Place));

/** Places from left to right. */
export const PLACES: readonly Place[] = ['LO', 'L', 'LI', 'C', 'RI', 'R', 'RO'];

/** Whether a position code is a spare's: BS1. */
export const isSpare = (position: string): boolean => /^[A-H]?S\d$/.test(position);

/** The axle of a position code without side and O/I: A2RO gives A2; a spare gives its own code. */
export const axleOf = (position: string): string => /^[A-H]\d/.exec(position)?.[0] ?? position;

/**
 * All wheels of a rig in plan order: unit by unit from the front, axle by axle, left to right, then the unit's spares.
 * @param units the rig's units in order
 */
export function wheelsOf(units: readonly Unit[]): RigWheel[] {
  const out: RigWheel[] = [];
  units.forEach((unit, unitIndex) => {
    const letter = unitLetter(unitIndex);
    unit.axles.forEach((axle, axleIndex) => {
      const sorted = [...axle.wheels].sort(
        (a, b) => PLACES.indexOf(placeOf(a.position) as Place) - PLACES.indexOf(placeOf(b.position) as Place),
      );
      for (const wheel of sorted) {
        out.push({
          position: letter + wheel.position,
          local: wheel.position,
          unitIndex,
          unit,
          axleIndex,
          place: placeOf(wheel.position),
          wheel,
          holder: axle,
        });
      }
    });
    for (const spare of unit.spares) {
      out.push({
        position: letter + spare.wheel.position,
        local: spare.wheel.position,
        unitIndex,
        unit,
        axleIndex: null,
        place: 'S',
        wheel: spare.wheel,
        holder: spare,
      });
    }
  });
  return out;
}

/** The wheels of a rig that its kit watches: all but those of units with a system of their own. */
export const watchedWheels = (rig: Pick<Rig, 'unwatched'>, units: readonly Unit[]): RigWheel[] =>
  wheelsOf(units).filter((w) => !rig.unwatched?.includes(unitLetter(w.unitIndex)));

/** The settings of a wheel's axle (or spare) in a load state, empty when none were made. */
export const settingOf = (wheel: RigWheel, loadState: LoadState): Setting => wheel.holder.settings[loadState] ?? {};

/** Sensible places for a new axle. */
export const AXLE_LAYOUTS = {
  single: ['L', 'R'],
  dual: ['LO', 'LI', 'RI', 'RO'],
  centre: ['C'],
  sidecarRight: ['C', 'R'],
  sidecarLeft: ['L', 'C'],
} as const satisfies Record<string, readonly Place[]>;
export type AxleLayout = keyof typeof AXLE_LAYOUTS;

/** Which layout an axle has, or null for one that is none of the usual. */
export function layoutOf(axle: Axle): AxleLayout | null {
  const places = axle.wheels
    .map((w) => placeOf(w.position))
    .sort()
    .join(' ');
  for (const [name, list] of Object.entries(AXLE_LAYOUTS)) if ([...list].sort().join(' ') === places) return name as AxleLayout;
  return null;
}

/**
 * A new axle of a layout. A wheel that stays (same place) keeps what it had.
 * @param number axle number from 1
 * @param before the axle whose settings and wheels are kept where they fit
 */
export function makeAxle(layout: AxleLayout, number: number, before?: Axle): Axle {
  const kept = new Map((before?.wheels ?? []).map((w) => [placeOf(w.position), w]));
  const wheels = AXLE_LAYOUTS[layout].map((place): Wheel => {
    const old = kept.get(place);
    return { ...(old ?? { sensor: null }), position: `${number}${place}` };
  });
  return { ...(before ?? { settings: {} }), wheels };
}

/** A vehicle with a wheel on its centre line: metal stems only, for a sheared stem empties the tire while riding. */
export const isMotorcycle = (unit: Pick<Unit, 'kind' | 'axles'>): boolean =>
  unit.kind === 'vehicle' && unit.axles.some((a) => a.wheels.some((w) => placeOf(w.position) === 'C'));

/** Give every axle's wheels and every spare the codes their order asks for. */
export function renumber<T extends Pick<Unit, 'axles' | 'spares'>>(unit: T): T {
  return {
    ...unit,
    axles: unit.axles.map((axle, i) => ({
      ...axle,
      wheels: axle.wheels.map((w) => ({ ...w, position: `${i + 1}${placeOf(w.position)}` })),
    })),
    spares: unit.spares.map((s, i) => ({ ...s, wheel: { ...s.wheel, position: `S${i + 1}` } })),
  };
}

/** What is wrong with a unit beyond its shape. */
export interface UnitFault {
  pointer: string;
  code:
    | 'setTwice'
    | 'positionTwice'
    | 'wrongAxle'
    | 'dualAndSingle'
    | 'sensorTwice'
    | 'lowOverHigh'
    | 'lowOverCold'
    | 'highUnderCold';
  text: string;
}

/**
 * Check what a schema cannot say: codes that fit their axle, no wheel twice, no sensor twice, low under cold under high.
 */
export function faultsOf(unit: Pick<Unit, 'axles' | 'spares' | 'wheelSets'>): UnitFault[] {
  const faults: UnitFault[] = [];
  const sensors = new Map<string, string>();
  const seeSensor = (wheel: Pick<Wheel, 'position' | 'sensor'>, pointer: string) => {
    if (!wheel.sensor) return;
    for (const field of ['id', 'shownId'] as const) {
      const id = wheel.sensor[field]?.toUpperCase();
      if (id === undefined) continue;
      const first = sensors.get(id);
      if (first) {
        faults.push({
          pointer: `${pointer}/sensor/${field}`,
          code: 'sensorTwice',
          text: `${id} is already the sensor of ${first}`,
        });
      } else sensors.set(id, wheel.position);
    }
  };
  const seeWheel = (wheel: Wheel, pointer: string) => {
    seeSensor(wheel, pointer);
    if (wheel.second) seeSensor({ position: wheel.position, sensor: wheel.second.sensor }, `${pointer}/second`);
  };
  const seeSettings = (settings: Axle['settings'], pointer: string) => {
    for (const [state, setting] of Object.entries(settings)) {
      seeLimits(setting?.limits, setting?.cold?.kpa, `${pointer}/settings/${state}/limits`);
      for (const name of ['winter', 'summer'] as const) {
        const season = setting?.seasons?.[name];
        seeLimits(season?.limits, season?.cold.kpa, `${pointer}/settings/${state}/seasons/${name}/limits`);
      }
    }
  };
  const seeLimits = (limits: Limits | undefined, cold: number | undefined, at: string) => {
    if (limits) {
      if (limits.lowKpa !== null && limits.highKpa !== null && limits.lowKpa >= limits.highKpa) {
        faults.push({ pointer: `${at}/lowKpa`, code: 'lowOverHigh', text: 'the low alarm is at or over the high alarm' });
      } else if (cold !== undefined && limits.lowKpa !== null && limits.lowKpa >= cold) {
        faults.push({ pointer: `${at}/lowKpa`, code: 'lowOverCold', text: 'the low alarm is at or over the cold pressure' });
      } else if (cold !== undefined && limits.highKpa !== null && limits.highKpa <= cold) {
        faults.push({ pointer: `${at}/highKpa`, code: 'highUnderCold', text: 'the high alarm is at or under the cold pressure' });
      }
    }
  };
  unit.axles.forEach((axle, i) => {
    const places = new Set<string>();
    axle.wheels.forEach((wheel, j) => {
      const pointer = `/axles/${i}/wheels/${j}`;
      const place = placeOf(wheel.position);
      if (!wheel.position.startsWith(String(i + 1)) || place === 'S') {
        faults.push({ pointer: `${pointer}/position`, code: 'wrongAxle', text: `${wheel.position} is not on axle ${i + 1}` });
      } else if (places.has(place)) {
        faults.push({ pointer: `${pointer}/position`, code: 'positionTwice', text: `${wheel.position} stands twice` });
      }
      places.add(place);
      seeWheel(wheel, pointer);
    });
    for (const side of ['L', 'R']) {
      if (places.has(side) && (places.has(`${side}O`) || places.has(`${side}I`))) {
        faults.push({
          pointer: `/axles/${i}/wheels`,
          code: 'dualAndSingle',
          text: `axle ${i + 1} has a single and a dual wheel on one side`,
        });
      }
    }
    seeSettings(axle.settings, `/axles/${i}`);
  });
  const names = new Set([unit.wheelSets?.fitted]);
  unit.wheelSets?.stored.forEach((set, i) => {
    if (names.has(set.name))
      faults.push({ pointer: `/wheelSets/stored/${i}/name`, code: 'setTwice', text: `there are two sets called ${set.name}` });
    names.add(set.name);
    set.wheels.forEach((wheel, j) => {
      seeSensor(wheel, `/wheelSets/stored/${i}/wheels/${j}`);
    });
  });
  unit.spares.forEach((spare, i) => {
    if (spare.wheel.position !== `S${i + 1}`) {
      faults.push({ pointer: `/spares/${i}/wheel/position`, code: 'wrongAxle', text: `spare ${i + 1} is S${i + 1}` });
    }
    seeSensor(spare.wheel, `/spares/${i}/wheel`);
    seeSettings(spare.settings, `/spares/${i}`);
  });
  return faults;
}
