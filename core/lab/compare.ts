import type { Day } from '../climate/daily.ts';
import type { WheelLimits } from '../watch/watch.ts';
import { Chance } from './chance.ts';
import {
  type FixedRing,
  fixedFault,
  type LabRule,
  type LeakFigures,
  type LeakSeen,
  leakFigures,
  liveFixed,
  type Spread,
  shareOf,
  spreadOf,
} from './fixed.ts';
import { watchLived } from './judge.ts';
import { drawOwn, type LabFault, type LabRig, type OwnRig } from './world.ts';

/** The owner's rig under several rules, and under the watch: what rings for nothing, and what is heard in time. */

const HOUR = 3_600_000;
const DAY = 86_400_000;
const YEAR = 365;

export interface LabQuestion {
  rig: OwnRig;
  days: readonly Day[];
  rules: readonly LabRule[];
  seed: number;
}

/** How much is lived. */
export const LAB_SIZE = {
  /** Days under fixed limits; each year of them is another draw of the sensors. */
  fixedDays: 10_000,
  leaks: 240,
  hubs: 40,
  /** A fault is lived for so many days. */
  faultDays: 40,
  /** The watch needs every reading, so it gets a sample. */
  watchDraws: 6,
  watchDays: 120,
  watchLeaks: 30,
  watchHubs: 10,
  watchFaultDays: 20,
} as const;
/** How much is lived, where it isn't the usual. */
type LabSize = Record<keyof typeof LAB_SIZE, number>;

/** Figures of one rule, or of the watch. */
export interface LabFigures {
  wheelYears: number;
  /** Alarms on healthy tires, a wheel-year. */
  nuisance: Spread;
  /** By kind, a wheel-year. */
  byKind: Record<string, number>;
  /** The most alarms in one hour. */
  mostInHour: number;
  leaks: LeakFigures;
  /** Hubs 60 K too hot that it heard. */
  hubs: Spread;
}

/** A day on which a rule rang for nothing. */
export interface RingDay {
  draw: number;
  day: number;
  rings: number;
  /** How cold and how warm that day was, °C. */
  minC: number;
  maxC: number;
}

export interface FixedAnswer {
  /** By rule, in their order. */
  figures: LabFigures[];
  /** Days with alarms of each rule, the first 400. */
  days: RingDay[][];
  lived: number;
}

const START = Date.UTC(2025, 0, 1);

/** A rig of the question as one draw has it. */
export const drawOf = (q: Pick<LabQuestion, 'rig' | 'seed'>, draw: number): LabRig => drawOwn(q.rig, q.seed + draw);

/** A leak, from a valve that weeps to a nail: 0.3 to 900 kPa an hour, on a wheel and a day that are drawn. */
function drawLeak(c: Chance, wheels: number, days: number, stretch: number) {
  return {
    wheel: c.whole(0, wheels - 1),
    fromMs: START + Math.floor(c.between(1, Math.max(2, days - stretch))) * DAY + c.between(0, 24) * HOUR,
    size: Math.exp(c.between(Math.log(0.3), Math.log(900))),
  };
}

/** The most alarms in any one hour. @param times ms, in order */
export function mostInHour(times: readonly number[]): number {
  let most = 0;
  let from = 0;
  times.forEach((ms, i) => {
    while (ms - (times[from] as number) > HOUR) from += 1;
    most = Math.max(most, i - from + 1);
  });
  return most;
}

/**
 * All rules over thousands of days and hundreds of faults. The same days and faults for every rule.
 * @param onProgress told a share from 0 to 1; may be called often
 */
export function compareFixed(
  q: LabQuestion,
  onProgress: (share: number) => void = () => undefined,
  size: Pick<LabSize, 'fixedDays' | 'leaks' | 'hubs' | 'faultDays'> = LAB_SIZE,
): FixedAnswer {
  const { fixedDays, leaks, hubs, faultDays } = size;
  const wheels = q.rig.wheels.length;
  const perDraw = Math.min(YEAR, q.days.length);
  const draws = Math.max(1, Math.ceil(fixedDays / perDraw));
  const work = draws + (leaks + hubs) / 4;
  let done = 0;
  const tick = (part: number) => {
    done += part;
    onProgress(Math.min(1, done / work));
  };
  const counts = q.rules.map(() => [] as number[]);
  const kinds = q.rules.map((): Record<string, number> => ({}));
  const most = q.rules.map(() => 0);
  const days = q.rules.map(() => [] as RingDay[]);
  for (let draw = 0; draw < draws; draw += 1) {
    const rig = drawOf(q, draw);
    const from = q.days.length > perDraw ? (draw * perDraw) % (q.days.length - perDraw + 1) : 0;
    const rings: FixedRing[][] = q.rules.map(() => []);
    liveFixed(rig, q.days, START, q.rules, { ring: (r) => rings[r.rule]?.push(r) }, { from, count: perDraw });
    rings.forEach((own, rule) => {
      (counts[rule] as number[]).push((own.length * YEAR) / (perDraw * wheels));
      most[rule] = Math.max(most[rule] as number, mostInHour(own.map((r) => r.ms)));
      for (const r of own) {
        const k = kinds[rule] as Record<string, number>;
        k[r.kind] = (k[r.kind] ?? 0) + 1;
        const day = Math.floor((r.ms - START) / DAY);
        const list = days[rule] as RingDay[];
        const last = list.at(-1);
        if (last && last.draw === draw && last.day === day) last.rings += 1;
        else if (list.length < 400) {
          const { minC, maxC } = q.days[Math.min(day, q.days.length - 1)] as Day;
          list.push({ draw, day, rings: 1, minC, maxC });
        }
      }
    });
    tick(1);
  }
  const c = new Chance(q.seed * 31 + 7);
  const seen: LeakSeen[][] = q.rules.map(() => []);
  const hot: number[] = q.rules.map(() => 0);
  for (let i = 0; i < leaks + hubs; i += 1) {
    const rig = drawOf(q, 100_000 + i);
    const drawn = drawLeak(c, wheels, q.days.length, faultDays);
    const fault = i < leaks ? { kind: 'leak' as const, ...drawn } : { kind: 'hub' as const, ...drawn, size: 60 };
    fixedFault(rig, q.days, START, q.rules, fault, faultDays).forEach((s, rule) => {
      if (fault.kind === 'leak') seen[rule]?.push(s);
      else if (s.heardMs !== null) hot[rule] = (hot[rule] as number) + 1;
    });
    tick(1 / 4);
  }
  const wheelYears = (draws * perDraw * wheels) / YEAR;
  return {
    lived: draws * perDraw,
    days,
    figures: q.rules.map((_, rule) => ({
      wheelYears,
      nuisance: spreadOf(counts[rule] as number[]),
      byKind: Object.fromEntries(Object.entries(kinds[rule] as Record<string, number>).map(([k, v]) => [k, v / wheelYears])),
      mostInHour: most[rule] as number,
      leaks: leakFigures(seen[rule] as LeakSeen[]),
      hubs: shareOf(hot[rule] as number, hubs),
    })),
  };
}

/** The watch on a sample: it needs every reading of every minute, so it lives fewer days, and the first of the same faults. */
export function compareWatch(
  q: LabQuestion & { limits: Record<string, WheelLimits> },
  onProgress: (share: number) => void = () => undefined,
  size: Pick<LabSize, 'watchDraws' | 'watchDays' | 'watchLeaks' | 'watchHubs' | 'watchFaultDays'> = LAB_SIZE,
): LabFigures {
  const { watchDraws, watchDays, watchLeaks, watchHubs, watchFaultDays } = size;
  const wheels = q.rig.wheels.length;
  const work = watchDraws * watchDays + (watchLeaks + watchHubs) * watchFaultDays;
  let done = 0;
  const tick = (days: number) => {
    done += days;
    onProgress(Math.min(1, done / work));
  };
  const stretch = (from: number, length: number) => {
    const first = Math.max(0, Math.floor(from)) % Math.max(1, q.days.length - length + 1);
    return q.days.slice(first, first + length);
  };
  const counts: number[] = [];
  const byKind: Record<string, number> = {};
  let most = 0;
  let lived = 0;
  for (let draw = 0; draw < watchDraws; draw += 1) {
    const rig = drawOf(q, draw);
    // Spread over the year, so that winter and summer are in the sample.
    const days = stretch((draw * YEAR) / watchDraws, watchDays);
    const { sounded } = watchLived(rig, days, START, [], q.limits);
    counts.push((sounded.length * YEAR) / (days.length * wheels));
    for (const s of sounded) byKind[s.kind] = (byKind[s.kind] ?? 0) + 1;
    most = Math.max(most, mostInHour(sounded.map((s) => s.atMs)));
    lived += days.length;
    tick(watchDays);
  }
  const c = new Chance(q.seed * 31 + 7);
  const seen: LeakSeen[] = [];
  let hot = 0;
  for (let i = 0; i < watchLeaks + watchHubs; i += 1) {
    const rig = drawOf(q, 100_000 + i);
    const { wheel, fromMs, size: kpaPerHour } = drawLeak(c, wheels, q.days.length, LAB_SIZE.faultDays);
    const { position, coldKpa, loadMinimumKpa } = rig.wheels[wheel] as LabRig['wheels'][number];
    // Six quiet days first: the watch has to learn what is usual.
    const atDay = 6 + ((fromMs - START) % DAY) / DAY;
    const days = stretch((fromMs - START) / DAY - 6, watchFaultDays);
    const fault: LabFault =
      i < watchLeaks ? { kind: 'leak', position, atDay, kpaPerHour } : { kind: 'hub', position, atDay, riseK: 60 };
    const beganMs = START + atDay * DAY;
    const told = fault.kind === 'leak' ? ['low', 'rapid', 'slow', 'apart'] : ['apart', 'hot'];
    let underMs: number | null = null;
    const under: number[] = [];
    const colds: [number, number][] = [];
    const { sounded } = watchLived(rig, days, START, [fault], q.limits, (ms, cold, driving) => {
      const now = cold.get(position) ?? coldKpa;
      if (ms >= beganMs) colds.push([ms, now]);
      if (fault.kind !== 'leak' || now >= loadMinimumKpa) return;
      underMs ??= ms;
      if (driving) under.push(ms);
    });
    const heardMs = sounded.find((s) => s.atMs >= beganMs && s.position === position && told.includes(s.kind))?.atMs ?? null;
    if (fault.kind === 'hub') hot += heardMs === null ? 0 : 1;
    else {
      const at = heardMs === null ? undefined : colds.findLast(([ms]) => ms <= heardMs);
      seen.push({
        beganMs,
        heardMs,
        underMs,
        airGone: at ? Math.max(0, 1 - at[1] / coldKpa) : null,
        drivenUnderMin: under.filter((ms) => heardMs === null || ms < heardMs).length,
      });
    }
    tick(watchFaultDays);
  }
  const wheelYears = (lived * wheels) / YEAR;
  return {
    wheelYears,
    nuisance: spreadOf(counts),
    byKind: Object.fromEntries(Object.entries(byKind).map(([k, v]) => [k, v / wheelYears])),
    mostInHour: most,
    leaks: leakFigures(seen),
    hubs: shareOf(hot, watchHubs),
  };
}

/** One wheel's readings through a day that was lived. */
export interface DayTrace {
  points: { ms: number; airC: number; driving: boolean; kpa: number[] }[];
  rings: FixedRing[];
}

/** A day of a draw once more, as the monitor showed it, under one rule. */
export function dayAgain(
  q: Pick<LabQuestion, 'rig' | 'seed' | 'days'>,
  rule: LabRule,
  { draw, day }: Pick<RingDay, 'draw' | 'day'>,
): DayTrace {
  const rig = drawOf(q, draw);
  const perDraw = Math.min(YEAR, q.days.length);
  const from = q.days.length > perDraw ? (draw * perDraw) % (q.days.length - perDraw + 1) : 0;
  const points: DayTrace['points'] = [];
  const rings: FixedRing[] = [];
  const begins = START + day * DAY;
  const inside = (ms: number) => ms >= begins && ms < begins + DAY;
  liveFixed(
    rig,
    q.days,
    START,
    [rule],
    {
      ring: (r) => {
        if (inside(r.ms)) rings.push(r);
      },
      moment: ({ ms, airC, driving, kpa }) => {
        if (inside(ms)) points.push({ ms, airC, driving, kpa: [...kpa] });
      },
    },
    { from, count: day - from + 1 },
  );
  return { points, rings };
}
