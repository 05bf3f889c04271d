import { expect, it } from 'vitest';
import { lowInForce } from './limits.ts';

const cold = { kpa: 240, tempC: 20 };
const limits = { rule: { school: 'share' as const }, lowKpa: 216, highKpa: 288, hotC: 70 };

it('is the owner’s where there is one', () => {
  expect(lowInForce({ cold, limits })).toEqual({ lowKpa: 216, assumed: false });
});

// 49 CFR 571.138 S4.2 (from memory): a warning at 25 % under the recommended cold pressure. 240 - 60 = 180.
it('is 25 % under the cold target where there is none', () => {
  expect(lowInForce({ cold })).toEqual({ lowKpa: 180, assumed: true });
  expect(lowInForce({ cold, limits: { ...limits, lowKpa: null } })).toEqual({ lowKpa: 180, assumed: true });
});

it('is none where there is not even a cold target', () => {
  expect(lowInForce({})).toEqual({ lowKpa: null, assumed: false });
});
