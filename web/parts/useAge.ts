import { useEffect, useReducer } from 'react';
import type { WatchView } from '#schema/alarm.ts';

/** A reading as the page was told of it. */
interface Told {
  /** When the sensor said it, by the rig's clock; null: never. */
  time: string | null;
  /** How old it was when the page was told, s. */
  ageS: number | null;
}

/** When this page was first shown a reading, by a clock that nobody sets, ms. */
const seenMs = new WeakMap<Told, number>();

/**
 * Age of a reading by now, s, once a second; null where there is none. A page is told of a live reading once and then not until the next, which
 * may be minutes. Its own clock may be wrong, so only what has passed on it since counts; on the bench the bench's clock tells.
 */
export function useAge(view: Pick<WatchView, 'clock' | 'time'>, told: Told | undefined): number | null {
  const [, again] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    const timer = setInterval(again, 1000);
    return () => clearInterval(timer);
  }, []);
  if (!told || told.time === null || told.ageS === null) return null;
  if (view.clock === 'bench') return Math.max(0, Math.round((Date.parse(view.time) - Date.parse(told.time)) / 1000));
  const now = performance.now();
  const seen = seenMs.get(told) ?? now;
  seenMs.set(told, seen);
  return told.ageS + Math.round((now - seen) / 1000);
}
