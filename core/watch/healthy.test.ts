import { describe, expect, it } from 'vitest';
import { faultsOfScene } from './scenes.test-data.ts';

const SEEDS = 100;
/** Drawn anew at every run and printed, so that a failure can be played again: `DRUCKWERK_SEED=… npx vitest run core/watch/healthy.test.ts`. */
const first = Number(process.env.DRUCKWERK_SEED ?? Math.floor(Math.random() * 2 ** 32));
const seeds = Array.from({ length: SEEDS }, (_, i) => (first + i * 2654435761) >>> 0);

describe(`healthy fortnights, ${SEEDS} seeds from ${first}`, () => {
  it('rings nothing in twenty drives of changing weather', () => {
    const id = 'healthyFortnight';
    console.log(`${id}: seeds ${first} + i * 2654435761`);
    const faults = seeds.map((seed) => `${seed}: ${faultsOfScene(id, seed).join('; ')}`).filter((f) => !f.endsWith(': '));
    expect(faults).toEqual([]);
  }, 600_000);
});
