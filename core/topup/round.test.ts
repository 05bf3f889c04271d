import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { displayRoundS, fillFigure, judgeFill, type RoundWheel, roundMinutes, roundOrder } from './round.ts';

const wheel = (position: string, x: number, y: number, shortKpa: number | null = 0): RoundWheel => ({ position, x, y, shortKpa });
const CAR = [wheel('A1L', 0, 0.85, 10), wheel('A1R', 0, -0.85, 40), wheel('A2L', 2.7, 0.85, null), wheel('A2R', 2.7, -0.85, 25)];

describe('the order of a round', () => {
  it('lowest first: what is short the most, the unknown last', () => {
    expect(roundOrder(CAR, 'lowest')).toEqual(['A1R', 'A2R', 'A1L', 'A2L']);
    expect(roundOrder(CAR, 'named')).toEqual(['A1L', 'A1R', 'A2L', 'A2R']);
  });
  it('walk: the wheel just ahead, then back and round the rear, rather than all the way round', () => {
    // Door at 0.9 m on the left; a metre to spare at either end, two metres across.
    // 0.9 to A1L, 2.7 back to A2L, 1 + 2 + 1 to A2R, 2.7 to A1R: 10.3 m. Round the front instead: 0.9 + 4 + 2.7 + 4 = 11.6 m.
    expect(roundOrder(CAR, 'walk')).toEqual(['A1L', 'A2L', 'A2R', 'A1R']);
  });
  it('walk: a wheel just ahead first, then all the others behind, instead of all the way round', () => {
    const truck = [wheel('A1L', 0, 0.85), wheel('A2L', 6, 0.85), wheel('B1L', 10, 0.85), wheel('B1R', 10, -0.85)];
    expect(roundOrder(truck, 'walk')).toEqual(['A1L', 'A2L', 'B1L', 'B1R']);
  });
  it('is never longer than any other order round the rig, and names each wheel once', () => {
    // Brute force over all orders; the way between two points is the shorter way round, worked out here on its own.
    const place = fc.record({ x: fc.integer({ min: 0, max: 12 }), left: fc.boolean() });
    fc.assert(
      fc.property(fc.uniqueArray(place, { minLength: 2, maxLength: 5, selector: (p) => `${p.x}${p.left}` }), (places) => {
        const wheels = places.map((p, i) => wheel(`W${i}`, p.x, p.left ? 1 : -1));
        const xs = [0.9, ...places.map((p) => p.x)];
        const front = Math.min(...xs) - 1;
        const back = Math.max(...xs) + 1;
        const way = (a: { x: number; y: number }, b: { x: number; y: number }) =>
          a.y * b.y > 0 ? Math.abs(a.x - b.x) : Math.min(a.x - front + 2 + (b.x - front), back - a.x + 2 + (back - b.x));
        const length = (order: readonly RoundWheel[]) =>
          order.reduce((sum, w, i) => sum + way(i === 0 ? { x: 0.9, y: 1 } : (order[i - 1] as RoundWheel), w), 0);
        const permutations = (list: RoundWheel[]): RoundWheel[][] =>
          list.length < 2 ? [list] : list.flatMap((w, i) => permutations(list.toSpliced(i, 1)).map((rest) => [w, ...rest]));
        const got = roundOrder(wheels, 'walk').map((p) => wheels.find((w) => w.position === p) as RoundWheel);
        expect(new Set(got).size).toBe(wheels.length);
        expect(length(got)).toBeCloseTo(Math.min(...permutations(wheels).map(length)), 6);
      }),
      { numRuns: 200 },
    );
  });
});

describe('when a tire is filled', () => {
  // 110 psi is 758.423 kPa, 1 psi is 6.895 (NIST SP 811).
  it.each([
    ['88 psi is 22 under', 606.739, 'under', 151.684],
    ['109 psi is done', 751.528, 'done', 6.895],
    ['108.9 psi is not', 750.839, 'under', 7.584],
    ['112 psi is 2 over', 772.213, 'over', 13.79],
  ] as const)('%s', (_, nowKpa, state, byKpa) => {
    const got = judgeFill(nowKpa, 758.4233);
    expect(got.state).toBe(state);
    expect(got.byKpa).toBeCloseTo(byKpa, 2);
  });
  it('a display takes 5 s a tire, 20 s for four (common practice, no source)', () => {
    expect(displayRoundS(4)).toBe(20);
    expect(displayRoundS(10, 6)).toBe(6);
  });
});

describe('the figure to fill to', () => {
  const q = { coldKpa: 500, coldTempC: 20, expectedKpa: null, heldKpa: null, heldLowKpa: null, heldHighKpa: null, fresh: false };
  it('by the tire’s own temperature where its reading is one of now', () => {
    // (500 + 101.325) * 303.15 / 293.15 - 101.325 = 520.512 at 30 °C (ideal gas law, by hand).
    const got = fillFigure({ ...q, fresh: true, expectedKpa: 520.512, heldKpa: 450, heldLowKpa: 440, heldHighKpa: 464 }, 5);
    expect(got).toMatchObject({ kpa: 520.512, by: 'tire', spreadKpa: 12 });
    expect(got?.tempC).toBeCloseTo(30, 2);
  });
  it('by the air of a rig at rest, or as it is without any temperature', () => {
    // (601.325) * 278.15 / 293.15 - 101.325 = 469.231 at 5 °C; 2 K either side are 4.102 kPa.
    const air = fillFigure({ ...q, expectedKpa: 520 }, 5);
    expect(air?.kpa).toBeCloseTo(469.231, 2);
    expect(air?.by).toBe('air');
    expect(air?.spreadKpa).toBeCloseTo(4.102, 2);
    expect(fillFigure(q, null)).toEqual({ kpa: 500, by: 'none', tempC: 20, spreadKpa: 0 });
    expect(fillFigure({ ...q, coldKpa: null }, 5)).toBeNull();
  });
});

describe('the figure to fill to, against the worked figures', () => {
  // Ideal gas law at sea level with the constants of NIST SP 811, worked by hand with absolute values: psi and °F.
  it.each([
    [80, 70, 115, 88.05],
    [65, 75, 20, 56.8],
    [32, 68, 23, 28.02],
    [110, 68, 158, 131.27],
  ])('%d psi set at %d °F is filled to at %d °F: %d', (cold, setF, nowF, expected) => {
    const c = (f: number) => ((f - 32) * 5) / 9;
    const psi = 6.894757293168;
    const q = {
      coldKpa: cold * psi,
      coldTempC: c(setF),
      expectedKpa: null,
      heldKpa: null,
      heldLowKpa: null,
      heldHighKpa: null,
      fresh: false,
    };
    expect((fillFigure(q, c(nowF))?.kpa ?? 0) / psi).toBeCloseTo(expected, 2);
  });
});

describe('minutes of a round', () => {
  it('adds a minute for each wheel that gets air, and the compressor’s rests', () => {
    // Runs of 4, 0, 5 and 3 min, at most 8 at a stretch, then 10 of rest: 4 + 5 is too much, 5 + 3 is not.
    expect(roundMinutes([4, 0, 5, 3], 1, 8, 10)).toEqual({ each: [5, 0, 6, 4], restBefore: [0, 0, 10, 0], total: 25 });
    // One tire of 20 min rests twice on the way.
    expect(roundMinutes([20], 1, 8, 10)).toEqual({ each: [21], restBefore: [20], total: 41 });
    expect(roundMinutes([4, 5], 1, null, 10).total).toBe(11);
  });
});
