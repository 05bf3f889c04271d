import { describe, expect, it } from 'vitest';
import { convert } from './units.ts';

// NIST SP 811 appendix B, except where another source stands beside the line.
describe('units against NIST SP 811', () => {
  it.each([
    [1, 'psi', 'kPa', 6.894757293168],
    [1, 'bar', 'kPa', 100],
    [30, 'psi', 'bar', 2.0684],
    [1, 'bar', 'psi', 14.5038],
    [1, 'lb', 'kg', 0.45359237],
    [1, 'mi', 'm', 1609.344],
    [1, 'mi', 'km', 1.609344],
    [1, 'ft', 'm', 0.3048],
    [1, 'in', 'mm', 25.4],
    // GNU units 2.21: tempF(212) is tempC(100), tempF(-40) is tempC(-40)
    [212, 'F', 'C', 100],
    [-40, 'C', 'F', -40],
    [70, 'C', 'F', 158],
  ] as const)('%d %s in %s is %d', (value, from, to, expected) => {
    // Right to the last digit that the table prints.
    const digits = String(expected).split('.')[1]?.length ?? 9;
    expect(Math.abs(convert(value, from, to) - expected)).toBeLessThanOrEqual(0.5001 * 10 ** -digits);
  });
});
