import type { LogEntry, Wheel } from '#schema/unit.ts';
import { dayIn } from '../calendar/day.ts';

/** Entries of the log that are about a wheel, or about the whole rig; what was practised is none. */
export const entriesOf = (log: readonly LogEntry[] | undefined, position: string): LogEntry[] =>
  (log ?? []).filter((e) => !e.practice && (e.position === undefined || e.position === position));

/** When its sensor went on, as its card was ticked. */
export const fittedAt = (wheel: Pick<Wheel, 'fitting'>): string | undefined =>
  wheel.fitting?.done.find((d) => d.code === 'sensorOn' || d.code === 'shop')?.at;

/**
 * Day since when a sensor's cell is in: the latest that was noted on the sensor or in the log, else the day it was fitted or paired.
 * @param own entries of the log that are about this wheel
 * @param zone where the owner is, IANA name: the days are counted there
 */
export function cellSinceOf(
  wheel: Pick<Wheel, 'sensor' | 'fitting'>,
  own: readonly LogEntry[],
  zone: string,
): string | undefined {
  const dayOf = (at: string | undefined) => (at === undefined ? undefined : dayIn(zone, at));
  const noted = [wheel.sensor?.cellSince, ...own.filter((e) => e.kind === 'cell').map((e) => dayIn(zone, e.at))];
  return (
    noted
      .filter((d) => d !== undefined)
      .sort()
      .at(-1) ??
    dayOf(fittedAt(wheel)) ??
    dayOf(wheel.sensor?.pairedAt)
  );
}
