import { ambientAtAltitude } from '../air/atmosphere.ts';
import { pressureAt } from '../gas/gas.ts';

/** A day of weather. */
export interface SeasonDay {
  date: string;
  minC: number;
  maxC: number;
}

/** A day of the year on which the cold pressure is set afresh, and the air of such a morning. */
export interface ResetDay {
  /** Month and day, `10-15`. */
  day: string;
  airC: number;
}

/** How a way of resetting does in the days that were given, a year. */
export interface ResetResult {
  /** None: as it was set; one or two days a year else. */
  resets: ResetDay[];
  /** Cold starts at or under the low limit, and hot runs at or over the high one, a year. */
  lowNights: number;
  highDays: number;
}

const DAY_MS = 86_400_000;
const WEEKS = 52;
/** The air of a morning of that week: the mean over this many days either side. Ours. */
const AROUND_DAYS = 10;

const weekOf = (date: string): number => {
  const year = Number(date.slice(0, 4));
  return Math.min(WEEKS - 1, Math.floor((Date.parse(date) - Date.UTC(year, 0, 1)) / DAY_MS / 7));
};
/** First day of a week, in a year that is no leap year. */
const dayOfWeek = (week: number): string => new Date(Date.UTC(2026, 0, 1 + week * 7)).toISOString().slice(5, 10);

/** Days of a year between two days of it, either way round. */
const apart = (a: number, b: number): number => {
  const d = Math.abs(a - b);
  return Math.min(d, 365 - d);
};

/**
 * When the cold pressure is best reset: all pairs of weeks are tried, a week a step, on the days as they were. Fewest nights at the low limit
 * and days at the high one win, then the fewest resets, then what stays closest to the cold pressure. Set on a day, the tire reads the cold
 * pressure at that morning's air; constant volume, ideal gas, at one height.
 * @param riseK gas over the afternoon's air on an ordinary run, K
 * @param days at least a year, in any order
 * @returns as it is now, and the best way; the same where no reset does better
 */
export function bestResets({
  coldKpa,
  coldTempC,
  lowKpa,
  highKpa,
  riseK,
  days,
  altitudeM = 0,
}: {
  coldKpa: number;
  coldTempC: number;
  lowKpa: number | null;
  highKpa: number | null;
  riseK: number;
  days: readonly SeasonDay[];
  altitudeM?: number | undefined;
}): { asIs: ResetResult; best: ResetResult } {
  const ambientAbsKpa = ambientAtAltitude(altitudeM);
  const years = days.length / 365.25;
  const weeks = days.map((d) => weekOf(d.date));
  const dayInYear = days.map((d) => (Date.parse(d.date) - Date.UTC(Number(d.date.slice(0, 4)), 0, 1)) / DAY_MS);
  const mornings = Array.from({ length: WEEKS }, (_, w) => {
    const near = days.filter((_d, i) => apart(dayInYear[i] as number, w * 7) <= AROUND_DAYS);
    return near.length === 0 ? null : near.reduce((a, d) => a + d.minC, 0) / near.length;
  });
  /** What each week costs when the tire was set at a temperature: nights, days, and how far it is from its cold pressure. */
  const costs = (setC: number) => {
    const low = new Array<number>(WEEKS).fill(0);
    const high = new Array<number>(WEEKS).fill(0);
    const far = new Array<number>(WEEKS).fill(0);
    days.forEach((d, i) => {
      const w = weeks[i] as number;
      const start = pressureAt(coldKpa, setC, d.minC, { ambientAbsKpa });
      if (lowKpa !== null && start <= lowKpa) low[w] = (low[w] as number) + 1;
      if (highKpa !== null && pressureAt(coldKpa, setC, d.maxC + riseK, { ambientAbsKpa }) >= highKpa)
        high[w] = (high[w] as number) + 1;
      far[w] = (far[w] as number) + Math.abs(start - coldKpa);
    });
    return { low, high, far };
  };
  const sum = (list: readonly number[], from = 0, to = WEEKS) => {
    let s = 0;
    for (let i = from; i < to; i += 1) s += list[i] as number;
    return s;
  };
  const now = costs(coldTempC);
  const asIs: ResetResult = { resets: [], lowNights: sum(now.low) / years, highDays: sum(now.high) / years };
  let best = { ...asIs, far: sum(now.far) };
  const byWeek = mornings.map((c) => (c === null ? null : costs(c)));
  const better = (alarms: number, resets: number, far: number) => {
    const had = best.lowNights + best.highDays;
    if (Math.abs(alarms - had) > 1e-9) return alarms < had;
    return resets === best.resets.length ? far < best.far - 1e-9 : resets < best.resets.length;
  };
  for (let a = 0; a < WEEKS; a += 1) {
    const first = byWeek[a];
    if (!first) continue;
    for (let b = a; b < WEEKS; b += 1) {
      const second = byWeek[b];
      if (!second) continue;
      // From week a to b set in a, the rest of the year set in b.
      const of = (key: 'low' | 'high' | 'far') =>
        a === b ? sum(first[key]) : sum(first[key], a, b) + sum(second[key], b) + sum(second[key], 0, a);
      const [low, high, far] = [of('low') / years, of('high') / years, of('far')];
      const resets = a === b ? 1 : 2;
      if (!better(low + high, resets, far)) continue;
      const at = (w: number): ResetDay => ({ day: dayOfWeek(w), airC: mornings[w] as number });
      best = { resets: a === b ? [at(a)] : [at(a), at(b)], lowNights: low, highDays: high, far };
    }
  }
  const { far: _far, ...found } = best;
  return { asIs, best: found };
}
