import { ends, fromKpa, type Grid, tidy, toKpa } from '#core/alarms/grid.ts';
import type { PressureUnit } from '#schema/common.ts';
import type { Monitor } from '#schema/monitor.ts';

/** Steps a person would take when there is no monitor to set them. */
const plain: Record<PressureUnit, Grid> = {
  psi: { unit: 'psi', step: 1, min: 0, max: 200 },
  bar: { unit: 'bar', step: 0.1, min: 0, max: 14 },
  kPa: { unit: 'kPa', step: 5, min: 0, max: 1400 },
};

/** The grid of a monitor whose limits are keyed; else round figures in the unit on the screen. */
export const gridOf = (monitor: Monitor | null, unit: PressureUnit): Grid =>
  monitor && monitor.groups !== 'baseline'
    ? { unit: monitor.unit, step: monitor.step, min: monitor.min, max: monitor.max }
    : plain[unit];

/**
 * The step of a grid nearest to a pressure, kept on its own side of cold.
 * @param field a low stays under cold and over 0, a high over cold
 */
export function snap(kpa: number, field: 'low' | 'high', coldKpa: number, grid: Grid): number {
  const { least, most } = ends(grid);
  const cold = fromKpa(coldKpa, grid.unit);
  let n = Math.round(fromKpa(kpa, grid.unit) / grid.step);
  const under = Math.ceil(cold / grid.step - 1e-6) - 1;
  const over = Math.floor(cold / grid.step + 1e-6) + 1;
  n = field === 'low' ? Math.min(n, under) : Math.max(n, over);
  const value = Math.min(most, Math.max(field === 'low' ? Math.max(least, grid.step) : least, n * grid.step));
  return toKpa(tidy(value, grid.step), grid.unit);
}
