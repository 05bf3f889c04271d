import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { estimateRig, REPEATER_Z, relayWay, seatIsGood, verdictOf } from './estimate.ts';
import { chanceHeard } from './link.ts';
import { sceneOf } from './scene.ts';

// Worked by SciPy 1.17.1 (norm.cdf, quad) from the law alone: three copies, half of the variance in common, sigma 6 dB. Three equally
// correlated normals (0.5) are all under 0 with a chance of exactly 1/4, so at a margin of 0 it is 0.75.
describe('chance that one of three copies is heard', () => {
  it.each([
    [-15, 0.016792],
    [-10, 0.113655],
    [-6, 0.32222],
    [-3, 0.541452],
    [0, 0.75],
    [3, 0.894202],
    [6, 0.966203],
    [10, 0.995396],
  ])('at a margin of %d dB it is %d', (marginDb, chance) => {
    expect(chanceHeard(marginDb, { sigmaDb: 6, copies: 3, common: 0.5 })).toBeCloseTo(chance, 5);
  });
});

// Worked by a program of its own (SciPy 1.17.1): free space after ITU-R P.525 at 433.92 MHz, -15 dBm sent, -100 dBm heard; tire and rim
// 11.5 dB, a steel body 20, a wooden one 4.5 (middles of the assumed ranges), a body found by walking the way in 20,001 points.
describe('a steel truck of 3.8 m and a tandem trailer 5 m behind its front axle', () => {
  const unit = (kind: Unit['kind'], distances: number[], over: Partial<Unit>): Unit => ({
    id: kind,
    version: 1,
    name: kind,
    kind,
    axles: distances.map((distanceM, i) => ({ ...makeAxle('single', i + 1), distanceM })),
    spares: [],
    ...over,
  });
  const rig = (material: 'steel' | 'wood') =>
    sceneOf([
      unit('vehicle', [0, 3.8], { hitchM: 5, body: { material: 'steel' } }),
      unit('trailer', [5, 5.9], { body: { material } }),
    ]);
  const at = (material: 'steel' | 'wood', position: string, repeater: { x: number; y: number; z: number } | null = null) =>
    estimateRig(rig(material), repeater).find((w) => w.position === position);

  it.each([
    ['wood', 'A1L', 1.0828, 27.613],
    ['wood', 'A2R', 3.4989, 17.425],
    ['wood', 'B2R', 10.3968, 3.466],
    ['steel', 'B2R', 10.3968, -12.034],
  ] as const)('%s, %s: %d m, %d dB', (material, position, distanceM, marginDb) => {
    const way = at(material, position)?.direct;
    expect(way?.distanceM).toBeCloseTo(distanceM, 4);
    expect(way?.marginDb.mid).toBeCloseTo(marginDb, 2);
  });
  it('the last wheel is heard 91 times in a hundred through wood, 6 through steel', () => {
    expect(at('wood', 'B2R')?.chance.mid).toBeCloseTo(0.90969, 4);
    expect(at('steel', 'B2R')?.chance.mid).toBeCloseTo(0.05675, 4);
  });
  it('a repeater 6 m behind the front axle hears it with 19.4 dB to spare, and is heard with 45.1', () => {
    const last = at('steel', 'B2R', { x: 6, y: 0, z: REPEATER_Z });
    expect(last?.viaRepeater?.marginDb.mid).toBeCloseTo(19.36, 2);
    expect(last?.chance.mid).toBeGreaterThan(0.9999);
  });
});

// Worked by hand. The dash is 6 m before the coupling of a trailer whose axle is 5.5 m behind it: 11.5 m along, 0.5 m across to the left
// wheel, 0.75 m down: 11.535 m. Free space 45.197 + 20 log10(1.1535) = 46.437 dB.
describe('a trailer alone, behind a vehicle that is not watched', () => {
  const trailer: Unit = {
    id: 't',
    version: 1,
    name: 'Boat trailer',
    kind: 'trailer',
    axles: [{ ...makeAxle('single', 1), distanceM: 5.5 }],
    spares: [],
    body: { material: 'wood' },
  };
  const estimate = (tow?: { dashToCouplingM: number; body: 'steel' | 'aluminium' | 'wood' }) =>
    estimateRig(sceneOf([trailer], tow), null);
  it('is heard over the tow vehicle’s length', () => {
    const [left, right] = estimate({ dashToCouplingM: 6, body: 'steel' });
    expect(left?.direct.distanceM).toBeCloseTo(11.535, 3);
    // 1.2 m across to the right wheel: sqrt(132.25 + 1.44 + 0.5625).
    expect(right?.direct.distanceM).toBeCloseTo(11.587, 3);
    // -15 - 46.437 - (11.5 + 20 + 4.5) + 100.
    expect(left?.direct.marginDb.mid).toBeCloseTo(2.563, 2);
    // At the most loss 15 + 25 + 6, at the least 8 + 15 + 3.
    expect(left?.direct.marginDb.low).toBeCloseTo(-7.437, 2);
    expect(left?.direct.marginDb.high).toBeCloseTo(12.563, 2);
  });
  it('is uncertain there: between one frame in five and nearly all', () => {
    const v = verdictOf(estimate({ dashToCouplingM: 6, body: 'steel' }));
    expect(v).toMatchObject({ verdict: 'uncertain', worst: 'A1R' });
    // Between the chances at -10 and -6 dB above, and over that at 10 dB.
    expect(v?.low).toBeGreaterThan(0.1137);
    expect(v?.low).toBeLessThan(0.3222);
    expect(v?.high).toBeGreaterThan(0.9954);
  });
  it('does without behind wood, and what pulls it is taken as usual until it is said', () => {
    expect(verdictOf(estimate({ dashToCouplingM: 3, body: 'wood' }))?.verdict).toBe('without');
    const usual = sceneOf([trailer]);
    expect(usual.receiver.x).toBe(-4.5);
    expect(usual.assumed).toEqual([{ code: 'towVehicle', unit: '' }]);
    expect(sceneOf([trailer], { dashToCouplingM: 6, body: 'steel' }).assumed).toEqual([]);
  });
  it('needs a repeater where even the least loss is too much', () => {
    const far = { position: 'B3L', chance: { low: 0.01, mid: 0.2, high: 0.79 } };
    const near = { position: 'A1L', chance: { low: 0.9, mid: 0.95, high: 1 } };
    expect(verdictOf([near, far])).toEqual({ verdict: 'needed', worst: 'B3L', low: 0.01, high: 0.79 });
    expect(verdictOf([near])?.verdict).toBe('without');
    expect(verdictOf([{ ...near, chance: { low: 0.8, mid: 0.8, high: 0.8 } }])?.verdict).toBe('without');
    expect(verdictOf([])).toBeNull();
  });
});

// Worked by hand. The repeater is 0.2 m behind the coupling in the middle, 0.6 m up; the phone is at the dash: 6.2 m along, 0.35 m across,
// 0.5 m up: 6.230 m. Free space at 2,440 MHz 20 log10(2440) - 27.552 + 20 log10(6.230) = 67.748 - 27.552 + 15.890 = 56.086 dB.
describe('a kit that reaches a phone only through its repeater', () => {
  const trailer: Unit = {
    id: 't',
    version: 1,
    name: 'Boat trailer',
    kind: 'trailer',
    axles: [{ ...makeAxle('single', 1), distanceM: 5.5 }],
    spares: [],
    body: { material: 'wood' },
  };
  const scene = sceneOf([trailer], { dashToCouplingM: 6, body: 'steel' }, { onlyRepeater: true });
  const place = { x: 0.2, y: 0, z: REPEATER_Z };
  it('is heard by nothing without one', () => {
    const bare = estimateRig(scene, null);
    expect(bare.map((w) => w.chance)).toEqual(Array.from({ length: 2 }, () => ({ low: 0, mid: 0, high: 0 })));
    expect(verdictOf(bare)?.verdict).toBe('needed');
  });
  it('both ways count: from the wheel to the repeater, and from there to the seat', () => {
    const way = relayWay(scene, place);
    expect(way.distanceM).toBeCloseTo(6.23, 3);
    // 5 - 56.086 - 20 for the steel cab + 90.
    expect(way.marginDb.mid).toBeCloseTo(18.914, 2);
    // 25 and 15 dB at the most and the least.
    expect(way.marginDb.low).toBeCloseTo(13.914, 2);
    expect(way.marginDb.high).toBeCloseTo(23.914, 2);
    const [left] = estimateRig(scene, place);
    if (!left?.viaRepeater) throw new Error('no way over the repeater');
    expect(left.chance.mid).toBeCloseTo(left.viaRepeater.chance.mid * way.chance.mid, 10);
    // The same sensor would be heard by a dash display of its own.
    expect(left.direct.chance.mid).toBeGreaterThan(0);
  });
  it('a signal measured at the seat wins: -72 dB is 18 over what a phone hears, -88 only 2', () => {
    expect(relayWay(scene, place, -72).marginDb.mid).toBe(18);
    expect(relayWay(scene, place, -88).marginDb).toEqual({ low: 2, mid: 2, high: 2 });
    const [far] = estimateRig(scene, place, {}, -110);
    expect(far?.chance.high).toBeLessThan(0.01);
  });
  it('0 to -80 dB is good (common practice, no source)', () => {
    expect([0, -80, -80.1, -95].map(seatIsGood)).toEqual([true, true, false, false]);
  });
  it('a unit that isn’t watched has no wheel to be heard', () => {
    expect(sceneOf([trailer, { ...trailer, id: 'u' }], undefined, { unwatched: ['A'] }).wheels.map((w) => w.position)).toEqual([
      'B1L',
      'B1R',
    ]);
  });
});
