import type { SensorKind } from '#schema/common.ts';
import type { AlarmRule } from '#schema/unit.ts';
import { ambientAtAltitude } from '../air/atmosphere.ts';
import { limitsFor } from '../alarms/limits.ts';
import { FieldError } from '../errors.ts';
import { pressureAt } from '../gas/gas.ts';
import type { WheelLimits } from '../watch/watch.ts';
import type { LabRule } from './fixed.ts';
import type { OwnRig } from './world.ts';

/** An axle as its owner has it; spares don't roll and are left out. */
export interface OwnAxle {
  code: string;
  wheels: { position: string; kind: SensorKind }[];
  coldKpa: number;
  coldTempC: number;
  /** Cold pressure that carries its load, kPa; null while its load is unknown. */
  loadMinimumKpa: number | null;
  /** Maximum cold pressure on the sidewall, kPa. */
  ratingKpa?: number | undefined;
  /** Limits in force, as the monitor ends with them; null where there are none. */
  limits: { lowKpa: number | null; highKpa: number | null } | null;
  hotC: number;
}

/** Where no load is known the tire is taken to carry it down to this share of its cold pressure (assumed). */
export const UNKNOWN_MINIMUM_SHARE = 0.8;

const minimumOf = (a: OwnAxle) => a.loadMinimumKpa ?? a.coldKpa * UNKNOWN_MINIMUM_SHARE;

/**
 * The rig for the lab. It has one temperature at which its pressures were set: axles set at others are brought to the first one's.
 * @param axles at least one
 */
export function ownRig(
  axles: readonly OwnAxle[],
  { stepKpa, homeM = 0, passM }: { stepKpa: number; homeM?: number | undefined; passM?: number | undefined },
): OwnRig {
  const setC = (axles[0] as OwnAxle).coldTempC;
  const ambientAbsKpa = ambientAtAltitude(homeM);
  const brought = (kpa: number, a: OwnAxle) => pressureAt(kpa, a.coldTempC, setC, { ambientAbsKpa });
  return {
    wheels: axles.flatMap((a) =>
      a.wheels.map((w) => ({
        position: w.position,
        kind: w.kind,
        coldKpa: brought(a.coldKpa, a),
        loadMinimumKpa: brought(minimumOf(a), a),
      })),
    ),
    stepKpa,
    homeM,
    setC,
    ...(passM !== undefined && passM > homeM ? { passM } : {}),
  };
}

/** Limits for every wheel from those of its axle. */
const byWheel = (axles: readonly OwnAxle[], of: (a: OwnAxle) => LabRule['limits'][number]) =>
  axles.flatMap((a) => {
    const pair = of(a);
    return a.wheels.map(() => pair);
  });

/** A school that the lab compares. */
export interface LabSchool {
  name: string;
  rule: (a: OwnAxle) => AlarmRule | null;
}

/** The trade's schools with their usual figures (common practice, no source; the last: 49 CFR 571.138 S4.2, from memory). */
export const LAB_SCHOOLS: readonly LabSchool[] = [
  { name: 'share', rule: () => ({ school: 'share' }) },
  { name: 'margin', rule: () => ({ school: 'margin' }) },
  { name: 'rating', rule: (a) => (a.ratingKpa === undefined ? null : { school: 'rating', ratingKpa: a.ratingKpa }) },
  { name: 'rough', rule: () => ({ school: 'rough' }) },
  { name: 'lowOnly', rule: () => ({ school: 'lowOnly' }) },
  { name: 'regulation', rule: () => ({ school: 'regulation' }) },
];

/**
 * A rule for every wheel of the rig.
 * @returns null where it can't be had on one of the axles: no rating is known, or its low isn't under cold
 */
export function labRule(name: string, axles: readonly OwnAxle[], rule: LabSchool['rule']): LabRule | null {
  const hotC = Math.min(...axles.map((a) => a.hotC));
  try {
    const pairs = new Map(
      axles.map((a) => {
        const own = rule(a);
        if (own === null) throw new FieldError('/ratingKpa', 'is unknown');
        const { lowKpa, highKpa } = limitsFor(own, a.coldKpa);
        return [a, { lowKpa, highKpa }] as const;
      }),
    );
    return { name, hotC, limits: byWheel(axles, (a) => pairs.get(a) as LabRule['limits'][number]) };
  } catch (e) {
    if (e instanceof FieldError) return null;
    throw e;
  }
}

/** The limits in force; null while an axle has none. */
export const ownRule = (name: string, axles: readonly OwnAxle[]): LabRule | null =>
  axles.some((a) => a.limits === null)
    ? null
    : {
        name,
        hotC: Math.min(...axles.map((a) => a.hotC)),
        limits: byWheel(axles, (a) => ({ lowKpa: a.limits?.lowKpa ?? null, highKpa: a.limits?.highKpa ?? null })),
      };

/** What the watch is given of each wheel. */
export const ownLimits = (axles: readonly OwnAxle[]): Record<string, WheelLimits> =>
  Object.fromEntries(
    axles.flatMap((a) =>
      a.wheels.map((w) => [
        w.position,
        {
          lowKpa: a.limits?.lowKpa ?? a.coldKpa * 0.75,
          highKpa: a.limits?.highKpa ?? null,
          hotC: a.hotC,
          coldKpa: a.coldKpa,
          coldTempC: a.coldTempC,
          sensorKind: w.kind,
          loadMinimumKpa: minimumOf(a),
        },
      ]),
    ),
  );
