import { expect, it } from 'vitest';
import { topUpPlan } from './plan.ts';

// Worked by hand: 500 kPa at 20 °C reads 601.325 * 303.15 / 293.15 - 101.325 = 520.51 at 30 °C. From 480: 40.51 more, in 60 litres
// 40.51 / 101.325 * 60 = 23.99 litres of free air, at 12 a minute 2.00 min, and one for handling.
it('fills to the target as it reads now', () => {
  const tire = { position: 'B1L', pressureKpa: 480, tempC: 30, targetColdKpa: 500, targetTempC: 20, airLitres: 60 };
  const plan = topUpPlan([tire, { ...tire, position: 'B1R', pressureKpa: 530 }], 12);
  expect(plan.steps[0]?.toKpa).toBeCloseTo(520.51, 2);
  expect(plan.steps[0]?.addKpa).toBeCloseTo(40.51, 2);
  expect(plan.steps[0]?.minutes).toBeCloseTo(3, 2);
  expect(plan.steps[1]).toMatchObject({ addKpa: 0, minutes: 0 });
  expect(plan.totalMinutes).toBeCloseTo(3, 2);
});
