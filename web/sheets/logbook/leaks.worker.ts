import { expose } from 'comlink';
import { leaksOf, type RestPoint, type WheelLeak } from '#core/leak/history.ts';
import { type ColdPoint, coldStarts } from '#core/leak/starts.ts';
import type { WheelLimits } from '#core/watch/wheel.ts';

/** Each day's cold start of each wheel, and what became of its air. */
export interface Leaks {
  starts: { position: string; points: RestPoint[] }[];
  leaks: WheelLeak[];
}

const work = {
  leaks(series: { position: string; points: ColdPoint[] }[], wheels: Record<string, WheelLimits>): Leaks {
    const starts = coldStarts(series, wheels);
    return { starts, leaks: leaksOf(starts) };
  },
};
export type LeaksWork = typeof work;
expose(work);
