import { expect, it } from 'vitest';
import type { Rig } from '#schema/unit.ts';
import { reorderUnits } from './order.ts';

const rig: Rig = {
  id: 'r',
  version: 1,
  name: 'Run',
  unitIds: ['car', 'caravan', 'cart'],
  loadState: 'loaded',
  pairing: { style: 'heldNear', limitsFirst: true, byUnit: { B: 'factory' } },
  map: { A1L: { list: 0, row: 0, column: 0 }, B1L: { list: 1, row: 0, column: 0 } },
  lists: { A: 0, B: 1, C: 3 },
  unwatched: ['C'],
};

it('what is said of a unit goes with it when the units change places', () => {
  expect(reorderUnits(rig, ['car', 'cart', 'caravan'])).toEqual({
    ...rig,
    unitIds: ['car', 'cart', 'caravan'],
    pairing: { style: 'heldNear', limitsFirst: true, byUnit: { C: 'factory' } },
    map: { A1L: { list: 0, row: 0, column: 0 }, C1L: { list: 1, row: 0, column: 0 } },
    lists: { A: 0, C: 1, B: 3 },
    unwatched: ['B'],
  });
});

it('and is gone when the unit leaves, while a new one starts with nothing', () => {
  expect(reorderUnits(rig, ['car', 'new', 'cart'])).toMatchObject({
    pairing: { byUnit: {} },
    map: { A1L: { list: 0 } },
    lists: { A: 0, C: 3 },
    unwatched: ['C'],
  });
  expect(reorderUnits(rig, ['cart']).unwatched).toEqual(['A']);
});
