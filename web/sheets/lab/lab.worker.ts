import { expose } from 'comlink';
import { compareFixed, compareWatch, dayAgain, type FixedAnswer, type LabFigures, type LabQuestion } from '#core/lab/compare.ts';
import type { WheelLimits } from '#core/watch/watch.ts';

/** Report at most about twenty times a second. */
function seldom(onProgress: (share: number) => void): (share: number) => void {
  let last = 0;
  return (share) => {
    const now = performance.now();
    if (now - last < 50 && share < 1) return;
    last = now;
    onProgress(share);
  };
}

const work = {
  fixed: (q: LabQuestion, onProgress: (share: number) => void): FixedAnswer => compareFixed(q, seldom(onProgress)),
  watch: (q: LabQuestion & { limits: Record<string, WheelLimits> }, onProgress: (share: number) => void): LabFigures =>
    compareWatch(q, seldom(onProgress)),
  day: dayAgain,
};
export type LabWork = typeof work;
expose(work);
