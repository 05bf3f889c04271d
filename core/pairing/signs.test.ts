import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { addShownId, pairSensor } from './book.ts';
import { finalCheck, HEARD } from './check.ts';
import { needsMetalStem, PAIRING_STYLES, styleGuide, styleRefusal } from './guide.ts';
import { hasDoubtfulDigit, isSensorKey, sensorKey, shownIdOf } from './ids.ts';
import { proposeMarks, styleAt, walkOrder } from './marks.ts';
import { showsOf } from './signs.ts';

const at = '2026-05-01T08:00:00Z';

describe('what a monitor shows while pairing', () => {
  it('is taken to be IDs while nobody says otherwise', () => {
    expect(showsOf(null)).toEqual({ signs: ['id'], ids: true, open: 'allF', save: 'each' });
    expect(showsOf({ showsIds: true, saves: 'longPress' })).toMatchObject({ ids: true, open: 'allF', save: 'each' });
  });
  it('is a pressure and dashes where it shows no IDs, and kept by itself where it saves by itself', () => {
    expect(showsOf({ showsIds: false, saves: 'byItself' })).toEqual({
      signs: ['pressure'],
      ids: false,
      open: 'dashes',
      save: 'none',
    });
  });
  it('is what its description says, and the rig’s owner has the last word', () => {
    const lamp = { showsIds: false, signs: ['lamp' as const], openShows: 'code' as const, pairSave: 'end' as const };
    expect(showsOf(lamp)).toEqual({ signs: ['lamp'], ids: false, open: 'code', save: 'end' });
    expect(showsOf({ showsIds: true }, { style: 'screwedOn', limitsFirst: true, signs: [] })).toMatchObject({
      signs: [],
      ids: false,
      open: 'dashes',
    });
  });
});

describe('the guide of a kit', () => {
  const guide = (shows: Partial<ReturnType<typeof showsOf>>, style: 'screwedOn' | 'factory' = 'screwedOn') =>
    styleGuide({
      style,
      limitsFirst: true,
      kinds: ['cap'],
      lists: 1,
      factoryCoded: style === 'factory',
      shows: { ...showsOf(null), ...shows },
    });
  const codes = (g: ReturnType<typeof guide>) => g.steps.map((s) => s.code);
  it('saves at each wheel, once at the end, or not at all', () => {
    expect(codes(guide({}))).toContain('save');
    expect(guide({}).after).toEqual([]);
    expect(codes(guide({ save: 'end' }))).not.toContain('save');
    expect(guide({ save: 'end' }).after).toEqual(['saveOnce']);
    expect(codes(guide({ save: 'none' }))).not.toContain('save');
    expect(guide({ save: 'none' }).after).toEqual(['leaveMenu']);
    // Nothing is learned, so nothing is saved.
    expect(guide({ save: 'end' }, 'factory').after).toEqual([]);
  });
  it('has the error tone heard once where a beep is the sign', () => {
    expect(guide({ signs: ['beep'], ids: false }).before).toContain('errorTone');
    expect(guide({ signs: ['beep'], ids: false }, 'factory').before).not.toContain('errorTone');
    expect(guide({ signs: ['pressure'], ids: false }).before).not.toContain('errorTone');
  });
});

describe('what to see to first', () => {
  const before = (q: Partial<Parameters<typeof styleGuide>[0]>) =>
    styleGuide({ style: 'screwedOn', limitsFirst: true, kinds: ['cap'], lists: 1, factoryCoded: false, ...q }).before;
  it.each<[string, Parameters<typeof before>[0], string[]]>([
    ['screwed on', {}, ['chargeMonitor', 'unitsFirst', 'limitsFirst', 'stood10', 'othersAway', 'valvesApart']],
    [
      'pairing first',
      { limitsFirst: false },
      ['chargeMonitor', 'unitsFirst', 'stood10', 'othersAway', 'valvesApart', 'limitsAfter'],
    ],
    [
      'internal sensors on a band, three lists',
      { style: 'carried', kinds: ['internal'], mount: 'band', lists: 3 },
      ['chargeMonitor', 'unitsFirst', 'limitsFirst', 'stood10', 'othersAway', 'valvesTogether', 'rightList'],
    ],
    [
      'at a table, internal sensors',
      { style: 'heldNear', kinds: ['internal'], lists: 2 },
      ['chargeMonitor', 'unitsFirst', 'limitsFirst', 'stood10', 'othersAway', 'inRows', 'rightList', 'zeroExpected'],
    ],
    [
      'a wake tool',
      { style: 'wakeTool', kinds: ['internal'] },
      ['chargeMonitor', 'unitsFirst', 'limitsFirst', 'stood10', 'othersAway', 'valvesApart', 'toolReady'],
    ],
    [
      'coded, three lists',
      { style: 'factory', lists: 3, factoryCoded: true },
      ['chargeMonitor', 'unitsFirst', 'limitsFirst', 'tray'],
    ],
  ])('%s', (_, q, codes) => {
    expect(before(q)).toEqual(codes);
  });
  it('metal stems only under a flow-through, and under a cap of a motorcycle', () => {
    const bike: Unit = { id: 'b', version: 1, name: 'Bike', kind: 'vehicle', axles: [makeAxle('centre', 1)], spares: [] };
    const car: Unit = { ...bike, axles: [makeAxle('single', 1)] };
    const needs = (unit: Unit, kind: 'cap' | 'flowThrough' | 'internal', stem: 'rubber' | 'metal' | undefined) => {
      const [w] = wheelsOf([unit]);
      return needsMetalStem({ ...w, wheel: { ...w?.wheel, stem } } as never, kind);
    };
    expect([
      needs(car, 'flowThrough', 'rubber'),
      needs(car, 'flowThrough', 'metal'),
      needs(car, 'flowThrough', undefined),
    ]).toEqual([true, false, false]);
    expect([needs(car, 'cap', 'rubber'), needs(bike, 'cap', 'rubber'), needs(bike, 'internal', 'rubber')]).toEqual([
      false,
      true,
      false,
    ]);
    expect(needs(bike, 'cap', 'metal')).toBe(false);
  });
  it('an internal sensor can’t be screwed on, chosen on the phone, or given a cell', () => {
    const refused = (kind: 'cap' | 'internal') =>
      PAIRING_STYLES.map((s) => `${s} ${styleRefusal(s, kind, false)}`).filter((x) => !x.endsWith('null'));
    expect(refused('internal')).toEqual([
      'screwedOn internalIsInside',
      'cellIn sealedCell',
      'phoneFirst internalIsInside',
      'factory notFactory',
    ]);
    expect(refused('cap')).toEqual(['wakeTool toolIsForInternal', 'factory notFactory']);
  });
  it('a digit that is easily misread is a B, 8, D or 0', () => {
    expect(['4CA1E7', '4CA1E0', '4CB1E7', '4CD1E7', '481117'].map(hasDoubtfulDigit)).toEqual([false, true, true, true, true]);
    expect(isSensorKey('K1234')).toBe(false);
    expect(isSensorKey('4CA1E04CA1E0')).toBe(false);
  });
});

describe('a sensor without an ID', () => {
  const unit: Unit = { id: 'u', version: 1, name: 'Car', kind: 'vehicle', axles: [makeAxle('single', 1)], spares: [] };
  const key = sensorKey([0, 1, 2, 3, 4, 5, 10, 35, 36, 71, 255]);
  it('is kept under a key that no display could show', () => {
    // 36 and 71 are 0 and 35 again, 255 is 7 * 36 + 3.
    expect(key).toBe('K012345AZ0Z3');
    expect(isSensorKey(key)).toBe(true);
    expect(isSensorKey('4CA1E0')).toBe(false);
    expect(shownIdOf({ id: key })).toBeNull();
    expect(shownIdOf({ id: '4CA1E0' })).toBe('4CA1E0');
    expect(shownIdOf({ id: key, shownId: '4CA1E0' })).toBe('4CA1E0');
  });
  it('takes its ID later and stays the same sensor', () => {
    const paired = pairSensor(unit, '1L', { id: key, kind: 'cap', cellSince: '2026-04-01' }, at);
    const known = addShownId(paired, '1L', '4CA1E0');
    expect(known.axles[0]?.wheels[0]?.sensor).toEqual({ id: key, kind: 'cap', cellSince: '2026-04-01', shownId: '4CA1E0' });
    expect(known.idBook).toBeUndefined();
    expect(() => addShownId(paired, '1R', '4CA1E0')).toThrow(expect.objectContaining({ pointer: '/position' }));
    expect(() => addShownId(pairSensor(unit, '1L', { id: 'A00001', kind: 'cap' }, at), '1L', '4CA1E0')).toThrow();
  });
  it('is checked by whether its position shows a pressure', () => {
    expect(
      finalCheck([
        { position: 'A1L', shows: HEARD, book: key },
        { position: 'A1R', shows: 'FFFFFF', book: 'K00000000001' },
        { position: 'A2L', shows: HEARD, book: null },
        { position: 'A2R', shows: null, book: 'K00000000002' },
      ]),
    ).toEqual([
      { position: 'A1R', code: 'open', wanted: 'K00000000001' },
      { position: 'A2L', code: 'differs' },
      { position: 'A2R', code: 'notRead' },
    ]);
  });
});

describe('a kit that is coded by position', () => {
  const single = (id: string, name: string, kind: 'vehicle' | 'trailer', axles: number, spare = false): Unit => ({
    id,
    version: 1,
    name,
    kind,
    axles: Array.from({ length: axles }, (_, i) => makeAxle('single', i + 1)),
    spares: spare ? [{ wheel: { position: 'S1', sensor: null }, settings: {} }] : [],
  });
  const car = single('car', 'Car', 'vehicle', 2, true);
  const trailer = single('trailer', 'Trailer', 'trailer', 3);
  it('can be chosen on an empty rig, and not where every sensor was learned', () => {
    expect(styleRefusal('factory', 'cap', true)).toBeNull();
    expect(styleRefusal('factory', 'cap', false)).toBe('notFactory');
  });
  it('has marks that are proposed: letters by axle and side, or figures', () => {
    expect(proposeMarks(wheelsOf([car]), 'letters')).toEqual({ A1L: 'FL', A1R: 'FR', A2L: 'RL', A2R: 'RR', AS1: 'S' });
    expect(proposeMarks(wheelsOf([trailer]), 'letters')).toMatchObject({ A1L: 'FL', A2L: 'ML', A3R: 'RR' });
    expect(proposeMarks(wheelsOf([car]), 'figures')).toEqual({ A1L: '1', A1R: '2', A2L: '3', A2R: '4', AS1: '5' });
    expect(proposeMarks(wheelsOf([car]), 'tray')).toEqual({});
  });
  it('may be on the car of a rig whose trailer is learned: one walk, unit after unit, the spare last', () => {
    const wheels = wheelsOf([car, trailer]);
    const mixed = { style: 'factory' as const, limitsFirst: true, byUnit: { B: 'carried' as const } };
    const first = wheels[0] as (typeof wheels)[number];
    expect(styleAt(mixed, first)).toBe('factory');
    expect(styleAt(mixed, { position: 'B1L' })).toBe('carried');
    // The monitor is carried down the left of the trailer and up its right.
    expect(walkOrder(mixed, wheels).map((w) => w.position)).toEqual([
      ...['A1L', 'A1R', 'A2L', 'A2R'],
      ...['B1L', 'B2L', 'B3L', 'B3R', 'B2R', 'B1R'],
      'AS1',
    ]);
    // One way for all goes round the whole rig.
    const round = walkOrder({ style: 'carried', limitsFirst: true }, wheels).map((w) => w.position);
    expect(round.slice(0, 5)).toEqual(['A1L', 'A2L', 'B1L', 'B2L', 'B3L']);
  });
  const at = (position: string, mark: string, markRead?: string) => ({ position, shows: HEARD, book: key, mark, markRead });
  const key = 'K00000000001';
  it('tells two crossed sensors as one swap, one that sits elsewhere, and a mark that is none', () => {
    const seen = (...read: (string | undefined)[]) =>
      finalCheck([at('A1L', 'FL', read[0]), at('A1R', 'FR', read[1]), at('A2L', 'RL', read[2]), at('A2R', 'RR', read[3])]);
    expect(seen('fl', 'FR ', 'RL', undefined)).toEqual([]);
    expect(seen('FR', 'FL', 'RL', 'RR')).toEqual([{ position: 'A1L', code: 'swapped', other: 'A1R' }]);
    // A ring of three is no swap: each says where it belongs.
    expect(seen('FR', 'RL', 'FL', 'RR')).toEqual([
      { position: 'A1L', code: 'wrongMark', other: 'A1R' },
      { position: 'A1R', code: 'wrongMark', other: 'A2L' },
      { position: 'A2L', code: 'wrongMark', other: 'A1L' },
    ]);
    expect(seen('FR', undefined, 'XY', 'RR')).toEqual([
      { position: 'A1L', code: 'wrongMark', other: 'A1R' },
      { position: 'A2L', code: 'wrongMark' },
    ]);
  });
});
