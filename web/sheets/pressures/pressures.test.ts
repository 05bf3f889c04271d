import { describe, expect, it } from 'vitest';
import { readDay } from './DayAndYear.tsx';
import { readTable } from './TableEditor.tsx';

const PSI = 6.894757293168;
const row = (load: string, pressure: string, use: 'single' | 'dual' = 'single') => ({ use, load, pressure });

describe('a load table as it is typed', () => {
  it('keeps the good rows and tells the bad ones at their place', () => {
    const { table, faults } = readTable(
      [row('900', '55'), row('', ''), row('1000', 'x'), row('1100', '50'), row('1200', '70'), row('1300', '600')],
      'psi',
      'kg',
    );
    expect(table.map((r) => [r.loadKg, Math.round(r.kpa / PSI)])).toEqual([
      [900, 55],
      [1200, 70],
    ]);
    expect([...faults]).toEqual([
      [2, 'The pressure is not a number'],
      [5, 'No road tire holds that: is it in psi?'],
      [3, 'More load at less pressure than the row before it'],
    ]);
  });
  it('reads pounds and decimal commas', () => {
    const { table } = readTable([row('2205', '3,8')], 'bar', 'lb');
    expect(table[0]?.loadKg).toBeCloseTo(1000.17, 2);
    expect(table[0]?.kpa).toBeCloseTo(380, 9);
  });
});

describe('the day as it is typed', () => {
  const typed = { coldest: '-10', hottest: '30', setAt: '310', pass: '6360 ft', hot: '' };
  it('reads degrees, metres and feet', () => {
    expect(readDay(typed, { temp: 'C' }).climate).toEqual({
      coldestC: -10,
      hottestC: 30,
      altitudeSetM: 310,
      passM: 6360 * 0.3048,
    });
    expect(readDay({ ...typed, coldest: '14', hottest: '86' }, { temp: 'F' }).climate).toMatchObject({
      coldestC: -10,
      hottestC: 30,
    });
    expect(readDay({ ...typed, hot: '12' }, { temp: 'C' }).climate?.hotShare).toBe(0.12);
  });
  it.each([
    [{ coldest: '40' }, 'coldest'],
    [{ coldest: '-90' }, 'coldest'],
    [{ hottest: 'warm' }, 'hottest'],
    [{ pass: '9000' }, 'pass'],
    [{ hot: '80' }, 'hot'],
  ])('%o is told at its field', (change, field) => {
    const { climate, errors } = readDay({ ...typed, ...change }, { temp: 'C' });
    expect(climate).toBeNull();
    expect(Object.keys(errors)).toEqual([field]);
  });
  it('is not there until both ends are', () => {
    expect(readDay({ ...typed, hottest: '' }, { temp: 'C' })).toEqual({ climate: null, errors: {} });
  });
});
