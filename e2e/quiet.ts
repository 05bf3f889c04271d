import { processorTime, stolenShare } from '../scripts/stolen.mjs';
import { test } from './server.ts';

/** From this share on a bound of time says more of the machine under this one than of the app, percent. Frames were late from a fifth on. */
const STOLEN = 5;

/**
 * Watches what the machine under this one takes from now on. Bounds of time that are missed are missed, and measured once more as all tests are; only
 * when they are missed again while others had the processors the test is left out, and `npm test` names it.
 */
export function measuring(): (bounds: () => void) => void {
  const since = processorTime();
  return (bounds) => {
    try {
      bounds();
    } catch (error) {
      const stolen = stolenShare(since, processorTime());
      if (stolen === null || stolen < STOLEN || test.info().retry === 0) throw error;
      test.skip(true, `the machine under this one took ${stolen.toFixed(0)} % of the processors`);
    }
  };
}
