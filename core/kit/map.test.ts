import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { type AxleLayout, makeAxle, wheelsOf } from '../rig/positions.ts';
import { checkMap, proposeMap, rowsOf } from './map.ts';
import { monitors, units } from './random-rigs.test-data.ts';

const unit = (layouts: AxleLayout[], spares = 0, kind: Unit['kind'] = 'vehicle'): Unit => ({
  id: layouts.join(),
  version: 1,
  name: 'U',
  kind,
  axles: layouts.map((l, i) => makeAxle(l, i + 1)),
  spares: Array.from({ length: spares }, (_, i) => ({ wheel: { position: `S${i + 1}`, sensor: null }, settings: {} })),
});
const shown = (u: Unit[], m: Parameters<typeof proposeMap>[1], pattern?: 'inner' | 'outer') =>
  Object.fromEntries(
    Object.entries(proposeMap(u, m, pattern).places).map(([p, { list, row, column }]) => [p, `${list}.${row}.${column}`]),
  );

describe('the monitor’s positions', () => {
  it('stand as described, else two in front and fours, else pairs', () => {
    expect(rowsOf({ positionsPerUnit: 10 })).toEqual([2, 4, 4]);
    expect(rowsOf({ positionsPerUnit: 6 })).toEqual([2, 4]);
    expect(rowsOf({ positionsPerUnit: 8 })).toEqual([2, 2, 2, 2]);
    expect(rowsOf({ positionsPerUnit: 5 })).toEqual([2, 2, 1]);
    expect(rowsOf({ positionsPerUnit: 10, rows: [2, 2, 2] })).toEqual([2, 2, 2]);
  });
});

describe('proposeMap', () => {
  it('puts duals on four places and singles on the inner two, on every axle', () => {
    expect(shown([unit(['single', 'dual', 'single'])], { positionsPerUnit: 10, units: 1 })).toEqual({
      A1L: '0.0.0',
      A1R: '0.0.1',
      A2LO: '0.1.0',
      A2LI: '0.1.1',
      A2RI: '0.1.2',
      A2RO: '0.1.3',
      A3L: '0.2.1',
      A3R: '0.2.2',
    });
  });

  it('or on the outer two, when the owner wants', () => {
    const map = shown([unit(['single', 'single', 'single'])], { positionsPerUnit: 10, units: 1 }, 'outer');
    expect([map.A2L, map.A2R, map.A3L, map.A3R]).toEqual(['0.1.0', '0.1.3', '0.2.0', '0.2.3']);
  });

  it('gives a spare the first place no axle needs, and says when there is none: the spare is given up first', () => {
    const trailer = unit(['single', 'single'], 1, 'trailer');
    expect(shown([trailer], { positionsPerUnit: 6, rows: [2, 2, 2], units: 1 }).AS1).toBe('0.2.0');
    expect(proposeMap([trailer], { positionsPerUnit: 4, rows: [2, 2], units: 1 }).giveUp).toEqual([
      { position: 'AS1', why: 'noSparePlace' },
    ]);
    expect(
      proposeMap([trailer], { positionsPerUnit: 2, rows: [2], units: 1 }).giveUp.map((g) => `${g.position} ${g.why}`),
    ).toEqual(['AS1 noSparePlace', 'A2L noRow', 'A2R noRow']);
  });

  it('gives up the outer duals of a narrow row and the units beyond its lists', () => {
    const { giveUp } = proposeMap([unit(['single', 'dual']), unit(['single'], 0, 'trailer')], {
      positionsPerUnit: 4,
      rows: [2, 2],
      units: 1,
    });
    expect(giveUp.map((g) => `${g.position} ${g.why}`)).toEqual(['A2LO narrowRow', 'A2RO narrowRow', 'B1L noList', 'B1R noList']);
  });

  it('a sidecar’s two wheels stand side by side', () => {
    const map = shown([unit(['centre', 'sidecarRight'])], { positionsPerUnit: 4, rows: [2, 2], units: 1 });
    expect([map.A2C, map.A2R]).toEqual(['0.1.0', '0.1.1']);
    const left = shown([unit(['centre', 'sidecarLeft'])], { positionsPerUnit: 4, rows: [2, 2], units: 1 });
    expect([left.A2L, left.A2C]).toEqual(['0.1.0', '0.1.1']);
  });

  it('for any rig and monitor: every wheel has one place or is named in what to give up, evenly', () => {
    fc.assert(
      fc.property(units, monitors, fc.constantFrom('inner' as const, 'outer' as const), (u, m, pattern) => {
        const { places, giveUp } = proposeMap(u, m, pattern);
        const all = wheelsOf(u).map((w) => w.position);
        expect([...Object.keys(places), ...giveUp.map((g) => g.position)].sort()).toEqual([...all].sort());
        const faults = checkMap(u, m, places).filter((f) => f.code !== 'unmapped');
        expect(faults).toEqual([]);
        // Nothing is given up before the spares that have no place.
        const order = giveUp.map((g) => (g.why === 'noSparePlace' ? 0 : 1));
        expect(order).toEqual([...order].sort());
      }),
      { numRuns: 300 },
    );
  });
});

describe('checkMap', () => {
  const car = unit(['single', 'single', 'single']);
  const monitor = { positionsPerUnit: 10, units: 1 };
  it('finds a place given twice, one outside, a wheel without, an uneven pattern', () => {
    const { places } = proposeMap([car], monitor);
    expect(checkMap([car], monitor, places)).toEqual([]);
    expect(checkMap([car], monitor, { ...places, A1L: { list: 0, row: 0, column: 1 } })).toEqual([
      { code: 'twice', positions: ['A1L', 'A1R'] },
    ]);
    expect(checkMap([car], monitor, { ...places, A1L: { list: 1, row: 0, column: 0 } })).toEqual([
      { code: 'outside', position: 'A1L' },
    ]);
    const { A1L: _, ...rest } = places;
    expect(checkMap([car], monitor, rest)).toEqual([{ code: 'unmapped', position: 'A1L' }]);
    const uneven = { ...places, A3L: { list: 0, row: 2, column: 0 }, A3R: { list: 0, row: 2, column: 3 } };
    expect(checkMap([car], monitor, uneven)).toEqual([{ code: 'uneven', axles: ['A2', 'A3'] }]);
  });
});
