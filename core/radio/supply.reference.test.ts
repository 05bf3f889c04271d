import { expect, it } from 'vitest';
import { batteryDays, gaugeMm2, voltageDrop } from './supply.ts';

// Handbook resistivity of copper 1.724e-8 ohm metre (IEC 60028, from memory): 10 m out and back through 1.5 mm2 lose 0.23 V at 1 A.
// "10 m out and back" is 20 m of wire: 1.724e-8 * 20 / 1.5e-6 = 0.2299 ohm.
it('10 m out and back of 1.5 mm2 drop 0.23 V at 1 A', () => {
  expect(Math.abs(voltageDrop(20, 1.5, 1) - 0.23)).toBeLessThan(0.001);
});

// ASTM B258, table of wire gauges, from memory: 18 AWG 0.823 mm2, 16 AWG 1.31 mm2, 14 AWG 2.08 mm2, 12 AWG 3.31 mm2.
it.each([
  [18, 0.823],
  [16, 1.31],
  [14, 2.08],
  [12, 3.31],
])('%d AWG is %d mm2', (awg, mm2) => {
  expect(Math.abs(gaugeMm2(awg) - mm2)).toBeLessThan(0.006);
});

it('warm copper drops more, and a battery lasts by what is drawn', () => {
  expect(voltageDrop(20, 1.5, 1, 60)).toBeCloseTo(0.2299 * (1 + 0.00393 * 40), 3);
  expect(batteryDays(2000, 50, 4)).toBe(10);
});
