import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { estimateRig, REPEATER_Z } from './estimate.ts';
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
