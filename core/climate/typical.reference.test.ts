import { readFileSync } from 'node:fs';
import { parse } from 'csv-parse/sync';
import { describe, expect, it } from 'vitest';
import { FieldError } from '../errors.ts';
import type { Day } from './daily.ts';
import { TYPICAL, type TypicalQuestion, typicalYear } from './typical.ts';
import { sweepYears } from './year.ts';

// Four years of daily minimum and maximum at two stations: origin NOAA, `weather.csv` of the vega-datasets package 2.11.0 (BSD-3-Clause).
// Means, spread and correlations below were worked out of the files with Python's statistics module.
const read = (file: string): (Day & { month: number })[] =>
  (
    parse(readFileSync(new URL(file, import.meta.url), 'utf8'), { columns: true }) as {
      date: string;
      temp_min: string;
      temp_max: string;
    }[]
  ).map((r) => ({
    date: r.date,
    minC: Number(r.temp_min),
    maxC: Number(r.temp_max),
    month: Number(r.date.slice(5, 7)) - 1,
  }));
interface City {
  name: string;
  file: string;
  minC: number[];
  maxC: number[];
  coldestC: number;
  hottestC: number;
  /** Spread of January minima and July maxima, K; lag-one correlation of minima; correlation of a day's two anomalies. */
  winterSd: number;
  summerSd: number;
  lag: number;
  together: number;
}
const cities: City[] = [
  {
    name: 'a mild coast',
    file: './seattle-weather.test-data.csv',
    minC: [2.7, 4.05, 4.86, 6.36, 9.61, 12.24, 14.2, 14.77, 12.36, 9.35, 4.7, 3.33],
    maxC: [8.23, 9.86, 12.39, 15.02, 19.3, 22.4, 26.0, 26.11, 21.92, 16.39, 11.02, 8.19],
    coldestC: -7.1,
    hottestC: 35.6,
    winterSd: 3.42,
    summerSd: 4.15,
    lag: 0.724,
    together: 0.564,
  },
  {
    name: 'a cold winter and a hot summer',
    file: './new-york-weather.test-data.csv',
    minC: [-3.35, -3.46, 0.8, 6.29, 12.71, 17.46, 21.54, 20.3, 16.6, 11.21, 4.16, 2.78],
    maxC: [4.38, 4.15, 9.12, 15.76, 21.36, 25.89, 29.5, 28.5, 25.32, 18.98, 12.1, 9.33],
    coldestC: -16,
    hottestC: 37.8,
    winterSd: 5.21,
    summerSd: 2.99,
    lag: 0.666,
    together: 0.798,
  },
];
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
const sd = (list: readonly number[]) => Math.sqrt(mean(list.map((v) => (v - mean(list)) ** 2)));
const correlation = (a: readonly number[], b: readonly number[]) => {
  const [ma, mb] = [mean(a), mean(b)];
  return mean(a.map((v, i) => (v - ma) * ((b[i] as number) - mb))) / (sd(a) * sd(b));
};
const monthOf = (d: Day) => Number(d.date.slice(5, 7)) - 1;
const anomalies = (days: readonly Day[], field: 'minC' | 'maxC') => {
  const means = Array.from({ length: 12 }, (_, m) => mean(days.filter((d) => monthOf(d) === m).map((d) => d[field])));
  return days.map((d) => d[field] - (means[monthOf(d)] as number));
};

describe.each(cities.map((c) => [c.name, c] as const))('a year made from the means of %s', (_, c) => {
  const question: TypicalQuestion = { monthly: c, coldestC: c.coldestC, hottestC: c.hottestC, seed: 7, years: 60 };
  const made = typicalYear(question);
  it('has its monthly means within 0.8 K, what sixty years of such weather are sure of', () => {
    for (let m = 0; m < 12; m += 1) {
      const own = made.filter((d) => monthOf(d) === m);
      expect(Math.abs(mean(own.map((d) => d.minC)) - (c.minC[m] as number))).toBeLessThan(0.8);
      expect(Math.abs(mean(own.map((d) => d.maxC)) - (c.maxC[m] as number))).toBeLessThan(0.8);
    }
  });
  it('scatters as it does in winter nights and summer afternoons, within 30 %', () => {
    const spread = (m: number, field: 'minC' | 'maxC') => sd(made.filter((d) => monthOf(d) === m).map((d) => d[field]));
    expect(Math.abs(spread(0, 'minC') / c.winterSd - 1)).toBeLessThan(0.3);
    expect(Math.abs(spread(6, 'maxC') / c.summerSd - 1)).toBeLessThan(0.3);
  });
  it('lasts from day to day as it does, and nights go with afternoons, within 0.15', () => {
    const min = anomalies(made, 'minC');
    expect(Math.abs(correlation(min.slice(0, -1), min.slice(1)) - c.lag)).toBeLessThan(0.15);
    expect(Math.abs(correlation(min, anomalies(made, 'maxC')) - c.together)).toBeLessThan(0.15);
  });
  // A low of 225, 230 or 235 kPa under 250 kPa set at 18 °C rings at (low + 101.325) * 291.15 / 351.325 - 273.15 and colder.
  it('has as many mornings that ring as the real one, within a quarter or six a year', () => {
    const real = read(c.file);
    const mornings = (days: readonly Day[], underC: number) =>
      days.filter((d) => d.minC <= underC).length / (days.length / 365.25);
    for (const underC of [-2.72, 1.43, 5.57]) {
      const [a, b] = [mornings(real, underC), mornings(made, underC)];
      expect(Math.abs(a - b), `${underC} °C: ${a} real, ${b} made`).toBeLessThan(Math.max(6, a / 4));
    }
    // The Year counts just those.
    const axle = {
      code: 'A1',
      coldKpa: 250,
      coldTempC: 18,
      loadMinimumKpa: 0,
      rule: { school: 'lowOnly' as const },
      limits: { lowKpa: 230, highKpa: null },
      hotShare: 0.1,
    };
    const days = made.slice(0, 365).map((d) => ({ ...d, month: monthOf(d) }));
    const { axles } = sweepYears({ days, axles: [axle], grid: { unit: 'kPa', step: 10, min: 200, max: 300 } });
    expect(axles[0]?.now?.ringingMornings).toBeCloseTo(mornings(days, 1.43), 0);
  });
});

describe('a year from four figures', () => {
  const four: TypicalQuestion = { coldestMonthMinC: -3, warmestMonthMaxC: 25, coldestC: -15, hottestC: 35, seed: 3, years: 30 };
  it('has the two means in January and July, and in the south the other way round', () => {
    const of = (days: readonly Day[], m: number, field: 'minC' | 'maxC') =>
      mean(days.filter((d) => monthOf(d) === m).map((d) => d[field]));
    const north = typicalYear(four);
    expect(Math.abs(of(north, 0, 'minC') + 3)).toBeLessThan(0.6);
    expect(Math.abs(of(north, 6, 'maxC') - 25)).toBeLessThan(0.6);
    const south = typicalYear({ ...four, southern: true });
    expect(Math.abs(of(south, 6, 'minC') + 3)).toBeLessThan(0.6);
    expect(Math.abs(of(south, 0, 'maxC') - 25)).toBeLessThan(0.6);
  });
  it('is the same for the same seed and another for another', () => {
    expect(typicalYear({ ...four, years: 1 })).toEqual(typicalYear({ ...four, years: 1 }));
    expect(typicalYear({ ...four, years: 1, seed: 4 })).not.toEqual(typicalYear({ ...four, years: 1 }));
    expect(typicalYear({ ...four, years: 1 })).toHaveLength(365);
    expect(typicalYear(four).every((d) => d.maxC >= d.minC + TYPICAL.leastRangeK - 0.11)).toBe(true);
  });
  it.each<[Partial<TypicalQuestion>, string]>([
    [{ coldestC: -2 }, '/coldestC'],
    [{ hottestC: 25 }, '/hottestC'],
    [{ coldestMonthMinC: 16 }, '/warmestMonthMaxC'],
    [{ monthly: { minC: new Array(12).fill(5), maxC: [...new Array(11).fill(9), 4] } }, '/monthly/minC/11'],
    [{ monthly: { minC: [1], maxC: [2] } }, '/monthly'],
  ])('refuses %j at its field', (change, pointer) => {
    let at = '';
    try {
      typicalYear({ ...four, ...change });
    } catch (error) {
      if (error instanceof FieldError) at = error.pointer;
    }
    expect(at).toBe(pointer);
  });
});
