import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TableRow } from '#schema/unit.ts';
import { endsOf, loadAt, loadMinimum, tireLoad, usableRows, weighingFaults } from './load.ts';

const kg = (v: number) => ({ kg: v });
const rows = (use: TableRow['use'], ...pairs: [number, number][]): TableRow[] =>
  pairs.map(([loadKg, kpa]) => ({ use, loadKg, kpa }));

describe('load of the heaviest tire', () => {
  it('weighed end by end the heaviest rules, duals share their end', () => {
    expect(tireLoad({ L: kg(900), R: kg(1000) }, ['L', 'R'])).toEqual({ kg: 1000, basis: 'ends', heaviest: 'R', endKg: 1000 });
    expect(tireLoad({ L: kg(2100), R: kg(2000) }, ['LO', 'LI', 'RI', 'RO'])).toEqual({
      kg: 1050,
      basis: 'ends',
      heaviest: 'L',
      endKg: 2100,
    });
  });
  it('weighed as a whole it takes a margin, and says so', () => {
    const load = tireLoad({ axle: kg(2000) }, ['L', 'R']);
    expect(load).toMatchObject({ basis: 'axle' });
    expect('kg' in load && load.kg).toBeCloseTo(1100, 9);
  });
  it('a single wheel carries its axle', () => {
    expect(tireLoad({ axle: kg(180) }, ['C'])).toEqual({ kg: 180, basis: 'one' });
    expect(tireLoad({ C: kg(180) }, ['C'])).toMatchObject({ kg: 180, basis: 'one' });
  });
  it('the sum of a sidecar’s axle says nothing of either wheel', () => {
    expect(tireLoad({ axle: kg(300) }, ['C', 'R'])).toEqual({ missing: 'split' });
    expect(tireLoad({ C: kg(190), R: kg(110) }, ['C', 'R'])).toMatchObject({ kg: 190, heaviest: 'C' });
  });
  it('one end alone is not enough', () => {
    expect(tireLoad({ L: kg(900) }, ['L', 'R'])).toEqual({ missing: 'ends', ends: ['R'] });
    expect(tireLoad({}, ['L', 'R'])).toEqual({ missing: 'weighing' });
    expect(tireLoad(undefined, ['L', 'R'])).toEqual({ missing: 'weighing' });
  });
  it('ends stand left to right', () => {
    expect(endsOf(['LO', 'LI', 'RI', 'RO'])).toEqual([
      { end: 'L', tires: 2 },
      { end: 'R', tires: 2 },
    ]);
  });
});

describe('weights that cannot be', () => {
  it.each([
    ['ends heavier than the axle', { axle: kg(1800), L: kg(1000), R: kg(900) }, [{ field: 'axle', code: 'sumOverAxle' }]],
    ['ends lighter than the axle', { axle: kg(2400), L: kg(1000), R: kg(900) }, [{ field: 'axle', code: 'sumUnderAxle' }]],
    ['all on one side', { L: kg(1000), R: kg(200) }, [{ field: 'L', code: 'lopsided' }]],
    ['a scale that rounds', { axle: kg(1920), L: kg(1000), R: kg(900) }, []],
  ] as const)('%s', (_, weighing, faults) => {
    expect(weighingFaults(weighing)).toEqual(faults);
  });
});

describe('load table', () => {
  it('a falling pressure and a load that stands twice are told by row, the rest is used', () => {
    const table = rows('single', [900, 350], [1000, 340], [1100, 420], [900, 360]);
    expect(usableRows(table)).toEqual({
      rows: [table[0], table[2]],
      faults: [
        { row: 3, code: 'twice' },
        { row: 1, code: 'fallingPressure' },
      ],
    });
  });
  it('single and dual rows do not mix', () => {
    const table = [...rows('single', [1000, 400]), ...rows('dual', [900, 380])];
    expect(usableRows(table).faults).toEqual([]);
    expect(loadMinimum({ loadKg: 900, dual: true, table }).kpa).toBe(380);
  });
});

describe('load minimum', () => {
  const table = rows('single', [1000, 350], [1200, 450], [1400, 550]);
  it('goes between the rows of the table', () => {
    expect(loadMinimum({ loadKg: 1100, dual: false, table })).toMatchObject({
      kpa: 400,
      method: 'table',
      faults: [],
      missing: [],
    });
    expect(loadMinimum({ loadKg: 1200, dual: false, table }).kpa).toBe(450);
  });
  it('under the table it keeps the lowest row, over it the tire is too small', () => {
    expect(loadMinimum({ loadKg: 700, dual: false, table })).toMatchObject({ kpa: 350, method: 'tableLowest' });
    expect(loadMinimum({ loadKg: 1500, dual: false, table })).toMatchObject({ kpa: 550, faults: ['overTable'] });
  });
  it('without a table it estimates, and says from what', () => {
    const m = loadMinimum({ loadKg: 1120, dual: false, referenceKpa: 550, indexKg: 1400 });
    expect(m).toMatchObject({
      method: 'estimate',
      formula: { referenceKpa: 550, loadKg: 1120, capacityKg: 1400, derated: false },
    });
    expect(m.kpa).toBeCloseTo(440, 9);
  });
  it('duals go by the dual index, and have no estimate without it', () => {
    expect(loadMinimum({ loadKg: 1000, dual: true, referenceKpa: 550, indexKg: 1400, indexDualKg: 1250 }).kpa).toBeCloseTo(
      440,
      9,
    );
    expect(loadMinimum({ loadKg: 1000, dual: true, referenceKpa: 550, indexKg: 1400 })).toMatchObject({
      kpa: null,
      missing: ['dualIndex'],
    });
  });
  it('a table without rows for duals says so and does not borrow the single ones', () => {
    expect(loadMinimum({ loadKg: 1000, dual: true, table })).toMatchObject({
      kpa: null,
      missing: ['dualRows', 'reference', 'index'],
    });
  });
  it('no estimate without the reference pressure', () => {
    expect(loadMinimum({ loadKg: 1000, dual: false, indexKg: 1400 })).toMatchObject({
      kpa: null,
      method: null,
      missing: ['reference'],
    });
  });
  it('over the index at any pressure is told with either method', () => {
    expect(loadMinimum({ loadKg: 1500, dual: false, referenceKpa: 550, indexKg: 1400 }).faults).toEqual(['overIndex']);
    expect(loadMinimum({ loadKg: 1390, dual: false, table, indexKg: 1380 }).faults).toEqual(['overIndex']);
  });
  it('more load never lowers it, by table or by estimate', () => {
    const ascending = fc
      .array(fc.tuple(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 0, max: 80 })), { maxLength: 8 })
      .map((steps) => {
        let loadKg = 400;
        let kpa = 180;
        return steps.map(([dl, dp]): TableRow => {
          loadKg += dl;
          kpa += dp;
          return { use: 'single', loadKg, kpa };
        });
      });
    const load = fc.double({ min: 100, max: 3000, noNaN: true });
    fc.assert(
      fc.property(ascending, load, load, (rowsOf, a, b) => {
        const at = (loadKg: number) =>
          loadMinimum({ loadKg, dual: false, table: rowsOf, referenceKpa: 500, indexKg: 1400 }).kpa ?? Number.NaN;
        expect(at(Math.max(a, b))).toBeGreaterThanOrEqual(at(Math.min(a, b)) - 1e-9);
      }),
    );
  });
  it('what a tire carries at a pressure is the estimate turned round', () => {
    expect(loadAt(440, 550, 1400)).toBeCloseTo(1120, 9);
    expect(loadAt(600, 550, 1400)).toBe(1400);
  });
});
