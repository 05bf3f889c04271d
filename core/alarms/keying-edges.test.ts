import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import type { AlarmRule, Setting } from '#schema/unit.ts';
import { asKeyed, type CardAxle, keyingCard } from './card.ts';
import { checkMonitor, explainMismatch, type KeyingAxle, type KeyingMonitor, keyingGroups, planKeying } from './keying.ts';
import { limitsAsRead, limitsFor } from './limits.ts';

// Worked by hand. All in kPa with a step of 10, so that a wanted limit is what is keyed unless the line says otherwise.
const monitor = (change: Partial<KeyingMonitor> = {}): KeyingMonitor => ({
  groups: 'axle',
  unit: 'kPa',
  step: 10,
  min: 100,
  max: 900,
  presetLow: 500,
  presetHigh: 700,
  interlock: true,
  ...change,
});
const axle = (code: string, lowKpa: number | null, highKpa: number | null, more: Partial<KeyingAxle> = {}): KeyingAxle => ({
  axle: code,
  unitKind: code.startsWith('A') ? 'vehicle' : 'trailer',
  lowKpa,
  highKpa,
  ...more,
});
const keys = (p: ReturnType<typeof planKeying>) => p.steps.map((s) => `${s.field} ${s.from} ${s.to} ${s.presses}`);
const unmet = (p: ReturnType<typeof planKeying>) =>
  p.unmet.map((u) => `${u.axle} ${u.field} ${u.wantedKpa} ${u.gotKpa} ${u.why}`);

describe('which wheels share limits', () => {
  const all = [
    axle('A1', 1, 2),
    axle('A2', 1, 2, { wheels: 4 }),
    axle('A3', 1, 2),
    axle('AS1', 1, 2),
    axle('B1', 1, 2),
    axle('B2', 1, 2),
  ];
  it.each<[KeyingMonitor['groups'], string[]]>([
    ['axle', ['A1: A1', 'A2: A2', 'A3: A3', 'AS1: AS1', 'B1: B1', 'B2: B2']],
    ['unit', ['A1: A1', 'A2: A2', 'A3: A3', 'AS1: AS1', 'B: B1 B2']],
    ['rearWithTrailer', ['A1: A1', 'rear: A2 A3 B1 B2', 'AS1: AS1']],
    ['all', ['all: A1 A2 A3 AS1 B1 B2']],
  ])('%s', (groups, expected) => {
    expect(keyingGroups(groups, all).map((g) => `${g.group}: ${g.axles.join(' ')}`)).toEqual(expected);
  });
  it('by wheel each has its own, a spare and a single one by its name', () => {
    expect(
      keyingGroups('wheel', [axle('A1', 1, 2), axle('A2', 1, 2, { wheels: 1 }), axle('BS1', 1, 2)]).map((g) => g.group),
    ).toEqual(['A1 wheel 1', 'A1 wheel 2', 'A2', 'BS1']);
  });
  it('a trailer alone has no front axle of a vehicle', () => {
    expect(keyingGroups('rearWithTrailer', [axle('B1', 1, 2), axle('A1', 1, 2), axle('A2', 1, 2)]).map((g) => g.group)).toEqual([
      'rear',
      'A1',
    ]);
  });
});

describe('the order of keys', () => {
  const plan = (
    low: number | null,
    high: number | null,
    change: Partial<KeyingMonitor> = {},
    shown?: { low: number | null; high: number | null },
  ) => planKeying(monitor(change), [axle('A1', low, high)], shown ? { A1: shown } : {});
  it('coming down the low goes first, going up the high', () => {
    expect(keys(plan(300, 400))).toEqual(['low 500 300 20', 'high 700 400 30']);
    expect(keys(plan(750, 850))).toEqual(['high 700 850 15', 'low 500 750 25']);
    expect(keys(plan(600, 850))).toEqual(['high 700 850 15', 'low 500 600 10']);
    // Closer together from both sides any order holds: the high first where the low goes up.
    expect(keys(plan(550, 650))).toEqual(['high 700 650 5', 'low 500 550 5']);
    expect(keys(plan(500, 650))).toEqual(['high 700 650 5']);
    expect(keys(plan(500, 700))).toEqual([]);
  });
  it('is turned where the usual order would cross', () => {
    // The low goes up, so the high would go first: to 480, under the low of 500. There is no way but for a low that goes first.
    expect(keys(plan(520, 600, {}, { low: 500, high: 510 }))).toEqual(['high 510 600 9', 'low 500 520 2']);
    // Low and high cross each other's old places.
    expect(plan(510, 520, {}, { low: 530, high: 540 })).toMatchObject({ steps: [{ field: 'low' }, { field: 'high' }] });
  });
  it('what is not wanted stays, unless it must make room by a step', () => {
    expect(keys(plan(600, null))).toEqual(['low 500 600 10']);
    expect(keys(plan(700, null))).toEqual(['high 700 710 1', 'low 500 700 20']);
    expect(keys(plan(null, 500))).toEqual(['low 500 490 1', 'high 700 500 20']);
    expect(keys(plan(null, 510))).toEqual(['high 700 510 19']);
    // Without an interlock nothing has to.
    expect(keys(plan(700, null, { interlock: false }))).toEqual(['low 500 700 20']);
  });
  it('where there is no room there are no steps', () => {
    expect(plan(900, null, { presetHigh: 900 })).toMatchObject({ steps: [], unmet: [{ why: 'impossible', gotKpa: 500 }] });
    expect(plan(null, 100, { presetLow: 500 })).toMatchObject({ steps: [], unmet: [{ why: 'impossible', gotKpa: 700 }] });
    expect(keys(plan(890, null, { presetHigh: 890 }))).toEqual(['high 890 900 1', 'low 500 890 39']);
    expect(keys(plan(null, 110))).toEqual(['low 500 100 40', 'high 700 110 59']);
    expect(plan(600, 600)).toMatchObject({ steps: [], unmet: [{ why: 'impossible' }, { why: 'impossible' }] });
    expect(keys(plan(600, 600, { interlock: false }))).toHaveLength(2);
  });
  it('a limit that the monitor doesn’t have is neither keyed nor in the way', () => {
    const lowOnly = plan(800, 850, { presetHigh: null });
    expect(keys(lowOnly)).toEqual(['low 500 800 30']);
    expect(unmet(lowOnly)).toEqual(['A1 high 850 null range']);
    expect(unmet(plan(300, 850, { presetLow: null }))).toEqual(['A1 low 300 null range']);
    expect(keys(plan(300, 850, { presetLow: null }))).toEqual(['high 700 850 15']);
  });
  it('a value within a ten-thousandth of a step is on it', () => {
    expect(keys(plan(500.00009, 700))).toEqual([]);
    expect(unmet(plan(505, 695))).toEqual(['A1 low 505 510 rounded', 'A1 high 695 690 rounded']);
    expect(unmet(plan(50, 950))).toEqual(['A1 low 50 100 range', 'A1 high 950 900 range']);
  });
  it('walks from the group that blinks first to the last one that is keyed', () => {
    const three = planKeying(monitor(), [axle('A1', 500, 700), axle('A2', 510, 700), axle('B1', 500, 700)]);
    expect(three.navigationPresses).toBe(1);
    expect(three.presses).toBe(1);
    expect(planKeying(monitor(), [axle('A1', 500, 700)]).navigationPresses).toBe(0);
    expect(planKeying(monitor(), [axle('A1', 510, 700), axle('A2', 500, 700), axle('B1', 510, 700)]).navigationPresses).toBe(2);
  });
});

describe('axles that share a pair', () => {
  const shared = (list: [number | null, number | null][], change: Partial<KeyingMonitor> = {}) =>
    planKeying(
      monitor({ groups: 'all', ...change }),
      list.map(([low, high], i) => axle(`A${i + 1}`, low, high)),
    );
  it('take the highest low and the lowest high', () => {
    const p = shared([
      [300, 600],
      [400, 650],
    ]);
    expect(p.ends).toEqual({ all: { low: 400, high: 600 } });
    expect(unmet(p)).toEqual(['A1 low 300 400 grouped', 'A2 high 650 600 grouped']);
  });
  it('where those cross they keep the low and take the highest high, and say conflict', () => {
    const p = shared([
      [300, 400],
      [500, 650],
    ]);
    expect(p.ends).toEqual({ all: { low: 500, high: 650 } });
    expect(unmet(p)).toEqual(['A1 low 300 500 grouped', 'A1 high 400 650 conflict']);
    // At the low is past it; just over it isn't.
    expect(
      shared([
        [300, 500],
        [500, 650],
      ]).ends.all?.high,
    ).toBe(650);
    expect(
      shared([
        [300, 510],
        [500, 650],
      ]).ends.all?.high,
    ).toBe(510);
  });
  it('a single high that is under the low is no conflict of highs', () => {
    const p = shared(
      [
        [300, 400],
        [500, null],
      ],
      { interlock: false },
    );
    expect(p.ends).toEqual({ all: { low: 500, high: 400 } });
    expect(unmet(p)).toEqual(['A1 low 300 500 grouped']);
    const same = shared(
      [
        [300, 400],
        [500, 400],
      ],
      { interlock: false },
    );
    expect(unmet(same)).toEqual(['A1 low 300 500 grouped']);
  });
});

it('a monitor with fewer than two steps is refused', () => {
  expect(() => checkMonitor(monitor({ min: 100, max: 109 }))).toThrow(expect.objectContaining({ pointer: '/monitor/max' }));
  expect(() => checkMonitor(monitor({ min: 100, max: 100 }))).toThrow();
  expect(() => checkMonitor(monitor({ min: 100, max: 110 }))).not.toThrow();
});

describe('a figure that was read back', () => {
  const ends = { A1: { low: 62, high: 85 }, B: { low: 70, high: null } };
  const psi = { step: 1, unit: 'psi' as const, presetLow: 40, presetHigh: 150 };
  const read = (
    value: number,
    field: 'low' | 'high' = 'low',
    before = {},
    group = 'A1',
    m: Parameters<typeof explainMismatch>[3] = psi,
  ) => explainMismatch(value, { group, field }, { ends }, m, before);
  it.each<[string, ReturnType<typeof read>, ReturnType<typeof read>]>([
    ['what it should be', read(62), null],
    ['within a thousandth of a step', read(62.0009), null],
    ['what it was before', read(55, 'low', { A1: { low: 55, high: 90 } }), { reason: 'notSaved' }],
    ['its preset', read(40), { reason: 'notSaved' }],
    ['the preset of the high', read(150, 'high'), { reason: 'notSaved' }],
    ['the other limit', read(85), { reason: 'swapped' }],
    ['the other limit of the high', read(62, 'high'), { reason: 'swapped' }],
    ['another group’s', read(70), { reason: 'otherGroup', group: 'B' }],
    ['the same in bar: 4.27', read(4.3), { reason: 'otherUnit', unit: 'bar' }],
    ['the same in kPa: 427.5', read(427), { reason: 'otherUnit', unit: 'kPa' }],
    ['not quite in kPa', read(437), { reason: 'unknown' }],
    // From 40 up to 62: at 60 two presses are missing, at 64 two too many.
    ['two presses short', read(60), { reason: 'stepsShort', presses: 2 }],
    ['two presses too many', read(64), { reason: 'stepsOver', presses: 2 }],
    // From 150 down to 85.
    ['short on the way down', read(88, 'high'), { reason: 'stepsShort', presses: 3 }],
    ['over on the way down', read(82, 'high'), { reason: 'stepsOver', presses: 3 }],
    ['ten presses', read(52), { reason: 'stepsShort', presses: 10 }],
    ['eleven are no slip of the finger', read(51), { reason: 'unknown' }],
    ['half a press', read(60.5), { reason: 'unknown' }],
    ['from nowhere', read(60, 'low', {}, 'A1', { ...psi, presetLow: null }), { reason: 'stepsShort', presses: 2 }],
    ['a limit that is not wanted', read(60, 'high', {}, 'B'), { reason: 'unknown' }],
    ['a group that isn’t there', read(60, 'low', {}, 'C'), { reason: 'unknown' }],
  ])('%s', (_, found, expected) => {
    expect(found).toEqual(expected);
  });
});

describe('the card', () => {
  const base: Monitor = {
    id: 'm',
    version: 1,
    name: 'Console',
    groups: 'axle',
    unit: 'kPa',
    step: 10,
    min: 100,
    max: 900,
    presetLow: 500,
    presetHigh: 700,
    presetHotC: 70,
    interlock: true,
    positionsPerUnit: 4,
    units: 1,
    showsIds: true,
    canDisconnect: false,
  };
  const setting = (low: number | null, high: number | null, hotC = 70, kpa = 600): Setting => ({
    cold: { kpa, tempC: 20 },
    limits: { rule: { school: 'share' }, lowKpa: low, highKpa: high, hotC },
  });
  const of = (code: string, s: Setting, unitKind: 'vehicle' | 'trailer' = 'vehicle'): CardAxle => ({
    code,
    unitKind,
    wheels: 2,
    setting: s,
  });
  it('gives each step its reason', () => {
    const why = (m: Partial<Monitor>, s: Setting) =>
      keyingCard({ ...base, ...m }, [of('A1', s)], null).steps.map((x) => `${x.field} ${x.why}`);
    expect(why({}, setting(300, 400))).toEqual(['low lowFirst', 'high thenHigh']);
    expect(why({}, setting(750, 850))).toEqual(['high highFirst', 'low thenLow']);
    expect(why({}, setting(300, 700))).toEqual(['low plain']);
    expect(why({}, setting(700, null))).toEqual(['high makesRoom', 'low thenLow']);
    expect(why({ interlock: false }, setting(300, 400))).toEqual(['low plain', 'high plain']);
    const unit = keyingCard({ ...base, groups: 'all' }, [of('A1', setting(300, 700)), of('A2', setting(300, 700))], null);
    expect(unit.steps).toMatchObject([{ id: 'all low 500 300', group: 'all', axles: ['A1', 'A2'], why: ['shared'] }]);
  });
  it('says what was never keyed, what differs, and leaves out what nobody wants', () => {
    const keyed = { at: '2026-05-01T08:00:00Z', loadState: 'loaded' as const, groups: { A2: { low: 300, high: 700 } }, hotC: 70 };
    const card = keyingCard(
      base,
      [
        of('A1', setting(300, 700)),
        of('A2', setting(310, 700)),
        of('A3', setting(null, null)),
        of('A4', { cold: { kpa: 600, tempC: 20 } }),
      ],
      keyed,
    );
    expect(card.openPoints).toEqual([
      { group: 'A1', code: 'neverKeyed', axles: ['A1'] },
      { group: 'A2', code: 'differs', axles: ['A2'] },
    ]);
    expect(card.bare).toEqual(['A4']);
    expect(card.firstBlinks).toBe('A1');
    expect(keyingCard(base, [], null)).toMatchObject({ firstBlinks: null, steps: [], unmet: [], hotC: null, groups: [] });
    // Low only is wanted too.
    expect(keyingCard(base, [of('A1', setting(300, null))], null).openPoints).toHaveLength(1);
  });
  it('one temperature serves all: the lowest, keyed where it differs', () => {
    const axles = [of('A1', setting(500, 700, 68)), of('A2', setting(500, 700, 75))];
    const card = keyingCard(base, axles, null);
    expect(card).toMatchObject({ hotC: 68, hotUnmet: ['A2'] });
    expect(card.steps).toEqual([
      {
        id: 'all hot 70 68',
        group: 'all',
        axles: ['A1', 'A2'],
        field: 'hot',
        from: 70,
        to: 68,
        presses: null,
        go: null,
        confirm: { value: null, page: null },
        heldS: null,
        why: ['oneForAll'],
      },
    ]);
    const keyed = asKeyed(card, '2026-05-01T08:00:00Z', 'loaded', null);
    expect(keyed).toEqual({
      at: '2026-05-01T08:00:00Z',
      loadState: 'loaded',
      groups: { A1: { low: 500, high: 700 }, A2: { low: 500, high: 700 } },
      hotC: 68,
    });
    expect(keyingCard(base, axles, keyed).steps).toEqual([]);
    const none = keyingCard({ ...base, presetHotC: null }, axles, null);
    expect(none).toMatchObject({ hotC: null, hotUnmet: [], steps: [] });
    expect(
      asKeyed(none, '2026-06-01T08:00:00Z', 'empty', { ...keyed, groups: { ...keyed.groups, B: { low: 1, high: 2 } } }),
    ).toMatchObject({
      hotC: 68,
      groups: { B: { low: 1, high: 2 } },
    });
    expect(asKeyed(none, '2026-06-01T08:00:00Z', 'empty', null).hotC).toBeNull();
  });
  it('a baseline is the cold pressure at the nearest step, and what the monitor makes of it', () => {
    const console_: Monitor = { ...base, groups: 'baseline', presetHotC: null, derives: { lowShare: 0.11, highShare: 0.22 } };
    const axles = [of('A1', setting(null, null, 70, 606)), of('A2', setting(null, null, 70, 600)), of('A3', {})];
    const card = keyingCard(console_, axles, null);
    expect(card.steps).toEqual([
      {
        id: 'A1 baseline null 610',
        group: 'A1',
        axles: ['A1'],
        field: 'baseline',
        from: null,
        to: 610,
        presses: null,
        go: null,
        confirm: { value: null, page: null },
        heldS: null,
        why: ['baseline'],
      },
      {
        id: 'A2 baseline null 600',
        group: 'A2',
        axles: ['A2'],
        field: 'baseline',
        from: null,
        to: 600,
        presses: null,
        go: null,
        confirm: { value: null, page: null },
        heldS: null,
        why: ['baseline'],
      },
    ]);
    expect(card.groups).toEqual([
      { group: 'A1', axles: ['A1'] },
      { group: 'A2', axles: ['A2'] },
    ]);
    // 610 * 0.89 and * 1.22.
    expect(card.derived.A1).toEqual({ low: expect.closeTo(542.9, 6), high: expect.closeTo(744.2, 6) });
    expect(card.openPoints).toEqual([
      { group: 'A1', code: 'neverKeyed', axles: ['A1'] },
      { group: 'A2', code: 'neverKeyed', axles: ['A2'] },
    ]);
    expect(card.presses).toBe(0);
    const keyed = asKeyed(card, '2026-05-01T08:00:00Z', 'loaded', null);
    expect(keyed.groups.A1).toEqual({ low: null, high: null, baseline: 610 });
    const later = keyingCard(console_, [of('A1', setting(null, null, 70, 650)), of('A2', setting(null, null, 70, 600))], keyed);
    expect(later.steps).toMatchObject([{ from: 610, to: 650, presses: 4 }]);
    expect(later).toMatchObject({ presses: 4, openPoints: [{ group: 'A1', code: 'differs', axles: ['A1'] }] });
    expect(keyingCard({ ...console_, derives: { lowShare: 0.11, highShare: null } }, axles, null).derived.A2).toEqual({
      low: expect.closeTo(534, 6),
      high: null,
    });
    const { derives: _d, ...unknown } = console_;
    expect(keyingCard(unknown, axles, null).derived.A1).toBeNull();
    // Kept inside what it takes, on a step.
    expect(keyingCard({ ...console_, max: 605, min: 100 }, axles, null).afterwards.A1?.baseline).toBe(600);
    expect(keyingCard({ ...console_, min: 700 }, axles, null).afterwards.A2?.baseline).toBe(700);
  });
});

// The schools' own figures are in limits.reference.test.ts; here is what is said of them, as data.
describe('why a limit is what it is', () => {
  const why = (rule: AlarmRule, cold = 500) => limitsFor(rule, cold).why;
  it.each<[AlarmRule, unknown[]]>([
    [
      { school: 'margin', marginKpa: 90 },
      [
        { field: 'low', code: 'marginUnderCold', marginKpa: 90, ofKpa: 500 },
        { field: 'high', code: 'marginOverCold', marginKpa: 90, ofKpa: 500 },
      ],
    ],
    [
      { school: 'rating', ratingKpa: 520 },
      [
        { field: 'low', code: 'shareUnderRating', share: 0.15, ofKpa: 520 },
        { field: 'high', code: 'shareOverRating', share: 0.25, ofKpa: 520 },
      ],
    ],
    [
      { school: 'rough', roundKpa: 50 },
      [
        { field: 'low', code: 'roughUnderCold', share: 0.1, ofKpa: 500, roundKpa: 50 },
        { field: 'high', code: 'roughOverCold', share: 0.25, ofKpa: 500, roundKpa: 50 },
      ],
    ],
    [
      { school: 'floorCeiling', floorKpa: 400, ceilingKpa: 600 },
      [
        { field: 'low', code: 'floor', floorKpa: 400 },
        { field: 'high', code: 'ceiling', ofKpa: 600 },
      ],
    ],
    [
      { school: 'lowOnly', lowShare: 0.2 },
      [
        { field: 'low', code: 'shareUnderCold', share: 0.2, ofKpa: 500 },
        { field: 'high', code: 'noHigh' },
      ],
    ],
    [
      { school: 'baseline' },
      [
        { field: 'low', code: 'monitorDerives', ofKpa: 500 },
        { field: 'high', code: 'monitorDerives', ofKpa: 500 },
      ],
    ],
    [
      { school: 'regulation', floorKpa: 380 },
      [
        { field: 'low', code: 'regulationFloor', floorKpa: 380 },
        { field: 'high', code: 'noHigh' },
      ],
    ],
    // At the share's own figure it is the share that holds: 75 % of 500.
    [
      { school: 'regulation', floorKpa: 375 },
      [
        { field: 'low', code: 'regulationShare', share: 0.25, ofKpa: 500 },
        { field: 'high', code: 'noHigh' },
      ],
    ],
  ])('%j', (rule, expected) => {
    expect(why(rule)).toEqual(expected);
  });
  it('a limit at the cold pressure is refused at the field that put it there', () => {
    const at = (rule: AlarmRule) => {
      try {
        limitsFor(rule, 500);
        return null;
      } catch (error) {
        return (error as { pointer?: string }).pointer;
      }
    };
    expect(at({ school: 'floorCeiling', floorKpa: 500, ceilingKpa: 600 })).toBe('/floorKpa');
    expect(at({ school: 'floorCeiling', floorKpa: 400, ceilingKpa: 500 })).toBe('/ceilingKpa');
    expect(at({ school: 'floorCeiling', floorKpa: 499.9, ceilingKpa: 500.1 })).toBeNull();
  });
});

describe('limits that were read off a monitor', () => {
  const as = (low: number | null, high: number | null, cold: number | null = 500) => limitsAsRead(low, high, cold, 70);
  it('become the plan, with a rule that gives just these', () => {
    expect(as(420, 610)).toEqual({
      rule: { school: 'floorCeiling', floorKpa: 420, ceilingKpa: 610 },
      lowKpa: 420,
      highKpa: 610,
      hotC: 70,
    });
    // 420 is 16 % under 500.
    expect(as(420, null)).toMatchObject({
      rule: { school: 'lowOnly', lowShare: expect.closeTo(0.16, 12) },
      lowKpa: 420,
      highKpa: null,
    });
    expect(as(420, null, null)).toMatchObject({ rule: { school: 'regulation', floorKpa: 420 } });
    expect(as(420, 610, null)).toMatchObject({ lowKpa: 420, highKpa: 610 });
    const rule = as(420, null)?.rule as AlarmRule;
    expect(limitsFor(rule, 500).lowKpa).toBeCloseTo(420, 9);
  });
  it('not where they can’t be one', () => {
    for (const limits of [as(null, 610), as(500, 610), as(420, 500), as(420, 420), as(420, 400, null), as(510, null)])
      expect(limits).toBeNull();
    expect(as(499, 501)).not.toBeNull();
  });
});
