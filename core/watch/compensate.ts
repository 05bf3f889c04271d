import { Engine } from './engine.ts';
import type { WheelLimits } from './wheel.ts';

/** A point of a chart: the last reading of a stretch. */
export interface SeriesPoint {
  lastMs: number;
  lastKpa: number;
  lastC: number | null;
}

/**
 * Take the temperature out of series of readings as the watch does it, kPa at the temperature of each cold target. Null where no
 * temperature was given.
 * @param series by position, each in order of time
 * @param airC the air, when it is known, °C
 */
export function compensate(
  series: readonly { position: string; points: readonly SeriesPoint[] }[],
  wheels: Readonly<Record<string, WheelLimits>>,
  airC: number | null = null,
): Map<string, (number | null)[]> {
  const engine = new Engine(wheels, { sleepAware: true });
  if (airC !== null) engine.surround({ ...engine.around, airC });
  const order: [number, string, SeriesPoint, number][] = [];
  const out = new Map<string, (number | null)[]>();
  for (const { position, points } of series) {
    out.set(position, new Array(points.length).fill(null));
    points.forEach((p, i) => {
      order.push([p.lastMs, position, p, i]);
    });
  }
  order.sort((a, b) => a[0] - b[0]);
  for (const [ms, position, p, i] of order) {
    if (p.lastC === null) continue;
    engine.read(position, ms, p.lastKpa, p.lastC, Number.NaN, []);
    const memory = engine.memory(position);
    if (memory) (out.get(position) as (number | null)[])[i] = memory.heldKpa;
  }
  return out;
}
