import { describe, expect, it } from 'vitest';
import type { Alarm, WheelView } from '#schema/alarm.ts';
import { openAlarm } from '../testing/mount.tsx';
import { plainFormat, steadyView } from '../testing/rigs.ts';
import { timeOfDay } from './format.ts';
import { inkOf, placeInWords, reasonWords, stateWord, wheelLine, wheelSentence } from './words.ts';
import { alarmWords } from './words-alarms.ts';

const f = plainFormat('psi', 'C');
const view: WheelView = steadyView({
  position: 'B2L',
  sensorId: '71A066',
  sensorKind: 'flowThrough',
  pressureKpa: 551.58,
  ageS: 12,
  coldKpa: 551.58,
  lowKpa: 496.4,
  highKpa: 690,
  expectedKpa: null,
});
const alarm: Alarm = openAlarm({
  position: 'B2L',
  sensorId: '71A066',
  fromTime: '2026-05-01T08:00:00Z',
  limit: 496.4,
  value: 490,
  worst: 440,
});

const heard = timeOfDay('2026-05-01T08:00:00Z');

describe('ink', () => {
  it.each<[string, Partial<WheelView>, boolean, string, string]>([
    ['steady', {}, true, 'steady', '22 °C'],
    ['no connection', {}, false, 'old', `heard ${heard}`],
    ['low', { active: ['low'] }, true, 'act', 'under 72.0'],
    ['low and no connection', { active: ['low'] }, false, 'act', `under 72.0, heard ${heard}`],
    ['low and asleep', { active: ['low'], state: 'asleep', ageS: 1200 }, true, 'act', 'under 72.0, 20 min old'],
    ['high', { active: ['high'] }, true, 'look', 'over 100.1'],
    ['slow loss and asleep', { active: ['slow'], state: 'asleep', ageS: 1200 }, true, 'look', 'slow loss, 20 min old'],
    ['apart, and grown old', { active: ['apart'], state: 'old', ageS: 600 }, true, 'look', 'apart, 10 min old'],
    ['a weak cell, and no connection', { active: ['battery'] }, false, 'look', `weak battery, heard ${heard}`],
    [
      'sensor off its valve, and asleep',
      { offTime: '2026-05-01T07:30:00Z', state: 'asleep', ageS: 1800 },
      true,
      'look',
      '30 min old',
    ],
    ['low, and just at its limit', { active: ['low'], pressureKpa: view.lowKpa }, true, 'act', 'at its low limit'],
    ['low by the cold is only noted', { noted: ['low'] }, true, 'steady', '22 °C, low: cold weather'],
    ['silent', { state: 'silent', active: ['silent'], ageS: 1200 }, true, 'silent', 'for 20 min'],
    ['silent after a low', { state: 'silent', active: ['low', 'silent'], ageS: 1200 }, true, 'silent', 'for 20 min'],
    ['asleep', { state: 'asleep', ageS: 7200 }, true, 'asleep', '2 h old'],
    ['never heard', { state: 'notHeard', pressureKpa: null, time: null }, true, 'notHeard', 'not heard yet'],
    ['no sensor', { state: 'notPaired', sensorId: null, pressureKpa: null }, true, 'bare', 'no sensor'],
  ])('%s', (_, change, connected, ink, line) => {
    const v = { ...view, ...change };
    expect(inkOf(v, connected)).toBe(ink);
    expect(wheelLine(v, inkOf(v, connected), f, connected)).toBe(line);
  });

  it('is said in a word and in a sentence, so that no colour is needed', () => {
    expect(stateWord({ ...view, active: ['low'] }, 'act')).toBe('LOW');
    expect(stateWord({ ...view, active: ['hot'] }, 'act')).toBe('HOT');
    expect(wheelSentence(view, 'steady', f)).toBe('B2L: 80.0 psi, 22 °C, steady');
    expect(wheelSentence({ ...view, state: 'silent', ageS: 1200 }, 'silent', f)).toBe(
      'B2L: not reporting for 20 min, last value 80.0 psi, 22 °C',
    );
  });
});

describe('alarms in words', () => {
  it('say what, how much, and what to do', () => {
    const { title, text } = alarmWords(alarm, { ...view, pressureKpa: 440 }, f, '2026-05-01T08:05:00Z');
    expect(title).toBe('Stop: B2L is low');
    expect(text).toContain('Reads 63.8 psi, low alarm at 72.0 psi');
    expect(text).toContain('Slow down gently');
  });

  it('never give an old value as one of now', () => {
    const old = { ...view, state: 'old' as const, pressureKpa: 440, ageS: 600 };
    expect(alarmWords(alarm, old, f, '2026-05-01T08:05:00Z').text).toMatch(/^Last value 63\.8 psi, 10 min old/);
  });

  it('say of a hot sensor that the gas is hotter, of a high tire not to bleed it', () => {
    expect(alarmWords({ ...alarm, kind: 'hot', limit: 70, worst: 74 }, view, f, alarm.fromTime).text).toContain(
      'the air inside is hotter',
    );
    expect(alarmWords({ ...alarm, kind: 'high', limit: 690, worst: 700 }, view, f, alarm.fromTime).text).toContain(
      'Don’t bleed it',
    );
    expect(alarmWords({ ...alarm, kind: 'silent', limit: 900, value: 551.58 }, view, f, alarm.fromTime).text).toContain(
      '80.0 psi. Its pressure now is unknown',
    );
  });
});

it('reasons carry their figures', () => {
  expect(reasonWords({ field: 'low', code: 'shareUnderCold', share: 0.1, ofKpa: 551.58 }, f)).toBe('10 % under 80.0 psi cold');
  expect(reasonWords({ field: 'low', code: 'roughUnderCold', share: 0.1, ofKpa: 551.58, roundKpa: 68.94757 }, f)).toBe(
    'about 10 % under 80.0 psi cold, to the nearest 10.0 psi',
  );
});

it('a place is told from the driver’s seat', () => {
  expect(placeInWords('1L', 'Hive trailer', 2)).toBe('the front axle of Hive trailer, left, as seen from the driver’s seat');
  expect(placeInWords('2RO', 'Flatbed', 2)).toBe(
    'the rear axle of Flatbed, right, outer of the dual, as seen from the driver’s seat',
  );
  expect(placeInWords('S1', 'Hive trailer', 2)).toBe('spare of Hive trailer');
});
