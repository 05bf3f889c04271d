import { describe, expect, it } from 'vitest';
import { SCENE_IDS } from '#schema/bench.ts';
import { faultsOfScene } from './scenes.test-data.ts';

const SEEDS = 100;
/** Drawn anew at every run and printed, so that a failure can be played again: `DRUCKWERK_SEED=… npx vitest run core/watch/scenes.test.ts`. */
const first = Number(process.env.DRUCKWERK_SEED ?? Math.floor(Math.random() * 2 ** 32));
const seeds = Array.from({ length: SEEDS }, (_, i) => (first + i * 2654435761) >>> 0);

describe(`scenes of the bench, ${SEEDS} seeds from ${first}`, () => {
  it.each(SCENE_IDS.filter((id) => id !== 'healthyFortnight'))(
    '%s rings what it must and nothing it must not',
    (id) => {
      console.log(`${id}: seeds ${first} + i * 2654435761`);
      const faults = seeds.map((seed) => `${seed}: ${faultsOfScene(id, seed).join('; ')}`).filter((f) => !f.endsWith(': '));
      expect(faults).toEqual([]);
    },
    300_000,
  );
});
