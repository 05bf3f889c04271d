import { describe, expect, it } from 'vitest';
import { groupAlarms } from '#core/watch/group.ts';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { openAlarm, watchView } from '../testing/mount.tsx';
import { plainFormat, steadyView } from '../testing/rigs.ts';
import { timeOfDay } from './format.ts';
import { alarmWords, evidenceRows, groupWords, loadWordsNow, sharedAdvice, withoutAdvice } from './words-alarms.ts';
import { kindWords } from './words-kinds.ts';

const f = plainFormat('kPa', 'C');
const now = '2026-05-01T08:00:00.000Z';
const six = timeOfDay('2026-05-01T06:00:00.000Z', now);
const words = (change: Partial<Alarm>, wheel = steadyView()) => alarmWords(openAlarm(change), wheel, f, now);

describe('advice', () => {
  const low = words({ kind: 'low' }).text;
  const fast = words({ kind: 'rapid', worst: 62 }).text;

  it('that two alarms share is said once', () => {
    const shared = sharedAdvice([low, fast]);
    expect(shared).toEqual(['Slow down gently, do not brake hard, and stop where it is safe.']);
    expect(withoutAdvice(fast, shared)).not.toContain('Slow down');
    expect(withoutAdvice(low, shared)).toMatch(/crossed \d\d:\d\d\. A tire run very low/);
    expect(sharedAdvice([low])).toEqual([]);
    expect(sharedAdvice([low, low])).toHaveLength(2);
  });

  it('a spare is filled before it is needed; nobody has to stop for it', () => {
    const spare = { ...steadyView(), position: 'BS1' };
    const { title, text } = words({ kind: 'low', position: 'BS1' }, spare);
    expect(title).toBe('BS1, the spare, is low');
    expect(text).toContain('fill or change it before you need it');
    expect(text).not.toMatch(/Slow down|comes off for inspection/);
    expect(words({ kind: 'rapid', position: 'BS1' }, spare).title).not.toContain('Stop');
  });
});

describe('what each alarm says', () => {
  it('rapid: how much, by now how much, and to slow down gently', () => {
    const { title, text } = words({ kind: 'rapid', limit: 14, value: 20, worst: 62, evidence: { lossKpa: 20 } });
    expect(title).toBe('Stop: A1L is losing air fast');
    expect(text).toBe(
      '20 kPa lost within two minutes when it was noticed, 62 kPa by now, corrected for temperature. It reads 500 kPa. Slow down gently, do not brake hard, and stop where it is safe.',
    );
  });

  it('slow: since when, how fast with its span, and how long to the low limit', () => {
    const slow = {
      kind: 'slow' as const,
      limit: 500,
      value: 470,
      worst: 470,
      evidence: {
        lossKpa: 30,
        sinceMs: Date.parse('2026-05-01T06:00:00Z'),
        rateKpaPerDay: -48,
        rateLowKpaPerDay: -60,
        rateHighKpaPerDay: -36,
      },
    };
    const { title, text } = words(slow, steadyView({ pressureKpa: 474 }));
    expect(title).toBe('A1L is losing air slowly');
    expect(text).toContain(`Its cold-equivalent pressure is about 30 kPa lower than at ${six}.`);
    expect(text).toContain('About 48 kPa a day (36 to 60).');
    // 24 kPa over the limit of 450 at 48 kPa a day: 12 hours, at 60 kPa a day 9.6.
    expect(text).toContain('it reaches its low limit in about 12 h, 10 h at the earliest');
    expect(text).toContain('Look for a nail');
    expect(words(slow, steadyView({ pressureKpa: 440 })).text).not.toContain('At this rate');
  });

  it('slow without a rate yet claims none', () => {
    const { text } = words({ kind: 'slow', limit: 500, value: 470, worst: 470, evidence: null });
    expect(text).toContain('about 30 kPa lower than at first');
    expect(text).not.toContain('a day');
  });

  it('apart by heat: how much, by which signs, its twin, and that a hub can burn', () => {
    const hot = { kind: 'apart' as const, limit: 11, value: 20, worst: 24 };
    expect(words({ ...hot, evidence: { how: 'hotter', overTempK: 24, overPressureK: 12, overTwinK: 18 } })).toEqual({
      title: 'A1L is 24 °C hotter than the other wheels on its axle',
      text: 'Temperature and pressure agree on this. The other tire of the pair is 18 °C cooler. A brake that drags or a bearing that fails shows this way first. Look at the hub at the next stop; it can burn you.',
    });
    expect(words({ ...hot, evidence: { how: 'hotter', overPressureK: 1, overTwinK: 2 } }).text).toMatch(
      /^Its temperature shows this\. The other tire of the pair is just as hot, as two tires on one hub are\./,
    );
  });

  it('apart by air', () => {
    const { title, text } = words({ kind: 'apart', limit: -30, value: -32, worst: -41, evidence: { how: 'lower' } });
    expect(title).toBe('A1L is lower than the other wheels on its axle');
    expect(text).toContain('41 kPa below the others');
  });

  it('silent: since when, at what, and that what it holds now is unknown', () => {
    const { title, text } = words({
      kind: 'silent',
      limit: 900,
      value: 497,
      worst: 900,
      evidence: { sinceMs: Date.parse('2026-05-01T06:00:00Z') },
    });
    expect(title).toBe('A1L is not reporting');
    expect(text).toContain(`Last heard ${six} at 497 kPa. Its pressure now is unknown.`);
  });

  it('a whole unit silent: was it left behind, or is it the repeater?', () => {
    const { title, text } = words({
      position: 'B',
      kind: 'silent',
      evidence: { how: 'unit', sinceMs: Date.parse('2026-05-01T06:00:00Z') },
    });
    expect(title).toBe('Unit B has stopped reporting');
    expect(text).toContain(`since ${six}`);
    expect(text).toMatch(/disconnect it\. Otherwise check the repeater/);
  });

  it('battery: as read and at 20 °C, older than it lives, and the repeater’s own', () => {
    const weak = { kind: 'battery' as const, severity: 'note' as const, limit: 2.7, value: 2.58, worst: 2.58 };
    expect(words({ ...weak, evidence: { volts: 2.5, voltsAt20: 2.58 } }).text).toMatch(/^2\.50 V, which is 2\.58 V at 20 °C\. /);
    expect(words({ ...weak, evidence: { volts: 2.5, oldCell: true } }).text).toContain('older than such batteries last');
    expect(words({ ...weak, position: 'B', limit: 11.8, value: 11.5, worst: 11.2 })).toMatchObject({
      title: 'The repeater’s supply is weak',
      text: expect.stringMatching(/^11\.2 V at .*; below 11\.8 V is weak\./),
    });
  });

  it.each(['asleep', 'old', 'silent'] as const)(
    'low of a wheel that is %s gives the last value as the last, with its age',
    (state) => {
      const view = steadyView({ state, pressureKpa: 435, ageS: 1200 });
      expect(words({ worst: 431 }, view).text).toMatch(/^Last value 435 kPa, 20 min old, low alarm/);
    },
  );

  it('hot: what the sensor says now, what it said at most, and never an old figure as one of now', () => {
    const hot = { kind: 'hot' as const, limit: 70, value: 71, worst: 76 };
    expect(words(hot, steadyView({ tempC: 76 })).text).toMatch(/^The sensor says 76 °C, limit/);
    expect(words(hot, steadyView({ tempC: 72 })).text).toMatch(/^The sensor says 72 °C, at most 76 °C, limit/);
    expect(words(hot, steadyView({ tempC: 72, state: 'old' })).text).toMatch(/^The sensor said 76 °C at most, limit/);
  });

  it('slow: how long it has left counts from when it was heard', () => {
    // 50 kPa over its limit at 240 kPa a day are 5 h; at 480 at most, 2.5 h.
    const slow = { kind: 'slow' as const, evidence: { lossKpa: 20, rateKpaPerDay: -240, rateLowKpaPerDay: -480 } };
    const at = (ageS: number) => words(slow, steadyView({ pressureKpa: 500, lowKpa: 450, state: 'asleep', ageS })).text;
    expect(at(0)).toContain('it reaches its low limit in about 5 h, 3 h at the earliest.');
    expect(at(7200)).toContain('it reaches its low limit in about 3 h, 30 min at the earliest.');
    expect(at(9000)).toContain('in about 3 h, it may already be there.');
    expect(at(18_000)).toContain('it may already be at its low limit.');
  });

  it('a low by the cold is a note with its cold-equivalent pressure; one that can’t carry its load is a stop', () => {
    const cold = { severity: 'note' as const, evidence: { cause: 'weather' as const, heldKpa: 498 } };
    const note = words({ ...cold }, steadyView({ pressureKpa: 440 }));
    expect(note.title).toBe('A1L reads low because of the cold');
    expect(note.text).toContain('Its cold-equivalent pressure is 498 kPa, so no air was lost. Your monitor may sound.');
    const stop = words({ severity: 'stop', evidence: { cause: 'weather', heldKpa: 498 } });
    expect(stop.title).toBe('Stop: A1L can’t carry its load in this cold');
    expect(words({ severity: 'note', evidence: { cause: 'air' } }).title).toBe('Was the sensor of A1L taken off?');
    expect(words({ kind: 'high', severity: 'note', evidence: { cause: 'weather' } }).title).toBe('A1L reads high from the run');
  });

  it('parked, nobody is told not to brake', () => {
    const parked = words({ kind: 'low' }, steadyView({ state: 'asleep', ageS: 9000 }));
    expect(parked.text).toContain('The rig is parked: fill or change the tire before you drive.');
    expect(parked.text).not.toContain('brake');
  });

  it('stuck: since when it has shown the same', () => {
    const { title, text } = words({
      kind: 'stuck',
      limit: 1200,
      value: 480,
      evidence: { sinceMs: Date.parse('2026-05-01T06:00:00Z') },
    });
    expect(title).toBe('The sensor of A1L is stuck');
    expect(text).toContain(`It has shown 480 kPa without a change since ${six}`);
  });

  it('every kind has a name for lists', () => {
    expect(Object.values(kindWords).every((w) => w.length > 0)).toBe(true);
  });
});

describe('the load of a tire that loses air', () => {
  const slow = openAlarm({ kind: 'slow', evidence: { rateKpaPerDay: -48, rateLowKpaPerDay: -96 } });
  const at = (heldKpa: number, heldLowKpa: number, heldHighKpa: number) =>
    steadyView({ heldKpa, heldLowKpa, heldHighKpa, loadMinimumKpa: 440 });
  it.each([
    [
      'cannot, when all of its span lies under it',
      at(420, 410, 430),
      'It can’t carry its load now: cold it would read 420 kPa, and the load minimum is 440 kPa.',
    ],
    [
      'perhaps, when the likely figure does',
      at(435, 420, 450),
      'It may not carry its load: cold it would read about 435 kPa, and the load minimum is 440 kPa.',
    ],
    // 48 kPa over it at 48 a day: one day; 24 kPa at the least, at 96 a day: 6 h.
    [
      'carries: how long still, and how long at the worst',
      at(488, 464, 500),
      'At this rate it reaches its load minimum (440 kPa cold) in about 24 h, perhaps in 4 h.',
    ],
    [
      'carries, but the span reaches under it',
      at(488, 430, 500),
      'At this rate it reaches its load minimum (440 kPa cold) in about 24 h. It may already be there.',
    ],
    ['no load known: nothing', steadyView({ heldKpa: 420 }), ''],
  ])('%s', (_, wheel, expected) => expect(loadWordsNow(wheel, [slow], f)).toBe(expected));

  it('comes first when it is past, after what to do when it is not yet', () => {
    const text = (wheel: ReturnType<typeof steadyView>) => {
      const [group] = groupAlarms([slow], [wheel]);
      return groupWords(group as never, new Map([['A1L', wheel]]), f, now).text;
    };
    expect(text(at(420, 410, 430))).toMatch(/^It can’t carry its load now/);
    expect(text(at(488, 464, 500))).toMatch(/in about 24 h, perhaps in 4 h\.$/);
  });
});

describe('a hot tire beside a soft twin', () => {
  const told = (twin: Partial<WheelView>) => {
    const hot = openAlarm({
      position: 'A2LO',
      kind: 'apart',
      severity: 'look',
      limit: 11,
      value: 15,
      worst: 15,
      evidence: { how: 'hotter', overTempK: 14, overPressureK: 15, overTwinK: 12 },
    });
    const view = watchView({}, { A2LO: { active: ['apart'] }, A2LI: twin });
    const [group] = groupAlarms([hot], view.wheels);
    return groupWords(group as never, new Map(view.wheels.map((w) => [w.position, w])), f, now);
  };
  it('carries its load: that is the cause, not the hub', () => {
    for (const twin of [{ active: ['slow' as const] }, { heldKpa: 400, heldLowKpa: 390, heldHighKpa: 410 }]) {
      const { title, text } = told(twin);
      expect(title).toBe('A2LO carries the load of its twin A2LI');
      expect(text).not.toContain('hub');
    }
  });
  it('beside a sound twin it is the hub', () => {
    expect(told({}).text).toContain('hub');
  });
});

describe('one notice of the cold', () => {
  const cold = (loadMinimumKpa: number | null) =>
    watchView(
      {},
      Object.fromEntries(
        watchView().wheels.map((w) => [
          w.position,
          { pressureKpa: 445, heldKpa: 498, heldLowKpa: 490, heldHighKpa: 505, loadMinimumKpa, active: ['low' as const] },
        ]),
      ),
    );
  const say = (loadMinimumKpa: number | null) => {
    const view = cold(loadMinimumKpa);
    const [group] = groupAlarms(
      view.wheels.map((w) => openAlarm({ position: w.position })),
      view.wheels,
    );
    return groupWords(group as never, new Map(view.wheels.map((w) => [w.position, w])), f, now).text;
  };
  it('says that none lost any air', () => {
    expect(say(400)).toMatch(/none has lost air/);
    expect(say(400)).not.toContain('before you drive');
  });
  it('but not to drive with a tire that cannot carry its load', () => {
    expect(say(520)).toContain('At least one can’t carry its load like this. Fill it before you drive.');
  });
});

describe('what an alarm was raised on', () => {
  const rows = (change: Partial<Alarm>) => evidenceRows(openAlarm(change), f, now).map(([name, what]) => `${name}: ${what}`);
  it.each<[string, Partial<Alarm>, string[]]>([
    ['low', {}, ['Reading, limit: 440 kPa, 450 kPa; worst 430']],
    ['hot', { kind: 'hot', limit: 70, value: 72, worst: 80 }, ['Reading, limit: 72 °C, 70 °C; worst 80 °C']],
    ['silent', { kind: 'silent', limit: 900 }, ['Not reporting: no reading for more than 15 min while others report']],
    [
      'battery',
      { kind: 'battery', limit: 2.7, evidence: { volts: 2.5, voltsAt20: 2.61 } },
      ['Weak below: 2.70 V at 20 °C', 'Its supply: 2.50 V, which is 2.61 V at 20 °C'],
    ],
    [
      'rapid',
      { kind: 'rapid', limit: 14, evidence: { heldKpa: 480, heldLowKpa: 470, heldHighKpa: 490, lossKpa: 20 } },
      [
        'Limit: 14 kPa in 2 min',
        'Cold-equivalent then: about 480 kPa, surely 470 to 490',
        'Lost: 20 kPa, corrected for temperature',
      ],
    ],
    [
      'slow',
      {
        kind: 'slow',
        limit: 500,
        worst: 470,
        evidence: {
          lossKpa: 30,
          sinceMs: Date.parse('2026-05-01T06:00:00Z'),
          rateKpaPerDay: -48,
          rateLowKpaPerDay: -60,
          rateHighKpaPerDay: -36,
        },
      },
      [
        'Cold-equivalent: surely 500 kPa before, now at most 470',
        `Lost: 30 kPa since ${six}, corrected for temperature`,
        'Change a day: −48 kPa, 95 % −60 to −36',
      ],
    ],
    [
      'apart by heat',
      { kind: 'apart', limit: 11, worst: 24, evidence: { how: 'hotter', overTempK: 26, overPressureK: 12, overTwinK: 20 } },
      [
        'Above its axle: 24 °C; alarm from 11 °C',
        'By temperature: 26 °C; by pressure 12 °C; above the other tire of the pair 20 °C',
      ],
    ],
    [
      'apart by air',
      { kind: 'apart', limit: -30, worst: -41, evidence: { how: 'lower' } },
      ['Below its axle: 41 kPa; alarm from 30'],
    ],
  ])('%s', (_, change, expected) => expect(rows(change)).toEqual(expected));
});
