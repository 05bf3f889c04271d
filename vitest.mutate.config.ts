import { defineConfig } from 'vitest/config';

/** The folder that is mutated: its own tests must notice. Rules of the watch have tests beside the watch too. */
const folder = process.env.DRUCKWERK_MUTATE ?? '';
const own = folder === '' ? ['core/**/*.test.ts'] : [`core/${folder}/**/*.test.ts`];
const more = folder === 'watch/rules' ? ['core/watch/watch.test.ts', 'core/watch/watch.reference.test.ts'] : [];

/** Tests of one folder of core without the long plays: a mutant must be noticed by a test that says what is wrong. */
export default defineConfig({
  test: {
    environment: 'node',
    include: [...own, ...more],
    exclude: ['scenes', 'healthy', 'fresh', 'schools'].map((name) => `core/watch/${name}.test.ts`),
    testTimeout: 30_000,
  },
});
