import { defineConfig } from 'vitest/config';

/** The core's tests without the long plays of scenes: a mutant must be noticed by a test that says what is wrong. */
export default defineConfig({
  test: {
    environment: 'node',
    include: ['core/**/*.test.ts'],
    exclude: ['core/watch/scenes.test.ts', 'core/watch/healthy.test.ts', 'core/watch/fresh.test.ts'],
    env: { DRUCKWERK_MUTATE: '1' },
    testTimeout: 30_000,
  },
});
