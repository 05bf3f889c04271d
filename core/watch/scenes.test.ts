import { describe, expect, it } from 'vitest';
import { SCENE_IDS } from '#schema/bench.ts';
import { MOST_MISSES, missesOf, seedsFrom } from './scenes.test-data.ts';

/** Drawn anew at every run and printed, so that a failure can be played again: `DRUCKWERK_SEED=… npx vitest run core/watch/scenes.test.ts`. */
const first = Number(process.env.DRUCKWERK_SEED ?? Math.floor(Math.random() * 2 ** 32));
const seeds = seedsFrom(first, 100);

describe(`scenes of the bench, ${seeds.length} seeds from ${first}`, () => {
  it.each(SCENE_IDS.filter((id) => id !== 'healthyFortnight'))(
    '%s rings what it must and nothing it must not',
    (id) => {
      const misses = missesOf(id, seeds);
      console.log(`${id}: seeds ${first} + i * 2654435761`, misses);
      expect(misses.length, misses.join('\n')).toBeLessThanOrEqual(MOST_MISSES);
    },
    300_000,
  );
});
