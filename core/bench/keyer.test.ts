import { describe, expect, it } from 'vitest';
import { planKeying } from '../alarms/keying.ts';
import { freshKeyer, type KeyerKey, pressKey } from './keyer.ts';

const PSI = 6.894757293168;
const spec = { unit: 'psi' as const, step: 1, min: 0, max: 188, presetLow: 100, presetHigh: 175, interlock: true };

describe('the practice menu', () => {
  it('refuses what the interlock refuses', () => {
    const keyer = freshKeyer(['A1', 'B'], spec);
    pressKey(keyer, 'field', spec);
    for (let i = 0; i < 7; i += 1) expect(pressKey(keyer, 'down10', spec)).toBe('taken');
    expect(pressKey(keyer, 'down10', spec)).toBe('refused');
    expect(keyer.limits.A1).toEqual({ low: 100, high: 105 });
    expect(keyer.refusals).toBe(1);
  });
  it('followed by the card, it ends where the card says, without a refusal', () => {
    const plan = planKeying({ groups: 'unit', ...spec }, [
      { axle: 'A1', unitKind: 'vehicle', lowKpa: 29 * PSI, highKpa: 44 * PSI },
      { axle: 'B1', unitKind: 'trailer', lowKpa: 72 * PSI, highKpa: 100 * PSI },
    ]);
    const keyer = freshKeyer(
      plan.groups.map((g) => g.group),
      spec,
    );
    for (const step of plan.steps) {
      while (keyer.groups[keyer.at] !== step.group) pressKey(keyer, 'group', spec);
      if (keyer.field !== step.field) pressKey(keyer, 'field', spec);
      const key: KeyerKey = step.to > step.from ? 'up' : 'down';
      for (let i = 0; i < step.presses; i += 1) expect(pressKey(keyer, key, spec, step.group)).toBe('taken');
    }
    pressKey(keyer, 'save', spec);
    expect(keyer.saved).toEqual(plan.ends);
    expect(keyer.wrongAxle).toEqual([]);
  });
  it('notices the wrong axle, and forgets what was not saved', () => {
    const keyer = freshKeyer(['A1', 'A2'], spec);
    pressKey(keyer, 'down10', spec, 'A2');
    expect(keyer.wrongAxle).toEqual(['A1']);
    pressKey(keyer, 'leave', spec);
    expect(keyer.leftUnsaved).toBe(1);
    expect(keyer.limits.A1).toEqual({ low: 100, high: 175 });
  });
  it('one past the wanted group means all the way round', () => {
    const keyer = freshKeyer(['A1', 'A2', 'B'], spec);
    for (let i = 0; i < 4; i += 1) pressKey(keyer, 'group', spec);
    expect(keyer.groups[keyer.at]).toBe('A2');
  });
  it('a low-only monitor has no high to go to', () => {
    const low = { ...spec, presetHigh: null };
    const keyer = freshKeyer(['A1'], low);
    expect(pressKey(keyer, 'field', low)).toBe('refused');
    expect(pressKey(keyer, 'down', low)).toBe('taken');
  });
  it('without groups there is nothing to key', () => {
    expect(() => pressKey(freshKeyer([], spec), 'up', spec)).toThrow(expect.objectContaining({ pointer: '/key' }));
  });
});
