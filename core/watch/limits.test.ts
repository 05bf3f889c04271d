import { describe, expect, it } from 'vitest';
import { limitsInForce, lowInForce } from './limits.ts';

const cold = { kpa: 240, tempC: 20 };
const limits = { rule: { school: 'share' as const }, lowKpa: 216, highKpa: 288, hotC: 70 };

it('is the owner’s where there is one', () => {
  expect(lowInForce({ cold, limits })).toEqual({ lowKpa: 216, assumed: false });
});

// 49 CFR 571.138 S4.2 (from memory): a warning at 25 % under the recommended cold pressure. 240 - 60 = 180.
it('is 25 % under the cold target where there is none', () => {
  expect(lowInForce({ cold })).toEqual({ lowKpa: 180, assumed: true });
  expect(lowInForce({ cold, limits: { ...limits, lowKpa: null } })).toEqual({ lowKpa: 180, assumed: true });
});

it('is none where there is not even a cold target', () => {
  expect(lowInForce({})).toEqual({ lowKpa: null, assumed: false });
});

describe('a monitor that derives its limits from a baseline', () => {
  const monitor = {
    groups: 'baseline' as const,
    derives: { lowShare: 0.11, highShare: 0.22 },
    unit: 'bar' as const,
    step: 0.1,
    min: 0.5,
    max: 6,
  };
  const own = {
    cold: { kpa: 244, tempC: 18 },
    limits: { rule: { school: 'baseline' as const }, lowKpa: null, highKpa: null, hotC: 74 },
  };
  it('rings at its shares of the baseline as it is keyed: 244 kPa is 2.4 bar', () => {
    const found = limitsInForce(own, monitor);
    expect(found.lowKpa).toBeCloseTo(213.6, 6);
    expect(found.highKpa).toBeCloseTo(292.8, 6);
    expect(found.assumed).toBe(false);
    expect(limitsInForce(own, { ...monitor, derives: { lowShare: 0.2, highShare: null } }).highKpa).toBeNull();
  });
  it('is stood in for at 25 % while its shares are unknown, or the rig has another monitor', () => {
    const { derives: _d, ...unknown } = monitor;
    for (const m of [null, unknown, { ...monitor, groups: 'axle' as const }])
      expect(limitsInForce(own, m)).toEqual({ lowKpa: 183, highKpa: null, assumed: true });
  });
  it('the owner’s own limits win', () => {
    const limits = { ...own.limits, rule: { school: 'share' as const }, lowKpa: 220, highKpa: 290 };
    expect(limitsInForce({ ...own, limits }, monitor)).toEqual({ lowKpa: 220, highKpa: 290, assumed: false });
  });
});
