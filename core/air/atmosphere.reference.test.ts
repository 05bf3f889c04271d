import { expect, it } from 'vitest';
import { ambientAtAltitude } from './atmosphere.ts';

// U.S. Standard Atmosphere 1976 / ISO 2533, table of pressure against geopotential altitude.
it.each([
  [0, 101.325],
  [500, 95.461],
  [1000, 89.875],
  [2000, 79.495],
  [3000, 70.109],
  [5000, 54.02],
])('the standard atmosphere at %d m is %d kPa', (altitudeM, kpa) => {
  expect(Math.abs(ambientAtAltitude(altitudeM) - kpa)).toBeLessThan(0.001);
});
