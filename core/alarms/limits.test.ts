import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AlarmRule } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { limitsFor } from './limits.ts';

const PSI = 6.894757293168;

describe('limitsFor', () => {
  it('says why, as data', () => {
    expect(limitsFor({ school: 'share' }, 500).why).toEqual([
      { field: 'low', code: 'shareUnderCold', share: 0.1, ofKpa: 500 },
      { field: 'high', code: 'shareOverCold', share: 0.2, ofKpa: 500 },
    ]);
  });

  it('a given share wins over the hot climate', () => {
    expect(limitsFor({ school: 'share', hotClimate: true, highShare: 0.15 }, 100).highKpa).toBeCloseTo(115, 9);
  });

  it.each<[string, AlarmRule, number, string]>([
    ['a margin wider than the pressure', { school: 'margin', marginKpa: 300 }, 250, '/marginKpa'],
    ['the usual margin on a soft tire', { school: 'margin' }, 14 * PSI, '/coldKpa'],
    ['a rating so high that its low is over cold', { school: 'rating', ratingKpa: 600 }, 400, '/ratingKpa'],
    ['a floor over cold', { school: 'floorCeiling', floorKpa: 300, ceilingKpa: 400 }, 250, '/floorKpa'],
    ['a ceiling under cold', { school: 'floorCeiling', floorKpa: 200, ceilingKpa: 240 }, 250, '/ceilingKpa'],
    ['rounding that swallows the low', { school: 'rough', roundKpa: 500 }, 200, '/roundKpa'],
    ['a floor of the regulation over cold', { school: 'regulation', floorKpa: 260 }, 250, '/floorKpa'],
    ['no pressure', { school: 'share' }, 0, '/coldKpa'],
  ])('refuses %s at its field', (_, rule, cold, pointer) => {
    expect(() => limitsFor(rule, cold)).toThrow(expect.objectContaining({ pointer }));
  });

  it('every school keeps 0 < low < cold < high, or refuses', () => {
    const rule = fc.oneof<fc.Arbitrary<AlarmRule>[]>(
      fc.record({ school: fc.constant('share' as const), lowShare: fc.double({ min: 0.01, max: 0.99, noNaN: true }) }),
      fc.record({ school: fc.constant('margin' as const), marginKpa: fc.double({ min: 1, max: 900, noNaN: true }) }),
      fc.record({ school: fc.constant('rating' as const), ratingKpa: fc.double({ min: 50, max: 1000, noNaN: true }) }),
      fc.record({ school: fc.constant('rough' as const), roundKpa: fc.double({ min: 1, max: 200, noNaN: true }) }),
      fc.record({ school: fc.constant('regulation' as const), floorKpa: fc.double({ min: 0, max: 400, noNaN: true }) }),
    );
    fc.assert(
      fc.property(rule, fc.double({ min: 1, max: 1000, noNaN: true }), (r, cold) => {
        try {
          const { lowKpa, highKpa } = limitsFor(r, cold);
          if (lowKpa !== null) expect(lowKpa > 0 && lowKpa < cold).toBe(true);
          if (highKpa !== null) expect(highKpa).toBeGreaterThan(cold);
        } catch (e) {
          expect(e).toBeInstanceOf(FieldError);
        }
      }),
    );
  });
});
