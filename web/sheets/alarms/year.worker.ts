import { expose } from 'comlink';
import { sweepYears, type YearAnswer, type YearQuestion } from '#core/climate/year.ts';

const work = {
  /** Sweep years of weather; told how far it has come about twenty times a second. */
  sweep(question: YearQuestion, onProgress: (share: number) => void): YearAnswer {
    let last = 0;
    return sweepYears(question, (share) => {
      const now = performance.now();
      if (now - last < 50 && share < 1) return;
      last = now;
      onProgress(share);
    });
  },
};
export type YearWork = typeof work;
expose(work);
