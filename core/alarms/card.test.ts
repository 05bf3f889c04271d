import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import type { Setting } from '#schema/unit.ts';
import { asKeyed, type CardAxle, keyingCard } from './card.ts';

const PSI = 6.894757293168;
const monitor: Monitor = {
  id: 'm',
  version: 1,
  name: 'Cab monitor',
  groups: 'unit',
  unit: 'psi',
  step: 1,
  min: 0,
  max: 188,
  presetLow: 100,
  presetHigh: 175,
  presetHotC: 70,
  interlock: true,
  positionsPerUnit: 10,
  units: 2,
  showsIds: true,
  canDisconnect: true,
};
const setting = (cold: number, low: number | null, high: number | null, hotC = 70): Setting => ({
  cold: { kpa: cold * PSI, tempC: 20 },
  limits: {
    rule: { school: 'share' },
    lowKpa: low === null ? null : low * PSI,
    highKpa: high === null ? null : high * PSI,
    hotC,
  },
});
const axles: CardAxle[] = [
  { code: 'A1', unitKind: 'vehicle', wheels: 2, setting: setting(65, 59, 78) },
  { code: 'A2', unitKind: 'vehicle', wheels: 4, setting: setting(60, 54, 72) },
  { code: 'B1', unitKind: 'trailer', wheels: 2, setting: setting(80, 72, 100) },
  { code: 'B2', unitKind: 'trailer', wheels: 2, setting: setting(80, 72, 100) },
];

describe('the keying card', () => {
  it('goes group by group with the reason of every step', () => {
    const card = keyingCard(monitor, axles, null);
    expect(card.steps.map((s) => [s.group, s.field, s.from, s.to, s.why])).toEqual([
      ['A1', 'low', 100, 59, ['lowFirst']],
      ['A1', 'high', 175, 78, ['thenHigh']],
      ['A2', 'low', 100, 54, ['lowFirst']],
      ['A2', 'high', 175, 72, ['thenHigh']],
      ['B', 'low', 100, 72, ['lowFirst', 'shared']],
      ['B', 'high', 175, 100, ['thenHigh', 'shared']],
    ]);
    expect(card.presses).toBe(41 + 97 + 46 + 103 + 28 + 75);
    expect(card.firstBlinks).toBe('A1');
    expect(card.openPoints.map((p) => [p.group, p.code])).toEqual([
      ['A1', 'neverKeyed'],
      ['A2', 'neverKeyed'],
      ['B', 'neverKeyed'],
    ]);
  });
  it('once keyed there is nothing left, and a change is only the difference', () => {
    const card = keyingCard(monitor, axles, null);
    const keyed = asKeyed(card, '2026-05-01T08:00:00Z', 'loaded', null);
    const after = keyingCard(monitor, axles, keyed);
    expect(after.steps).toEqual([]);
    expect(after.openPoints).toEqual([]);
    const off = axles.map((a) => (a.code === 'A2' ? { ...a, setting: setting(50, 45, 60) } : a));
    const change = keyingCard(monitor, off, keyed);
    expect(change.steps.map((s) => [s.group, s.field, s.from, s.to])).toEqual([
      ['A2', 'low', 54, 45],
      ['A2', 'high', 72, 60],
    ]);
    expect(change.openPoints).toEqual([{ group: 'A2', code: 'differs', axles: ['A2'] }]);
  });
  it('one temperature serves all: the lowest that is wanted', () => {
    const card = keyingCard(
      monitor,
      axles.map((a, i) => ({ ...a, setting: { ...a.setting, ...(i === 0 ? setting(65, 59, 78, 58) : {}) } })),
      null,
    );
    expect(card.steps.at(-1)).toMatchObject({ field: 'hot', from: 70, to: 58, why: ['oneForAll'], presses: null });
    expect(card.hotUnmet).toEqual(['A2', 'B1', 'B2']);
  });
  it('an axle without limits is left as shown and named', () => {
    const card = keyingCard(monitor, [...axles, { code: 'BS1', unitKind: 'trailer', wheels: 1, setting: {} }], null);
    expect(card.bare).toEqual(['BS1']);
    expect(card.steps.some((s) => s.group === 'BS1')).toBe(false);
    expect(card.openPoints.some((p) => p.group === 'BS1')).toBe(false);
  });
  it('follows the menu where it is known: by limit, with a second round where that and the interlock are against each other', () => {
    const rising: Monitor = { ...monitor, presetLow: 20, presetHigh: 30, menu: { walk: 'limit', first: 'low', wrap: 'forward' } };
    const card = keyingCard(rising, axles.slice(0, 2), null);
    // Lows to 54 and over are refused under highs of 30: all highs first, then round to the lows.
    expect(card.steps.filter((s) => s.field !== 'hot').map((s) => `${s.group} ${s.field}`)).toEqual([
      'A1 high',
      'A2 high',
      'A1 low',
      'A2 low',
    ]);
    expect(card.rounds).toBe(2);
    expect(card.steps.find((s) => s.group === 'A1' && s.field === 'low')?.why).toContain('secondRound');
    expect(
      keyingCard({ ...rising, menu: { walk: 'limit', first: 'high', wrap: 'forward' } }, axles.slice(0, 2), null).rounds,
    ).toBe(1);
    expect(keyingCard(monitor, axles.slice(0, 2), null).rounds).toBeNull();
  });
  it('claims no order where none is needed', () => {
    // From 50 and 100 to 59 and 78: either may go first.
    const card = keyingCard({ ...monitor, presetLow: 50, presetHigh: 100 }, axles.slice(0, 1), null);
    expect(card.steps.filter((s) => s.field !== 'hot').map((s) => s.why)).toEqual([['plain'], ['plain']]);
  });
  it('a baseline monitor is keyed the cold pressure, and says what it makes of it', () => {
    const baseline: Monitor = { ...monitor, groups: 'baseline', presetLow: null, presetHigh: null, min: 10, max: 150 };
    const card = keyingCard(baseline, axles.slice(0, 2), null);
    expect(card.steps.map((s) => [s.group, s.field, s.from, s.to, s.presses])).toEqual([
      ['A1', 'baseline', null, 65, null],
      ['A2', 'baseline', null, 60, null],
    ]);
    expect(card.derived).toEqual({ A1: null, A2: null });
    expect(card.openPoints.map((p) => p.code)).toEqual(['neverKeyed', 'neverKeyed']);
    // Common practice, no source: keyed 80 psi, one such monitor rang at 74 or 75: 7 % under is 74.4.
    const known = keyingCard({ ...baseline, derives: { lowShare: 0.07, highShare: null } }, axles.slice(2, 3), null);
    expect(known.derived.B1?.low).toBeCloseTo(74.4, 9);
    const keyed = asKeyed(card, '2026-05-01T08:00:00Z', 'loaded', null);
    expect(keyed.groups.A1).toEqual({ low: null, high: null, baseline: 65 });
    expect(keyingCard(baseline, axles.slice(0, 2), keyed).steps).toEqual([]);
  });
  it('a low-only monitor is keyed its low limits', () => {
    const low: Monitor = {
      ...monitor,
      groups: 'wheel',
      unit: 'bar',
      step: 0.1,
      min: 0.8,
      max: 4,
      presetLow: 1.8,
      presetHigh: null,
      presetHotC: null,
      interlock: false,
    };
    const card = keyingCard(
      low,
      [
        {
          code: 'A1',
          unitKind: 'vehicle',
          wheels: 1,
          setting: { limits: { rule: { school: 'lowOnly' }, lowKpa: 198, highKpa: null, hotC: 70 } },
        },
      ],
      null,
    );
    expect(card.steps.map((s) => [s.group, s.field, s.to])).toEqual([['A1', 'low', 2]]);
    expect(card.hotC).toBeNull();
    expect(card.unmet.map((u) => u.why)).toEqual(['rounded']);
  });
});

describe('a menu that begins at its presets each time', () => {
  const again: Monitor = {
    ...monitor,
    groups: 'axle',
    unit: 'psi',
    step: 1,
    presetLow: 40,
    presetHigh: 60,
    presetHotC: null,
    menu: { walk: 'group', first: 'low', wrap: 'forward', starts: 'preset' },
  };
  const psi = (v: number) => v * 6.894757293168;
  const at = (code: string, low: number, high: number): CardAxle => ({
    code,
    unitKind: 'vehicle',
    wheels: 2,
    setting: { limits: { rule: { school: 'share' }, lowKpa: psi(low), highKpa: psi(high), hotC: 70 } },
  });
  const keyed = asKeyed(keyingCard(again, [at('A1', 45, 65), at('A2', 50, 70)], null), '2026-05-01T08:00:00Z', 'loaded', null);
  const told = (axles: CardAxle[]) =>
    keyingCard(again, axles, keyed).steps.map((s) => `${s.group} ${s.field} ${s.from} to ${s.to} ${s.why}`);
  it('has nothing to key while all of it is kept', () => {
    expect(told([at('A1', 45, 65), at('A2', 50, 70)])).toEqual([]);
  });
  it('asks for all of it as soon as one limit differs, a preset that is right among them', () => {
    expect(told([at('A1', 40, 65), at('A2', 50, 70)])).toEqual([
      'A1 low 40 to 40 again',
      'A1 high 60 to 65 plain',
      'A2 low 40 to 50 plain',
      'A2 high 60 to 70 plain',
    ]);
  });
  it('a baseline alike', () => {
    const console_: Monitor = { ...again, groups: 'baseline', presetBaseline: 40 };
    const cold = (code: string, v: number): CardAxle => ({
      code,
      unitKind: 'vehicle',
      wheels: 2,
      setting: { cold: { kpa: psi(v), tempC: 18 } },
    });
    const first = asKeyed(keyingCard(console_, [cold('A1', 50), cold('A2', 55)], null), '2026-05-01T08:00:00Z', 'loaded', null);
    const then = keyingCard(console_, [cold('A1', 40), cold('A2', 55)], first);
    expect(then.steps.map((s) => `${s.group} ${s.from} to ${s.to} ${s.why}`)).toEqual([
      'A1 40 to 40 again',
      'A2 40 to 55 baseline',
    ]);
    expect(keyingCard(console_, [cold('A1', 50), cold('A2', 55)], first).steps).toEqual([]);
  });
});

describe('temperatures on the card', () => {
  const warm: Monitor = {
    ...monitor,
    presetHotC: 70,
    presetColdC: 0,
    tempUnit: 'F',
    hotStep: 2,
    hotMin: 120,
    hotMax: 208,
    menu: undefined,
  };
  const hot = (m: Monitor, hotC: number, coldestC?: number) =>
    keyingCard(
      m,
      [{ ...(axles[0] as CardAxle), setting: { limits: { rule: { school: 'share' }, lowKpa: null, highKpa: null, hotC } } }],
      null,
      coldestC,
    );
  it('are keyed in the monitor’s unit, at the step below, and counted', () => {
    // 70 °C is 158 °F; 65 °C is 149 °F, at steps of 2 148 °F, which is 64.44 °C.
    const card = hot(warm, 65);
    expect(card.steps).toMatchObject([{ field: 'hot', from: 158, to: 148, presses: 5, why: ['oneForAll'] }]);
    expect(card.hotC).toBeCloseTo(64.444, 3);
    expect(card.hotWishedC).toBeNull();
    expect(hot(warm, 70).steps).toEqual([]);
  });
  it('end where the monitor’s range ends, and that is said', () => {
    // 40 °C is 104 °F: the monitor begins at 120 °F, 48.9 °C. 120 °C would be 248 °F: it ends at 208 °F, 97.8 °C.
    expect(hot(warm, 40)).toMatchObject({ steps: [{ to: 120 }], hotWishedC: 40 });
    expect(hot(warm, 120)).toMatchObject({ steps: [{ to: 208 }], hotWishedC: 120 });
    expect(hot(warm, 120).hotC).toBeCloseTo(97.78, 2);
  });
  it('a low-temperature alert goes 5 K under the coldest start, or stays where it never sounds', () => {
    // -8 - 5 = -13 °C is 8.6 °F, at steps of 2 8 °F; it came at 0 °C, 32 °F.
    expect(hot(warm, 70, -8)).toMatchObject({ steps: [{ field: 'coldTemp', from: 32, to: 8, presses: 12, why: ['coldStart'] }] });
    expect(hot(warm, 70, -8).coldC).toBeCloseTo(-13.333, 3);
    expect(hot(warm, 70, 2).steps).toEqual([]);
    expect(hot(warm, 70).steps).toEqual([]);
    const keyed = asKeyed(hot(warm, 70, -8), '2026-05-01T08:00:00Z', 'loaded', null);
    expect(keyed.coldC).toBeCloseTo(-13.333, 3);
    expect(keyingCard(warm, [], keyed, -8).steps).toEqual([]);
  });
});
