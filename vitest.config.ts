import { defineConfig } from 'vitest/config';

/** A busy machine of two cores is slow now and then; a test that hangs is still found. */
const testTimeout = 30_000;
const hookTimeout = 30_000;
/** Files share a process: loading every module again for each file took half of the time. So a test puts back what it changed for all. */
const shared = { isolate: false, unstubGlobals: true, unstubEnvs: true, testTimeout, hookTimeout };
/**
 * What takes long: simulations, which are slower in a process that ran other things, and what waits for servers and brokers. They begin first
 * and side by side, so that no core waits for the last of them.
 */
const long = [
  'core/watch/scenes.test.ts',
  'core/watch/healthy.test.ts',
  'core/watch/schools.test.ts',
  'core/lab/lab.test.ts',
  'core/alarms/menu.machine.test.ts',
  'core/radio/radio.test.ts',
  'server/world/world.test.ts',
  'server/gateway/gateway.test.ts',
];

export default defineConfig({
  test: {
    maxWorkers: 3,
    projects: [
      {
        test: {
          name: 'long',
          environment: 'node',
          include: long,
          sequence: { groupOrder: 0 },
          ...shared,
          isolate: true,
        },
      },
      {
        test: {
          name: 'core',
          environment: 'node',
          include: ['core/**/*.test.ts', 'schema/**/*.test.ts'],
          exclude: long,
          sequence: { groupOrder: 1 },
          ...shared,
        },
      },
      {
        test: {
          name: 'server',
          environment: 'node',
          include: ['server/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          exclude: long,
          sequence: { groupOrder: 1 },
          ...shared,
        },
      },
      {
        test: {
          name: 'web',
          environment: 'happy-dom',
          include: ['web/**/*.test.{ts,tsx}'],
          sequence: { groupOrder: 1 },
          setupFiles: ['web/testing/setup.ts'],
          ...shared,
        },
      },
    ],
  },
});
