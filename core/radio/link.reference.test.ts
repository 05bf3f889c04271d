import { expect, it } from 'vitest';
import { pathLossDb } from './link.ts';

// Recommendation ITU-R P.525, free-space loss, dB.
it.each([
  [315, 10, 42.41],
  [433.92, 5, 39.18],
  [433.92, 10, 45.2],
  [433.92, 20, 51.22],
  [2402, 10, 60.06],
])('%d MHz over %d m loses %d dB', (mhz, m, db) => {
  expect(Math.abs(pathLossDb(mhz, m) - db)).toBeLessThan(0.005);
});
