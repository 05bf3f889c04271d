import { normal } from '../bench/random.ts';
import { FieldError } from '../errors.ts';
import type { Day } from './daily.ts';

/** Twelve monthly means of the daily minimum and maximum, January first, °C. */
export interface MonthlyMeans {
  minC: readonly number[];
  maxC: readonly number[];
}

export interface TypicalQuestion {
  /** Monthly means; or the two figures below, and a yearly sine between. */
  monthly?: MonthlyMeans;
  /** Mean minimum of the coldest month and mean maximum of the warmest, °C. */
  coldestMonthMinC?: number;
  warmestMonthMaxC?: number;
  /** Coldest and hottest that was seen in some years, °C: they give the spread. */
  coldestC: number;
  hottestC: number;
  /** South of the equator January is summer. */
  southern?: boolean;
  seed: number;
  /** How many years are drawn. */
  years?: number;
}

/**
 * How daily weather scatters about its monthly means. Lag-one correlation and the correlation of minimum and maximum: the middle of two
 * cities' daily series (NOAA, in the vega-datasets package). The rest is assumed.
 */
export const TYPICAL = {
  /** What is left of one day's anomaly on the next. */
  lagOne: 0.7,
  /** Correlation of a day's minimum and maximum anomalies. */
  together: 0.7,
  /** The coldest and hottest of some years are so many standard deviations off the mean of their month. */
  extremeSd: 2.8,
  /** The minimum of a summer night scatters this share of the afternoon's. */
  summerNight: 0.6,
  /** Daily range in the coldest and the warmest month, K, where only two figures are known. */
  winterRangeK: 6,
  summerRangeK: 10,
  /** The range of a day is at least this, K. */
  leastRangeK: 0.5,
} as const;

const MONTH_DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
const YEAR = 365;
const STARTS = MONTH_DAYS.map((_, i) => MONTH_DAYS.slice(0, i).reduce((a, b) => a + b, 0));
const MIDS = MONTH_DAYS.map((n, i) => (STARTS[i] as number) + (n - 1) / 2);

/** A value for every day of the year that runs through twelve nodes at mid-month, straight between them. */
function throughNodes(nodes: readonly number[]): number[] {
  return Array.from({ length: YEAR }, (_, day) => {
    let i = MIDS.findIndex((m) => m > day);
    if (i < 0) i = 12;
    const at = (k: number) => (MIDS[(k + 12) % 12] as number) + (k < 0 ? -YEAR : k > 11 ? YEAR : 0);
    const [a, b] = [at(i - 1), at(i)];
    const from = nodes[(i + 11) % 12] as number;
    const to = nodes[i % 12] as number;
    return from + ((to - from) * (day - a)) / (b - a);
  });
}

/** A smooth course over the year whose monthly means are those given. */
function courseOf(means: readonly number[]): number[] {
  let nodes = [...means];
  let days = throughNodes(nodes);
  for (let round = 0; round < 30; round += 1) {
    nodes = nodes.map((n, i) => {
      const own = days.slice(STARTS[i], (STARTS[i] as number) + (MONTH_DAYS[i] as number));
      return n + (means[i] as number) - own.reduce((a, b) => a + b, 0) / own.length;
    });
    days = throughNodes(nodes);
  }
  return days;
}

/** Monthly means on a yearly sine between the coldest and the warmest month. */
function monthlyOf(q: TypicalQuestion): MonthlyMeans {
  if (q.monthly) return q.monthly;
  const { coldestMonthMinC: cold, warmestMonthMaxC: warm } = q;
  if (cold === undefined || warm === undefined)
    throw new FieldError('/coldestMonthMinC', 'is needed, with the mean maximum of the warmest month');
  if (warm - TYPICAL.summerRangeK <= cold)
    throw new FieldError(
      '/warmestMonthMaxC',
      `must be more than ${TYPICAL.summerRangeK} °C over the mean minimum of the coldest month`,
    );
  const sine = (winter: number, summer: number) =>
    Array.from({ length: 12 }, (_, m) => {
      const share = (1 - Math.cos((2 * Math.PI * (m - (q.southern ? 6 : 0))) / 12)) / 2;
      return winter + (summer - winter) * share;
    });
  return { minC: sine(cold, warm - TYPICAL.summerRangeK), maxC: sine(cold + TYPICAL.winterRangeK, warm) };
}

/** @throws FieldError at the figures that contradict each other */
function check(q: TypicalQuestion, m: MonthlyMeans): void {
  if (m.minC.length !== 12 || m.maxC.length !== 12) throw new FieldError('/monthly', 'must have twelve minima and twelve maxima');
  const over = m.minC.findIndex((v, i) => v >= (m.maxC[i] as number));
  if (over >= 0) throw new FieldError(`/monthly/minC/${over}`, 'must be under the maximum of its month');
  if (q.coldestC >= Math.min(...m.minC)) throw new FieldError('/coldestC', 'must be under the mean minimum of the coldest month');
  if (q.hottestC <= Math.max(...m.maxC)) throw new FieldError('/hottestC', 'must be over the mean maximum of the warmest month');
}

/**
 * Days of a typical year, made and not measured: a smooth course through the monthly means, and anomalies that last from one day to the next
 * (a first-order autoregression), wider in the half of the year that its extremes show to be wide.
 * @throws FieldError at the field at fault
 */
export function typicalYear(q: TypicalQuestion): Day[] {
  const means = monthlyOf(q);
  check(q, means);
  const min = courseOf(means.minC);
  const max = courseOf(means.maxC);
  const coldest = means.minC.indexOf(Math.min(...means.minC));
  const winterSd = (Math.min(...means.minC) - q.coldestC) / TYPICAL.extremeSd;
  const summerSd = (q.hottestC - Math.max(...means.maxC)) / TYPICAL.extremeSd;
  const random = { s: q.seed >>> 0 };
  let both = normal(random);
  let night = normal(random);
  let noon = normal(random);
  const next = (x: number) => TYPICAL.lagOne * x + Math.sqrt(1 - TYPICAL.lagOne ** 2) * normal(random);
  const shared = Math.sqrt(TYPICAL.together);
  const alone = Math.sqrt(1 - TYPICAL.together);
  const tenth = (v: number) => Math.round(v * 10) / 10;
  return Array.from({ length: (q.years ?? 4) * YEAR }, (_, i) => {
    const day = i % YEAR;
    both = next(both);
    night = next(night);
    noon = next(noon);
    // 1 in the middle of winter, 0 in the middle of summer.
    const winter = (1 + Math.cos((2 * Math.PI * (day - (MIDS[coldest] as number))) / YEAR)) / 2;
    const nightSd = winterSd * winter + TYPICAL.summerNight * summerSd * (1 - winter);
    const noonSd = winterSd * winter + summerSd * (1 - winter);
    const minC = (min[day] as number) + nightSd * (shared * both + alone * night);
    const maxC = (max[day] as number) + noonSd * (shared * both + alone * noon);
    const month = MIDS.findIndex((_, m) => day < (STARTS[m] as number) + (MONTH_DAYS[m] as number));
    const year = 2001 + Math.floor(i / YEAR);
    const date = `${year}-${String(month + 1).padStart(2, '0')}-${String(day - (STARTS[month] as number) + 1).padStart(2, '0')}`;
    return { date, minC: tenth(minC), maxC: tenth(Math.max(maxC, minC + TYPICAL.leastRangeK)) };
  });
}
