import { expect, it } from 'vitest';
import { estimateLeak, studentT975 } from './estimate.ts';

// Student's t, two-sided 95 %, from the usual table.
it.each([
  [1, 12.706],
  [3, 3.182],
  [10, 2.228],
  [30, 2.042],
  [120, 1.98],
])('t with %d degrees of freedom is %d', (df, t) => {
  expect(Math.abs(studentT975(df) - t)).toBeLessThan(0.0006);
});

// Least squares worked by hand: days 0 to 4, pressures 500, 498.2, 495.9, 494.1, 491.8 at 20 °C throughout. Mean day 2, mean 496;
// Sxy = -2*4 - 1*2.2 + 0 - 1*1.9 - 2*4.2 = -20.5, Sxx = 10: rate -2.05 a day. Residuals -0.1, 0.15, -0.1, 0.15, -0.1: sum of squares
// 0.075; s2 = 0.025; standard error sqrt(0.025 / 10) = 0.05; half width 3.182 * 0.05 = 0.1591.
it('the rate and its interval, worked by hand', () => {
  const readings = [500, 498.2, 495.9, 494.1, 491.8].map((pressureKpa, i) => ({
    time: `2026-05-0${i + 1}T08:00:00Z`,
    pressureKpa,
    tempC: 20,
  }));
  const e = estimateLeak(readings, { floorKpa: 450 });
  expect(e.rateKpaPerDay).toBeCloseTo(-2.05, 6);
  expect(e.lowKpaPerDay).toBeCloseTo(-2.2091, 3);
  expect(e.highKpaPerDay).toBeCloseTo(-1.8909, 3);
  expect(e.verdict).toBe('leaking');
  // Fitted at day 4: 496 - 2.05 * 2 = 491.9; (491.9 - 450) / 2.05 = 20.44.
  expect(e.daysToFloor).toBeCloseTo(20.44, 2);
});
