import { describe, expect, it } from 'vitest';
import { operations } from '../operations.ts';
import { baselineFor, type HeldAxle, type HeldMonitor, heldLimits } from './held.ts';

// Worked by hand from the rules of the contract: a group takes the highest low and the lowest high, low rounds up and high down to the step.
const bar = (v: number) => v * 100;
const psi = (v: number) => v * 6.894757293168;
const dash: HeldMonitor = {
  groups: 'rearWithTrailer',
  unit: 'bar',
  step: 0.1,
  min: 0.5,
  max: 6.4,
  presetLow: 1.7,
  presetHigh: 2.9,
  interlock: true,
};
const axle = (code: string, cold: number, low: number | null, high: number | null, more: Partial<HeldAxle> = {}): HeldAxle => ({
  axle: code,
  unitKind: code.startsWith('A') ? 'vehicle' : 'trailer',
  coldKpa: bar(cold),
  lowKpa: low === null ? null : bar(low),
  highKpa: high === null ? null : bar(high),
  ...more,
});
const figures = (list: ReturnType<typeof heldLimits>, unit = 100) =>
  list.map((h) => [
    h.axle,
    h.heldLowKpa === null ? null : Number((h.heldLowKpa / unit).toFixed(3)),
    h.heldHighKpa === null ? null : Number((h.heldHighKpa / unit).toFixed(3)),
    h.verdicts.join(),
  ]);

describe('the limits that a monitor ends with', () => {
  it('a car of 2.4 bar behind whose rear axle a trailer of 4.0 bar shares one pair: the rear rings always', () => {
    const held = heldLimits(dash, [
      axle('A1', 2.3, 2.07, 2.76),
      axle('A2', 2.4, 2.16, 2.88),
      axle('B1', 4.0, 3.6, 4.8, { loadMinimumKpa: bar(3.4) }),
    ]);
    // Rear and trailer: low max(2.16, 3.6) = 3.6; high min(2.88, 4.8) is under it, so the highest high, 4.8.
    expect(figures(held)).toEqual([
      ['A1', 2.1, 2.7, 'ok'],
      ['A2', 3.6, 4.8, 'rings-always'],
      ['B1', 3.6, 4.8, 'ok'],
    ]);
  });

  it('a display to 5 bar on a trailer of 80 psi: what it can reach leaves the load minimum unguarded', () => {
    const small: HeldMonitor = { ...dash, groups: 'axle', max: 5, min: 1 };
    // 72 psi is 4.964 bar, up to 5.0; 96 psi is 6.619 bar, clamped to 5.0: no high over the low, so nothing can be keyed and the presets stay.
    const held = heldLimits(small, [
      {
        axle: 'B1',
        unitKind: 'trailer',
        coldKpa: psi(80),
        lowKpa: psi(72),
        highKpa: psi(96),
        hotRunKpa: psi(88),
        loadMinimumKpa: psi(70),
      },
    ]);
    expect(figures(held)).toEqual([['B1', 1.7, 2.9, 'rings-always,nuisance-high,unprotected-low']]);
  });

  it('nuisances and a load that is not carried are those of the held pair, met exactly counts', () => {
    const one = (more: Partial<HeldAxle>) =>
      figures(heldLimits({ ...dash, groups: 'axle' }, [axle('A1', 2.5, 2.15, 2.95, more)]))[0];
    // Held: 2.2 and 2.9 bar.
    expect(one({})).toEqual(['A1', 2.2, 2.9, 'ok']);
    expect(one({ coldestStartKpa: bar(2.2) })?.[3]).toBe('nuisance-low');
    expect(one({ coldestStartKpa: bar(2.21) })?.[3]).toBe('ok');
    expect(one({ hotRunKpa: bar(2.9) })?.[3]).toBe('nuisance-high');
    expect(one({ hotRunKpa: bar(2.89) })?.[3]).toBe('ok');
    expect(one({ loadMinimumKpa: bar(2.2) })?.[3]).toBe('ok');
    expect(one({ loadMinimumKpa: bar(2.21) })?.[3]).toBe('unprotected-low');
  });

  it('what nobody wants stays as shown: the preset, or what was keyed before', () => {
    const byAxle: HeldMonitor = { ...dash, groups: 'axle' };
    expect(figures(heldLimits(byAxle, [axle('A1', 2.4, null, null)]))).toEqual([['A1', 1.7, 2.9, 'ok']]);
    expect(figures(heldLimits(byAxle, [axle('A1', 2.4, null, null)], { A1: { low: 2.4, high: 3.3 } }))).toEqual([
      ['A1', 2.4, 3.3, 'rings-always'],
    ]);
    expect(figures(heldLimits({ ...byAxle, presetLow: null }, [axle('A1', 2.4, 2.1, 2.8)]))).toEqual([
      ['A1', null, 2.8, 'unguarded'],
    ]);
    // A preset high at or under cold rings always: the kit of a car on a van.
    expect(figures(heldLimits(byAxle, [axle('A1', 2.9, 2.5, null)]))[0]?.[3]).toBe('rings-always');
  });

  it('a low that the interlock pushes its high away from', () => {
    // The low at 3.6 needs the unwanted preset high of 2.9 moved: one step over it.
    expect(figures(heldLimits({ ...dash, groups: 'axle' }, [axle('A1', 4, 3.6, null)]))).toEqual([
      ['A1', 3.6, 3.7, 'rings-always'],
    ]);
  });

  it('a baseline: the nearest step to cold, and both limits from it', () => {
    const console: HeldMonitor = {
      ...dash,
      groups: 'baseline',
      unit: 'psi',
      step: 1,
      min: 10,
      max: 110,
      derives: { lowShare: 0.11, highShare: 0.22 },
    };
    // 61.4 psi keys 61: 61 * 0.89 = 54.29, 61 * 1.22 = 74.42. 61.5 keys 62.
    expect(baselineFor(console, psi(61.4))).toBe(61);
    expect(baselineFor(console, psi(61.5))).toBe(62);
    const held = heldLimits(console, [
      {
        axle: 'A1',
        unitKind: 'vehicle',
        coldKpa: psi(61.4),
        lowKpa: null,
        highKpa: null,
        coldestStartKpa: psi(54),
        hotRunKpa: psi(70),
      },
      // Over its range: keyed 110, low 97.9 and high 134.2, both under a cold of 140.
      { axle: 'B1', unitKind: 'trailer', coldKpa: psi(140), lowKpa: null, highKpa: null },
    ]);
    expect(figures(held, psi(1))).toEqual([
      ['A1', 54.29, 74.42, 'nuisance-low'],
      ['B1', 97.9, 134.2, 'rings-always'],
    ]);
    const lowOnly = heldLimits({ ...console, derives: { lowShare: 0.2, highShare: null } }, [axle('A1', 2.5, null, null)]);
    expect(lowOnly[0]?.heldHighKpa).toBeNull();
    expect(() => heldLimits({ ...console, derives: undefined }, [axle('A1', 2.5, null, null)])).toThrow(
      expect.objectContaining({ pointer: '/monitor/derives' }),
    );
  });

  it('wheel by wheel, the wheel that rings first counts where they stay as shown', () => {
    const wheels: HeldMonitor = { ...dash, groups: 'wheel' };
    const shown = { 'A1 wheel 1': { low: 1.9, high: 3.1 }, 'A1 wheel 2': { low: 2.0, high: 3.3 } };
    expect(figures(heldLimits(wheels, [axle('A1', 2.5, null, null)], shown))).toEqual([['A1', 2, 3.1, 'ok']]);
  });

  it('is published as an operation, and an axle named twice is refused at its field', () => {
    const ask = operations['alarms.held'];
    expect(ask({ monitor: { ...dash, groups: 'axle' }, axles: [axle('A1', 2.4, 2.1, 2.8)] })).toEqual({
      axles: [{ axle: 'A1', heldLowKpa: bar(2.1), heldHighKpa: bar(2.8), verdicts: ['ok'] }],
    });
    expect(() => ask({ monitor: dash, axles: [axle('A1', 2.4, 2.1, 2.8), axle('A1', 2.4, 2.1, 2.8)] })).toThrow(
      expect.objectContaining({ pointer: '/axles/1/axle' }),
    );
  });
});
