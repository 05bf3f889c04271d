import { expect, it } from 'vitest';
import { hissLossKpa } from './hiss.ts';

// 0.5 mm hole, 550 kPa gauge, 300 K: 1.850e-4 kg/s, about 16 kPa a minute in 60 litres (compressible orifice flow, worked by hand:
// 1.850e-4 * 60 * 287.05 * 300 / 0.060 / 1000 = 15.93).
it('a minute through 0.5 mm takes about 16 kPa from 60 litres', () => {
  const lost = hissLossKpa(550, 26.85, 60, 60, 0.5);
  expect(lost).toBeGreaterThan(15.4);
  expect(lost).toBeLessThan(15.93);
});
it('a small tire loses more, none of it more than it holds', () => {
  expect(hissLossKpa(230, 20, 12, 3)).toBeGreaterThan(hissLossKpa(230, 20, 30, 3) * 2);
  expect(hissLossKpa(50, 20, 1, 1000)).toBeLessThanOrEqual(50);
  expect(hissLossKpa(230, 20, 30, 0)).toBe(0);
});
