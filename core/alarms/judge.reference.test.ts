import { expect, it } from 'vitest';
import { judge, judgeHot } from './judge.ts';

// Ideal gas law with absolute pressures (NIST SP 811 constants), worked by hand. 551.58 kPa set at 20 °C, sea level:
//   absolute 551.58 + 101.325 = 652.905; 20 °C = 293.15 K
//   coldest start, -10 °C = 263.15 K: 652.905 * 263.15 / 293.15 = 586.089; less 101.325 = 484.76
//   hot run, 48 °C = 321.15 K: 652.905 * 321.15 / 293.15 = 715.267; less 101.325 = 613.94
//   low alarm hot: (496.42 + 101.325) * 293.15 / 321.15 = 545.629; less 101.325 = 444.30
// The low of 496.42 is over the coldest start: it rings for nothing. It is over the load minimum of 448.16 when cold, but a hot tire
// that reads it holds 444.30 cold: not enough.
it('80 psi, low 72, high 100, carrying at 65, between -10 °C and a running 48 °C', () => {
  const j = judge({
    coldKpa: 551.58,
    coldTempC: 20,
    lowKpa: 496.42,
    highKpa: 689.48,
    loadMinimumKpa: 448.16,
    coldestC: -10,
    runningC: 48,
  });
  expect(Math.abs(j.coldestStartKpa - 484.76)).toBeLessThan(0.05);
  expect(Math.abs(j.hotRunKpa - 613.94)).toBeLessThan(0.05);
  expect(Math.abs(j.lowAlarmHotColdKpa - 444.3)).toBeLessThan(0.05);
  expect(j.verdicts).toEqual(['nuisance-low', 'unprotected-hot']);
});

// U.S. Standard Atmosphere 1976 at 2,000 m: 79.495 kPa. The same tire at the same temperature reads 101.325 - 79.495 = 21.83 more.
it('the same tire reads 21.83 kPa more on a pass of 2,000 m', () => {
  const j = judge({
    coldKpa: 500,
    coldTempC: 15,
    lowKpa: 400,
    highKpa: null,
    loadMinimumKpa: 0,
    coldestC: 15,
    runningC: 15,
    altitudeSetM: 0,
    altitudeReadM: 2000,
  });
  expect(Math.abs(j.coldestStartKpa - 521.83)).toBeLessThan(0.005);
  expect(Math.abs(j.lowAlarmHotColdKpa - 378.17)).toBeLessThan(0.005);
});

// Common practice, no source: 70 °C on a cap means 120 to 140 °C of gas, gas of 77 to 93 °C shows as 42 to 60 °C (share 0.43 to 0.6
// of the rise over the air; 0.5 taken). At 20 °C of air: 20 + (70 - 20) / 0.5 = 120; 20 + 0.5 * (77 - 20) = 48.5.
it('the usual preset of 70 °C sleeps on a cap', () => {
  const h = judgeHot(70, 'cap', 20, 45);
  expect(h.gasWhenRingsC).toBeCloseTo(120, 9);
  expect(h.limitForFailingC).toBeCloseTo(48.5, 9);
  expect(h.verdict).toBe('sleeping-hot');
  // An internal sensor shows 0.9 of the rise (assumed): 20 + 50 / 0.9 = 75.6 °C of gas.
  expect(judgeHot(70, 'internal', 20, 45).gasWhenRingsC).toBeCloseTo(75.56, 2);
  expect(judgeHot(70, 'internal', 20, 45).verdict).toBe('ok');
});
