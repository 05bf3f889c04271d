import { describe, expect, it } from 'vitest';
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

// The same to nine digits, from memory (as SciPy's t.ppf(0.975, df) gives them).
it.each([
  [1, 12.7062047],
  [2, 4.30265273],
  [3, 3.182446305],
  [5, 2.570581836],
  [10, 2.228138852],
  [30, 2.042272456],
])('t with %d degrees of freedom to nine digits: %d', (df, t) => {
  expect(Math.abs(studentT975(df) / t - 1)).toBeLessThan(3e-9);
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

describe('what a trend may say', () => {
  const at = (hours: number, pressureKpa: number) => ({
    time: new Date(Date.UTC(2026, 4, 1) + hours * 3_600_000).toISOString(),
    pressureKpa,
    tempC: 20,
  });
  it('nothing of one reading, or of two at one moment', () => {
    const nothing = { rateKpaPerDay: null, lowKpaPerDay: null, highKpaPerDay: null, daysToFloor: null, verdict: 'unclear' };
    expect(estimateLeak([])).toEqual(nothing);
    expect(estimateLeak([at(0, 250)])).toEqual(nothing);
    expect(estimateLeak([at(5, 250), at(5, 240)])).toEqual(nothing);
  });
  it('a rate of two, an interval from three on', () => {
    expect(estimateLeak([at(24, 248), at(0, 250)])).toMatchObject({ rateKpaPerDay: -2, lowKpaPerDay: null, verdict: 'unclear' });
    const three = estimateLeak([at(0, 250), at(24, 248.3), at(48, 246)]);
    // Mean 248.1, Sxy = -(250 - 248.1) + (246 - 248.1) = -4, Sxx = 2: -2 a day. Residuals -0.1, 0.2, -0.1: 0.06; t with 1 df 12.706:
    // 12.706 * sqrt(0.06 / 2) = 2.2008.
    expect(three.rateKpaPerDay).toBeCloseTo(-2, 9);
    expect(three.lowKpaPerDay).toBeCloseTo(-4.2008, 3);
    expect(three.highKpaPerDay).toBeCloseTo(0.2008, 3);
  });
  it('no verdict with four readings, or inside a day; one with five over a day', () => {
    const line = (n: number, everyHours: number) =>
      Array.from({ length: n }, (_, i) => at(i * everyHours, 250 - i * everyHours * 0.2));
    expect(estimateLeak(line(4, 24)).verdict).toBe('unclear');
    expect(estimateLeak(line(5, 5.99)).verdict).toBe('unclear');
    expect(estimateLeak(line(5, 6)).verdict).toBe('leaking');
  });
  it('3 % a month is the line between leaking and holding', () => {
    // 3 % of 250 kPa in 30 days: 0.25 a day. The same pressures, so that the interval is next to nothing.
    const days = (kpaPerDay: number) => Array.from({ length: 9 }, (_, i) => at(i * 24, 250 - i * kpaPerDay));
    expect(estimateLeak(days(0.26)).verdict).toBe('leaking');
    expect(estimateLeak(days(0.24)).verdict).toBe('holding');
  });
  it('days to a floor only while leaking, and only with a floor', () => {
    const days = (kpaPerDay: number) => Array.from({ length: 9 }, (_, i) => at(i * 24, 250 - i * kpaPerDay));
    expect(estimateLeak(days(2)).daysToFloor).toBeNull();
    expect(estimateLeak(days(0.1), { floorKpa: 200 }).daysToFloor).toBeNull();
    // 234 at the last day, 34 over the floor at 2 a day.
    expect(estimateLeak(days(2), { floorKpa: 200 }).daysToFloor).toBeCloseTo(17, 9);
    expect(estimateLeak(days(2), { floorKpa: 240 }).daysToFloor).toBe(0);
  });
  it('takes the temperature out, to the reference', () => {
    // (250 + 101.325) * 293.15 / 303.15 - 101.325 = 238.41: at 30 °C the same reading is less air.
    const e = estimateLeak([{ ...at(0, 250) }, { ...at(24, 250), tempC: 30 }]);
    expect(e.rateKpaPerDay).toBeCloseTo(-11.589, 3);
  });
});
