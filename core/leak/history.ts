import { median } from 'simple-statistics';
import { RUBBER_SHARE_PER_MONTH } from './estimate.ts';

/** What a tire held at a cold start, kPa of cold-equivalent pressure. */
export interface RestPoint {
  ms: number;
  kpa: number;
}

/** A slope that single bad readings don't move, kPa a day, with its 95 % interval. */
export interface Slope {
  perDay: number;
  lowPerDay: number;
  highPerDay: number;
}

const DAY_MS = 86_400_000;
const MONTH_DAYS = 30;
/** Two-sided 95 % of the normal distribution. */
const Z = 1.959963984540054;

/** Repeats of equal values, for the variance of Kendall's statistic. */
function ties(values: readonly number[]): number {
  const count = new Map<number, number>();
  for (const v of values) count.set(v, (count.get(v) ?? 0) + 1);
  let sum = 0;
  for (const k of count.values()) sum += k * (k - 1) * (2 * k + 5);
  return sum;
}

/**
 * Slope through points by the median of all slopes between two of them (Theil 1950, Sen 1968), with Sen's interval from Kendall's statistic,
 * ties allowed for.
 * @returns null with fewer than five points
 */
export function senSlope(points: readonly RestPoint[]): Slope | null {
  const n = points.length;
  if (n < 5) return null;
  // A year has 66,000 slopes: as plain numbers in one block they are sorted ten times as fast.
  const all = new Float64Array((n * (n - 1)) / 2);
  let count = 0;
  for (let i = 0; i < n; i += 1) {
    const a = points[i] as RestPoint;
    for (let j = i + 1; j < n; j += 1) {
      const b = points[j] as RestPoint;
      if (b.ms === a.ms) continue;
      all[count] = (b.kpa - a.kpa) / ((b.ms - a.ms) / DAY_MS);
      count += 1;
    }
  }
  if (count === 0) return null;
  const slopes = all.subarray(0, count).sort();
  const x = ties(points.map((p) => p.ms));
  const y = ties(points.map((p) => p.kpa));
  const sigma = Math.sqrt(Math.max(0, n * (n - 1) * (2 * n + 5) - x - y) / 18);
  const at = (rank: number) => slopes[Math.min(slopes.length - 1, Math.max(0, rank))] as number;
  return {
    perDay: ((slopes[(count - 1) >> 1] as number) + (slopes[count >> 1] as number)) / 2,
    lowPerDay: at(Math.round((slopes.length - Z * sigma) / 2) - 1),
    highPerDay: at(Math.round((slopes.length + Z * sigma) / 2)),
  };
}

/** Air was put in where the middle of three points is this much over that of the three before, kPa or share. Assumed. */
const FILLED_KPA = 8;
const FILLED_SHARE = 0.025;

/** Air that was put in, as cold starts show it: before and after, kPa. */
export interface FoundFill {
  ms: number;
  fromKpa: number;
  toKpa: number;
}

/** Points since air was last put in, and when that was. */
export function sinceFilled(points: readonly RestPoint[]): { points: RestPoint[]; fills: FoundFill[] } {
  const fills: FoundFill[] = [];
  let from = 0;
  for (let i = 1; i < points.length; i += 1) {
    const before = points.slice(Math.max(from, i - 3), i).map((p) => p.kpa);
    const after = points.slice(i, i + 3).map((p) => p.kpa);
    // One high reading is an error; filled, the next ones are high too.
    if (before.length === 0 || after.length < 2) continue;
    const was = median(before);
    const rise = Math.min((points[i] as RestPoint).kpa, median(after)) - was;
    if (rise < Math.max(FILLED_KPA, FILLED_SHARE * was)) continue;
    fills.push({ ms: (points[i] as RestPoint).ms, fromKpa: was, toKpa: median(after) });
    from = i;
  }
  return { points: points.slice(from), fills };
}

/** What became of the air of one wheel. */
export interface WheelLeak {
  position: string;
  /** Since it was last filled. */
  slope: Slope | null;
  fills: FoundFill[];
  /** When the stretch begins that the slope is of, and what the tire holds at its end: by the slope, or by its last readings. */
  fromMs: number;
  nowKpa: number;
  bySlopeKpa: number;
  /** Its last reading is this much under what its slope says, kPa; null where it isn't. */
  latelyKpa: number | null;
  /**
   * `fell`: far lower lately than before; `leaking`: surely more than rubber lets through, and more than the others; `common`: as the others do;
   * `holding`: surely less; `unclear`: too few days, or an interval that is too wide.
   */
  verdict: 'fell' | 'leaking' | 'common' | 'holding' | 'unclear';
}

/** A stretch shorter than this says nothing, days. */
const LEAST_DAYS = 4;

const dayOf = (ms: number) => Math.floor(ms / DAY_MS);

/**
 * What all wheels read more or less than usual on a day, kPa: weather, height, a start that wasn't cold. Days on which fewer than three wheels
 * were heard have none.
 */
export function commonOf(wheels: readonly { points: readonly RestPoint[] }[]): Map<number, number> {
  const byDay = new Map<number, number[]>();
  for (const { points } of wheels) {
    if (points.length === 0) continue;
    const usual = median(points.map((p) => p.kpa));
    for (const p of points) byDay.set(dayOf(p.ms), [...(byDay.get(dayOf(p.ms)) ?? []), p.kpa - usual]);
  }
  return new Map([...byDay].filter(([, list]) => list.length >= 3).map(([day, list]) => [day, median(list)]));
}

/**
 * Losses of a rig's wheels from their cold starts. What all of them show on a day is taken out before steps and slopes are sought, and its own
 * slope put back: so a warm start is no filling, and a loss that all share is still told.
 * @param wheels points of each wheel in the order of time
 */
export function leaksOf(wheels: readonly { position: string; points: readonly RestPoint[] }[]): WheelLeak[] {
  const some = wheels.filter((w) => w.points.length > 0);
  const common = commonOf(some);
  const shared = senSlope([...common].sort(([a], [b]) => a - b).map(([day, kpa]) => ({ ms: day * DAY_MS, kpa })));
  const back = shared?.perDay ?? 0;
  return some.map(({ position, points }) => {
    const calm = points.map((p) => ({ ms: p.ms, kpa: p.kpa - (common.get(dayOf(p.ms)) ?? 0) }));
    const { points: own, fills } = sinceFilled(calm);
    const [first, last] = [own[0] as RestPoint, own.at(-1) as RestPoint];
    const alone = (last.ms - first.ms) / DAY_MS < LEAST_DAYS ? null : senSlope(own);
    const slope = alone && {
      perDay: alone.perDay + back,
      lowPerDay: alone.lowPerDay + back,
      highPerDay: alone.highPerDay + back,
    };
    const level = median(own.map((p) => p.kpa));
    const middleMs = median(own.map((p) => p.ms));
    const bySlope = level + ((alone?.perDay ?? 0) * (last.ms - middleMs)) / DAY_MS;
    // Both as read and with what is common taken out: on a day when one wheel is warm the others only seem to have fallen.
    const end = (points.at(-1) as RestPoint).kpa;
    const usual = median(points.filter((p) => p.ms >= first.ms).map((p) => p.kpa));
    const lately = Math.min(bySlope - last.kpa, usual - end);
    const fell = lately >= Math.max(FILLED_KPA, FILLED_SHARE * level);
    const rubber = -(RUBBER_SHARE_PER_MONTH * level) / MONTH_DAYS;
    let verdict: WheelLeak['verdict'] = 'unclear';
    if (fell) verdict = 'fell';
    else if (slope && alone && slope.highPerDay < rubber) verdict = alone.highPerDay < rubber / 3 ? 'leaking' : 'common';
    else if (slope && slope.lowPerDay > rubber) verdict = 'holding';
    return {
      position,
      slope,
      fills,
      fromMs: first.ms,
      nowKpa: fell ? end : bySlope,
      bySlopeKpa: bySlope,
      latelyKpa: fell ? lately : null,
      verdict,
    };
  });
}

/**
 * Days until a tire is at a pressure, by the ends of its slope's interval.
 * @returns the fewest and the most (null: perhaps never); null while it surely loses nothing, or it is there already
 */
export function daysUntil(leak: WheelLeak, kpa: number): { least: number; most: number | null } | null {
  if (!leak.slope || leak.slope.lowPerDay >= 0 || leak.nowKpa <= kpa) return null;
  const left = leak.nowKpa - kpa;
  return { least: left / -leak.slope.lowPerDay, most: leak.slope.highPerDay < 0 ? left / -leak.slope.highPerDay : null };
}
