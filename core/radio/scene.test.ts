import { describe, expect, it } from 'vitest';
import type { Axle, Unit } from '#schema/unit.ts';
import { type AxleLayout, makeAxle } from '../rig/positions.ts';
import { lengthInside, type Scene, sceneOf } from './scene.ts';

const axles = (...layouts: AxleLayout[]): Axle[] => layouts.map((l, i) => makeAxle(l, i + 1));
const unit = (kind: Unit['kind'], list: Axle[], over: Partial<Unit> = {}): Unit => ({
  id: kind,
  version: 1,
  name: kind,
  kind,
  axles: list,
  spares: [],
  ...over,
});
/** Every figure of a list of outlines to a tenth of a millimetre. */
const rounded = <T extends object>(list: readonly T[]): T[] =>
  list.map(
    (o) => Object.fromEntries(Object.entries(o).map(([k, v]) => [k, typeof v === 'number' ? Number(v.toFixed(4)) : v])) as T,
  );
const wheelsAt = (scene: Scene) =>
  Object.fromEntries(scene.wheels.map((w) => [w.position, [w.x, w.y, w.z].map((v) => Number(v.toFixed(4)))]));

// Worked by hand from the usual measures of the architecture: wheelbase 3.3 m, tandem 0.85, hitch 1.2 behind the last axle, trailer axle
// 3.6 behind the coupling, half track 0.85, duals 0.28 apart, half width 1, radius 0.35.
describe('a rig of which no distance is known', () => {
  const scene = sceneOf([
    unit('vehicle', axles('single', 'dual'), { spares: [{ wheel: { position: 'S1', sensor: null }, settings: {} }] }),
    unit('trailer', axles('single', 'single')),
  ]);
  it('has its wheels at the usual places', () => {
    expect(wheelsAt(scene)).toEqual({
      A1L: [0, 0.85, 0.35],
      A1R: [0, -0.85, 0.35],
      A2LO: [3.3, 0.99, 0.35],
      A2LI: [3.3, 0.71, 0.35],
      A2RI: [3.3, -0.71, 0.35],
      A2RO: [3.3, -0.99, 0.35],
      // Coupling 3.3 + 1.2 = 4.5, its first axle 3.6 behind, its second 0.85 behind that.
      B1L: [8.1, 0.85, 0.35],
      B1R: [8.1, -0.85, 0.35],
      B2L: [8.95, 0.85, 0.35],
      B2R: [8.95, -0.85, 0.35],
    });
    expect(scene.wheels.filter((w) => w.inner).map((w) => w.position)).toEqual(['A2LI', 'A2RI']);
    expect(scene.wheels.map((w) => w.unit)).toEqual([0, 0, 0, 0, 0, 0, 1, 1, 1, 1]);
  });
  it('has bodies and frames around them, the display on the dash, and no tank', () => {
    expect(rounded(scene.bodies)).toEqual([
      { unit: 0, material: 'steel', x0: -0.8, x1: 4.4, y0: -1, y1: 1 },
      { unit: 1, material: 'wood', x0: 6.1, x1: 10.05, y0: -1, y1: 1 },
    ]);
    expect(rounded(scene.frames)).toEqual([
      { unit: 0, x0: 1.2, x1: 4.4, y0: -0.9, y1: 0.9 },
      { unit: 1, x0: 4.8, x1: 10.05, y0: -0.9, y1: 0.9 },
    ]);
    expect(scene.receiver).toEqual({ x: 0.6, y: 0.35, z: 1.1 });
    expect(scene.tanks).toEqual([]);
    expect(scene.onlyRepeater).toBe(false);
  });
  it('says what was taken as usual, and for which unit', () => {
    expect(scene.assumed.map((a) => `${a.unit} ${a.code}`)).toEqual([
      'A wheelbase',
      'A body',
      'A hitch',
      'B trailerAxle',
      'B trailerAxle',
      'B body',
    ]);
  });
  it('a third axle of a vehicle is 0.85 m behind the second', () => {
    expect(sceneOf([unit('vehicle', axles('single', 'single', 'single'))]).wheels.map((w) => Number(w.x.toFixed(4)))).toEqual([
      0, 0, 3.3, 3.3, 4.15, 4.15,
    ]);
  });
});

describe('a rig of which something is known', () => {
  it('takes the distances of Layout, those of a trailer from its coupling', () => {
    const scene = sceneOf([
      unit(
        'vehicle',
        axles('single', 'single').map((a, i) => ({ ...a, distanceM: [0.2, 3][i] as number })),
        { hitchM: 4, body: { material: 'aluminium', tankM: 1.5 } },
      ),
      unit(
        'trailer',
        axles('single').map((a) => ({ ...a, distanceM: 2.5 })),
        { body: { material: 'wood', tankM: 1 } },
      ),
    ]);
    expect(scene.assumed).toEqual([]);
    expect(wheelsAt(scene)).toMatchObject({ A1L: [0.2, 0.85, 0.35], A2L: [3, 0.85, 0.35], B1L: [6.5, 0.85, 0.35] });
    expect(rounded(scene.bodies)).toEqual([
      { unit: 0, material: 'aluminium', x0: -0.8, x1: 4.1, y0: -1, y1: 1 },
      { unit: 1, material: 'wood', x0: 4.5, x1: 7.6, y0: -1, y1: 1 },
    ]);
    // Tanks are a metre long and 1.2 m wide, from the unit's own start: 1.5, and 4 + 1.
    expect(rounded(scene.tanks)).toEqual([
      { x0: 1, x1: 2, y0: -0.6, y1: 0.6 },
      { x0: 4.5, x1: 5.5, y0: -0.6, y1: 0.6 },
    ]);
  });
  it('a wheel is as high as half its tire: 205/55R16 is 631.9 mm (ISO 4000-1, from memory)', () => {
    const marked = (marking: string) => sceneOf([unit('trailer', [{ ...makeAxle('single', 1), marking }])], undefined);
    expect(marked('205/55 R16 91V').wheels[0]?.z).toBeCloseTo(0.31595, 6);
    expect(marked('no marking at all').wheels[0]?.z).toBe(0.35);
  });
  it('a motorcycle has wheels in its middle, no body, and a narrow frame', () => {
    const scene = sceneOf([unit('vehicle', axles('centre', 'centre'))]);
    expect(wheelsAt(scene)).toEqual({ A1C: [0, 0, 0.35], A2C: [3.3, 0, 0.35] });
    expect(scene.bodies).toEqual([]);
    expect(rounded(scene.frames)).toEqual([{ unit: 0, x0: 1.2, x1: 4.4, y0: -0.2, y1: 0.2 }]);
    expect(scene.assumed.map((a) => a.code)).toEqual(['wheelbase']);
  });
  it('a trailer alone has the vehicle that pulls it in front: bonnet 1.4 m before the dash, bumper 0.2 m before the coupling', () => {
    const alone = unit(
      'trailer',
      axles('single').map((a) => ({ ...a, distanceM: 3 })),
      { body: { material: 'wood' } },
    );
    const scene = sceneOf([alone], { dashToCouplingM: 5, body: 'aluminium' });
    expect(scene.receiver).toEqual({ x: -5, y: 0.35, z: 1.1 });
    expect(scene.bodies[0]).toEqual({ unit: -1, material: 'aluminium', x0: -6.4, x1: -0.2, y0: -1, y1: 1 });
    expect(sceneOf([alone]).bodies[0]).toMatchObject({ unit: -1, material: 'steel', x0: -5.9 });
    // A tow vehicle that is a unit of the rig is its own.
    expect(sceneOf([unit('vehicle', axles('single')), alone], { dashToCouplingM: 5, body: 'wood' }).receiver.x).toBe(0.6);
    expect(sceneOf([]).bodies).toEqual([]);
  });
  it('a unit that isn’t watched keeps its body and its place', () => {
    const scene = sceneOf([unit('vehicle', axles('single')), unit('trailer', axles('single'))], undefined, {
      unwatched: ['A'],
      onlyRepeater: true,
    });
    expect(scene.wheels.map((w) => w.position)).toEqual(['B1L', 'B1R']);
    expect(scene.bodies).toHaveLength(2);
    expect(scene.onlyRepeater).toBe(true);
  });
});

// Worked by hand with right-angled triangles.
describe('how much of a way lies over a box', () => {
  const box = { x0: 1, x1: 4, y0: 0, y1: 4 };
  const p = (x: number, y: number, z = 0) => ({ x, y, z });
  it.each([
    ['along its length, right through', p(0, 1), p(6, 1), 3],
    ['the other way round', p(6, 1), p(0, 1), 3],
    ['across its width', p(2, -1), p(2, 7), 4],
    ['from inside to inside: 3 and 4 make 5', p(1, 0), p(4, 4), 5],
    ['a way of 10 on that slope, half of it inside', p(1, 0), p(7, 8), 5],
    ['begun before it: the first half is outside', p(-2, -4), p(4, 4), 5],
    ['ended inside', p(0, 2), p(3, 2), 2],
    ['past its near side', p(0, -1), p(6, -1), 0],
    ['past its far side', p(0, 5), p(6, 5), 0],
    ['along its edge', p(0, 4), p(6, 4), 3],
    ['along its other edge', p(1, -1), p(1, 5), 4],
    ['beside it', p(0.9, -1), p(0.9, 5), 0],
    ['behind it', p(4.1, -1), p(4.1, 5), 0],
    ['short of it', p(0, 1), p(0.5, 1), 0],
    ['past its corner', p(0, 3), p(2, 7), 0],
    ['height is not seen from above', p(0, 1, 0), p(6, 1, 9), 3],
    ['no way at all', p(2, 2), p(2, 2), 0],
  ])('%s', (_, a, b, metres) => {
    expect(lengthInside(a, b, box)).toBeCloseTo(metres, 9);
  });
});
