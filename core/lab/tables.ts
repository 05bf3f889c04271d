import type { AlarmRule } from '#schema/unit.ts';
import { limitsFor } from '../alarms/limits.ts';
import type { Day } from '../climate/daily.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import type { WheelLimits } from '../watch/watch.ts';
import { Chance } from './chance.ts';
import { type Lived, watchLived } from './judge.ts';
import { drawRig, type LabFault, type LabRig, live, type ParkedSpeech } from './world.ts';

const DAY_MS = 86_400_000;

/** Limits as a school gives them for each wheel's cold pressure. */
export const byRule =
  (ruleOf: (coldKpa: number) => AlarmRule) =>
  (rig: LabRig): Record<string, WheelLimits> =>
    Object.fromEntries(
      rig.wheels.map((w) => {
        const { lowKpa, highKpa } = limitsFor(ruleOf(w.coldKpa), w.coldKpa);
        return [
          w.position,
          {
            lowKpa,
            highKpa,
            hotC: 70,
            coldKpa: w.coldKpa,
            coldTempC: rig.setC,
            sensorKind: w.kind,
            loadMinimumKpa: w.loadMinimumKpa,
          },
        ];
      }),
    );

/** Limits by shares of the cold pressure. */
export const byShare = (lowShare: number, highShare: number | null) =>
  byRule(() => (highShare === null ? { school: 'lowOnly', lowShare } : { school: 'share', lowShare, highShare }));

/** Every school of the trade (common practice, no source). Most trailer tires run at their rating, so that is the cold pressure here. */
export const SCHOOLS: readonly { name: string; limitsOf: ReturnType<typeof byRule> }[] = [
  { name: '10 and 20 %', limitsOf: byShare(0.1, 0.2) },
  { name: '10 and 25 %', limitsOf: byShare(0.1, 0.25) },
  { name: 'margin of 15 psi', limitsOf: byRule(() => ({ school: 'margin' })) },
  { name: 'rating, 15 and 25 %', limitsOf: byRule((ratingKpa) => ({ school: 'rating', ratingKpa })) },
  // To 10 psi; on small tires that would be over the cold pressure, so to 5.
  {
    name: 'rough rounding',
    limitsOf: byRule((kpa) => ({ school: 'rough', roundKpa: (kpa < 50 * KPA_PER_PSI ? 5 : 10) * KPA_PER_PSI })),
  },
  { name: 'low only, 20 %', limitsOf: byShare(0.2, null) },
  { name: 'regulation, 25 %', limitsOf: byRule(() => ({ school: 'regulation' })) },
];

export interface HealthyCount {
  wheelYears: number;
  byKind: Record<string, number>;
  sum: number;
  chatter: number;
  raised: number;
  readings: number;
}

/** Alarms that sound a wheel-year on healthy rigs. */
export function countHealthy(
  seeds: readonly number[],
  daysOf: (seed: number) => readonly Day[],
  limitsOf: (rig: LabRig) => Record<string, WheelLimits>,
  drawn: { steps?: readonly number[]; speech?: { how: ParkedSpeech; lifeMin: number } } = {},
  each?: (seed: number, lived: Lived, rig: LabRig) => void,
): HealthyCount {
  const out: HealthyCount = { wheelYears: 0, byKind: {}, sum: 0, chatter: 0, raised: 0, readings: 0 };
  for (const seed of seeds) {
    const rig = drawRig(seed, drawn.steps, drawn.speech);
    const days = daysOf(seed);
    const lived = watchLived(rig, days, Date.UTC(2025, 0, 1), [], limitsOf(rig));
    out.wheelYears += (rig.wheels.length * days.length) / 365;
    for (const s of lived.sounded) out.byKind[s.kind] = (out.byKind[s.kind] ?? 0) + 1;
    out.sum += lived.sounded.length;
    out.chatter += lived.chatter;
    out.raised += lived.raised;
    out.readings += lived.readings;
    each?.(seed, lived, rig);
  }
  return out;
}

/** What a monitor with fixed limits rings on a healthy rig: each time a raw reading comes to its limit, until it is 1 psi back. */
export function countFixed(
  seed: number,
  days: readonly Day[],
  limitsOf: (rig: LabRig) => Record<string, WheelLimits>,
): HealthyCount {
  const rig = drawRig(seed);
  const limits = limitsOf(rig);
  const out: HealthyCount = {
    wheelYears: (rig.wheels.length * days.length) / 365,
    byKind: {},
    sum: 0,
    chatter: 0,
    raised: 0,
    readings: 0,
  };
  const ringing = new Set<string>();
  const endedMs = new Map<string, number>();
  const ring = (key: string, kind: string, past: boolean, back: boolean, ms: number) => {
    if (past && !ringing.has(key)) {
      ringing.add(key);
      out.byKind[kind] = (out.byKind[kind] ?? 0) + 1;
      out.sum += 1;
      out.raised += 1;
      if (ms - (endedMs.get(key) ?? Number.NEGATIVE_INFINITY) < 600_000) out.chatter += 1;
    } else if (back && ringing.delete(key)) endedMs.set(key, ms);
  };
  live(rig, days, Date.UTC(2025, 0, 1), [], {
    reading: ({ position, ms, kpa }) => {
      out.readings += 1;
      const { lowKpa, highKpa } = limits[position] as WheelLimits;
      if (lowKpa !== null) ring(`${position} low`, 'low', kpa <= lowKpa, kpa > lowKpa + KPA_PER_PSI, ms);
      if (highKpa !== null) ring(`${position} high`, 'high', kpa >= highKpa, kpa < highKpa - KPA_PER_PSI, ms);
    },
  });
  return out;
}

/** What became of a fault. */
export interface FaultLived {
  seed: number;
  fault: LabFault;
  /** When it began, when it was first heard, and when the tire went under its load minimum, ms; null: never in these days. */
  beganMs: number;
  heardMs: number | null;
  underMs: number | null;
  /** Minutes driven under the load minimum before it was heard. */
  drivenUnderMin: number;
  lived: Lived;
}

/** Draw a fault of a kind for a rig. @param atDay when it begins */
export function drawFault(kind: LabFault['kind'], rig: LabRig, c: Chance, atDay: number): LabFault {
  const position = c.pick(rig.wheels).position;
  // From a valve that weeps to a nail: 0.3 to 900 kPa an hour.
  if (kind === 'leak') return { kind, position, atDay, kpaPerHour: Math.exp(c.between(Math.log(0.3), Math.log(900))) };
  if (kind === 'hub') return { kind, position, atDay, riseK: 60 };
  if (kind === 'repeater') return { kind, unit: rig.wheels.at(-1)?.position[0] as string, atDay };
  return { kind, position, atDay };
}

/** Live one fault: the same days as without it, until it is heard or the days are over. */
export function liveFault(
  seed: number,
  kind: LabFault['kind'],
  days: readonly Day[],
  limitsOf: (rig: LabRig) => Record<string, WheelLimits>,
  steps?: readonly number[],
): FaultLived {
  const rig = drawRig(seed, steps);
  const c = new Chance(seed * 31 + 7);
  const startMs = Date.UTC(2025, 3, 1);
  const fault = drawFault(kind, rig, c, c.between(6, 9));
  const beganMs = startMs + fault.atDay * DAY_MS;
  let underMs: number | null = null;
  const drivenUnder: number[] = [];
  const wheel = 'position' in fault ? rig.wheels.find((w) => w.position === fault.position) : undefined;
  const lived = watchLived(rig, days, startMs, [fault], limitsOf(rig), (ms, cold, driving) => {
    if (!wheel || kind !== 'leak') return;
    if ((cold.get(wheel.position) ?? Number.POSITIVE_INFINITY) >= wheel.loadMinimumKpa) return;
    underMs ??= ms;
    if (driving) drivenUnder.push(ms);
  });
  const about = (s: Lived['sounded'][number]): boolean => {
    if (s.atMs < beganMs) return false;
    if (fault.kind === 'repeater') return s.position.startsWith(fault.unit) && s.kind === 'silent';
    if (s.position !== fault.position) return false;
    if (fault.kind === 'leak') return ['low', 'rapid', 'slow', 'apart'].includes(s.kind);
    if (fault.kind === 'hub') return s.kind === 'apart' || s.kind === 'hot';
    if (fault.kind === 'stuck') return (s.kind as string) === 'stuck';
    return s.kind === 'silent';
  };
  const heardMs = lived.sounded.find(about)?.atMs ?? null;
  const drivenUnderMin = drivenUnder.filter((ms) => heardMs === null || ms < heardMs).length;
  return { seed, fault, beganMs, heardMs, underMs, drivenUnderMin, lived };
}
