import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { breakMs, spreadNames, styleOf, valueAt } from './lines.ts';

describe('names at the ends of lines', () => {
  it('stay at their lines where there is room', () => {
    expect(spreadNames([10, 100, 50], 14, 0, 200)).toEqual([10, 100, 50]);
  });

  it('move apart about their middle, in the order of their lines', () => {
    expect(spreadNames([100, 102, 101], 14, 0, 200)).toEqual([87, 115, 101]);
    // At the edge they go inward.
    expect(spreadNames([199, 198], 14, 0, 200)).toEqual([200, 186]);
  });

  it('never overprint where there is room, and never leave the picture', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -20, max: 320, noNaN: true }), { maxLength: 20 }), (wanted) => {
        const at = spreadNames(wanted, 14, 4, 296);
        const sorted = [...at].sort((a, b) => a - b);
        for (const y of sorted) {
          expect(y).toBeGreaterThanOrEqual(4 - 1e-9);
          expect(y).toBeLessThanOrEqual(296 + 1e-9);
        }
        sorted.slice(1).forEach((y, i) => {
          expect(y - (sorted[i] as number)).toBeGreaterThanOrEqual(14 - 1e-6);
        });
        // The order of the names is the order of the lines.
        for (const [i, a] of wanted.entries())
          for (const [j, b] of wanted.entries()) if (a < b) expect(at[i] as number).toBeLessThan(at[j] as number);
      }),
    );
  });

  it('share what room there is where it is too little', () => {
    expect(spreadNames([5, 5, 5], 14, 0, 20)).toEqual([0, 10, 20]);
  });
});

it('twelve lines are drawn in twelve ways', () => {
  expect(new Set(Array.from({ length: 12 }, (_, i) => JSON.stringify(styleOf(i)))).size).toBe(12);
  expect(styleOf(12)).toEqual(styleOf(0));
});

describe('the value at a moment', () => {
  const points = [
    { x: 0, y: 10 },
    { x: 1000, y: 20 },
    { x: 5000, y: null },
    { x: 9000, y: 40 },
  ];
  it('is that of the nearest point', () => {
    expect([-5, 0, 400, 600, 2000, 8999].map((ms) => valueAt(points, ms, 2000))).toEqual([10, 10, 10, 20, 20, 40]);
  });
  it('is nothing in a break, where nothing was heard, or without points', () => {
    expect(valueAt(points, 5000, 2000)).toBeNull();
    expect(valueAt(points, 12_000, 2000)).toBeNull();
    expect(valueAt([], 5000, 2000)).toBeNull();
  });
  it('a break is 20 minutes, or three times what a point gathers', () => {
    expect([breakMs(0), breakMs(60), breakMs(3600)]).toEqual([1_200_000, 1_200_000, 10_800_000]);
  });
});
