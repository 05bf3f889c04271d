import { describe, expect, it } from 'vitest';
import { SCENE_IDS } from '#schema/bench.ts';
import { drawnSeeds, MOST_MISSES, missesOf } from './scenes.test-data.ts';

const { first, seeds } = drawnSeeds(100);

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
