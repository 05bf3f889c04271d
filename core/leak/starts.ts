import { compensate, type SeriesPoint } from '../watch/compensate.ts';
import type { WheelLimits } from '../watch/wheel.ts';
import type { RestPoint } from './history.ts';

const DAY_MS = 86_400_000;

/** A point of a chart with the coolest reading of its stretch. */
export interface ColdPoint extends SeriesPoint {
  /** °C */
  lowC: number | null;
}

/**
 * The cold start of each day and wheel: the coolest reading of it, brought to the temperature of the cold pressure, in the order of time.
 * @param series by position, each in order of time
 */
export function coldStarts(
  series: readonly { position: string; points: readonly ColdPoint[] }[],
  wheels: Readonly<Record<string, WheelLimits>>,
): { position: string; points: RestPoint[] }[] {
  const held = compensate(series, wheels, null);
  return series.map(({ position, points }) => {
    const days = new Map<number, { c: number; point: RestPoint }>();
    points.forEach((p, i) => {
      const kpa = held.get(position)?.[i] ?? null;
      const c = p.lowC ?? p.lastC;
      if (kpa === null || c === null) return;
      const day = Math.floor(p.lastMs / DAY_MS);
      const best = days.get(day);
      if (!best || c < best.c) days.set(day, { c, point: { ms: p.lastMs, kpa } });
    });
    return { position, points: [...days.values()].map((d) => d.point).sort((a, b) => a.ms - b.ms) };
  });
}
