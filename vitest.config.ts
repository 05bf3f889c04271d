import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          environment: 'node',
          include: ['core/**/*.test.ts', 'schema/**/*.test.ts'],
        },
      },
      {
        test: { name: 'server', environment: 'node', include: ['server/**/*.test.ts', 'demo/**/*.test.ts'], testTimeout: 30_000 },
      },
      { test: { name: 'web', environment: 'happy-dom', include: ['web/**/*.test.{ts,tsx}'] } },
    ],
  },
});
