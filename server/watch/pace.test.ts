import { describe, expect, it } from 'vitest';
import { Pace } from './pace.ts';

/** After enough quick transactions for the most readings. */
function quickPace(): Pace {
  const pace = new Pace();
  for (let i = 0; i < 5; i += 1) pace.took(pace.most, 1);
  return pace;
}

describe('readings in one transaction', () => {
  it('begin with 250 and are twice as many each time while they are quick, up to 8,000', () => {
    const pace = new Pace();
    const seen = [pace.most];
    for (let i = 0; i < 7; i += 1) {
      pace.took(pace.most, 1);
      seen.push(pace.most);
    }
    expect(seen).toEqual([250, 500, 1000, 2000, 4000, 8000, 8000, 8000]);
  });

  it('are as many as take 50 ms', () => {
    const pace = quickPace();
    // 8,000 in 125 ms are 64 each millisecond: 3,200 in 50.
    pace.took(8000, 125);
    expect(pace.most).toBe(3200);
    // 3,200 in 40 ms are 80 each millisecond: 4,000.
    pace.took(3200, 40);
    expect(pace.most).toBe(4000);
  });

  it('are never less than 250', () => {
    const pace = new Pace();
    pace.took(250, 5000);
    expect(pace.most).toBe(250);
  });

  it('are learned from no transaction with less than half of them', () => {
    const pace = quickPace();
    pace.took(3999, 4000);
    expect(pace.most).toBe(8000);
    pace.took(4000, 100);
    expect(pace.most).toBe(2000);
  });
});
