import { describe, expect, it } from 'vitest';
import { crossingC, seasonOutlook } from './outlook.ts';
import { wintersOf } from './winters.ts';

// 250 kPa at 20 °C, low limit 225. Worked by hand from the ideal gas law at sea level: at -5 °C 351.325 * 268.15 / 293.15 - 101.325 = 220.04,
// at 0 °C 226.03. It reads 225 at 326.325 / 351.325 * 293.15 - 273.15 = -0.86 °C.
const question = { coldKpa: 250, coldTempC: 20, lowKpa: 225 };

describe('cold starts of a season', () => {
  const days = [
    { date: '2026-01-17', minC: -5 },
    { date: '2025-12-03', minC: -0.87 },
    { date: '2025-12-02', minC: -0.85 },
    { date: '2026-02-01', minC: -1 },
    { date: '2026-03-01', minC: 6 },
  ];
  it('are at or under the low limit from -0.86 °C down, named by date in their order', () => {
    const o = seasonOutlook({ ...question, days });
    expect(o.nights).toEqual(['2025-12-03', '2026-01-17', '2026-02-01']);
    expect([o.first, o.last]).toEqual(['2025-12-03', '2026-02-01']);
    expect(crossingC(250, 20, 225)).toBeCloseTo(-0.8603, 4);
  });

  it('with 255.42 kPa at 20 °C the coldest one reads just 225: (225 + 101.325) * 293.15 / 268.15 - 101.325', () => {
    expect(seasonOutlook({ ...question, days }).resetKpa).toBeCloseTo(255.423, 2);
  });

  it('a mild winter has none', () => {
    const o = seasonOutlook({ ...question, days: [{ date: '2026-01-01', minC: 4 }] });
    expect(o).toMatchObject({ nights: [], first: null, last: null });
    expect(o.resetKpa).toBeLessThan(250);
  });

  it('high up less of the pressure is the air’s: the same night takes less off', () => {
    // At 2,000 m, 79.495 kPa: (250 + 79.495) * 268.15 / 293.15 - 79.495 = 221.90.
    const at = (lowKpa: number) =>
      seasonOutlook({ ...question, lowKpa, altitudeM: 2000, days: [{ date: '2026-01-17', minC: -5 }] }).nights;
    expect(at(221.85)).toEqual([]);
    expect(at(221.95)).toHaveLength(1);
  });
});

describe('winters', () => {
  it('are stretches of nights with no pause of more than 90 days', () => {
    expect(wintersOf(['2024-12-01', '2025-01-10', '2025-03-20', '2025-11-02', '2026-01-31'])).toEqual([
      { nights: 3, first: '2024-12-01', last: '2025-03-20' },
      { nights: 2, first: '2025-11-02', last: '2026-01-31' },
    ]);
    // 90 days after 31 January 2026 is 1 May.
    expect(wintersOf(['2026-01-31', '2026-05-01'])).toHaveLength(1);
    expect(wintersOf(['2026-01-31', '2026-05-02'])).toHaveLength(2);
    expect(wintersOf([])).toEqual([]);
  });
});
