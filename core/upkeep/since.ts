import type { LogEntry, Wheel } from '#schema/unit.ts';

/** Entries of the log that are about a wheel, or about the whole rig; what was practised is none. */
export const entriesOf = (log: readonly LogEntry[] | undefined, position: string): LogEntry[] =>
  (log ?? []).filter((e) => !e.practice && (e.position === undefined || e.position === position));

/** When its sensor went on, as its card was ticked. */
export const fittedAt = (wheel: Pick<Wheel, 'fitting'>): string | undefined =>
  wheel.fitting?.done.find((d) => d.code === 'sensorOn' || d.code === 'shop')?.at;

/**
 * Day since when a sensor's cell is in: the latest that was noted on the sensor or in the log, else the day it was fitted or paired.
 * @param own entries of the log that are about this wheel
 */
export function cellSinceOf(wheel: Pick<Wheel, 'sensor' | 'fitting'>, own: readonly LogEntry[]): string | undefined {
  const noted = [wheel.sensor?.cellSince, ...own.filter((e) => e.kind === 'cell').map((e) => e.at.slice(0, 10))];
  return (
    noted
      .filter((d) => d !== undefined)
      .sort()
      .at(-1) ??
    fittedAt(wheel)?.slice(0, 10) ??
    wheel.sensor?.pairedAt?.slice(0, 10)
  );
}
