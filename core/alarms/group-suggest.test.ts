import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ALWAYS_WEIGHT, bestShared, type GroupMember } from './group-suggest.ts';
import { judgeTrip } from './judge.ts';

const bar = (v: number) => v * 100;
const member = (axle: string, cold: number, lowShare = 0.9, highShare: number | null = 1.2, load = 0): GroupMember => ({
  axle,
  question: { coldKpa: bar(cold), coldTempC: 18, loadMinimumKpa: bar(load), coldestC: -5, runningC: 50 },
  spirit: { lowKpa: bar(cold) * lowShare, highKpa: highShare === null ? null : bar(cold) * highShare },
});

describe('the pair that is best for a group at once', () => {
  it('of a rear axle of 2.4 and a trailer of 4.0 bar: no axle rings always, the trailer gives up its early low', () => {
    const found = bestShared([member('A2', 2.4), member('B1', 4, 0.9, 1.2, 3.3)], { unit: 'bar', step: 0.1, min: 0.5, max: 6.4 });
    if (!found) throw new Error('nothing found');
    expect(found.broken.every((b) => !b.ringsAlways)).toBe(true);
    // The cold start of the 2.4 bar tire at -5 °C: (240 + 101.325) * 268.15 / 291.15 - 101.325 = 213.0 kPa, so the low is under 2.13 bar.
    expect(found.low).toBeLessThanOrEqual(2.1);
    expect(found.broken.find((b) => b.axle === 'B1')?.verdicts).toEqual(expect.arrayContaining(['unprotected-low']));
    expect(found.broken.find((b) => b.axle === 'A2')?.verdicts).not.toContain('nuisance-low');
    // Over the hot run of the trailer: (400 + 101.325) * 323.15 / 291.15 - 101.325 = 455.1 kPa.
    expect(found.high).toBeGreaterThan(4.55);
  });
  it('of one axle it is that axle’s own pair; without a high wish there is none', () => {
    const found = bestShared([member('A1', 2.4, 0.88, null)], { unit: 'bar', step: 0.1, min: 0.5, max: 6.4 });
    // 0.88 of 2.4 is 2.112: 2.1 is the nearest under the cold start.
    expect(found).toMatchObject({ low: 2.1, high: null, cost: { count: 0 } });
  });
  it('says so when the grid has nothing', () => {
    expect(bestShared([member('A1', 2.4)], { unit: 'bar', step: 5, min: 1, max: 4 })).toBeNull();
  });

  // A search of its own: every pair of the grid, priced by the whole judgement of each member.
  it('equals a search over every pair', () => {
    const order = { 'unprotected-low': 8, 'unprotected-hot': 4, 'nuisance-low': 2, 'nuisance-high': 2, 'sleeping-high': 1 };
    const price = (members: GroupMember[], low: number, high: number) => {
      let count = 0;
      let weight = 0;
      let distance = 0;
      for (const { question, spirit } of members) {
        const always = [low >= question.coldKpa - 1e-9, high <= question.coldKpa + 1e-9].filter(Boolean).length;
        const { verdicts } = judgeTrip({ ...question, lowKpa: low, highKpa: high });
        const broken = verdicts.filter((v) => v !== 'ok');
        count += broken.length + always;
        weight += broken.reduce((a, v) => a + order[v as keyof typeof order], 0) + always * ALWAYS_WEIGHT;
        distance += Math.abs(low - spirit.lowKpa) + Math.abs(high - (spirit.highKpa ?? high));
      }
      return [count, weight, distance] as const;
    };
    const less = (a: readonly number[], b: readonly number[]) => {
      for (let i = 0; i < 3; i += 1) {
        const d = (a[i] as number) - (b[i] as number);
        if (Math.abs(d) > 1e-9) return d < 0;
      }
      return false;
    };
    const members = fc.array(
      fc.record({
        cold: fc.double({ min: 1.8, max: 5, noNaN: true }),
        low: fc.double({ min: 0.7, max: 0.95, noNaN: true }),
        high: fc.double({ min: 1.1, max: 1.4, noNaN: true }),
        load: fc.double({ min: 0, max: 4, noNaN: true }),
      }),
      { minLength: 1, maxLength: 3 },
    );
    fc.assert(
      fc.property(members, fc.constantFrom(0.1, 0.2, 0.5), (drawn, step) => {
        const list = drawn.map((m, i) => member(`A${i + 1}`, m.cold, m.low, m.high, m.load));
        const grid = { unit: 'bar' as const, step, min: 1, max: 6 };
        const found = bestShared(list, grid);
        if (!found || found.highKpa === null) throw new Error('nothing found');
        let best: readonly number[] | null = null;
        const n = Math.round(6 / step);
        for (let i = Math.ceil(1 / step - 1e-9); i <= n; i += 1)
          for (let j = i + 1; j <= n; j += 1) {
            const p = price(list, i * step * 100, j * step * 100);
            if (best === null || less(p, best)) best = p;
          }
        const own = price(list, found.lowKpa, found.highKpa);
        expect(less(best as readonly number[], own)).toBe(false);
        expect(own[0]).toBe(found.cost.count);
        expect(own[1]).toBe(found.cost.weight);
      }),
      { numRuns: 120 },
    );
  });
});
