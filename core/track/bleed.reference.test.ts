import { expect, it } from 'vitest';
import { bleedHot } from './bleed.ts';

const PSI = 6.894757293168;

// Common practice, no source: set alike at 24 psi cold, read hot 33, 31, 28, 28, target 30: bleed front left 3, front right 1.
it.each([
  ['front left', 33, 3],
  ['front right', 31, 1],
  ['rear', 28, -2],
])('%s from %d psi hot: %d out', (position, hot, out) => {
  expect(bleedHot({ position, coldKpa: 24 * PSI, hotKpa: hot * PSI, targetHotKpa: 30 * PSI }).bleedHotKpa / PSI).toBeCloseTo(
    out,
    9,
  );
});

// Ideal gas law, worked by hand in psi: (30 + 14.696) / (33 + 14.696) * (24 + 14.696) - 14.696 = 21.57.
it('next time it starts at 21.6 psi', () => {
  expect(bleedHot({ position: 'x', coldKpa: 24 * PSI, hotKpa: 33 * PSI, targetHotKpa: 30 * PSI }).nextColdKpa / PSI).toBeCloseTo(
    21.57,
    2,
  );
});
