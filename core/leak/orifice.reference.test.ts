import { expect, it } from 'vitest';
import { orificeFlow } from './orifice.ts';

// Compressible orifice flow, discharge coefficient 0.62, isentropic relations of a diatomic gas, worked by hand at sea level:
// choked: m = 0.62 * A * p * sqrt(1.4 / (287.05 * T)) * (2 / 2.4)^3.
it.each([
  ['0.5 mm, 550 kPa, 300 K, choked', 0.5, 550, 300, 1.85e-4],
  ['1.0 mm, 230 kPa, 293.15 K, choked', 1, 230, 293.15, 3.808e-4],
  ['1.0 mm, 60 kPa, 293.15 K, not choked', 1, 60, 293.15, 1.813e-4],
])('%s', (_, hole, gauge, tempK, expected) => {
  const flow = orificeFlow(hole as number, (gauge as number) + 101.325, 101.325, tempK as number);
  expect(Math.abs(flow / (expected as number) - 1)).toBeLessThan(0.001);
});

it('nothing flows out of a tire at ambient pressure', () => {
  expect(orificeFlow(1, 101.325, 101.325, 293.15)).toBe(0);
});

it('choked and unchoked flow meet at the critical ratio', () => {
  const at = 101.325 / 0.5282817877;
  expect(orificeFlow(1, at * 1.00001, 101.325, 300) / orificeFlow(1, at * 0.99999, 101.325, 300)).toBeCloseTo(1, 4);
});

it('no hole, or no more pressure inside than outside: nothing flows', () => {
  for (const [hole, inside] of [
    [0, 400],
    [-1, 400],
    [1, 101.325],
    [1, 80],
  ] as const) {
    expect(orificeFlow(hole, inside, 101.325, 300)).toBe(0);
  }
});
