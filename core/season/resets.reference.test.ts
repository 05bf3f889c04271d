import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { bestResets, type SeasonDay } from './resets.ts';

/** Minima and maxima of Seattle, four years: the `vega-datasets` package, origin NOAA. */
const seattle: SeasonDay[] = Papa.parse<{ date: string; temp_min: string; temp_max: string }>(
  readFileSync(join(import.meta.dirname, '../climate/seattle-weather.test-data.csv'), 'utf8'),
  { header: true, skipEmptyLines: true },
).data.map((r) => ({ date: r.date.slice(0, 10).replaceAll('/', '-'), minC: Number(r.temp_min), maxC: Number(r.temp_max) }));

/** A year that swings between -10 °C in January and 20 °C in July, the same each day of its minima and 8 K more in the afternoon. */
const swing: SeasonDay[] = Array.from({ length: 365 }, (_, i) => {
  const minC = 5 - 15 * Math.cos((2 * Math.PI * (i - 14)) / 365);
  return { date: new Date(Date.UTC(2026, 0, 1 + i)).toISOString().slice(0, 10), minC, maxC: minC + 8 };
});
const base = { coldKpa: 500, coldTempC: 20, riseK: 25, days: swing };

describe('the best days to reset', () => {
  it('none where nothing rings', () => {
    // Down to -10 °C: (500 + 101.325) * 263.15 / 293.15 - 101.325 = 438.46 kPa, over a limit of 430 (ideal gas law, by hand).
    const { asIs, best } = bestResets({ ...base, lowKpa: 430, highKpa: null });
    expect(asIs).toEqual({ resets: [], lowNights: 0, highDays: 0 });
    expect(best).toEqual(asIs);
  });
  it('one where it is enough: set on a cool morning, it holds all winter', () => {
    // 450 kPa is reached 24.4 K under the morning it was set: 551.325 / 601.325 = 0.91685. Set at 20 °C that is at -4.4 °C.
    const { asIs, best } = bestResets({ ...base, lowKpa: 450, highKpa: null });
    expect(asIs.lowNights).toBeGreaterThan(60);
    expect(best.lowNights).toBe(0);
    expect(best.resets).toHaveLength(1);
    // -10 °C must be within 24.4 K of it (at 14.4 °C: 287.55 * 0.91685 = 263.6 K), so it is under 14 °C.
    expect(best.resets[0]?.airC).toBeLessThan(14);
  });
  it('two where one can’t do it: up in autumn, down in spring', () => {
    // High: at 20 °C in July and 8 + 25 K on top, 53 °C: set at 20 °C that is 567.7 kPa, set at 5 °C 603.
    const { asIs, best } = bestResets({ ...base, lowKpa: 460, highKpa: 590 });
    expect(asIs.lowNights).toBeGreaterThan(80);
    expect(best.lowNights + best.highDays).toBe(0);
    expect(best.resets).toHaveLength(2);
    const [spring, autumn] = best.resets.map((r) => Number(r.day.slice(0, 2)));
    expect(spring).toBeGreaterThanOrEqual(3);
    expect(spring).toBeLessThanOrEqual(7);
    expect(autumn).toBeGreaterThanOrEqual(9);
    expect(autumn).toBeLessThanOrEqual(12);
  });
  it('on four real years no pair of days does better, lived through day by day', () => {
    const [coldKpa, lowKpa, highKpa, riseK] = [240, 222, 290, 25];
    const { asIs, best } = bestResets({ coldKpa, coldTempC: 18, lowKpa, highKpa, riseK, days: seattle });
    // Ideal gas on its own: absolute pressures in one ratio with absolute temperatures, 101.325 kPa outside.
    const reads = (setC: number, c: number) => ((coldKpa + 101.325) * (c + 273.15)) / (setC + 273.15) - 101.325;
    const years = seattle.length / 365.25;
    const live = (setOn: (monthDay: string) => number) => {
      let low = 0;
      let high = 0;
      for (const d of seattle) {
        const setC = setOn(d.date.slice(5));
        if (reads(setC, d.minC) <= lowKpa) low += 1;
        if (reads(setC, d.maxC + riseK) >= highKpa) high += 1;
      }
      return { low: low / years, high: high / years };
    };
    const plain = live(() => 18);
    expect(asIs.lowNights).toBeCloseTo(plain.low, 9);
    expect(asIs.highDays).toBeCloseTo(plain.high, 9);
    const morning = (day: string) => {
      const near = seattle.filter((d) => {
        const n = (Date.parse(`2026-${d.date.slice(5)}`) - Date.parse(`2026-${day}`)) / 86_400_000;
        return Math.abs(n) <= 10 || Math.abs(Math.abs(n) - 365) <= 10;
      });
      return near.reduce((a, d) => a + d.minC, 0) / near.length;
    };
    const lived = (a: string, b: string) => {
      const [first, second] = [morning(a), morning(b)];
      return live((day) => (day >= a && day < b ? first : second));
    };
    const [first, second] = best.resets;
    if (!first || !second) throw new Error('two resets');
    expect(first.airC).toBeCloseTo(morning(first.day), 0);
    const found = lived(first.day, second.day);
    expect(best.lowNights).toBeCloseTo(found.low, 0);
    for (const a of ['02-01', '03-01', '04-01', '05-01', '06-01'])
      for (const b of ['08-15', '09-15', '10-01', '10-15', '11-01', '12-01']) {
        const other = lived(a, b);
        expect(best.lowNights + best.highDays, `${a} ${b}`).toBeLessThanOrEqual(other.low + other.high + 0.8);
      }
  });
});
