import { describe, expect, it } from 'vitest';
import {
  estimateRig,
  isAllowed,
  lossesBetween,
  placeRepeater,
  REPEATER_Z,
  relayWay,
  timeToFirst,
  verdictOf,
  wayBetween,
  worstChance,
} from './estimate.ts';
import type { Box, Point, Scene, SceneWheel } from './scene.ts';

const wheel = (position: string, x: number, y: number, over: Partial<SceneWheel> = {}): SceneWheel => ({
  position,
  unit: 0,
  x,
  y,
  z: 0.35,
  inner: false,
  ...over,
});
const bare = (over: Partial<Scene> = {}): Scene => ({
  wheels: [],
  bodies: [],
  tanks: [],
  frames: [],
  receiver: { x: 0, y: 0, z: 0 },
  onlyRepeater: false,
  assumed: [],
  ...over,
});
const p = (x: number, y = 0, z = 0): Point => ({ x, y, z });
const box = (x0: number, x1: number, y0 = -1, y1 = 1): Box => ({ x0, x1, y0, y1 });

describe('what is in the way', () => {
  it('a wheel is behind its tire and rim, an inner one behind its twin too', () => {
    expect(lossesBetween(bare(), p(0), p(5), wheel('A1L', 0, 0))).toEqual([{ code: 'tireRim', least: 8, most: 15 }]);
    expect(lossesBetween(bare(), p(0), p(5), wheel('A2LI', 0, 0, { inner: true }))).toEqual([
      { code: 'tireRim', least: 8, most: 15 },
      { code: 'dualInner', least: 4, most: 4 },
    ]);
    expect(lossesBetween(bare(), p(0), p(5))).toEqual([]);
  });
  it('a body or a tank counts when the way runs over it for 30 cm', () => {
    const scene = (length: number) =>
      bare({ bodies: [{ ...box(1, 1 + length), unit: 2, material: 'aluminium' }], tanks: [box(3, 3 + length)] });
    expect(lossesBetween(scene(0.25), p(0), p(8))).toEqual([]);
    expect(lossesBetween(scene(0.5), p(0), p(8))).toEqual([
      { code: 'body', unit: 2, least: 12, most: 20 },
      { code: 'tank', least: 10, most: 20 },
    ]);
    // Exactly 30 cm, in figures that a computer has exactly.
    const eight = bare({ bodies: [{ ...box(0, 0.3), unit: 0, material: 'wood' }], tanks: [box(0, 0.3)] });
    expect(lossesBetween(eight, p(0), p(0.3)).map((l) => l.code)).toEqual(['body', 'tank']);
  });
});

// Free space at 433.92 MHz and 10 m is 45.20 dB, at 20 m 51.22; at 2,402 MHz and 10 m 60.06 (Recommendation ITU-R P.525).
describe('a way', () => {
  it('has its margin at the most, the middle and the least loss', () => {
    const way = wayBetween(bare(), p(0), p(10), wheel('A1L', 0, 0));
    expect(way.distanceM).toBe(10);
    // -15 - 45.20 + 100 = 39.80, less 15, 11.5 and 8.
    expect(way.marginDb.low).toBeCloseTo(24.8, 2);
    expect(way.marginDb.mid).toBeCloseTo(28.3, 2);
    expect(way.marginDb.high).toBeCloseTo(31.8, 2);
  });
  it('takes another sender, receiver and band', () => {
    const way = wayBetween(bare(), p(0), p(10), undefined, { frequencyMhz: 2402, senderDbm: 5, sensitivityDbm: -90 });
    expect(way.marginDb.mid).toBeCloseTo(5 - 60.06 + 90, 2);
  });
  it('is straight through the air, and at least 20 cm', () => {
    // 2, 3 and 6 make 7.
    expect(wayBetween(bare(), p(0, 0, 0), p(2, 3, 6), undefined).distanceM).toBe(7);
    expect(wayBetween(bare(), p(2, 3, 6), p(0, 0, 0), undefined).distanceM).toBe(7);
    expect(wayBetween(bare(), p(1, 1, 1), p(1, 1, 1), undefined).distanceM).toBe(0.2);
  });
  it('its chances are those of its three margins', () => {
    // Without fading a frame is heard over 0 dB and else it isn't: at 20 m, -15 - 51.22 = -66.22 and 8 to 15 dB less.
    const at = (sensitivityDbm: number) =>
      wayBetween(bare(), p(0), p(20), wheel('A1L', 0, 0), { sensitivityDbm, fadingDb: 0 }).chance;
    expect(at(-70)).toEqual({ low: 0, mid: 0, high: 0 });
    expect(at(-76)).toEqual({ low: 0, mid: 0, high: 1 });
    expect(at(-79)).toEqual({ low: 0, mid: 1, high: 1 });
    expect(at(-82)).toEqual({ low: 1, mid: 1, high: 1 });
    // With the usual fading and three copies: SciPy's figure at a margin of 0 is 0.75, at 3 dB 0.894202.
    const faded = (marginDb: number) =>
      wayBetween(bare(), p(0), p(20), undefined, { sensitivityDbm: -66.218 - marginDb }).chance.mid;
    expect(faded(0)).toBeCloseTo(0.75, 3);
    expect(faded(3)).toBeCloseTo(0.894202, 3);
  });
});

// Worked by hand: the first try comes at half a period on average.
describe('time to the first reading', () => {
  it.each([
    [1, 30, 60],
    [0.95, 33.158, 60],
    // ln 0.05 / ln 0.06 = 1.065: two tries.
    [0.94, 33.83, 120],
    [0.8, 45, 120],
    [0.5, 90, 300],
    [0.25, 210, 660],
  ])('heard with a chance of %d: %d s in the middle, %d s at the latest', (chance, mid, late) => {
    expect(timeToFirst(chance, 60).mid).toBeCloseTo(mid, 2);
    expect(timeToFirst(chance, 60).late).toBe(late);
  });
  it('goes with the period of the kit, and never comes without a chance', () => {
    expect(timeToFirst(0.5, 300)).toEqual({ mid: 450, late: 1500 });
    expect(timeToFirst(0, 60)).toEqual({ mid: Number.POSITIVE_INFINITY, late: Number.POSITIVE_INFINITY });
    expect(timeToFirst(-0.1, 60)).toEqual({ mid: Number.POSITIVE_INFINITY, late: Number.POSITIVE_INFINITY });
  });
});

describe('a wheel by both ways', () => {
  const scene = bare({ wheels: [wheel('B1L', 20, 0.85), wheel('B1R', 20, -0.85)], receiver: p(0, 0.3, 1.1) });
  const repeater = { x: 15, y: 0, z: REPEATER_Z };
  it('one of them is enough: the chance that both fail is the product', () => {
    for (const [fix, seat] of [
      [-24, -98],
      [-30, -103],
      [-22, -92],
    ] as const) {
      const [left] = estimateRig(scene, repeater, { B1L: fix }, seat);
      if (!left?.viaRepeater) throw new Error('no way over the repeater');
      const relay = relayWay(scene, repeater, seat).chance.mid;
      for (const k of ['low', 'mid', 'high'] as const) {
        const direct = left.direct.chance[k];
        const via = left.viaRepeater.chance[k] * relay;
        expect(left.chance[k]).toBeCloseTo(direct + via - direct * via, 12);
        expect(left.chance[k]).toBeGreaterThan(Math.max(direct, via));
      }
    }
  });
  it('the next reading comes a period over the chance later', () => {
    const [left] = estimateRig(scene, null, { B1L: -26 }, undefined, 120);
    const chance = left?.chance.mid ?? 0;
    expect(chance).toBeLessThan(0.95);
    expect((left?.nextS ?? 0) * chance).toBeCloseTo(120, 9);
    // 19 of 20 rigs have it by a whole number of periods.
    expect((left?.firstS.late ?? 1) % 120).toBe(0);
    const [never] = estimateRig({ ...scene, onlyRepeater: true }, null);
    expect(never?.nextS).toBe(Number.POSITIVE_INFINITY);
  });
  it('a correction is for the direct way of its wheel', () => {
    const [plain, other] = estimateRig(scene, repeater);
    const [fixed, same] = estimateRig(scene, repeater, { B1L: -7 });
    expect((fixed?.direct.marginDb.mid ?? 0) - (plain?.direct.marginDb.mid ?? 0)).toBeCloseTo(-7, 9);
    expect(fixed?.viaRepeater).toEqual(plain?.viaRepeater);
    expect(same).toEqual(other);
  });
  it('the worst wheel is the one with the lowest low end', () => {
    const list = [0.9, 0.5, 0.7].map((low, i) => ({ position: `A${i}`, chance: { low, mid: 0.9, high: 0.95 } }));
    expect(verdictOf(list)).toEqual({ verdict: 'uncertain', worst: 'A1', low: 0.5, high: 0.95 });
    expect(verdictOf([{ position: 'A0', chance: { low: 0.2, mid: 0.5, high: 0.8 } }])?.verdict).toBe('uncertain');
  });
});

describe('where a repeater may be', () => {
  const scene = bare({ frames: [{ ...box(2, 6), unit: 0 }], wheels: [wheel('A1L', 4, 0.9)], tanks: [box(5, 5.5, -0.5, 0.5)] });
  it.each([
    [true, 'in the open part of the frame', 3, 0],
    [true, 'on its front edge', 2, 0],
    [true, 'on its back edge', 6, 0],
    [true, 'on its left edge', 3, 1],
    [true, 'on its right edge', 3, -1],
    [false, 'before it', 1.99, 0],
    [false, 'behind it', 6.01, 0],
    [false, 'left of it', 3, 1.01],
    [false, 'right of it', 3, -1.01],
    // A wheel of 0.35 m keeps 0.45 m before and behind itself free and 0.35 m beside.
    [false, 'against the wheel', 4, 0.9],
    [false, 'just behind the wheel', 4.4, 0.9],
    [false, 'just before the wheel', 3.6, 0.9],
    [true, 'clear behind the wheel', 4.46, 0.9],
    [true, 'clear before the wheel', 3.54, 0.9],
    [false, 'beside the wheel', 4, 0.6],
    [true, 'clear beside the wheel', 4, 0.54],
    [false, 'on the tank', 5.2, 0.2],
    [true, 'beside the tank', 5.2, 0.6],
    [true, 'right of the tank', 5.2, -0.6],
    [true, 'at the tank’s front edge', 5, 0],
    [true, 'at the tank’s back edge', 5.5, 0],
    [true, 'at the tank’s left edge', 5.2, 0.5],
    [true, 'at the tank’s right edge', 5.2, -0.5],
  ])('%s: %s', (allowed, _, x, y) => {
    expect(isAllowed(scene, { x, y, z: REPEATER_Z })).toBe(allowed);
  });
});

describe('the best place', () => {
  it('among equals is the further forward, then the more centred', () => {
    // No wheel: every place is as good.
    const scene = bare({
      frames: [
        { ...box(5, 6, -0.9, 0.9), unit: 1 },
        { ...box(1, 2, -0.9, 0.9), unit: 0 },
      ],
    });
    const placed = placeRepeater(scene, 0.3);
    expect(placed?.worst).toBe(1);
    expect(placed?.place.x).toBeCloseTo(1, 9);
    expect(placed?.place.y).toBeCloseTo(0, 9);
    expect(placed?.place.z).toBe(0.6);
  });
  it('shows its field 20 cm apart, and tells how far it is', () => {
    const scene = bare({ frames: [{ ...box(1, 2, -0.9, 0.9), unit: 0 }], tanks: [box(1.3, 1.5, -0.25, 0.25)] });
    const shares: number[] = [];
    const placed = placeRepeater(scene, 0.1, (s) => shares.push(s));
    expect(shares).toHaveLength(11);
    expect(shares[0]).toBeCloseTo(1 / 11, 9);
    expect(shares.at(-1)).toBe(1);
    expect([...new Set(placed?.field.map((c) => c.x.toFixed(2)))]).toEqual(['1.00', '1.20', '1.40', '1.60', '1.80', '2.00']);
    expect([...new Set(placed?.field.map((c) => c.y.toFixed(2)))]).toEqual([
      '-0.90',
      '-0.70',
      '-0.50',
      '-0.30',
      '-0.10',
      '0.10',
      '0.30',
      '0.50',
      '0.70',
      '0.90',
    ]);
    // On the tank: 1.4 m along, at 0.1 m left and right.
    expect(placed?.field.filter((c) => c.worst === null).map((c) => `${c.x.toFixed(1)} ${c.y.toFixed(1)}`)).toEqual([
      '1.4 -0.1',
      '1.4 0.1',
    ]);
    // A coarse step is its own field.
    expect(placeRepeater(scene, 0.5)?.field).toHaveLength(3 * 5);
  });
  it('is nowhere when there is no frame or a tank is on all of it', () => {
    expect(placeRepeater(bare(), 0.3)).toBeNull();
    expect(placeRepeater(bare({ frames: [{ ...box(1, 2), unit: 0 }], tanks: [box(0, 3, -2, 2)] }), 0.3)).toBeNull();
  });
  it.each([
    ['by both ways', false, 70],
    ['through the repeater alone', true, 21],
  ])('is the one whose worst wheel is heard best, %s', (_, onlyRepeater, far) => {
    const scene = bare({
      wheels: [wheel('B1L', 9, 0.85), wheel('B1R', 9, -0.85), wheel('B2LI', far, 0.7, { inner: true })],
      bodies: [{ ...box(2, 74), unit: 0, material: 'steel' }],
      frames: [{ ...box(10.5, 20, -0.5, 0.5), unit: 0 }],
      receiver: p(0, 0.3, 1.1),
      onlyRepeater,
    });
    const placed = placeRepeater(scene, 0.5);
    // Every place, by the full estimate.
    let best = { worst: -1, x: 0, y: 0 };
    for (let x = 10.5; x <= 20; x += 0.5)
      for (const y of [-0.5, 0, 0.5]) {
        const worst = worstChance(scene, { x, y, z: REPEATER_Z });
        if (worst > best.worst + 1e-9) best = { worst, x, y };
      }
    expect(placed?.worst).toBeCloseTo(best.worst, 9);
    expect(placed?.place).toMatchObject({ x: best.x, y: best.y });
    expect(best.worst).toBeLessThan(0.999);
    // Not at the foremost place: it is worth going back for the last wheel.
    expect(best.x).toBeGreaterThan(10.5);
  });
});
