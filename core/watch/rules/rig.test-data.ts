import type { SensorKind } from '#schema/common.ts';
import { freshMemory, inPlace, type WheelMemory } from '../wheel.ts';
import type { Rig, Wheel } from './rule.ts';

/** Event time at which these rigs are looked at, ms. */
export const NOW = 10 * 3_600_000;
export const MIN = 60_000;

/** What a test says of a wheel. */
export interface Told {
  kind?: SensorKind | 'ideal';
  memory?: Partial<WheelMemory>;
  limits?: Partial<Wheel['limits']>;
  filling?: boolean;
}

/** Wheels with memories of a test's own making, heard a second ago, at 300 kPa absolute and 20 °C in an ambient of 100 kPa. */
export function rigOf(wheels: Record<string, Told>, change: Partial<Rig> = {}): Rig & { at: (position: string) => Wheel } {
  const axles = new Map<string, Wheel['axle']>();
  const units = new Map<string, Wheel[]>();
  const list = Object.entries(wheels).map(([position, told]): Wheel => {
    const key = position.slice(0, 2);
    const axle = axles.get(key) ?? { wheels: [], nextMs: 0, pooled: false };
    axles.set(key, axle);
    const wheel: Wheel = {
      position,
      unit: position[0] as string,
      index: 0,
      axle,
      limits: {
        ...inPlace({
          lowKpa: null,
          highKpa: null,
          hotC: null,
          coldKpa: 200,
          coldTempC: 20,
          sensorKind: (told.kind ?? 'ideal') as SensorKind,
        }),
        ...told.limits,
      },
      memory: {
        ...freshMemory(),
        lastMs: NOW - 1000,
        lastKpa: 200,
        lastC: 20,
        gasC: 20,
        heldKpa: 200,
        heldLowKpa: 198,
        heldHighKpa: 202,
        habit: 0,
        habitMs: NOW,
        intervals: [MIN],
        ...told.memory,
      },
      ownAir: null,
      filling: told.filling ?? false,
      calm: true,
    };
    axle.wheels.push(wheel);
    units.set(wheel.unit, [...(units.get(wheel.unit) ?? []), wheel]);
    return wheel;
  });
  return {
    list,
    units,
    sleepAware: true,
    around: { airC: 20, moving: null, ambientKpa: 100 },
    guessedAir: null,
    busySinceMs: 0,
    offsetKpa: 0,
    moves: 0,
    resting: false,
    missing: new Map(),
    repeater: new Map(),
    track: false,
    ...change,
    at: (position) => list.find((w) => w.position === position) as Wheel,
  };
}
