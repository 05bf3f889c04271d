import { describe, expect, it } from 'vitest';
import { between, normal, uniform } from './random.ts';

describe('the bench’s generator', () => {
  it('is uniform: mean 1/2, variance 1/12, every tenth alike', () => {
    const state = { s: 42 };
    const values = Array.from({ length: 20_000 }, () => uniform(state));
    const mean = values.reduce((a, b) => a + b) / values.length;
    const variance = values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length;
    expect(mean).toBeCloseTo(0.5, 2);
    expect(variance).toBeCloseTo(1 / 12, 2);
    for (let i = 0; i < 10; i += 1) {
      const share = values.filter((v) => v >= i / 10 && v < (i + 1) / 10).length / values.length;
      expect(share).toBeGreaterThan(0.09);
      expect(share).toBeLessThan(0.11);
    }
  });

  it('is normal: 68 % within one sigma, 95 % within two', () => {
    const state = { s: 7 };
    const values = Array.from({ length: 20_000 }, () => normal(state));
    const within = (sigma: number) => values.filter((v) => Math.abs(v) <= sigma).length / values.length;
    expect(within(1)).toBeCloseTo(0.683, 1);
    expect(within(2)).toBeCloseTo(0.954, 1);
    expect(values.every(Number.isFinite)).toBe(true);
  });

  it('goes on from its state', () => {
    const a = { s: 1 };
    uniform(a);
    const b = { ...a };
    expect(uniform(a)).toBe(uniform(b));
    expect(between({ s: 3 }, 5, 5)).toBe(5);
  });
});
