import { describe, expect, it } from 'vitest';
import type { WatchEvent } from '../ledger.ts';
import type { ActiveAlarm } from '../wheel.ts';
import { MIN, NOW, rigOf, type Told } from './rig.test-data.ts';
import type { Judged } from './rule.ts';
import { foundUnit, isAwake, silence } from './silence.ts';

// 15 minutes and ten intervals: contract. Five minutes, 2.5 intervals, 12.5 minutes for a unit, 30 minutes after handling: assumed.
const ago = (minutes: number, more: Partial<NonNullable<Told['memory']>> = {}): Told => ({
  memory: { lastMs: NOW - minutes * MIN, ...more },
});
const alarm: ActiveAlarm = { fromMs: NOW - MIN, limit: 900, value: 1, worst: 1 };
const car = (told: (Told | undefined)[]): Record<string, Told> =>
  Object.fromEntries(['A1L', 'A1R', 'A2L', 'A2R'].map((p, i) => [p, told[i] ?? ago(0.5)]));

describe('whether a rig is awake', () => {
  const awake = (wheels: Record<string, Told>) => isAwake(rigOf(wheels), NOW);
  it('half of a unit is heard, and two wheels at least where there are more than two', () => {
    expect(awake(car([ago(60), ago(60)]))).toBe(true);
    expect(awake(car([ago(60), ago(60), ago(60)]))).toBe(false);
    expect(awake({ A1C: ago(60), A2C: ago(1) })).toBe(true);
    // One wheel of a unit of its own is half of it and more, and one of three all the same.
    expect(awake({ A1C: ago(60), A2C: ago(60), B1C: ago(1) })).toBe(false);
    expect(awake({ A1C: ago(60), A2C: ago(1), B1C: ago(1) })).toBe(true);
    // Of six wheels two are heard, one in each unit of three.
    expect(awake({ A1L: ago(1), A1R: ago(60), A2C: ago(60), B1L: ago(1), B1R: ago(60), B2C: ago(60) })).toBe(false);
  });
  it('within five minutes', () => {
    expect(awake({ A1C: ago(5), A2C: ago(60) })).toBe(true);
    expect(awake({ A1C: ago(5.01), A2C: ago(60) })).toBe(false);
  });
  it('spares, disconnected units and wheels never heard say nothing', () => {
    expect(awake(car([ago(60), { ...ago(60), limits: { rests: true } }, { ...ago(60), limits: { resting: true } }]))).toBe(true);
    expect(awake(car([ago(60), { memory: { lastMs: null } }, { memory: { lastMs: null } }]))).toBe(true);
    expect(awake({ A1C: { ...ago(1), limits: { rests: true } } })).toBe(false);
    expect(awake({ A1C: { ...ago(1), limits: { resting: true } } })).toBe(false);
    expect(awake({ A1C: { memory: { lastMs: null } } })).toBe(false);
  });
  it('nor does one whose sensor was handled within half an hour', () => {
    expect(awake({ A1C: ago(1, { handledMs: NOW - 30 * MIN }), A2C: ago(60) })).toBe(false);
    expect(awake({ A1C: ago(1, { handledMs: NOW - 30 * MIN - 1 }), A2C: ago(60) })).toBe(true);
  });
});

/** What a look for silence finds. */
function scanned(wheels: Record<string, Told>, change: Parameters<typeof rigOf>[1] = {}) {
  const rig = rigOf(wheels, change);
  const out: WatchEvent[] = [];
  silence.scan?.(NOW, rig, out);
  return out;
}
const who = (out: readonly WatchEvent[]) => out.map((e) => e.position).join();

describe('one wheel of a rig that is awake', () => {
  it('is missed after 15 minutes, with its figures', () => {
    expect(scanned(car([ago(15.01)]))).toEqual([
      {
        type: 'raised',
        position: 'A1L',
        kind: 'silent',
        priority: 'look',
        atMs: NOW,
        fromMs: NOW,
        limit: 900,
        value: 200,
        worst: 200,
        evidence: { sinceMs: NOW - 15.01 * MIN },
      },
    ]);
    expect(scanned(car([ago(15)]))).toEqual([]);
  });
  it('or after ten of its own intervals', () => {
    const every = (minutes: number, gone: number) => scanned(car([ago(gone, { intervals: [minutes * MIN] })]));
    expect(every(2, 19)).toEqual([]);
    expect(every(2, 20)).toEqual([]);
    expect(every(2, 20.01)).toMatchObject([{ limit: 1200 }]);
    expect(scanned(car([ago(60, { intervals: [] })]))).toEqual([]);
  });
  it('counts only since the rig woke up, and not while it sleeps or stands', () => {
    expect(scanned(car([ago(60)]), { busySinceMs: NOW - 15 * MIN })).toEqual([]);
    expect(who(scanned(car([ago(60)]), { busySinceMs: NOW - 15.01 * MIN }))).toBe('A1L');
    expect(scanned(car([ago(60)]), { busySinceMs: null })).toEqual([]);
    const around = { airC: 20, ambientKpa: 100 };
    expect(scanned(car([ago(60)]), { around: { ...around, moving: false } })).toEqual([]);
    expect(who(scanned(car([ago(60)]), { around: { ...around, moving: true } }))).toBe('A1L');
  });
  it.each<[string, Told]>([
    ['never heard', { memory: { lastMs: null } }],
    ['a spare', { ...ago(60), limits: { rests: true } }],
    ['disconnected', { ...ago(60), limits: { resting: true } }],
    ['off its valve', ago(60, { offSinceMs: NOW })],
    ['not fitted yet', { ...ago(60), limits: { waitsFitting: true } }],
    ['missed already', ago(60, { active: { silent: alarm } })],
  ])('is not missed when it is %s', (_, told) => {
    expect(scanned(car([told]))).toEqual([]);
  });
  it('half of the others must report', () => {
    expect(who(scanned(car([ago(60), ago(3)])))).toBe('A1L');
    expect(scanned(car([ago(60), ago(3), ago(3)]))).toEqual([]);
    expect(scanned({ A1L: ago(60) })).toEqual([]);
    expect(who(scanned({ A1L: ago(60), A1R: ago(3), A2L: ago(1) }))).toBe('A1L');
  });
  it('within two minutes, or two and a half of their own intervals', () => {
    const other = (minutes: number, intervalS: number) =>
      who(scanned({ A1L: ago(60), A1R: ago(minutes, { intervals: [intervalS * 1000] }) }));
    expect([other(2, 10), other(2.01, 10)]).toEqual(['A1L', '']);
    expect([other(10, 240), other(10.01, 240)]).toEqual(['A1L', '']);
  });
  it.each<[string, Told]>([
    ['a spare', { ...ago(3), limits: { rests: true } }],
    ['disconnected', { ...ago(3), limits: { resting: true } }],
    ['never heard', { memory: { lastMs: null } }],
    ['missed itself', ago(3, { active: { silent: alarm } })],
    ['just handled', ago(3, { handledMs: NOW - MIN })],
    ['away for longer than 15 minutes', ago(15.5, { intervals: [10 * MIN] })],
  ])('an other that is %s does not count against it', (_, told) => {
    // Of the three others one is heard, one is not; the third decides.
    expect(who(scanned(car([ago(60), ago(3), told])))).toBe('A1L');
    // And alone it does not count for it.
    const heard = {
      ...told,
      memory: { ...told.memory, ...(told.memory?.lastMs === NOW - 3 * MIN ? { lastMs: NOW - MIN } : {}) },
    };
    expect(scanned({ A1L: ago(60), A1R: heard })).toEqual([]);
  });
});

describe('a whole unit', () => {
  const rig = (b: [Told, Told], a: [Told, Told] = [ago(0.5), ago(0.5)]) => ({ A1L: a[0], A1R: a[1], B1L: b[0], B1R: b[1] });
  it('is one alarm under its letter after 12.5 minutes, since it was last heard', () => {
    expect(scanned(rig([ago(14), ago(13)]))).toEqual([
      {
        type: 'raised',
        position: 'B',
        kind: 'silent',
        priority: 'look',
        atMs: NOW,
        fromMs: NOW,
        limit: 750,
        value: 780,
        worst: 780,
        evidence: { how: 'unit', sinceMs: NOW - 13 * MIN },
      },
    ]);
    expect(scanned(rig([ago(14), ago(12.5)]))).toEqual([]);
    expect(who(scanned(rig([ago(14), ago(12.51)])))).toBe('B');
  });
  it('after ten intervals of its slowest wheel', () => {
    const slow = (minutes: number) => scanned(rig([ago(minutes), ago(minutes, { intervals: [1.4 * MIN] })]));
    expect(slow(14)).toEqual([]);
    expect(who(slow(14.01))).toBe('B');
  });
  it('since the rig woke up', () => {
    expect(scanned(rig([ago(14), ago(14)]), { busySinceMs: NOW - 12.5 * MIN })).toEqual([]);
    expect(who(scanned(rig([ago(14), ago(14)]), { busySinceMs: NOW - 12.51 * MIN }))).toBe('B');
  });
  it('of one wheel is that wheel, and a rig of one unit has none to miss', () => {
    expect(who(scanned({ A1L: ago(0.5), A1R: ago(0.5), B1C: ago(14) }))).toBe('');
    expect(who(scanned({ A1L: ago(0.5), A1R: ago(0.5), B1C: ago(16) }))).toBe('B1C');
    expect(who(scanned(car([ago(13), ago(13), ago(0.5), ago(0.5)])))).toBe('');
  });
  it('wheels that rest, were never heard or are missed already are none of it', () => {
    const three = (third: Told) => who(scanned({ ...rig([ago(14), ago(14)]), B2C: third }));
    expect(three({ ...ago(0.5), limits: { rests: true } })).toBe('B');
    expect(three({ ...ago(0.5), limits: { resting: true } })).toBe('B');
    expect(three({ memory: { lastMs: null } })).toBe('B');
    expect(three(ago(0.5, { active: { silent: alarm } }))).toBe('B');
    expect(three(ago(0.5))).toBe('');
    // Without the two that count there is no unit.
    expect(who(scanned(rig([ago(14), ago(14, { active: { silent: alarm } })])))).toBe('');
  });
  it('only while the other unit reports', () => {
    expect(scanned(rig([ago(14), ago(14)], [ago(4), ago(4)]))).toEqual([]);
    expect(who(scanned(rig([ago(14), ago(14)], [ago(4), ago(1)])))).toBe('B');
  });
  it('that is missed is not missed again, nor its wheels one by one', () => {
    expect(scanned(rig([ago(60), ago(60)]), { missing: new Map([['B', alarm]]) })).toEqual([]);
  });
  it('is found by any of its wheels, once', () => {
    const missing = new Map([['B', { ...alarm }]]);
    const r = rigOf(rig([ago(60), ago(60)]), { missing });
    const out: WatchEvent[] = [];
    foundUnit('A', NOW, r, out);
    expect(out).toEqual([]);
    foundUnit('B', NOW, r, out);
    foundUnit('B', NOW, r, out);
    expect(out).toMatchObject([{ type: 'returned', position: 'B', kind: 'silent', atMs: NOW }]);
    expect(missing.size).toBe(0);
  });
});

describe('a reading after a gap', () => {
  const arrived = (told: Told, gapMin: number, change: Parameters<typeof rigOf>[1] = { sleepAware: false }) => {
    const rig = rigOf({ A1L: told, B1L: {} }, change);
    const out: WatchEvent[] = [];
    silence.arrived?.(rig.at('A1L'), { ms: NOW, previousMs: NOW - gapMin * MIN } as Judged, rig, out);
    return out;
  };
  it('shows that the wheel was missing, and ends it', () => {
    expect(arrived({}, 16)).toMatchObject([
      { type: 'raised', position: 'A1L', fromMs: NOW - MIN, limit: 900 },
      { type: 'returned', position: 'A1L', atMs: NOW },
    ]);
    expect(arrived({}, 15)).toEqual([]);
    expect(arrived({ memory: { intervals: [2 * MIN] } }, 20)).toEqual([]);
    expect(arrived({ memory: { intervals: [] } }, 60)).toEqual([]);
  });
  it('only where each wheel is judged alone, and may sound', () => {
    expect(arrived({}, 60, { sleepAware: true })).toEqual([]);
    expect(arrived({ limits: { resting: true } }, 60)).toEqual([]);
  });
  it('ends what was raised before, of the wheel and of its unit', () => {
    expect(arrived({ memory: { active: { silent: alarm } } }, 60)).toMatchObject([{ type: 'returned', position: 'A1L' }]);
    expect(arrived({}, 1, { missing: new Map([['A', alarm]]) })).toMatchObject([{ type: 'returned', position: 'A' }]);
    expect(arrived({}, 1, { missing: new Map([['B', alarm]]) })).toEqual([]);
  });
});

describe('wheels that are judged alone', () => {
  it('are missed from the moment their time is over, one by one, whatever the others do', () => {
    const out = scanned(
      { A1L: ago(16), A1R: ago(15), A2L: ago(25, { intervals: [2 * MIN] }) },
      { sleepAware: false, busySinceMs: null },
    );
    expect(out.map((e) => [e.position, (e.fromMs - NOW) / MIN])).toEqual([
      ['A1L', -1],
      ['A2L', -5],
    ]);
  });
  it.each<[string, Told]>([
    ['never heard', { memory: { lastMs: null } }],
    ['missed already', ago(60, { active: { silent: alarm } })],
    ['disconnected', { ...ago(60), limits: { resting: true } }],
    ['of no habit yet', ago(60, { intervals: [] })],
    ['within ten of its intervals', ago(16, { intervals: [2 * MIN] })],
  ])('not when %s', (_, told) => {
    expect(scanned({ A1L: told }, { sleepAware: false })).toEqual([]);
  });
});
