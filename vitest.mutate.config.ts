import { defineConfig } from 'vitest/config';

/** The folder that is mutated: its own tests must notice. Rules of the watch have their tests beside the watch too. */
const folder = (process.env.DRUCKWERK_MUTATE ?? '').replace(/^watch\/.*/, 'watch');

/** Tests of one folder of core without the long plays: a mutant must be noticed by a test that says what is wrong. */
export default defineConfig({
  test: {
    environment: 'node',
    include: [folder === '' ? 'core/**/*.test.ts' : `core/${folder}/**/*.test.ts`],
    exclude: ['scenes', 'healthy', 'fresh', 'schools'].map((name) => `core/watch/${name}.test.ts`),
    testTimeout: 30_000,
  },
});
