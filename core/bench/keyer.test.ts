import { describe, expect, it } from 'vitest';
import { planKeying } from '../alarms/keying.ts';
import { chooseStop, freshKeyer, type KeyerKey, type KeyerSpec, keyerName, pressKey } from './keyer.ts';

const PSI = 6.894757293168;
const spec: KeyerSpec = { unit: 'psi', step: 1, min: 0, max: 188, presetLow: 100, presetHigh: 175, interlock: true };
const plain = { walk: 'group', first: 'low', wrap: 'forward' } as const;
const press = (keyer: ReturnType<typeof freshKeyer>, s: KeyerSpec, ...keys: KeyerKey[]) =>
  keys.map((k) => pressKey(keyer, k, s)).at(-1);

describe('the practice menu', () => {
  it('refuses what the interlock refuses', () => {
    const keyer = freshKeyer(['A1', 'B'], spec);
    press(keyer, spec, 'on');
    for (let i = 0; i < 7; i += 1) expect(pressKey(keyer, 'down10', spec)).toBe('taken');
    expect(pressKey(keyer, 'down10', spec)).toBe('refused');
    expect(keyer.shown).toMatchObject({ 'A1 low': 100, 'A1 high': 105 });
    expect(keyer.refusals).toBe(1);
    // A low stops under its high, and the range ends somewhere.
    const low = freshKeyer(['A1'], { ...spec, presetHigh: 102, min: 95 });
    expect(pressKey(low, 'up', { ...spec, presetHigh: 102 })).toBe('taken');
    expect(pressKey(low, 'up', { ...spec, presetHigh: 102 })).toBe('refused');
    expect(pressKey(low, 'down10', { ...spec, min: 95 })).toBe('refused');
    expect(pressKey(low, 'up', { ...spec, interlock: false })).toBe('taken');
  });
  it('followed by the card, it ends where the card says, without a refusal', () => {
    const plan = planKeying({ ...spec, groups: 'unit' }, [
      { axle: 'A1', unitKind: 'vehicle', lowKpa: 29 * PSI, highKpa: 44 * PSI },
      { axle: 'B1', unitKind: 'trailer', lowKpa: 72 * PSI, highKpa: 100 * PSI },
    ]);
    const keyer = freshKeyer(
      plan.groups.map((g) => g.group),
      spec,
    );
    for (const step of plan.steps) {
      while (keyerName(keyer.stops[keyer.at] ?? step) !== keyerName(step)) pressKey(keyer, 'on', spec);
      const key: KeyerKey = step.to > step.from ? 'up' : 'down';
      for (let i = 0; i < step.presses; i += 1) expect(pressKey(keyer, key, spec, { intended: step.group })).toBe('taken');
    }
    press(keyer, spec, 'ok');
    expect(keyer.saved).toEqual({ 'A1 low': 29, 'A1 high': 44, 'B low': 72, 'B high': 100 });
    expect(keyer.wrongAxle).toEqual([]);
  });
  it('notices the wrong axle, and forgets what was not saved', () => {
    const keyer = freshKeyer(['A1', 'A2'], spec);
    pressKey(keyer, 'down10', spec, { intended: 'A2' });
    expect(keyer.wrongAxle).toEqual(['A1']);
    press(keyer, spec, 'leave');
    expect(keyer).toMatchObject({ leftUnsaved: 1, shown: { 'A1 low': 100, 'A1 high': 175 } });
    const byItself: KeyerSpec = { ...spec, saves: 'byItself' };
    const kept = freshKeyer(['A1'], byItself);
    press(kept, byItself, 'down10', 'leave');
    expect(kept).toMatchObject({ leftUnsaved: 0, saved: { 'A1 low': 90 } });
  });
  it('goes by group or by limit, on and round, back only where the menu does, and chooses only where it may', () => {
    const order = (s: KeyerSpec) => freshKeyer(['A1', 'B'], s).stops.map(keyerName);
    expect(order(spec)).toEqual(['A1 low', 'A1 high', 'B low', 'B high']);
    expect(order({ ...spec, presetHotC: 70, menu: { ...plain, walk: 'limit', first: 'high' } })).toEqual([
      'A1 high',
      'B high',
      'A1 low',
      'B low',
      'all hot',
    ]);
    expect(order({ ...spec, presetHigh: null })).toEqual(['A1 low', 'B low']);
    expect(order({ ...spec, menu: { ...plain, groups: 3 } })).toHaveLength(6);
    const keyer = freshKeyer(['A1', 'B'], spec);
    press(keyer, spec, 'on', 'on', 'on', 'on', 'on');
    expect(keyer.at).toBe(1);
    expect(() => pressKey(keyer, 'back', spec)).toThrow(expect.objectContaining({ pointer: '/key' }));
    const both: KeyerSpec = { ...spec, menu: { ...plain, wrap: 'both', opens: 'last' } };
    const back = freshKeyer(['A1', 'B'], both);
    expect(back.at).toBe(2);
    press(back, both, 'back', 'back', 'back');
    expect(back.at).toBe(3);
    expect(() => chooseStop(back, 0, both)).toThrow(expect.objectContaining({ pointer: '/stop' }));
    const free: KeyerSpec = { ...spec, menu: { ...plain, order: 'free' } };
    chooseStop(back, 0, free);
    expect(back.at).toBe(0);
    expect(() => chooseStop(back, 9, free)).toThrow(expect.objectContaining({ pointer: '/stop' }));
  });
  it('a value that isn’t confirmed is lost when one goes on, a page when one leaves it', () => {
    const s: KeyerSpec = { ...spec, saves: 'longPress', menu: { ...plain, confirmValue: 'short', confirmPage: 'long' } };
    const keyer = freshKeyer(['A1', 'B'], s);
    press(keyer, s, 'down10', 'on');
    expect(keyer).toMatchObject({ lost: 1, shown: { 'A1 low': 100 } });
    // The wrong press isn't taken; the right one confirms the value, then the page.
    press(keyer, s, 'down10');
    expect(press(keyer, s, 'okLong')).toBe('refused');
    expect(press(keyer, s, 'ok')).toBe('taken');
    expect(press(keyer, s, 'ok')).toBe('refused');
    expect(keyer.entered['A1 high']).toBe(165);
    press(keyer, s, 'on');
    expect(keyer).toMatchObject({ lost: 2, shown: { 'A1 high': 175 } });
    press(keyer, s, 'down10', 'ok', 'okLong', 'on');
    expect(keyer).toMatchObject({ lost: 2, kept: { 'B low': 90 } });
    // The end takes a long press here.
    expect(press(keyer, s, 'ok')).toBe('refused');
    expect(press(keyer, s, 'okLong')).toBe('taken');
    expect(keyer.saved).toMatchObject({ 'A1 low': 100, 'B low': 90 });
    // On the same page one may go to and fro without confirming it.
    press(keyer, s, 'on');
    press(keyer, s, 'down10', 'ok', 'on', 'on');
    expect(keyer.lost).toBe(3);
    press(keyer, s, 'on', 'on');
    press(keyer, s, 'down10', 'ok', 'on', 'down10', 'ok', 'okLong', 'on');
    expect(keyer).toMatchObject({ lost: 3, kept: { 'A1 low': 90, 'A1 high': 165 } });
  });
  it('closes by itself after its time, and what wasn’t saved is lost', () => {
    const s: KeyerSpec = { ...spec, menu: { ...plain, timeoutS: 20 } };
    const keyer = freshKeyer(['A1'], s);
    pressKey(keyer, 'down10', s, { nowS: 100 });
    expect(pressKey(keyer, 'down10', s, { nowS: 120 })).toBe('taken');
    expect(pressKey(keyer, 'down10', s, { nowS: 141 })).toBe('refused');
    expect(keyer).toMatchObject({ timedOut: 1, shown: { 'A1 low': 100 }, at: 0 });
    expect(pressKey(keyer, 'down10', s, { nowS: 500 })).toBe('taken');
    pressKey(keyer, 'ok', s, { nowS: 501 });
    // With all of it saved nothing is lost.
    expect(pressKey(keyer, 'on', s, { nowS: 600 })).toBe('refused');
    expect(keyer).toMatchObject({ timedOut: 1, saved: { 'A1 low': 90 } });
  });
  it('keys a baseline tire by tire, and temperatures in its own unit', () => {
    const s: KeyerSpec = {
      ...spec,
      groups: 'baseline',
      presetBaseline: 60,
      presetHotC: 70,
      presetColdC: -10,
      tempUnit: 'F',
      hotStep: 2,
      hotMax: 160,
    };
    const keyer = freshKeyer(['A1 wheel 1', 'A1 wheel 2'], s);
    // 70 °C is 158 °F, -10 °C is 14 °F.
    expect(keyer.shown).toEqual({ 'A1 wheel 1 baseline': 60, 'A1 wheel 2 baseline': 60, 'all hot': 158, 'all coldTemp': 14 });
    press(keyer, s, 'up', 'on', 'on', 'up');
    expect(press(keyer, s, 'up')).toBe('refused');
    press(keyer, s, 'ok');
    expect(keyer.saved).toMatchObject({ 'A1 wheel 1 baseline': 61, 'all hot': 160 });
    expect(freshKeyer(['A1'], { ...s, presetBaseline: undefined, min: 12.5 }).shown['A1 baseline']).toBe(13);
  });
  it('without groups there is nothing to key', () => {
    expect(() => pressKey(freshKeyer([], spec), 'up', spec)).toThrow(expect.objectContaining({ pointer: '/key' }));
  });
});
