import { describe, expect, it } from 'vitest';
import type { LogEntry } from '#schema/unit.ts';
import { type SuspectQuestion, suspectsOf } from './suspects.ts';

const DAY = 86_400_000;
const NOW = Date.UTC(2026, 10, 26);
const slope = { perDay: -2, lowPerDay: -3, highPerDay: -1 };
const cap = { sensor: { id: 'A00001', kind: 'cap' as const }, stem: 'metal' as const };
const order = (change: Partial<SuspectQuestion> = {}) =>
  suspectsOf({
    leak: { verdict: 'leaking', fromMs: NOW - 40 * DAY, slope },
    wheel: cap,
    inner: false,
    log: [],
    nowMs: NOW,
    ...change,
  });
const first = (change: Partial<SuspectQuestion>) => {
  const [s] = order(change);
  return `${s?.code} ${s?.why.join()}`;
};
const entry = (kind: LogEntry['kind'], daysAgo: number): LogEntry => ({
  id: '5eed1090-0000-4000-8000-000000000001',
  at: new Date(NOW - daysAgo * DAY).toISOString(),
  kind,
});

describe('where to look first', () => {
  it('valve core, the sensor’s seat, tread, bead when nothing else is known (common practice, no source)', () => {
    expect(
      order()
        .map((s) => s.code)
        .slice(0, 4),
    ).toEqual(['core', 'seat', 'nail', 'bead']);
    expect(first({})).toBe('core steady');
  });
  it('the sensor’s seat after a new battery, not when that was long before', () => {
    expect(first({ log: [entry('cell', 45)] })).toBe('core handled,steady');
    expect(order({ log: [entry('cell', 45)] })[1]).toEqual({ code: 'seat', why: ['handled'] });
    expect(first({ log: [entry('cell', 90)] })).toBe('core steady');
    const paired = { ...cap, sensor: { ...cap.sensor, pairedAt: new Date(NOW - 50 * DAY).toISOString() } };
    expect(order({ wheel: paired })[1]?.why).toEqual(['handled']);
  });
  it('a nail where it fell at once, the bead after a new tire, the repair after a puncture', () => {
    expect(first({ leak: { verdict: 'fell', fromMs: NOW - 200 * DAY, slope } })).toBe('nail sudden');
    expect(first({ log: [entry('tire', 60)] })).toBe('bead newTire,steady');
    expect(first({ log: [entry('puncture', 60)] })).toBe('repair repaired');
    expect(order().map((s) => s.code)).not.toContain('repair');
  });
  it('the stem where a flow-through sits on rubber or it is old; the extension of an inner dual', () => {
    const flow = { sensor: { id: 'A00001', kind: 'flowThrough' as const }, stem: 'rubber' as const };
    expect(first({ wheel: flow })).toBe('stem rubberStem,onRubber');
    expect(order({ wheel: { ...cap, stem: 'rubber', stemYear: 2018 } })[0]?.why).toEqual(['rubberStem', 'oldStem']);
    expect(order({ wheel: { ...cap, stemYear: 2021 } }).find((s) => s.code === 'stem')?.why).toEqual([]);
    expect(order({ inner: true }).map((s) => s.code)).toContain('extension');
    expect(order().map((s) => s.code)).not.toContain('extension');
    // An internal sensor has no seat to be tightened.
    expect(order({ wheel: { sensor: { id: 'A00001', kind: 'internal' } } }).at(-1)?.code).toBe('seat');
  });
});
