import type { PressureUnit } from '#schema/common.ts';
import { convert } from '../units/units.ts';

/** The values a monitor can be keyed to: multiples of a step from 0, between a least and a most, in its own unit. */
export interface Grid {
  unit: PressureUnit;
  step: number;
  min: number;
  max: number;
}

/** A value this close to a step is on it, in the monitor's unit. */
export const ON_STEP = 1e-4;

/** Decimals a step carries: 1 none, 0.5 and 0.1 one, 0.25 two. */
export function decimalsOf(step: number): number {
  for (let d = 0; d <= 6; d += 1) if (Math.abs(step * 10 ** d - Math.round(step * 10 ** d)) < 1e-9) return d;
  return 6;
}

/** The value with the decimals of its step, without binary dust. */
export const tidy = (value: number, step: number): number => Number(value.toFixed(decimalsOf(step)));

/** The step at or over a value, and the one at or under it. */
export const stepUp = (value: number, step: number): number => tidy(Math.ceil((value - ON_STEP) / step) * step, step);
export const stepDown = (value: number, step: number): number => tidy(Math.floor((value + ON_STEP) / step) * step, step);

/** The least and the most that lie on a step. */
export const ends = (grid: Grid): { least: number; most: number } => ({
  least: stepUp(grid.min, grid.step),
  most: stepDown(grid.max, grid.step),
});

/** All values of a grid, in its unit. */
export function valuesOf(grid: Grid): number[] {
  const { least, most } = ends(grid);
  const out: number[] = [];
  const first = Math.round(least / grid.step);
  const last = Math.round(most / grid.step);
  for (let n = first; n <= last; n += 1) out.push(tidy(n * grid.step, grid.step));
  return out;
}

export const toKpa = (value: number, unit: PressureUnit): number => convert(value, unit, 'kPa');
export const fromKpa = (kpa: number, unit: PressureUnit): number => convert(kpa, 'kPa', unit);
