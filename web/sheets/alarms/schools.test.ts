import { expect, it } from 'vitest';
import { limitsFor } from '#core/alarms/limits.ts';
import type { AlarmRule } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { schools } from './schools.ts';

// What the sheet says a school usually does must be what the arithmetic does.
it.each(schools.map((s) => [s.school, s] as const))(
  '%s: the usual figures shown are those that hold when nothing is typed',
  (school, text) => {
    const needed = Object.fromEntries(
      text.parameters
        .filter((p) => p.usual === null)
        .map((p) => [p.key, { ratingKpa: 560, floorKpa: 400, ceilingKpa: 700 }[p.key as 'ratingKpa']]),
    );
    const usual = Object.fromEntries(
      text.parameters.filter((p) => p.usual !== null && p.usual !== 0).map((p) => [p.key, p.usual]),
    );
    const bare = { school, ...needed } as AlarmRule;
    expect(validators.rule({ rule: bare, hotC: 70 })).toBe(true);
    expect(limitsFor({ ...bare, ...usual } as AlarmRule, 550)).toEqual(limitsFor(bare, 550));
  },
);

it('has a text for every school there is, and each once', () => {
  expect(schools.map((s) => s.school).sort()).toEqual([
    'baseline',
    'floorCeiling',
    'lowOnly',
    'margin',
    'rating',
    'regulation',
    'rough',
    'share',
  ]);
});
