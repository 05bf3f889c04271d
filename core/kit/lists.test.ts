import { describe, expect, it } from 'vitest';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { freeLists, listConflicts, listsOf, modeFor, placeName } from './lists.ts';
import { checkMap, placesOf, proposeMap } from './map.ts';

const unit = (id: string, kind: Unit['kind'], axles: number, spares = 0): Unit => ({
  id,
  version: 1,
  name: id,
  kind,
  axles: Array.from({ length: axles }, (_, i) => makeAxle('single', i + 1)),
  spares: Array.from({ length: spares }, (_, i) => ({ wheel: { position: `S${i + 1}`, sensor: null }, settings: {} })),
});
const units = [
  unit('pickup', 'vehicle', 2),
  unit('hives', 'trailer', 2),
  unit('boat', 'trailer', 1),
  unit('tipper', 'trailer', 2),
];
const rig = (id: string, unitIds: string[], more: Partial<Rig> = {}): Rig => ({
  id,
  version: 1,
  name: id,
  unitIds,
  loadState: 'towing',
  monitorId: 'm',
  ...more,
});
const monitor = { id: 'm', units: 6, positionsPerUnit: 6, rows: [2, 2, 2] };

describe('the same tow vehicle, three trailers, three lists', () => {
  const one = rig('one', ['pickup', 'hives']);
  it('units of a rig take list after list, an unwatched one takes none, a chosen one is kept', () => {
    expect(listsOf(one, monitor)).toEqual([0, 1]);
    expect(listsOf(rig('x', ['pickup', 'hives', 'boat'], { unwatched: ['A'] }), monitor)).toEqual([null, 0, 1]);
    expect(listsOf(rig('x', ['pickup', 'hives', 'boat'], { lists: { B: 0 } }), monitor)).toEqual([1, 0, 2]);
  });

  it('a second trailer on the first one’s list is a conflict; the tow vehicle in both is none', () => {
    const two = rig('two', ['pickup', 'boat']);
    expect(listConflicts(two, [one, two], units, monitor)).toEqual([{ list: 1, own: 'boat', other: 'hives', otherRig: 'one' }]);
    expect(listConflicts(one, [one, two], units, monitor)).toHaveLength(1);
    // Another monitor, or a rig in the archive, takes nothing away.
    expect(listConflicts(two, [{ ...one, monitorId: 'other' }, two], units, monitor)).toEqual([]);
    expect(listConflicts(two, [{ ...one, archived: true }, two], units, monitor)).toEqual([]);
  });

  it('each new rig gets free lists, and keeps the tow vehicle where it is', () => {
    const two = rig('two', ['pickup', 'boat']);
    expect(freeLists(two, [one], monitor)).toEqual({ A: 0, B: 2 });
    const kept = { ...two, lists: freeLists(two, [one], monitor) };
    const three = rig('three', ['pickup', 'tipper']);
    const lists = freeLists(three, [one, kept], monitor);
    expect(lists).toEqual({ A: 0, B: 3 });
    const all = [one, kept, { ...three, lists }];
    for (const r of all) expect(listConflicts(r, all, units, monitor)).toEqual([]);
    // The places of the third trailer are on its list.
    const places = placesOf({ ...three, lists }, [units[0], units[3]] as Unit[], monitor);
    expect([places.A1L?.list, places.B1L?.list]).toEqual([0, 3]);
  });

  it('says it when the monitor has too few lists', () => {
    const small = { ...monitor, units: 2 };
    const two = rig('two', ['pickup', 'boat']);
    const lists = freeLists(two, [one], small);
    // None is free: it shares one, and that is a conflict to be seen.
    expect(lists).toEqual({ A: 0, B: 1 });
    expect(listConflicts({ ...two, lists }, [one], units, small)).toHaveLength(1);
    expect(proposeMap([units[0], units[1]] as Unit[], { ...small, units: 1 }).giveUp.map((g) => g.why)).toEqual([
      'noList',
      'noList',
      'noList',
      'noList',
    ]);
  });
});

describe('one long list', () => {
  const long = { id: 'm', units: 2, positionsPerUnit: 22, rows: Array.from({ length: 11 }, () => 2), listing: 'long' as const };
  it('takes a rig wheel after wheel, spares last, whatever unit they are of', () => {
    const own = [unit('pickup', 'vehicle', 2, 1), unit('hives', 'trailer', 2, 1)];
    const { places, giveUp } = proposeMap(own, long);
    expect(giveUp).toEqual([]);
    expect(places.B1L).toEqual({ list: 0, row: 2, column: 0 });
    expect(places.AS1).toEqual({ list: 0, row: 4, column: 0 });
    expect(checkMap(own, long, places)).toEqual([]);
  });
  it('says what does not fit, the last spare first', () => {
    const own = [unit('pickup', 'vehicle', 2, 1)];
    expect(proposeMap(own, { ...long, positionsPerUnit: 3, rows: [3] }).giveUp).toEqual([
      { position: 'AS1', why: 'noSparePlace' },
      { position: 'A2R', why: 'noRow' },
    ]);
  });
  it('two rigs on one such list are a conflict, and the second gets the other list', () => {
    const one = rig('one', ['pickup', 'hives']);
    const two = rig('two', ['boat']);
    expect(listConflicts(two, [one], units, long).map((c) => c.other)).toEqual(['pickup', 'hives']);
    expect(freeLists(two, [one], long)).toEqual({ A: 1 });
    expect(listsOf({ ...two, lists: { A: 1 } }, long)).toEqual([1]);
  });
});

describe('places that are free are filled before a tire is given up', () => {
  it('a third axle on the outer places of the second one’s row', () => {
    const own = [unit('trailer', 'trailer', 3)];
    const { places, giveUp } = proposeMap(own, { positionsPerUnit: 6, rows: [2, 4], units: 1 });
    expect(giveUp).toEqual([]);
    expect(places.A3L).toEqual({ list: 0, row: 1, column: 0 });
    expect(places.A3R).toEqual({ list: 0, row: 1, column: 3 });
    expect(checkMap(own, { positionsPerUnit: 6, rows: [2, 4], units: 1 }, places)).toEqual([]);
  });
  it('an axle goes before a spare', () => {
    const own = [unit('trailer', 'trailer', 2, 1)];
    const { places, giveUp } = proposeMap(own, { positionsPerUnit: 4, rows: [4], units: 1 });
    expect(Object.keys(places).sort()).toEqual(['A1L', 'A1R', 'A2L', 'A2R']);
    expect(giveUp).toEqual([{ position: 'AS1', why: 'noSparePlace' }]);
  });
});

it('a place has the leaflet’s name where one was typed', () => {
  const named = { placeNames: { '1.0.2': 'T3' } };
  expect(placeName(named, { list: 1, row: 0, column: 2 })).toBe('T3');
  expect(placeName(named, { list: 0, row: 0, column: 2 })).toBeNull();
  expect(placeName(null, { list: 1, row: 0, column: 2 })).toBeNull();
  expect(placeName(named, undefined)).toBeNull();
});

it('the mode with the fewest wheels that is enough', () => {
  const wheelModes = [
    { wheels: 6, keys: 'hold both' },
    { wheels: 4, keys: 'hold SET' },
  ];
  expect(modeFor({ wheelModes }, 4)?.keys).toBe('hold SET');
  expect(modeFor({ wheelModes }, 5)?.keys).toBe('hold both');
  expect(modeFor({ wheelModes }, 7)).toBeNull();
  expect(modeFor({}, 4)).toBeNull();
});
