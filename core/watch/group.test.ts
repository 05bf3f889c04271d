import { describe, expect, it } from 'vitest';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { groupAlarms, loadState, timeToLoadMinimum, timeToLow } from './group.ts';

const alarm = (position: string, kind: Alarm['kind'], change: Partial<Alarm> = {}): Alarm => ({
  id: `${position}${kind}`,
  rigId: 'r',
  position,
  sensorId: 'A00001',
  kind,
  severity: kind === 'low' || kind === 'rapid' ? 'stop' : kind === 'silent' ? 'note' : 'look',
  fromTime: '2026-05-01T08:00:00.000Z',
  toTime: null,
  acknowledgedAt: null,
  limit: 450,
  value: 440,
  worst: 440,
  evidence: null,
  practice: false,
  ...change,
});
const wheel = (position: string, change: Partial<WheelView> = {}): WheelView => ({
  position,
  sensorId: 'A00001',
  sensorKind: 'cap',
  state: 'live',
  pressureKpa: 470,
  tempC: 20,
  time: '2026-05-01T08:00:00.000Z',
  ageS: 1,
  practice: false,
  coldKpa: 500,
  coldTempC: 20,
  lowKpa: 450,
  lowAssumed: false,
  highKpa: 600,
  hotC: 70,
  expectedKpa: null,
  heldKpa: 500,
  heldLowKpa: 490,
  heldHighKpa: 510,
  loadMinimumKpa: 400,
  aheadTime: null,
  askedTime: null,
  offTime: null,
  filling: false,
  source: 'live',
  second: null,
  active: [],
  ...change,
});

describe('groups', () => {
  it('a spare asks for no stop, and comes after the wheels that roll', () => {
    const low = { heldHighKpa: 440 };
    const groups = groupAlarms(
      [alarm('BS1', 'low'), alarm('B1L', 'slow'), alarm('A1L', 'low')],
      [wheel('BS1', low), wheel('B1L', low), wheel('A1L', low)],
    );
    expect(groups.map((g) => [g.key, g.severity])).toEqual([
      ['A1L', 'stop'],
      ['B1L', 'look'],
      ['BS1', 'look'],
    ]);
  });

  it('several causes on one wheel are one alarm, the most urgent part first', () => {
    const groups = groupAlarms(
      [alarm('B2L', 'slow'), alarm('B2L', 'low'), alarm('B1R', 'silent')],
      [wheel('B2L', { heldHighKpa: 440 })],
    );
    expect(groups.map((g) => [g.key, g.severity, g.parts.map((p) => p.kind)])).toEqual([
      ['B2L', 'stop', ['low', 'slow']],
      ['B1R', 'note', ['silent']],
    ]);
  });

  it('low on all wheels of a cold morning is one notice, and no reason to stop', () => {
    const wheels = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p));
    const groups = groupAlarms(
      wheels.map((w) => alarm(w.position, 'low')),
      wheels,
    );
    expect(groups).toHaveLength(1);
    expect(groups[0]).toMatchObject({ cold: true, severity: 'look', positions: ['A1L', 'A1R', 'A2L', 'A2R'] });
  });

  it('one of them that lost air stands on its own', () => {
    const wheels = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p, p === 'A2R' ? { heldHighKpa: 450 } : {}));
    const groups = groupAlarms(
      wheels.map((w) => alarm(w.position, 'low')),
      wheels,
    );
    expect(groups.map((g) => [g.key, g.severity])).toEqual([
      ['A2R', 'stop'],
      ['cold', 'look'],
    ]);
  });

  it('a cold that leaves a tire unable to carry its load is a reason to stop', () => {
    const wheels = ['A1L', 'A1R'].map((p) => wheel(p, { loadMinimumKpa: 520 }));
    expect(
      groupAlarms(
        wheels.map((w) => alarm(w.position, 'low')),
        wheels,
      )[0]?.severity,
    ).toBe('stop');
  });
});

describe('load', () => {
  it('compares cold with cold, and says how sure it is', () => {
    expect(loadState(wheel('A1L'))).toBe('carries');
    expect(loadState(wheel('A1L', { loadMinimumKpa: 505 }))).toBe('perhaps');
    expect(loadState(wheel('A1L', { loadMinimumKpa: 511 }))).toBe('cannot');
    expect(loadState(wheel('A1L', { loadMinimumKpa: null }))).toBe('unknown');
  });

  it('tells the time left by the rate of the loss', () => {
    // By hand: 100 kPa at 24 kPa a day is 100 h, at 48 a day from 90 kPa it is 45 h.
    const slow = alarm('A1L', 'slow', { evidence: { rateKpaPerDay: -24, rateLowKpaPerDay: -48 } });
    expect(timeToLoadMinimum(wheel('A1L'), [slow])).toEqual({
      likelyS: 360_000,
      // A sensor that reads 1 psi too much leaves 83.105 kPa: at 48 a day 1.73136 days.
      shortestS: expect.closeTo(149_589, 0),
    });
    // 20 kPa over the low limit at 24 a day: 20 h.
    expect(timeToLow(wheel('A1L'), [slow])?.likelyS).toBeCloseTo(72_000, 6);
    // Heard 15 h ago, 5 h are left; it cannot be less than none.
    expect(timeToLow(wheel('A1L', { state: 'asleep', ageS: 54_000 }), [slow])?.likelyS).toBeCloseTo(18_000, 6);
    expect(timeToLow(wheel('A1L', { state: 'asleep', ageS: 90_000 }), [slow])).toEqual({ likelyS: 0, shortestS: 0 });
    expect(timeToLoadMinimum(wheel('A1L', { heldKpa: 390 }), [slow])).toBeNull();
    expect(timeToLow(wheel('A1L'), [alarm('A1L', 'high')])).toBeNull();
  });
});
