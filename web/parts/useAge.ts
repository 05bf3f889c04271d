import { useEffect, useReducer } from 'react';
import type { WatchView } from '#schema/alarm.ts';

/** A reading as the server sent it. */
interface Sent {
  /** When the sensor said it, by the rig's clock; null: never. */
  time: string | null;
  /** How old it was when it was sent, s. */
  ageS: number | null;
}

/** When this page was first shown a reading, by a clock that nobody sets, ms. */
const seenMs = new WeakMap<Sent, number>();

/**
 * Age of a reading by now, s, once a second; null where there is none. A live reading is sent once, the next may come
 * minutes later. The page's own clock may be wrong, so only what has passed on it since counts; on the bench the bench's clock tells.
 */
export function useAge(view: Pick<WatchView, 'clock' | 'time'>, sent: Sent | undefined): number | null {
  const [, again] = useReducer((n: number) => n + 1, 0);
  const heard = sent?.time != null;
  useEffect(() => {
    if (!heard) return;
    const timer = setInterval(again, 1000);
    return () => clearInterval(timer);
  }, [heard]);
  if (!sent || sent.time === null || sent.ageS === null) return null;
  if (view.clock === 'bench') return Math.max(0, Math.round((Date.parse(view.time) - Date.parse(sent.time)) / 1000));
  const now = performance.now();
  const seen = seenMs.get(sent) ?? now;
  seenMs.set(sent, seen);
  return sent.ageS + Math.round((now - seen) / 1000);
}
