import { describe, expect, it } from 'vitest';
import { type DailyMapping, guessMapping, packDays, parseDay, parseDegree, readDaily, unpackDays } from './daily.ts';

const plain: DailyMapping = { date: 0, min: 1, max: 2, order: 'ymd', unit: 'C', decimal: '.', skip: 1 };

describe('a day', () => {
  it.each([
    ['2026-02-28', 'ymd', '2026-02-28'],
    ['20260228', 'ymd', '2026-02-28'],
    ['28.02.2026', 'dmy', '2026-02-28'],
    ['2/28/2026', 'mdy', '2026-02-28'],
    ['2026-02-28T00:00:00Z', 'dmy', '2026-02-28'],
    ['2026-02-29', 'ymd', null],
    ['28.02.2026', 'mdy', null],
    ['12.5', 'dmy', null],
    ['', 'dmy', null],
  ] as const)('%s read %s is %s', (text, order, day) => {
    expect(parseDay(text, order)).toBe(day);
  });
});

describe('a figure', () => {
  it.each([
    ['-3.5', '.', -3.5],
    ['−3.5', '.', -3.5],
    ['3,5', ',', 3.5],
    ['3,5', '.', null],
    ['', '.', undefined],
    ['-9999', '.', undefined],
    ['n/a', '.', undefined],
    ['warm', '.', null],
  ] as const)('%s with %s is %s', (text, decimal, value) => {
    expect(parseDegree(text, decimal)).toBe(value);
  });
});

describe('guessing the columns', () => {
  it('by German words, with decimal commas and days first', () => {
    const rows = [
      ['Station', 'Datum', 'Niederschlag', 'Tmax °C', 'Tmin °C'],
      ['Heidmoor', '31.01.2026', '0,4', '3,1', '-2,4'],
      ['Heidmoor', '01.02.2026', '1,4', '4,0', '-1,9'],
    ];
    expect(guessMapping(rows)).toEqual({ date: 1, min: 4, max: 3, order: 'dmy', unit: 'C', decimal: ',', skip: 1 });
  });
  it('Fahrenheit by the figures when nobody says so', () => {
    const rows = [
      ['01/31/2026', '71', '40'],
      ['02/01/2026', '84', '51'],
    ];
    expect(guessMapping(rows)).toEqual({ date: 0, min: 2, max: 1, order: 'mdy', unit: 'F', decimal: '.', skip: 0 });
  });
  it('Fahrenheit by the head though the days are cold', () => {
    const rows = [
      ['date', 'min (F)', 'max (F)'],
      ['2026-01-31', '10', '20'],
      ['2026-02-01', '11', '25'],
    ];
    expect(guessMapping(rows)?.unit).toBe('F');
  });
  it('finds nothing in a list of names', () => {
    expect(
      guessMapping([
        ['a', 'b'],
        ['c', 'd'],
      ]),
    ).toBeNull();
    expect(guessMapping([])).toBeNull();
  });
});

describe('reading', () => {
  it('tells every line that cannot be used, and uses the rest', () => {
    const { days, faults } = readDaily(
      [
        ['date', 'min', 'max'],
        ['2026-01-01', '-3', '4'],
        ['2026-01-02', '', '4'],
        ['2026-01-03', '3,5', '9'],
        ['2026-01-04', '9', '4'],
        ['2026-13-05', '1', '4'],
        ['2026-01-06', '-80', '4'],
        ['2026-01-01', '-4', '4'],
        [''],
        ['2026-01-01', '-3', '4'],
        ['2026-01-07', '-5', '1'],
      ],
      plain,
    );
    expect(days.map((d) => d.date)).toEqual(['2026-01-01', '2026-01-07']);
    expect(faults.map((f) => [f.line, f.code])).toEqual([
      [3, 'hole'],
      [4, 'number'],
      [5, 'minOverMax'],
      [6, 'date'],
      [7, 'range'],
      [8, 'twice'],
    ]);
  });
  it('turns Fahrenheit into Celsius', () => {
    expect(readDaily([['2026-07-01', '50', '95']], { ...plain, unit: 'F', skip: 0 }).days).toEqual([
      { date: '2026-07-01', minC: 10, maxC: 35 },
    ]);
  });
  it('packs days with their holes', () => {
    const packed = packDays(
      [
        { date: '2026-01-01', minC: -3, maxC: 4 },
        { date: '2026-01-03', minC: -5.04, maxC: 1 },
      ],
      'x',
    );
    expect(packed).toEqual({ source: 'x', from: '2026-01-01', minC: [-3, null, -5], maxC: [4, null, 1] });
    expect(packed && unpackDays(packed).map((d) => d.date)).toEqual(['2026-01-01', '2026-01-03']);
    expect(packDays([], 'x')).toBeNull();
  });
});
