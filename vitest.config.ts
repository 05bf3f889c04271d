import { defineConfig } from 'vitest/config';

/** A busy machine of two cores is slow now and then; a test that hangs is still found. */
const testTimeout = 30_000;
const hookTimeout = 30_000;

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      {
        test: {
          name: 'core',
          environment: 'node',
          include: ['core/**/*.test.ts', 'schema/**/*.test.ts'],
          testTimeout,
          hookTimeout,
        },
      },
      {
        test: {
          name: 'server',
          environment: 'node',
          include: ['server/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout,
          hookTimeout,
        },
      },
      {
        test: {
          name: 'web',
          environment: 'happy-dom',
          include: ['web/**/*.test.{ts,tsx}'],
          setupFiles: ['web/testing/waits.ts'],
          testTimeout,
          hookTimeout,
        },
      },
    ],
  },
});
