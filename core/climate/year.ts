import type { AlarmRule } from '#schema/unit.ts';
import type { Grid } from '../alarms/grid.ts';
import { judgeTrip } from '../alarms/judge.ts';
import { bestPair, type Found, type Pair, type SeasonAir, type SeasonLimits, spiritOf } from '../alarms/suggest.ts';
import { riseForShare } from '../pressure/hot-run.ts';
import type { Day } from './daily.ts';

/** An axle for a sweep over years of weather. */
export interface YearAxle {
  code: string;
  coldKpa: number;
  coldTempC: number;
  loadMinimumKpa: number;
  rule: AlarmRule;
  /** The limits in force or in trial; null where there are none. */
  limits: Pair | null;
  hotShare: number;
}

export interface YearQuestion {
  days: readonly (Day & { month: number })[];
  axles: readonly YearAxle[];
  grid: Grid;
  altitudeSetM?: number | undefined;
  passM?: number | undefined;
}

/** What a pair of limits meets in an ordinary year. */
export interface YearCount {
  /** Mornings on which it rings though nothing was lost, and afternoons, a year. */
  ringingMornings: number;
  ringingRuns: number;
  /** Days on which a leak could take the hot tire under its load minimum before it rings, a year. */
  lateDays: number;
}

export interface YearSeasons {
  seasons: SeasonLimits[];
  count: YearCount;
}

export interface YearAnswer {
  years: number;
  axles: {
    code: string;
    /** The limits that were asked about. */
    now: YearCount | null;
    /** The best pair for the whole year. */
    fixed: { found: Found; count: YearCount } | null;
    seasonal: YearSeasons | null;
  }[];
  /** The split of the year that was found best for all axles together. */
  split: { winterFrom: number; summerFrom: number } | null;
}

const zero = (): YearCount => ({ ringingMornings: 0, ringingRuns: 0, lateDays: 0 });

/** Count what a pair meets on some days. */
function count(days: readonly Day[], axle: YearAxle, coldTempC: number, pair: Pair, q: YearQuestion, years: number): YearCount {
  const out = zero();
  const rise = riseForShare(axle.coldKpa, coldTempC, axle.hotShare);
  for (const day of days) {
    const { verdicts } = judgeTrip({
      coldKpa: axle.coldKpa,
      coldTempC,
      lowKpa: pair.lowKpa,
      highKpa: pair.highKpa,
      loadMinimumKpa: axle.loadMinimumKpa,
      coldestC: day.minC,
      runningC: day.maxC + rise,
      altitudeSetM: q.altitudeSetM,
      passM: q.passM,
    });
    if (verdicts.includes('nuisance-low')) out.ringingMornings += 1;
    if (verdicts.includes('nuisance-high')) out.ringingRuns += 1;
    if (verdicts.includes('unprotected-hot') || verdicts.includes('unprotected-low')) out.lateDays += 1;
  }
  return {
    ringingMornings: out.ringingMornings / years,
    ringingRuns: out.ringingRuns / years,
    lateDays: out.lateDays / years,
  };
}

const sum = (c: YearCount) => c.ringingMornings + c.ringingRuns + c.lateDays;
const add = (a: YearCount, b: YearCount): YearCount => ({
  ringingMornings: a.ringingMornings + b.ringingMornings,
  ringingRuns: a.ringingRuns + b.ringingRuns,
  lateDays: a.lateDays + b.lateDays,
});

const monthDay = (month: number) => `${String(month + 1).padStart(2, '0')}-01`;

/** Months from one to another, going round the year. */
const monthsFrom = (from: number, to: number): number[] => {
  const out: number[] = [];
  for (let m = from; m !== to; m = (m + 1) % 12) out.push(m);
  return out;
};

/**
 * The air of a season from the days of its months. The pressure is reset at a temperature in the middle of what its days bring.
 * @returns null when the file has no day of it
 */
export function seasonAir(
  days: readonly (Day & { month: number })[],
  name: 'winter' | 'summer',
  months: readonly number[],
): SeasonAir | null {
  const own = days.filter((d) => months.includes(d.month));
  if (own.length === 0) return null;
  const coldestC = Math.min(...own.map((d) => d.minC));
  const hottestC = Math.max(...own.map((d) => d.maxC));
  const mean = own.reduce((a, d) => a + (d.minC + d.maxC) / 2, 0) / own.length;
  return { name, coldestC, hottestC, setTempC: Math.round(mean), from: monthDay(months[0] as number) };
}

/**
 * Sweep years of daily weather: how often the limits ring for nothing or protect too late, what the best fixed pair would do, and
 * what two seasons would do, over every split of the year into a winter of three to nine months.
 * @param onProgress called with a share from 0 to 1
 */
export function sweepYears(q: YearQuestion, onProgress: (share: number) => void = () => undefined): YearAnswer {
  const years = Math.max(1, q.days.length / 365.25);
  const coldestC = Math.min(...q.days.map((d) => d.minC));
  const hottestC = Math.max(...q.days.map((d) => d.maxC));
  const splits: { winterFrom: number; summerFrom: number }[] = [];
  for (let w = 8; w <= 11; w += 1) for (let n = 3; n <= 9; n += 1) splits.push({ winterFrom: w, summerFrom: (w + n) % 12 });
  const work = q.axles.length * 2 + splits.length * q.axles.length;
  let done = 0;
  const tick = () => {
    done += 1;
    onProgress(done / work);
  };
  const question = (a: YearAxle, coldTempC: number, air: { coldestC: number; hottestC: number }) => ({
    coldKpa: a.coldKpa,
    coldTempC,
    loadMinimumKpa: a.loadMinimumKpa,
    coldestC: air.coldestC,
    runningC: air.hottestC + riseForShare(a.coldKpa, coldTempC, a.hotShare),
    altitudeSetM: q.altitudeSetM,
    passM: q.passM,
  });
  const axles: YearAnswer['axles'] = q.axles.map((a) => {
    const now = a.limits && count(q.days, a, a.coldTempC, a.limits, q, years);
    tick();
    const spirit = spiritOf(a.rule, a.coldKpa);
    const found = spirit && bestPair(question(a, a.coldTempC, { coldestC, hottestC }), q.grid, spirit);
    const fixed = found ? { found, count: count(q.days, a, a.coldTempC, found, q, years) } : null;
    tick();
    return { code: a.code, now, fixed, seasonal: null };
  });
  let best: { cost: number; broken: number; split: (typeof splits)[number]; parts: (YearSeasons | null)[] } | null = null;
  for (const split of splits) {
    const winterMonths = monthsFrom(split.winterFrom, split.summerFrom);
    const airs = [
      seasonAir(q.days, 'winter', winterMonths),
      seasonAir(q.days, 'summer', monthsFrom(split.summerFrom, split.winterFrom)),
    ];
    if (airs.some((s) => s === null)) {
      for (const _ of q.axles) tick();
      continue;
    }
    let cost = 0;
    let broken = 0;
    const parts = q.axles.map((a): YearSeasons | null => {
      tick();
      const spirit = spiritOf(a.rule, a.coldKpa);
      if (!spirit) return null;
      let total = zero();
      const seasons: SeasonLimits[] = [];
      for (const air of airs as SeasonAir[]) {
        const found = bestPair(question(a, air.setTempC, air), q.grid, spirit);
        if (!found) return null;
        const months = air.name === 'winter' ? winterMonths : monthsFrom(split.summerFrom, split.winterFrom);
        total = add(
          total,
          count(
            q.days.filter((d) => months.includes(d.month)),
            a,
            air.setTempC,
            found,
            q,
            years,
          ),
        );
        broken += found.cost.weight;
        seasons.push({ ...air, found });
      }
      cost += sum(total);
      return { seasons, count: total };
    });
    if (!best || broken < best.broken || (broken === best.broken && cost < best.cost - 1e-9))
      best = { cost, broken, split, parts };
  }
  return {
    years,
    axles: axles.map((a, i) => ({ ...a, seasonal: best?.parts[i] ?? null })),
    split: best?.split ?? null,
  };
}
