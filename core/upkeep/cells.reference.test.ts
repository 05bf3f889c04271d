import { describe, expect, it } from 'vitest';
import { CELL_MAH, type CellQuestion, cellForecast, drawMah } from './cells.ts';

const base: CellQuestion = { cell: 'CR1632', cellMonths: 12, drivenHours: 400, ageMonths: 0 };

describe('a cell', () => {
  it('capacities: CR1632 about 140, CR2032 about 225 mAh (IEC 60086 size codes; capacities typical, from memory)', () => {
    expect([CELL_MAH.CR1632, CELL_MAH.CR2032]).toEqual([140, 225]);
  });
  it('draws 0.012 mA asleep and 0.0295 mA on the move, by hand', () => {
    // 10 µA; 120 samples of 60 µC an hour are 7.2 mC, 0.002 mAh. On the move 720 are 43.2 mC, 0.012 mAh; 180 frames of 150 µC 27 mC, 0.0075.
    expect(drawMah(false)).toBeCloseTo(0.012, 6);
    expect(drawMah(true)).toBeCloseTo(0.0295, 6);
  });
  it('lasts about a year when driven 400 h: 140 mAh over 112.2 mAh a year', () => {
    // 400 * 0.0295 + 8366 * 0.012 = 112.19 mAh. 140 * 0.75 / (112.19 * 1.3) = 0.7199 years, 140 / (112.19 * 0.75) = 1.6638 years.
    const got = cellForecast(base);
    expect(got.leastMonths).toBeCloseTo(8.639, 2);
    expect(got.mostMonths).toBeCloseTo(19.966, 2);
    // 140 * 0.875 / 112.19 = 1.0919 years.
    expect(got.likelyMonths).toBeCloseTo(13.103, 2);
  });
  it('is changed when the owner says, or before that by use; the cold takes a quarter', () => {
    expect(cellForecast(base)).toMatchObject({ by: 'owner', changeAtMonths: 12 });
    // 1,500 h a year: 44.25 + 87.19 = 131.44 mAh, 140 * 0.875 / 131.44 = 0.932 years.
    expect(cellForecast({ ...base, drivenHours: 1500 })).toMatchObject({ by: 'use', changeAtMonths: expect.closeTo(11.184, 2) });
    expect(cellForecast({ ...base, cell: 'CR2050', cellMonths: 12 })).toMatchObject({ by: 'owner', changeAtMonths: 12 });
    expect(cellForecast({ ...base, coldestC: -12 }).leastMonths).toBeCloseTo(8.639 * 0.75, 2);
    expect(cellForecast({ ...base, coldestC: -5 }).leastMonths).toBeCloseTo(8.639, 2);
    // An unknown type: what its owner says.
    expect(cellForecast({ ...base, cell: 'sealed', cellMonths: 48 })).toMatchObject({
      leastMonths: 48,
      mostMonths: 48,
      by: 'owner',
    });
  });
  it('its voltage comes before every forecast', () => {
    expect(cellForecast({ ...base, ageMonths: 3, voltsAt20: 2.95 })).toMatchObject({ byVoltage: 'fresh', by: 'owner' });
    expect(cellForecast({ ...base, ageMonths: 3, voltsAt20: 2.7 })).toMatchObject({
      byVoltage: 'falling',
      leftMonths: 1,
      by: 'voltage',
    });
    expect(cellForecast({ ...base, ageMonths: 3, voltsAt20: 2.4 })).toMatchObject({
      byVoltage: 'spent',
      leftMonths: 0,
      by: 'voltage',
    });
    expect(cellForecast({ ...base, ageMonths: 30 }).leftMonths).toBe(0);
  });
});
