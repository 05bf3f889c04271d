import { median } from 'simple-statistics';
import type { LogEntry, Tool } from '#schema/unit.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** A gauge or pump and what it reads against the sensors. */
export interface LearntTool {
  name: string;
  flowLitresPerMin: number | null;
  /** Readings of it beside a sensor's. */
  pairs: number;
  /** How much it reads over the sensors, kPa (negative: under them); null until there are enough pairs. */
  offsetKpa: number | null;
  /** Half of the pairs are within this of the offset, kPa. */
  spreadKpa: number | null;
}

/** A single sensor may be off by some psi: only several readings say something about the gauge. */
export const LEAST_PAIRS = 3;

/** Smaller than this is nothing one can act on: 1 psi is close enough (common practice, no source). */
export const OFFSET_COUNTS_KPA = KPA_PER_PSI / 2;

/**
 * Gauges and pumps, those described and those named in the log, each with what it reads against the sensors: the median of the differences, so
 * that one bad sensor or one slip of the pen doesn't move it.
 */
export function toolsOf(log: readonly LogEntry[], tools: readonly Tool[] = []): LearntTool[] {
  const names = new Map<string, number[]>(tools.map((t) => [t.name, []]));
  for (const { tool, before, after, sensorKpa, practice } of log) {
    if (tool === undefined || practice) continue;
    const list = names.get(tool) ?? [];
    names.set(tool, list);
    const read = after ?? before;
    if (read && sensorKpa !== undefined && sensorKpa > 0) list.push(read.kpa - sensorKpa);
  }
  return [...names].map(([name, list]): LearntTool => {
    const offset = list.length < LEAST_PAIRS ? null : median(list);
    return {
      name,
      flowLitresPerMin: tools.find((t) => t.name === name)?.flowLitresPerMin ?? null,
      pairs: list.length,
      offsetKpa: offset,
      spreadKpa: offset === null ? null : median(list.map((d) => Math.abs(d - offset))),
    };
  });
}
