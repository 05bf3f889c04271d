import { describe, expect, it } from 'vitest';
import { pressureAt } from '../gas/gas.ts';
import { estimateLeak } from './estimate.ts';

const at = (hours: number) => new Date(Date.UTC(2026, 4, 1) + hours * 3_600_000).toISOString();
/** A tire that loses so much a day, read every six hours through warm days and cold nights. */
const series = (perDay: number, days: number, noise = 0) =>
  Array.from({ length: days * 4 }, (_, i) => {
    const tempC = 10 + 8 * Math.sin((2 * Math.PI * i) / 4);
    const compensated = 500 + (perDay * i) / 4 + noise * Math.sin(i * 12.9898) * 1.4;
    return { time: at(i * 6), tempC, pressureKpa: pressureAt(compensated, 20, tempC) };
  });

describe('a resting tire', () => {
  it('the temperature is taken out', () => {
    const e = estimateLeak(series(0, 6));
    expect(Math.abs(e.rateKpaPerDay ?? 9)).toBeLessThan(1e-6);
    expect(e.verdict).toBe('holding');
    expect(e.daysToFloor).toBeNull();
  });
  it('what the rubber loses is holding, more is leaking', () => {
    expect(estimateLeak(series(-0.2, 10)).verdict).toBe('holding');
    expect(estimateLeak(series(-2, 6), { floorKpa: 450 })).toMatchObject({ verdict: 'leaking' });
  });
  it('is unclear with noise, with few readings, within a day', () => {
    expect(estimateLeak(series(-0.6, 2, 6)).verdict).toBe('unclear');
    expect(estimateLeak(series(-5, 1)).verdict).toBe('unclear');
    expect(estimateLeak(series(-5, 3).slice(0, 4)).verdict).toBe('unclear');
  });
  it('says nothing of one reading, and no interval of two', () => {
    expect(estimateLeak(series(-5, 1).slice(0, 1))).toMatchObject({ rateKpaPerDay: null, verdict: 'unclear' });
    const two = estimateLeak(series(-4, 2).slice(0, 2));
    expect(two.rateKpaPerDay).toBeCloseTo(-4, 6);
    expect(two.lowKpaPerDay).toBeNull();
  });
  it('order does not matter, and a tire at its floor has no days left', () => {
    const s = series(-2, 6);
    expect(estimateLeak([...s].reverse())).toEqual(estimateLeak(s));
    expect(estimateLeak(s, { floorKpa: 499 }).daysToFloor).toBe(0);
  });
});
