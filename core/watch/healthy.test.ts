import { describe, expect, it } from 'vitest';
import { faultsOfScene, MOST_MISSES, missesOf, seedsFrom } from './scenes.test-data.ts';

/** Drawn anew at every run and printed, so that a failure can be played again: `DRUCKWERK_SEED=… npx vitest run core/watch/healthy.test.ts`. */
const first = Number(process.env.DRUCKWERK_SEED ?? Math.floor(Math.random() * 2 ** 32));
const seeds = seedsFrom(first, 60);

describe(`healthy fortnights, ${seeds.length} seeds from ${first}`, () => {
  it('rings nothing in twenty drives of changing weather', () => {
    const misses = missesOf('healthyFortnight', seeds);
    console.log(`healthyFortnight: seeds ${first} + i * 2654435761`, misses);
    expect(misses.length, misses.join('\n')).toBeLessThanOrEqual(MOST_MISSES);
  }, 600_000);

  // The first two once rang `apart`: the sun on the side that is usually the cooler one was counted twice. The others rang `stuck`: a sensor
  // slept while the others gave signs of life, and woke with the figures it had.
  it.each([2180635427, 3028372995, 3654290076, 2936238900])('seed %i rings nothing', (seed) => {
    expect(faultsOfScene('healthyFortnight', seed)).toEqual([]);
  });
});
