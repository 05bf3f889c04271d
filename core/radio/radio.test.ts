import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { estimateRig, isAllowed, placeRepeater, REPEATER_Z, timeToFirst, worstChance } from './estimate.ts';
import { chanceHeard } from './link.ts';
import { RADIO } from './parameters.ts';
import { lengthInside, type Scene, sceneOf } from './scene.ts';
import { simulateFirst } from './simulate.ts';

function unit(kind: Unit['kind'], axles: number, over: Partial<Unit> = {}, distances: number[] = []): Unit {
  return {
    id: kind,
    version: 1,
    name: kind,
    kind,
    axles: Array.from({ length: axles }, (_, i) => ({
      ...makeAxle('single', i + 1),
      ...(distances[i] === undefined ? {} : { distanceM: distances[i] }),
    })),
    spares: [],
    ...over,
  };
}
const truck = unit('vehicle', 2, { hitchM: 5, body: { material: 'steel' } }, [0, 3.8]);
const trailer = (material: 'steel' | 'wood', tankM?: number) =>
  unit('trailer', 2, { body: { material, ...(tankM === undefined ? {} : { tankM }) } }, [5, 5.9]);

describe('the scene', () => {
  it('is to scale where distances are known, and says what was taken as usual', () => {
    const scene = sceneOf([truck, trailer('wood')]);
    expect(scene.wheels.find((w) => w.position === 'A2L')?.x).toBe(3.8);
    expect(scene.wheels.find((w) => w.position === 'B2R')).toMatchObject({ x: 10.9, y: -0.85 });
    expect(scene.assumed).toEqual([]);
    expect(sceneOf([unit('vehicle', 2), unit('trailer', 1)]).assumed.map((a) => `${a.unit} ${a.code}`)).toEqual([
      'A wheelbase',
      'A body',
      'A hitch',
      'B trailerAxle',
      'B body',
    ]);
  });
  it('knows how much of a way lies over a box', () => {
    const box = { x0: 1, x1: 3, y0: -1, y1: 1 };
    const p = (x: number, y: number) => ({ x, y, z: 0 });
    expect(lengthInside(p(0, 0), p(4, 0), box)).toBeCloseTo(2, 9);
    expect(lengthInside(p(0, 2), p(4, 2), box)).toBe(0);
    expect(lengthInside(p(2, 0), p(2, 5), box)).toBeCloseTo(1, 9);
    expect(lengthInside(p(0, 1.5), p(0, -1.5), box)).toBe(0);
  });
});

describe('the estimate', () => {
  it('far wheels are heard less, and a repeater never makes a wheel worse', () => {
    const scene = sceneOf([truck, trailer('steel')]);
    const bare = estimateRig(scene, null);
    const at = new Map(bare.map((w) => [w.position, w.chance.mid]));
    expect(at.get('B2L') as number).toBeLessThan(at.get('A1L') as number);
    const helped = estimateRig(scene, { x: 6, y: 0, z: REPEATER_Z });
    helped.forEach((w, i) => {
      expect(w.chance.mid).toBeGreaterThanOrEqual((bare[i]?.chance.mid ?? 0) - 1e-12);
    });
  });
  it('least losses give the most chance', () => {
    for (const w of estimateRig(sceneOf([truck, trailer('wood')]), null)) {
      expect(w.chance.low).toBeLessThanOrEqual(w.chance.mid);
      expect(w.chance.mid).toBeLessThanOrEqual(w.chance.high);
    }
  });
  it('a measured signal moves its own wheel only', () => {
    const scene = sceneOf([truck, trailer('steel')]);
    const plain = estimateRig(scene, null);
    const fixed = estimateRig(scene, null, { B1L: -10 });
    fixed.forEach((w, i) => {
      const before = plain[i]?.direct.marginDb.mid ?? 0;
      expect(w.direct.marginDb.mid - before).toBeCloseTo(w.position === 'B1L' ? -10 : 0, 9);
    });
  });
  it('time to the first reading falls with the chance', () => {
    expect(timeToFirst(1, 60)).toEqual({ mid: 30, late: 60 });
    expect(timeToFirst(0.5, 60).mid).toBe(90);
    expect(timeToFirst(0.5, 60).late).toBe(300);
    expect(timeToFirst(0, 60).mid).toBe(Number.POSITIVE_INFINITY);
  });
});

describe('estimate against a simulation, frame by frame', () => {
  const fading = { sigmaDb: RADIO.fadingDb, copies: RADIO.copies, common: RADIO.common };
  const wheels = [-4, -1, 2, 5].map((directDb) => ({ directDb, viaDb: null }));
  const withRepeater = [-6, -3, -1].map((directDb) => ({ directDb, viaDb: { wheelDb: 1, relayDb: 6 } }));
  const chanceOf = (w: { directDb: number; viaDb: { wheelDb: number; relayDb: number } | null }) => {
    const via = w.viaDb ? chanceHeard(w.viaDb.wheelDb, fading) * chanceHeard(w.viaDb.relayDb, fading) : 0;
    return 1 - (1 - chanceHeard(w.directDb, fading)) * (1 - via);
  };
  /** How far the mean of 200 runs lies from the estimate, in standard errors, wheel by wheel. */
  const off = (list: typeof wheels | typeof withRepeater, sigma?: number) => {
    const random = { s: 77 };
    const runs = Array.from({ length: 200 }, () => simulateFirst(list, random, sigma));
    return list.map((w, i) => {
      const times = runs.map((r) => r[i] as number);
      const mean = times.reduce((a, t) => a + t, 0) / times.length;
      const sd = Math.sqrt(times.reduce((a, t) => a + (t - mean) ** 2, 0) / (times.length - 1));
      return Math.abs(mean - timeToFirst(chanceOf(w), RADIO.sendS).mid) / (sd / Math.sqrt(times.length));
    });
  };
  it.each([
    ['without a repeater', wheels],
    ['with one', withRepeater],
  ])('agrees over 200 runs, %s', (_, list) => {
    for (const errors of off(list as typeof wheels)) expect(errors).toBeLessThan(3);
  });
  it('disagrees when the fading is doubled in the simulation only', () => {
    expect(Math.max(...off(wheels, RADIO.fadingDb * 2))).toBeGreaterThan(4);
  });
});

describe('placing the repeater', () => {
  /** Every cell of every frame, by the full estimate. */
  function byForce(scene: Scene, step: number) {
    let best = { worst: -1, x: 0, y: 0 };
    for (const f of scene.frames) {
      for (let i = 0; i <= Math.round((f.x1 - f.x0) / step); i += 1) {
        for (let j = 0; j <= Math.round((f.y1 - f.y0) / step); j += 1) {
          const p = { x: f.x0 + i * step, y: f.y0 + j * step, z: REPEATER_Z };
          if (!isAllowed(scene, p)) continue;
          const worst = worstChance(scene, p);
          const ahead = p.x < best.x - 1e-9 || (Math.abs(p.x - best.x) < 1e-9 && Math.abs(p.y) < Math.abs(best.y) - 1e-9);
          if (worst > best.worst + 1e-9 || (Math.abs(worst - best.worst) <= 1e-9 && ahead)) best = { worst, x: p.x, y: p.y };
        }
      }
    }
    return best;
  }
  it.each([
    [
      'a short trailer',
      0.05,
      [
        unit('vehicle', 2, { hitchM: 3.6, body: { material: 'aluminium' } }, [0, 2.6]),
        unit('trailer', 1, { body: { material: 'wood' } }, [2.4]),
      ],
    ],
    [
      'a steel tandem',
      0.1,
      [
        unit('vehicle', 2, { hitchM: 3.6, body: { material: 'steel' } }, [0, 2.6]),
        unit('trailer', 1, { body: { material: 'steel' } }, [2.6]),
      ],
    ],
    [
      'one with a tank',
      0.1,
      [
        unit('vehicle', 2, { hitchM: 3.6, body: { material: 'steel' } }, [0, 2.6]),
        unit('trailer', 1, { body: { material: 'wood', tankM: 1.4 } }, [2.6]),
      ],
    ],
  ] as const)(
    'equals a search of every cell: %s, %d m apart',
    (_, apart, units) => {
      // Mutants are judged by a coarser grid: hundreds of them are tried.
      const step = process.env.DRUCKWERK_MUTATE ? 0.6 : apart;
      const scene = sceneOf(units);
      const placed = placeRepeater(scene, step);
      const force = byForce(scene, step);
      expect(placed?.worst).toBeCloseTo(force.worst, 9);
      expect(placed?.place.x).toBeCloseTo(force.x, 9);
      expect(Math.abs(placed?.place.y ?? 9)).toBeCloseTo(Math.abs(force.y), 9);
    },
    120_000,
  );
  it('a tank or a steel body moves it, and forbidden places are never proposed', () => {
    const place = (units: Unit[]) => placeRepeater(sceneOf(units), process.env.DRUCKWERK_MUTATE ? 0.5 : 0.1);
    const wood = place([truck, trailer('wood')]);
    const steel = place([truck, trailer('steel')]);
    const tank = place([truck, trailer('wood', 3)]);
    const at = (p: ReturnType<typeof place>) => `${p?.place.x.toFixed(2)} ${p?.place.y.toFixed(2)}`;
    expect(at(steel)).not.toBe(at(wood));
    expect(at(tank)).not.toBe(at(wood));
    for (const [p, units] of [
      [wood, [truck, trailer('wood')]],
      [steel, [truck, trailer('steel')]],
      [tank, [truck, trailer('wood', 3)]],
    ] as [ReturnType<typeof place>, Unit[]][]) {
      const scene = sceneOf(units);
      expect(p && isAllowed(scene, p.place)).toBe(true);
      for (const cell of p?.field ?? [])
        if (cell.worst !== null) expect(isAllowed(scene, { x: cell.x, y: cell.y, z: REPEATER_Z })).toBe(true);
    }
  });
});
