import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { guessMapping, packDays, readDaily, unpackDays } from './daily.ts';
import { seasonAir } from './year.ts';

// Four years of daily minimum and maximum at one station: origin NOAA, as file `seattle-weather.csv` of the `vega-datasets` package
// 3.2.1 (BSD-3-Clause). Figures below were taken from the file with awk, not with this code:
//   awk -F, 'NR>1{if($4<m)m=$4; if($3>x)x=$3} END{print NR-1,m,x}'  gives 1461 -7.1 35.6
//   the same over months 11, 12, 01, 02 and 03 gives min -7.1, max 20.6; over April to October min 1.7, max 35.6
const text = readFileSync(new URL('./seattle-weather.test-data.csv', import.meta.url), 'utf8');
const rows = Papa.parse<string[]>(text, { skipEmptyLines: true }).data;

describe('a public weather file', () => {
  const mapping = guessMapping(rows);
  it('is understood without being told its columns', () => {
    expect(mapping).toEqual({ date: 0, min: 3, max: 2, order: 'ymd', unit: 'C', decimal: '.', skip: 1 });
  });
  if (!mapping) throw new Error('no mapping');
  const { days, faults } = readDaily(rows, mapping);
  it('gives all its days, its coldest and its hottest', () => {
    expect(faults).toEqual([]);
    expect(days).toHaveLength(1461);
    expect(days[0]).toEqual({ date: '2012-01-01', minC: 5, maxC: 12.8 });
    expect(Math.min(...days.map((d) => d.minC))).toBe(-7.1);
    expect(Math.max(...days.map((d) => d.maxC))).toBe(35.6);
  });
  it('survives being packed', () => {
    const packed = packDays(days, 'file');
    if (!packed) throw new Error('nothing packed');
    expect(packed.from).toBe('2012-01-01');
    expect(unpackDays(packed).map(({ month: _, ...d }) => d)).toEqual(days);
  });
  it('splits into seasons', () => {
    const packed = packDays(days, 'file');
    if (!packed) throw new Error('nothing packed');
    const own = unpackDays(packed);
    expect(seasonAir(own, 'winter', [10, 11, 0, 1, 2])).toMatchObject({ coldestC: -7.1, hottestC: 20.6, from: '11-01' });
    expect(seasonAir(own, 'summer', [3, 4, 5, 6, 7, 8, 9])).toMatchObject({ coldestC: 1.7, hottestC: 35.6, from: '04-01' });
  });
});
