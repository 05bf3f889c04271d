import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import { type GuardedAxle, heldOn, isAccepted, stopsOf, waysOut } from './rig-held.ts';

const bar = (v: number) => v * 100;
const psi = (v: number) => v * 6.894757293168;
const monitor = (change: Partial<Monitor>): Monitor => ({
  id: 'm',
  version: 1,
  name: 'Dash',
  groups: 'rearWithTrailer',
  unit: 'bar',
  step: 0.1,
  min: 0.5,
  max: 6.4,
  presetLow: 1.7,
  presetHigh: 2.9,
  presetHotC: 74,
  interlock: true,
  positionsPerUnit: 6,
  units: 2,
  showsIds: true,
  canDisconnect: true,
  ...change,
});
const axle = (
  code: string,
  coldKpa: number,
  low: number | null,
  high: number | null,
  more: Partial<GuardedAxle> = {},
): GuardedAxle => ({
  code,
  unitKind: code.startsWith('A') ? 'vehicle' : 'trailer',
  wheels: 2,
  setting: {
    cold: { kpa: coldKpa, tempC: 18 },
    limits: { rule: { school: 'share' }, lowKpa: low, highKpa: high, hotC: 74 },
  },
  ...more,
});
/** A car of 2.3 and 2.4 bar with a trailer of 4.0 behind it. */
const tow = [
  axle('A1', bar(2.3), bar(2.07), bar(2.76)),
  axle('A2', bar(2.4), bar(2.16), bar(2.88)),
  axle('B1', bar(4), bar(3.6), bar(4.8)),
];
const codes = (list: ReturnType<typeof stopsOf>) => list.map((s) => `${s.axle} ${s.code}`);

describe('stops', () => {
  it('the car of 2.4 bar with a trailer of 4.0 on one shared pair: the rear axle rings always, and with whom it shares', () => {
    const stops = stopsOf(monitor({}), tow);
    expect(codes(stops)).toEqual(['A2 rings-always']);
    expect(stops[0]).toMatchObject({ with: ['B1'] });
    expect(stops[0]?.heldLowKpa).toBeCloseTo(bar(3.6), 6);
    expect(codes(stopsOf(monitor({ groups: 'axle' }), tow))).toEqual([]);
  });
  it('a display to 5 bar on a trailer of 80 psi can’t be keyed, and its presets ring always and guard nothing', () => {
    const trailer = axle('B1', psi(80), psi(72), psi(96), { loadMinimumKpa: psi(70), hotRunKpa: psi(88) });
    const stops = stopsOf(monitor({ groups: 'axle', max: 5, min: 1 }), [trailer]);
    expect(codes(stops)).toEqual(['B1 rings-always', 'B1 unprotected-low', 'B1 out-of-reach']);
    // A low-only rule is clamped to what it has: 72 psi is 4.96 bar and fits.
    expect(
      codes(stopsOf(monitor({ groups: 'axle', max: 5, min: 1, presetHigh: null }), [axle('B1', psi(80), psi(72), null)])),
    ).toEqual([]);
    expect(
      codes(stopsOf(monitor({ groups: 'axle', max: 4.5, min: 1, presetHigh: null }), [axle('B1', psi(80), psi(72), null)])),
    ).toEqual(['B1 out-of-reach']);
  });
  it('a nuisance by the day, a spare that doesn’t run, a tire that nothing guards', () => {
    const byAxle = monitor({ groups: 'axle' });
    const day = { coldestStartKpa: bar(2.1), hotRunKpa: bar(2.9) };
    expect(codes(stopsOf(byAxle, [axle('A1', bar(2.4), bar(2.16), bar(2.88), day)]))).toEqual([
      'A1 nuisance-low',
      'A1 nuisance-high',
    ]);
    expect(codes(stopsOf(byAxle, [axle('AS1', bar(2.4), bar(2.0), bar(2.88), { ...day, spare: true })]))).toEqual([]);
    expect(codes(stopsOf(monitor({ groups: 'axle', presetLow: null }), [axle('A1', bar(2.4), bar(2), bar(2.8))]))).toEqual([
      'A1 unguarded',
    ]);
  });
  it('a low far under cold, where the load is unknown: at a quarter it is as late as a factory monitor may be', () => {
    const byAxle = monitor({ groups: 'axle' });
    expect(codes(stopsOf(byAxle, [axle('A1', bar(2.4), bar(1.8), bar(2.8))]))).toEqual([]);
    const late = stopsOf(byAxle, [axle('A1', bar(2.4), bar(1.7), bar(2.8))]);
    expect(codes(late)).toEqual(['A1 late-low']);
    expect(late[0]?.lossKpa).toBeCloseTo(70, 6);
    // Where the load is known, that decides.
    expect(codes(stopsOf(byAxle, [axle('A1', bar(2.4), bar(1.7), bar(2.8), { loadMinimumKpa: bar(1.6) })]))).toEqual([]);
  });
  it('what it makes of a baseline isn’t guessed', () => {
    expect(heldOn(monitor({ groups: 'baseline' }), tow)).toEqual([]);
    expect(codes(stopsOf(monitor({ groups: 'baseline', derives: { lowShare: 0.1, highShare: 0.2 } }), tow))).toEqual([]);
  });
  it('a reason counts for the stops it was given for', () => {
    const stops = stopsOf(monitor({}), tow);
    const accepted = { stops: ['A2 rings-always'], words: 'the trailer is sold next week', at: '2026-05-01T08:00:00Z' };
    expect(isAccepted(undefined, [])).toBe(true);
    expect(isAccepted(undefined, stops)).toBe(false);
    expect(isAccepted(accepted, stops)).toBe(true);
    expect(isAccepted({ ...accepted, stops: ['A1 rings-always'] }, stops)).toBe(false);
  });
});

describe('ways out', () => {
  const small = monitor({ id: 's', name: 'Four bar box', groups: 'axle', max: 4 });
  const good = monitor({ id: 'g', name: 'Axle box', groups: 'axle' });
  it('of the 2.4 and 4.0 bar rig: the trailer by the app alone, a monitor by axle; the lowest low with what it costs', () => {
    const ways = waysOut(monitor({}), tow, () => undefined, [small, good]);
    expect(ways.map((w) => `${w.kind} ${w.left}`)).toEqual(['appAlone 0', 'otherMonitor 0', 'lowestLow 1']);
    expect(ways[1]).toMatchObject({ names: ['Axle box'] });
    const lowest = ways[2];
    if (lowest?.kind !== 'lowestLow') throw new Error('no lowest low');
    expect(lowest.lowKpa).toBeCloseTo(bar(2.16), 6);
    // B1 would ring only after 4.0 - 2.16 bar are lost.
    expect(lowest.unguarded.map((u) => [u.axle, Number(u.lossKpa.toFixed(1))])).toEqual([['B1', 184]]);
  });
  it('cold pressures that are nearer to each other, where the tires allow them', () => {
    // Lows at 0.9 of cold: the group's low is 3.6 bar until the rear is up to over 3.6, that is 3.65 by steps of 0.05.
    const ways = waysOut(monitor({}), tow, () => bar(4.5), []);
    const closer = ways.find((w) => w.kind === 'closerCold');
    expect(closer).toMatchObject({ axles: [{ axle: 'A2' }], left: 0 });
    if (closer?.kind === 'closerCold') expect(closer.axles[0]?.coldKpa).toBeCloseTo(bar(3.65), 6);
    expect(waysOut(monitor({}), tow, () => bar(3), []).some((w) => w.kind === 'closerCold')).toBe(false);
  });
  it('what rings by its own rule is the suggestion’s work, and a lesser thing than what rings for ever', () => {
    const cold = tow.map((a) => (a.code === 'A1' ? { ...a, coldestStartKpa: bar(2.05) } : a));
    const ways = waysOut(monitor({}), cold, () => undefined, [good]);
    expect(ways.map((w) => `${w.kind} ${w.left}`)).toEqual(['appAlone 1', 'otherMonitor 1', 'lowestLow 2', 'suggestion 1']);
    expect(ways[3]).toMatchObject({ axles: ['A1'] });
  });
  it('none where nothing has to be stopped at', () => {
    expect(waysOut(good, tow, () => undefined, [small])).toEqual([]);
  });
});

describe('a monitor with other groupings', () => {
  it('is a way out of its own: switched to limits by axle', () => {
    const able = monitor({ otherGroups: ['axle', 'all', 'rearWithTrailer'] });
    const ways = waysOut(able, tow, () => undefined, []);
    // All wheels together would be worse, and the grouping it has is no other.
    expect(ways[0]).toEqual({ kind: 'otherGrouping', groups: 'axle', left: 0 });
    expect(ways.filter((w) => w.kind === 'otherGrouping')).toHaveLength(1);
  });
});

describe('a monitor that corrects its pressures by itself', () => {
  // Set at 2.4 bar and 18 °C. At 20 °C that is (240 + 101.325) * 293.15 / 291.15 - 101.325 = 242.34 kPa, on a cold start and a hot run alike.
  const day = { coldestStartKpa: bar(2.1), hotRunKpa: bar(2.9) };
  const rear = axle('A1', bar(2.4), bar(2.2), bar(2.8), day);
  it('rings neither on a cold morning nor on a hot run', () => {
    expect(codes(stopsOf(monitor({ groups: 'axle' }), [rear]))).toEqual(['A1 nuisance-low', 'A1 nuisance-high']);
    expect(codes(stopsOf(monitor({ groups: 'axle', correctsToC: 20 }), [rear]))).toEqual([]);
    // What it shows for ever is what counts: brought to -20 °C it reads 195 kPa, under a low of 2.2 bar.
    expect(codes(stopsOf(monitor({ groups: 'axle', correctsToC: -20 }), [rear]))).toEqual(['A1 nuisance-low']);
  });
});
