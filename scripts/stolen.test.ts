import { expect, it } from 'vitest';
import { processorTime, stolenShare } from './stolen.mjs';

// Lines as in proc(5); the guest's time, last, is in user's already.
const stat = (ticks: string) => `cpu  ${ticks}\ncpu0 1 2 3 4 5 6 7 8 0 0\nintr 1\n`;

it('tells what the machine under this one took, as the kernel counts it', () => {
  const before = processorTime(stat('100 0 50 800 10 0 5 35 0 0'));
  expect(before).toEqual({ all: 1000, stolen: 35 });
  const after = processorTime(stat('200 0 100 1100 10 0 5 285 40 0'));
  // 250 of 700 ticks.
  expect(stolenShare(before, after)).toBeCloseTo(35.714, 3);
});

it('tells nothing where the kernel doesn’t', () => {
  expect(processorTime('')).toBeNull();
  expect(processorTime(stat('100 0 50 800'))).toBeNull();
  expect(stolenShare(null, processorTime(stat('1 1 1 1 1 1 1 1')))).toBeNull();
});
