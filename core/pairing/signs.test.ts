import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { addShownId, pairSensor } from './book.ts';
import { finalCheck, HEARD } from './check.ts';
import { styleGuide } from './guide.ts';
import { isSensorKey, sensorKey, shownIdOf } from './ids.ts';
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
