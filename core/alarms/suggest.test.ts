import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Grid } from './grid.ts';
import { bestPair, halvesOf, type SuggestQuestion, spiritOf, suggest } from './suggest.ts';

const PSI = 6.894757293168;
const grid: Grid = { unit: 'psi', step: 1, min: 0, max: 188 };
const share = { school: 'share' } as const;

/** A cost as its parts, first the weightier: how many requirements are broken, how heavy they are, kPa from the school's limits. */
type Parts = [count: number, weight: number, distanceKpa: number];
const ahead = (a: Parts, b: Parts): boolean => {
  const i = [0, 1, 2].find((k) => Math.abs((a[k] as number) - (b[k] as number)) > 1e-6);
  return i !== undefined && (a[i] as number) < (b[i] as number);
};

/**
 * Every pair on the grid, judged one by one. Written apart from what it checks: the gas law and the standard atmosphere are spelt out here
 * (U.S. Standard Atmosphere 1976), and so are the requirements and how they rank.
 */
function exhaustive(q: SuggestQuestion, g: Grid, spirit: { lowKpa: number; highKpa: number | null }): Parts | null {
  const KPA = { psi: PSI, bar: 100, kPa: 1 }[g.unit];
  const ambient = (m: number) => 101.325 * (1 - 2.25577e-5 * m) ** 5.25588;
  const home = ambient(q.altitudeSetM ?? 0);
  const moved = (kpa: number, c: number, toC: number, from: number, to: number) =>
    ((kpa + from) * (toC + 273.15)) / (c + 273.15) - to;
  const places = q.passM === undefined ? [home] : [home, ambient(q.passM)];
  const starts = places.map((there) => moved(q.coldKpa, q.coldTempC, q.coldestC, home, there));
  const runs = places.map((there) => moved(q.coldKpa, q.coldTempC, q.runningC, home, there));
  let best: Parts | null = null;
  const n = Math.round((g.max - g.min) / g.step);
  const values = Array.from({ length: n + 1 }, (_, i) => (g.min + i * g.step) * KPA);
  for (const low of values.filter((v) => v > 0 && v < q.coldKpa - 1e-6)) {
    const hotLows = places.map((there) => moved(low, q.runningC, q.coldTempC, there, home));
    for (const high of spirit.highKpa === null ? [null] : values.filter((v) => v > q.coldKpa + 1e-6)) {
      const weights: number[] = [];
      if (low < q.loadMinimumKpa) weights.push(8);
      if (hotLows.some((kpa) => kpa < q.loadMinimumKpa)) weights.push(4);
      if (starts.some((kpa) => kpa <= low)) weights.push(2);
      if (high !== null && runs.some((kpa) => kpa >= high)) weights.push(2);
      if (high !== null && runs.some((kpa) => high > 1.25 * kpa)) weights.push(1);
      const away = Math.abs(low - spirit.lowKpa) + (high === null ? 0 : Math.abs(high - (spirit.highKpa as number)));
      const parts: Parts = [weights.length, weights.reduce((x, y) => x + y, 0), away];
      if (best === null || ahead(parts, best)) best = parts;
    }
  }
  return best;
}

describe('bestPair', () => {
  it('equals a search over every pair on the monitor’s grid', () => {
    const axles = fc.record({
      cold: fc.double({ min: 180, max: 800, noNaN: true }),
      coldTempC: fc.integer({ min: 0, max: 30 }),
      minimumShare: fc.constantFrom(0, 0.7, 0.8, 0.85, 0.9, 0.95),
      coldestC: fc.integer({ min: -30, max: 10 }),
      runningC: fc.integer({ min: 25, max: 75 }),
      passM: fc.option(fc.integer({ min: 500, max: 3000 }), { nil: undefined }),
      rule: fc.constantFrom({ school: 'share' } as const, { school: 'rough' } as const, { school: 'lowOnly' } as const),
      grid: fc.constantFrom<Grid>(
        { unit: 'psi', step: 2, min: 0, max: 188 },
        { unit: 'bar', step: 0.1, min: 1, max: 9 },
        { unit: 'kPa', step: 10, min: 100, max: 900 },
      ),
    });
    let broken = 0;
    fc.assert(
      fc.property(axles, ({ cold, minimumShare, rule, grid: g, ...q }) => {
        const question = { coldKpa: cold, loadMinimumKpa: cold * minimumShare, altitudeSetM: 300, ...q };
        const spirit = spiritOf(rule, cold);
        if (!spirit) return;
        const found = bestPair(question, g, spirit);
        const all = exhaustive(question, g, spirit);
        expect(found === null).toBe(all === null);
        if (!found || !all) return;
        expect([found.cost.count, found.cost.weight]).toEqual([all[0], all[1]]);
        expect(found.cost.distanceKpa).toBeCloseTo(all[2], 3);
        broken += found.cost.count > 0 ? 1 : 0;
      }),
      { numRuns: 300 },
    );
    // The check means something only when conflicts are among the axles.
    expect(broken).toBeGreaterThan(20);
  }, 60_000);
});

describe('suggest', () => {
  const air = { hottestC: 24, hotShare: 0.1 };
  it('a mild axle gets the school’s own limits', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 55 * PSI, coldestC: 0, runningC: 48 };
    const s = suggest(q, grid, share, air);
    expect(s?.satisfied).toBe(true);
    expect([s?.best.low, s?.best.high]).toEqual([72, 96]);
  });
  // 80 psi set at 20 °C reads 65.46 psi at -25 °C: (94.696 * 248.15 / 293.15) - 14.696. A hot tire at 48 °C still carries 65 psi's
  // load only from 72.61 psi on: (79.696 * 321.15 / 293.15) - 14.696. No low alarm is under 65.46 and at or over 72.61.
  it('80 psi carrying at 65 between -25 °C and a running 48 °C cannot have all, and says what gives way', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 65 * PSI, coldestC: -25, runningC: 48 };
    const s = suggest(q, grid, share, air);
    expect(s?.satisfied).toBe(false);
    expect(s?.best.low).toBe(73);
    expect(s?.givesWay).toEqual(['nuisance-low']);
    expect(s?.compromises).toHaveLength(2);
    const kinds = s?.compromises.map((c) => c.kind) ?? [];
    expect(new Set(kinds).size).toBe(2);
    for (const c of s?.compromises ?? []) expect(c.verdicts.length).toBeLessThanOrEqual(1);
  });
  it('where two seasons hold all requirements, they come first', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 60 * PSI, coldestC: -15, runningC: 60 };
    const s = suggest(q, grid, share, { hottestC: 35, hotShare: 0.1 });
    expect(s?.satisfied).toBe(false);
    const first = s?.compromises[0];
    expect(first).toMatchObject({ kind: 'seasonal', verdicts: [] });
    if (first?.kind !== 'seasonal') throw new Error('no seasons');
    for (const season of first.seasons) {
      expect(season.found.verdicts).toEqual([]);
      expect(season.setTempC).toBeGreaterThan(season.coldestC);
      expect(season.setTempC).toBeLessThan(season.hottestC);
    }
  });
  it('another setting day is only offered where it does better, and says on which side it lies', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 30, loadMinimumKpa: 60 * PSI, coldestC: -10, runningC: 50 };
    const s = suggest(q, grid, share, { hottestC: 25, hotShare: 0.1 });
    const day = s?.compromises.find((c) => c.kind === 'settingDay');
    if (day) expect(day.colder).toBe(day.coldTempC < 30);
    expect(s?.compromises.every((c) => c.verdicts.length <= (s?.best.verdicts.length ?? 0))).toBe(true);
  });
  it('a school that leaves its limits to the monitor has none to suggest', () => {
    const q = { coldKpa: 500, coldTempC: 20, loadMinimumKpa: 0, coldestC: 0, runningC: 40 };
    expect(suggest(q, grid, { school: 'baseline' }, air)).toBeNull();
    expect(suggest(q, { ...grid, min: 100 }, share, air)).toBeNull();
  });
  it('a load minimum that is unknown is no requirement that could be given up', () => {
    const q = { coldKpa: 500, coldTempC: 20, loadMinimumKpa: 0, coldestC: -25, runningC: 60 };
    expect(suggest(q, grid, share, air)?.satisfied).toBe(true);
  });
  it('halves of a year meet in the middle and reach both ends', () => {
    const [winter, summer] = halvesOf(-20, 36);
    expect(winter).toMatchObject({ coldestC: -20, hottestC: 15 });
    expect(summer).toMatchObject({ coldestC: 1, hottestC: 36 });
  });
});
