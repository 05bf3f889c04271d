import { describe, expect, it } from 'vitest';
import { convert } from '../units/units.ts';
import { sameAsBefore, slipOf } from './slips.ts';

const psi = (v: number) => convert(v, 'psi', 'kPa');
const typed = (value: number, likely: number | null, unit: 'psi' | 'bar' | 'kPa' = 'psi') =>
  slipOf({ position: 'A1L', value, unit, likelyKpa: likely === null ? null : convert(likely, unit, 'kPa') });

describe('slips', () => {
  it('bar for psi, psi for bar, kPa for psi', () => {
    expect(typed(5.5, 80)).toMatchObject({ kind: 'unit', readAs: 'bar' });
    // 5.5 bar is 79.8 psi (a gauge's double scale; common practice, no source).
    expect((typed(5.5, 80) as { meant: number }).meant).toBeCloseTo(79.77, 2);
    expect(typed(35, 2.4, 'bar')).toMatchObject({ kind: 'unit', readAs: 'psi' });
    expect(typed(550, 80)).toMatchObject({ kind: 'unit', readAs: 'kPa' });
  });
  it('two digits exchanged', () => {
    expect(typed(53, 35)).toEqual({ kind: 'swapped', meant: 35 });
    expect(typed(4.2, 2.4, 'bar')).toEqual({ kind: 'swapped', meant: 2.4 });
    expect(typed(68, 86)).toEqual({ kind: 'swapped', meant: 86 });
  });
  it('a tire that lost air is far, and a usual figure nothing', () => {
    expect(typed(30, 80)).toMatchObject({ kind: 'far' });
    expect(typed(78, 80)).toBeNull();
    expect(typed(88, 80)).toBeNull();
    expect(typed(70, null)).toBeNull();
    expect(slipOf({ position: 'A1L', value: 0, unit: 'psi', likelyKpa: psi(80) })).toMatchObject({ kind: 'far' });
  });
  it('a round that is the last one to the digit was likely copied', () => {
    const round = [80, 81, 79].map((value) => ({ value, before: value }));
    expect(sameAsBefore(round)).toBe(true);
    expect(sameAsBefore(round.map((r, i) => (i === 0 ? { ...r, value: 82 } : r)))).toBe(false);
    expect(sameAsBefore(round.slice(0, 2))).toBe(false);
  });
});
