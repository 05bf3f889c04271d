import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type FitQuestion, judgeFit, OLD_RUBBER_YEARS } from './fit.ts';

const base: FitQuestion = { kind: 'cap', stem: 'metal', year: 2026, motorcycle: false, dualInner: false };

// The rules are the trade's: common practice, no source.
describe('judgeFit', () => {
  it.each<[string, Partial<FitQuestion>, string, string[]]>([
    ['a cap on metal', {}, 'yes', ['metalStem']],
    ['a flow-through on metal', { kind: 'flowThrough' }, 'yes', ['metalStem']],
    ['a flow-through on rubber', { kind: 'flowThrough', stem: 'rubber' }, 'no', ['flowThroughOnRubber']],
    ['a cap on rubber, no school chosen', { stem: 'rubber', stemYear: 2025 }, 'care', ['schoolsDiffer']],
    ['a cap on rubber, light caps are fine', { stem: 'rubber', stemYear: 2025, school: 'lightCap' }, 'care', ['lightCapSchool']],
    ['a cap on rubber, metal only', { stem: 'rubber', stemYear: 2025, school: 'metalOnly' }, 'no', ['metalOnlySchool']],
    ['a cap on rubber of unknown age', { stem: 'rubber', school: 'lightCap' }, 'care', ['lightCapSchool', 'rubberAgeUnknown']],
    [
      'a cap on old rubber',
      { stem: 'rubber', stemYear: 2026 - OLD_RUBBER_YEARS, school: 'lightCap' },
      'no',
      ['oldRubber', 'lightCapSchool'],
    ],
    [
      'anything on rubber on a motorcycle',
      { stem: 'rubber', stemYear: 2026, motorcycle: true, school: 'lightCap' },
      'no',
      ['rubberOnMotorcycle', 'lightCapSchool'],
    ],
    ['a cap on metal on a motorcycle', { motorcycle: true }, 'yes', ['metalStem']],
    ['a stem nobody looked at', { stem: undefined }, 'care', ['stemUnknown']],
    ['a long stem', { stemForm: 'long' }, 'care', ['metalStem', 'longStem']],
    ['an extension', { stemForm: 'extension' }, 'care', ['metalStem', 'extension']],
    ['the inner wheel of a dual', { dualInner: true }, 'care', ['metalStem', 'dualInner']],
    [
      'an internal one, whatever the stem',
      { kind: 'internal', stem: 'rubber', motorcycle: true },
      'yes',
      ['shopWork', 'sealedCell'],
    ],
  ])('%s', (_, change, verdict, reasons) => {
    expect(judgeFit({ ...base, ...change })).toEqual({ verdict, reasons });
  });

  it('never lets a flow-through onto rubber, nor anything onto a motorcycle’s rubber', () => {
    fc.assert(
      fc.property(
        fc.record({
          kind: fc.constantFrom('cap' as const, 'flowThrough' as const),
          stemForm: fc.constantFrom(
            'short' as const,
            'standard' as const,
            'long' as const,
            'angled' as const,
            'extension' as const,
            undefined,
          ),
          stemYear: fc.option(fc.integer({ min: 1990, max: 2026 }), { nil: undefined }),
          motorcycle: fc.boolean(),
          dualInner: fc.boolean(),
          school: fc.constantFrom('lightCap' as const, 'metalOnly' as const, undefined),
        }),
        (q) => {
          const { verdict, reasons } = judgeFit({ ...q, stem: 'rubber', year: 2026 });
          if (q.kind === 'flowThrough' || q.motorcycle) expect(verdict).toBe('no');
          expect(verdict).not.toBe('yes');
          expect(reasons.length).toBeGreaterThan(0);
          expect(judgeFit({ ...q, stem: 'metal', year: 2026 }).verdict).not.toBe('no');
        },
      ),
    );
  });
});
