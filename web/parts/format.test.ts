import { describe, expect, it, vi } from 'vitest';
import { zoneHere } from '../data/time-zone.ts';
import { plainFormat } from '../testing/rigs.ts';
import {
  dayHere,
  duration,
  fieldFigure,
  fieldFigureUp,
  forField,
  makeFormat,
  parseLength,
  parseNumber,
  secondHere,
  timeOfDay,
} from './format.ts';
import { spread } from './spread.ts';

describe('figures', () => {
  it('have the decimals that make sense in each unit', () => {
    expect(plainFormat('psi', 'C').pressure(551.58)).toBe('80.0 psi');
    expect(plainFormat('bar', 'C').pressure(206.84)).toBe('2.07 bar');
    expect(plainFormat('kPa', 'C').pressure(206.84)).toBe('207 kPa');
  });

  it('show a typed figure as it was typed in its own unit only, in the one format of the page', () => {
    const typed = { text: '36,5', unit: 'psi' as const };
    expect(plainFormat('psi', 'C').exact(251.7, typed)).toBe('36.5 psi');
    expect(plainFormat('bar', 'C').exact(251.7, typed)).toBe('2.52 bar');
  });

  it('use a true minus and none before zero', () => {
    const f = plainFormat('psi', 'F');
    expect(f.temperature(-20)).toBe('−4 °F');
    expect(plainFormat('kPa', 'C').temperature(-0.2)).toBe('0 °C');
    expect(f.difference(25)).toBe('45 °F');
  });

  it.each([
    ['36,5', 36.5],
    [' 2.4 ', 2.4],
    ['−7', -7],
    ['1 200', 1200],
    ['.5', 0.5],
    ['', null],
    ['abc', null],
    ['1e3', null],
    ['1.2.3', null],
    ['NaN', null],
  ])('%j is read as %j', (text, value) => expect(parseNumber(text)).toBe(value));
});

describe('lengths', () => {
  it.each([
    ['6.4', 6.4],
    ['6,4 m', 6.4],
    ['21 ft', 6.4008],
    ["21'", 6.4008],
    ['12 ft 6 in', 3.81],
    ['x', null],
    ['', null],
  ])('%j is %j m', (text, metres) => {
    if (metres === null) expect(parseLength(text)).toBeNull();
    else expect(parseLength(text)).toBeCloseTo(metres, 9);
  });
});

describe('times', () => {
  it('carry the day only when it is another one', () => {
    expect(timeOfDay('2026-05-01T08:06:00Z', '2026-05-01T09:00:00Z')).toMatch(/^\d\d:\d\d$/);
    expect(timeOfDay('2026-04-28T08:06:00Z', '2026-05-01T09:00:00Z')).toMatch(/28 Apr/);
  });
  it.each([
    [38, '38 s'],
    [900, '15 min'],
    [3 * 3600, '3 h'],
    [3 * 86400, '3 days'],
  ])('%d s is %s', (s, text) => expect(duration(s)).toBe(text));
});

describe('labels of the ladder', () => {
  it('keep their distance and stay near their marks', () => {
    const placed = spread([100, 102, 104, 300], 16);
    const sorted = [...placed].sort((a, b) => a - b);
    for (let i = 1; i < sorted.length; i += 1) expect((sorted[i] as number) - (sorted[i - 1] as number)).toBeGreaterThan(15.5);
    expect(placed[3]).toBe(300);
    expect(Math.abs((placed[1] as number) - 102)).toBeLessThan(17);
  });
});

it('a figure and its unit stay on one line', () => {
  const f = makeFormat('psi', 'C', 'lb');
  expect(f.pressure(551.58)).toBe('80.0\u00a0psi');
  expect(f.temperature(-6)).toBe('\u22126\u00a0°C');
  expect(f.mass(1000)).toBe('2,205\u00a0lb');
});

it('a figure for a field has no needless zeros, and on the careful side is never less than it is', () => {
  expect(fieldFigure(551.58, 'psi')).toBe('80');
  expect(fieldFigure(216, 'bar')).toBe('2.16');
  expect(fieldFigureUp(551.59, 'psi')).toBe('80.1');
  expect(fieldFigureUp(470.82, 'kPa')).toBe('471');
  expect(fieldFigureUp(470, 'kPa')).toBe('470');
});

// Offsets by the IANA time zone database: Auckland UTC+13 in November, Los Angeles UTC-8.
describe('days and clocks of this place', () => {
  it.each([
    ['Pacific/Auckland', '2026-11-26T20:15:40.000Z', '2026-11-27', '2026-11-27T09:15', '2026-11-27 09:15:40'],
    ['America/Los_Angeles', '2026-11-27T01:15:40.000Z', '2026-11-26', '2026-11-26T17:15', '2026-11-26 17:15:40'],
  ])('in %s', (zone, time, day, field, second) => {
    vi.stubEnv('TZ', zone);
    expect(zoneHere()).toBe(zone);
    expect(dayHere(time)).toBe(day);
    expect(forField(Date.parse(time))).toBe(field);
    expect(secondHere(time)).toBe(second);
    // A day is no moment.
    expect(dayHere('2026-11-26')).toBe('2026-11-26');
  });
});
