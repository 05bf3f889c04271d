import { describe, expect, it } from 'vitest';
import type { AlarmRule } from '#schema/unit.ts';
import { limitsFor } from './limits.ts';

const PSI = 6.894757293168; // NIST SP 811

// The schools' worked figures: common practice, no source. In psi unless the line says otherwise.
describe('the schools against the trade’s worked figures', () => {
  const cases: [string, AlarmRule, number, number | null, number | null][] = [
    ['share of normal, 100 psi', { school: 'share' }, 100, 90, 120],
    ['share of normal, 100 psi, hot climate', { school: 'share', hotClimate: true }, 100, 90, 125],
    ['from the rating of 80, cold 80', { school: 'rating', ratingKpa: 80 * PSI }, 80, 68, 100],
    ['fixed margin, 65 psi', { school: 'margin' }, 65, 50, 80],
    ['rough rounding, 110 psi', { school: 'rough' }, 110, 100, 140],
    ['floor and ceiling, car', { school: 'floorCeiling', floorKpa: 28 * PSI, ceilingKpa: 41 * PSI }, 35, 28, 41],
    // 2.0 bar gives 1.8 bar
    ['low only, 2.0 bar', { school: 'lowOnly' }, 200 / PSI, 180 / PSI, null],
    ['baseline, 80 psi', { school: 'baseline' }, 80, null, null],
    // 49 CFR 571.138 S4.2 and table 1, from memory: 25 % under recommended cold or the floor, the higher
    ['regulation, 240 kPa, floor 140 kPa', { school: 'regulation', floorKpa: 140 }, 240 / PSI, 180 / PSI, null],
    ['regulation, 180 kPa, floor 140 kPa', { school: 'regulation', floorKpa: 140 }, 180 / PSI, 140 / PSI, null],
  ];
  it.each(cases)('%s', (_, rule, cold, low, high) => {
    const got = limitsFor(rule, cold * PSI);
    if (low === null) expect(got.lowKpa).toBeNull();
    else expect((got.lowKpa as number) / PSI).toBeCloseTo(low, 6);
    if (high === null) expect(got.highKpa).toBeNull();
    else expect((got.highKpa as number) / PSI).toBeCloseTo(high, 6);
  });
});
