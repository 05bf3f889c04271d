import { describe, expect, it } from 'vitest';
import { figureOf, guessDelimiter, guessMapping, isZone, shapeOf, timeOf } from './columns.ts';
import { encodingOf } from './encoding.ts';

describe('times', () => {
  it.each([
    ['2026-05-01T08:00:00Z', 'iso', 'UTC', '2026-05-01T08:00:00.000Z'],
    ['2026-05-01T10:00:00+02:00', 'iso', 'UTC', '2026-05-01T08:00:00.000Z'],
    ['1777622400', 'epochS', 'UTC', '2026-05-01T08:00:00.000Z'],
    ['1777622400500', 'epochMs', 'UTC', '2026-05-01T08:00:00.500Z'],
    ['2026-05-01 10:00:00', 'local', 'Europe/Berlin', '2026-05-01T08:00:00.000Z'],
    ['01.05.2026 10:00', 'local', 'Europe/Berlin', '2026-05-01T08:00:00.000Z'],
    ['05/01/2026 10:00', 'local', 'UTC', '2026-05-01T10:00:00.000Z'],
    ['2026-01-15 09:00', 'local', 'Europe/Berlin', '2026-01-15T08:00:00.000Z'],
    // European summer time 2026: from 29 March, 01:00 UTC, to 25 October, 01:00 UTC (Directive 2000/84/EC, from memory).
    ['2026-03-29 01:59', 'local', 'Europe/Berlin', '2026-03-29T00:59:00.000Z'],
    ['2026-03-29 03:00', 'local', 'Europe/Berlin', '2026-03-29T01:00:00.000Z'],
    ['2026-10-25 02:30', 'local', 'Europe/Berlin', '2026-10-25T00:30:00.000Z'],
    ['2026-10-25 03:30', 'local', 'Europe/Berlin', '2026-10-25T02:30:00.000Z'],
  ] as const)('%s as %s in %s', (text, format, zone, expected) => {
    expect(new Date(timeOf(text, format, zone)).toISOString()).toBe(expected);
  });
  it.each([
    ['2026-05-01 08:00', 'iso'],
    ['31.02.2026 08:00', 'local'],
    ['2026-05-01 25:00', 'local'],
    ['', 'local'],
    ['soon', 'epochS'],
  ] as const)('%s is no time as %s', (text, format) => {
    expect(timeOf(text, format, 'UTC')).toBeNaN();
  });
  it('knows zones', () => {
    expect([isZone('Europe/Berlin'), isZone('UTC'), isZone('Moon/Base')]).toEqual([true, true, false]);
  });
});

describe('figures', () => {
  it.each([
    ['2,5', ',', 2.5],
    ['2.5', '.', 2.5],
    ['-7', ',', -7],
    ['1e2', '.', 100],
  ] as const)('%s', (text, decimal, value) => expect(figureOf(text, decimal)).toBe(value));
  it.each([
    ['2,5', '.'],
    ['2.5', ','],
    ['NaN', '.'],
    ['1 000', '.'],
    ['', '.'],
  ] as const)('%s is none', (text, decimal) => expect(figureOf(text, decimal)).toBeNaN());
});

describe('guesses', () => {
  it('find columns, units and forms', () => {
    expect(guessDelimiter(['a;b,c;d', '1;2,5;3'])).toBe(';');
    const m = guessMapping('csv', ['Zeit', 'Rad', 'Druck', 'Temp'], [['01.05.2026 10:00', 'vorn', '2,5', '20']], {
      delimiter: ';',
      header: true,
      zone: 'UTC',
    });
    expect(m).toMatchObject({
      time: '0',
      wheel: '1',
      pressure: '2',
      temp: '3',
      pressureUnit: 'bar',
      decimal: ',',
      timeFormat: 'local',
    });
    const n = guessMapping(
      'ndjson',
      ['time', 'sensorId', 'pressureKpa', 'tempC'],
      [['2026-05-01T08:00:00Z', 'A00001', '250', '20']],
      {
        delimiter: ',',
        header: false,
        zone: 'UTC',
      },
    );
    expect(n).toMatchObject({
      time: 'time',
      wheel: 'sensorId',
      pressure: 'pressureKpa',
      temp: 'tempC',
      pressureUnit: 'kPa',
      timeFormat: 'iso',
    });
  });
  it('a shape is the column names, or their number', () => {
    expect(shapeOf('csv', ';', ['Zeit ', 'Rad'], true)).toBe('csv ; zeit|rad');
    expect(shapeOf('csv', ';', ['1', '2'], false)).toBe('csv ; 2 columns');
  });
  it('encodings', () => {
    expect(encodingOf(Buffer.from('\uFEFFabc', 'utf16le'))).toBe('utf-16le');
    expect(encodingOf(Buffer.from('\uFEFFabc', 'utf16le').swap16())).toBe('utf-16be');
    expect(encodingOf(Buffer.from('time,wheel', 'utf16le'))).toBe('utf-16le');
    expect(encodingOf(Buffer.from('zeit;druck äöü'))).toBe('utf-8');
  });
});
