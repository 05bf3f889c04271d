import { expect, it } from 'vitest';
import { bendingNm, stemLoad } from './stem.ts';

// Centripetal force of a point mass, by hand: 0.008 * (50 / 0.31)^2 * 0.17 = 35.38 N; over 0.008 kg and 9.80665 m/s2: 451 g
it('an 8 g cap at 0.17 m on a 0.31 m tire at 180 km/h pulls with 35.4 N', () => {
  const { forceN, accelerationG } = stemLoad(0.008, 0.17, 50, 0.31);
  expect(Math.abs(forceN - 35.38)).toBeLessThan(0.01);
  expect(accelerationG).toBeCloseTo(451, 0);
});

// By hand: 0.008 * 0.17 / 0.2 = 0.0068 kg
it('is balanced by 6.8 g at a rim edge of 0.2 m', () => {
  expect(stemLoad(0.008, 0.17, 50, 0.31, 0.2).balanceMassKg).toBeCloseTo(0.0068, 9);
  expect(stemLoad(0.008, 0.17, 50, 0.31)).not.toHaveProperty('balanceMassKg');
});

// By hand: 35.38 N * 0.06 m = 2.12 Nm on a long stem, 35.38 N * 0.025 m = 0.88 Nm on a short one
it('bends a long stem with 2.12 Nm and a short one with 0.88 Nm', () => {
  expect(bendingNm(35.38, 60)).toBeCloseTo(2.12, 2);
  expect(bendingNm(35.38, 25)).toBeCloseTo(0.88, 2);
});
