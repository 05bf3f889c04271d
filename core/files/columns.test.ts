import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainMapping } from './columns.test-data.ts';
import {
  type ColumnMapping,
  figureOf,
  guessDelimiter,
  guessMapping,
  isZone,
  needsZone,
  readLine,
  shapeOf,
  timeOf,
} from './columns.ts';
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
    ['01/05/2026 10:00', 'localDayFirst', 'UTC', '2026-05-01T10:00:00.000Z'],
    ['01.05.2026 10:00', 'localDayFirst', 'UTC', '2026-05-01T10:00:00.000Z'],
    ['2026-05-01 10:00', 'localDayFirst', 'UTC', '2026-05-01T10:00:00.000Z'],
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
    ['13/05/2026 08:00', 'local'],
    ['05/13/2026 08:00', 'localDayFirst'],
    ['29/02/2027 08:00', 'localDayFirst'],
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

describe('which comes first of day and month', () => {
  const guess = (...times: string[]) =>
    guessMapping(
      'csv',
      ['date', 'wheel', 'psi'],
      times.map((t) => [t, 'A1L', '72']),
      { delimiter: ',', header: true, zone: 'UTC' },
    ).timeFormat;
  it('is told by any day over the twelfth', () => {
    expect(guess('01/05/2026 10:00', '13/05/2026 10:00')).toBe('localDayFirst');
    expect(guess('05/01/2026 10:00', '05/13/2026 10:00')).toBe('local');
    expect(guess('01.05.2026 10:00', '13.05.2026 10:00')).toBe('local');
  });
  it('needs a zone either way', () => {
    expect((['iso', 'local', 'localDayFirst', 'epochS', 'epochMs'] as const).filter(needsZone)).toEqual([
      'local',
      'localDayFirst',
    ]);
  });
});

describe('a line', () => {
  const read = (cells: string[], change: Partial<ColumnMapping> = {}) => readLine((c) => cells[Number(c)], plainMapping(change));
  const whole = ['2026-05-01T08:00:00Z', 'A1L', '500', '21', '2.9', '-71'];

  it('is a reading, in kPa and °C', () => {
    expect(read(whole)).toEqual({
      wheel: 'A1L',
      ms: Date.UTC(2026, 4, 1, 8),
      pressureKpa: 500,
      tempC: 21,
      batteryV: 2.9,
      rssiDbm: -71,
    });
  });

  // 1 psi = 6.894757 kPa (NIST SP 811, table B.8); 77 °F = 25 °C = 298.15 K by definition.
  it.each<[string, Partial<ColumnMapping>, string, string]>([
    ['psi and °F', { pressureUnit: 'psi', tempUnit: 'F' }, '80', '77'],
    ['bar and K', { pressureUnit: 'bar', tempUnit: 'K' }, '5.515806', '298.15'],
    ['decimal commas', { pressureUnit: 'bar', tempUnit: 'C', decimal: ',' }, '5,515806', '25,0'],
  ])('%s', (_, change, pressure, temp) => {
    const r = read([...whole.slice(0, 2), pressure, temp, '', ''], change);
    expect(r).toMatchObject({ batteryV: null, rssiDbm: null });
    expect((r as { pressureKpa: number }).pressureKpa).toBeCloseTo(551.5806, 4);
    expect((r as { tempC: number }).tempC).toBeCloseTo(25, 9);
  });

  it.each<[string, number, string, string, RegExp]>([
    ['no wheel', 1, ' ', '1', /no wheel is named/],
    ['no time', 0, '', '0', /time is missing/],
    ['a time of another form', 0, '1.5.26', '0', /“1\.5\.26” isn’t a time in this format/],
    ['no pressure', 2, '', '2', /pressure is missing/],
    ['NaN', 2, 'NaN', '2', /“NaN” isn’t a number/],
    ['a pressure under nothing', 2, '-1', '2', /outside 0 to 2500 kPa/],
    ['a pressure no tire holds', 2, '2501', '2', /outside 0 to 2500 kPa/],
    ['a temperature that is none', 3, 'warm', '3', /“warm” isn’t a number/],
    ['a temperature out of range', 3, '251', '3', /out of its range/],
    ['volts out of range', 4, '12', '4', /out of its range/],
    ['a level out of range', 5, '21', '5', /out of its range/],
  ])('names what is wrong: %s', (_, at, text, column, detail) => {
    const cells = [...whole];
    cells[at] = text;
    expect(read(cells)).toEqual({ column, detail: expect.stringMatching(detail) });
  });

  it('of a wheel that is to be passed over is passed over, of one with a name of the file’s own is that wheel', () => {
    expect(read(['?', 'jockey wheel', '?'], { wheels: { 'jockey wheel': '' } })).toBeNull();
    expect(read(whole, { wheels: { A1L: 'B1R' } })).toMatchObject({ wheel: 'B1R' });
  });

  it('takes day and clock from two columns', () => {
    const change: Partial<ColumnMapping> = { timeFormat: 'local', clock: '6', zone: 'Europe/Berlin' };
    expect(read(['01.05.2026', ...whole.slice(1), '10:00:05'], change)).toMatchObject({ ms: Date.UTC(2026, 4, 1, 8, 0, 5) });
    expect(read(['01.05.2026', ...whole.slice(1), ''], change)).toMatchObject({ ms: Date.UTC(2026, 3, 30, 22) });
  });

  it('comes back exactly as it was written out: any time to the millisecond, any figure to its last bit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: Date.UTC(2099, 0, 1) }),
        fc.double({ min: 0, max: 2500, noNaN: true }),
        fc.option(fc.double({ min: -60, max: 250, noNaN: true })),
        fc.option(fc.double({ min: 0, max: 5, noNaN: true })),
        (ms, pressureKpa, tempC, batteryV) => {
          const text = (v: number | null) => (v === null ? '' : String(v));
          const cells = [new Date(ms).toISOString(), 'A1L', text(pressureKpa), text(tempC), text(batteryV), ''];
          const r = read(cells) as { ms: number; pressureKpa: number; tempC: number | null; batteryV: number | null };
          expect(r.ms).toBe(ms);
          // -0 is written as 0.
          expect(r.pressureKpa).toBe(pressureKpa + 0);
          expect(r.tempC).toBe(tempC === null ? null : tempC + 0);
          expect(r.batteryV).toBe(batteryV === null ? null : batteryV + 0);
        },
      ),
    );
  });
});
