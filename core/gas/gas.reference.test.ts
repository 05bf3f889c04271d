import { describe, expect, it } from 'vitest';
import { pressureAt, temperatureFor } from './gas.ts';

const PSI = 6.894757293168; // NIST SP 811
const celsius = (f: number) => ((f - 32) * 5) / 9;

// Ideal gas law at constant volume with the constants of NIST SP 811, worked by hand with absolute values, e.g.
// 80 psi at 70 °F: (80 + 14.6959) * (115 + 459.67) / (70 + 459.67) - 14.6959 = 88.05 psi.
describe('the gas law against lines worked by hand', () => {
  it.each([
    [80, 70, 115, 88.05],
    [65, 75, 20, 56.8],
    [32, 68, 23, 28.02],
    [110, 68, 158, 131.27],
  ])('%d psi at %d °F is at %d °F %d psi', (psi, fromF, toF, expected) => {
    expect(Math.abs(pressureAt(psi * PSI, celsius(fromF), celsius(toF)) / PSI - expected)).toBeLessThan(0.006);
  });

  it('551.58 kPa at 21.111 °C is 607.05 kPa at 46.111 °C', () => {
    expect(Math.abs(pressureAt(551.58, 21.111, 46.111) - 607.05)).toBeLessThan(0.05);
  });

  // common practice, no source: track tires set to 24 psi at 15 °C that read 33 psi hold gas of about 82 °C
  it('24 psi at 15 °C stands at 33 psi when the gas is at about 82 °C', () => {
    expect(Math.abs(temperatureFor(24 * PSI, 15, 33 * PSI) - 82)).toBeLessThan(0.5);
  });

  // common practice, no source: 80 psi cold builds about 8 psi on the highway; by the gas law that is 24.8 K from 20 °C
  it('80 psi gains 8 psi by 24.8 K from 20 °C', () => {
    expect(Math.abs(temperatureFor(80 * PSI, 20, 88 * PSI) - 44.8)).toBeLessThan(0.1);
  });
});
