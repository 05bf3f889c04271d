import { build } from 'esbuild';
import type { Plugin } from 'vite';
import { configDefaults, defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** A busy machine of two cores is slow now and then; a test that hangs is still found. */
const testTimeout = 30_000;
const hookTimeout = 30_000;
/**
 * A machine that stands still for half a minute, as when it is copied, ends the tests that were running by their time limit, and no others: those
 * are run once more, and `npm test` names them. What fails in any other way has failed.
 */
const retry = { count: 1, condition: /timed out in \d+ms/ };
/** Files share a process: loading every module again for each file took half of the time. So a test puts back what it changed for all. */
const shared = { isolate: false, unstubGlobals: true, unstubEnvs: true, testTimeout, hookTimeout, retry };
/**
 * What computes for long takes two to four times as long in a process that ran other tests: there the engine's fast code was thrown away again for
 * what those passed to the same functions. So these have a process each, and begin first, the longest before the others.
 */
const simulations = [
  'core/watch/scenes.test.ts',
  'core/watch/healthy.test.ts',
  'core/lab/lab.test.ts',
  'core/alarms/menu.machine.test.ts',
  'core/radio/radio.test.ts',
  'core/watch/schools.test.ts',
  'core/climate/typical.reference.test.ts',
  'core/faults/session.test.ts',
  'core/watch/fresh.test.ts',
  'core/lab/fixed.test.ts',
  'core/alarms/suggest.test.ts',
  'core/watch/order.test.ts',
  'core/pairing/detective.test.ts',
  'core/alarms/held.machine.test.ts',
  'core/alarms/group-suggest.test.ts',
];
/**
 * Bundles each of those into one module. The runner gives every module its imports through a getter each, which the engine's fast code can't see
 * through: scenes and fortnights of the bench take a third less time this way.
 */
const oneModule: Plugin = {
  name: 'one-module',
  enforce: 'pre',
  async load(id) {
    if (!simulations.some((name) => id.endsWith(`/${name}`))) return null;
    const { outputFiles } = await build({
      entryPoints: [id],
      outfile: id,
      bundle: true,
      write: false,
      format: 'esm',
      platform: 'node',
      target: 'node20',
      external: ['vitest', 'fast-check'],
      sourcemap: 'external',
    });
    const [map, code] = outputFiles.map((file) => file.text) as [string, string];
    return { code, map };
  },
};

/** What waits for servers and brokers in processes of their own: these begin before the other tests of the server. */
const processes = ['server/world/world.test.ts', 'server/world/disk.test.ts', 'server/gateway/gateway.test.ts'];

/** The order of the tests: what takes long or waits first, then project by project, so that a process goes on with tests of its own kind. */
class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const ranked = (await super.sort(files)).map((file) => ({ file, rank: rankOf(file) }));
    return ranked.sort((a, b) => a.rank - b.rank).map(({ file }) => file);
  }
}
function rankOf({ project, moduleId }: TestSpecification): number {
  const early = [...simulations, ...processes].findIndex((name) => moduleId.endsWith(`/${name}`));
  if (early >= 0) return early;
  return simulations.length + processes.length + ['core', 'server', 'web'].indexOf(project.name);
}

export default defineConfig({
  test: {
    maxWorkers: 3,
    sequence: { sequencer: LongestFirst },
    projects: [
      {
        plugins: [oneModule],
        test: {
          name: 'simulations',
          environment: 'node',
          include: simulations,
          ...shared,
          isolate: true,
          // They let all others go first.
          testTimeout: 120_000,
        },
      },
      {
        test: {
          name: 'processes',
          environment: 'node',
          include: processes,
          ...shared,
          isolate: true,
        },
      },
      {
        test: {
          name: 'core',
          environment: 'node',
          include: ['core/**/*.test.ts', 'schema/**/*.test.ts'],
          exclude: [...configDefaults.exclude, ...simulations],
          ...shared,
        },
      },
      {
        test: {
          name: 'server',
          environment: 'node',
          include: ['server/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          exclude: [...configDefaults.exclude, ...processes],
          ...shared,
        },
      },
      {
        test: {
          name: 'web',
          environment: 'happy-dom',
          include: ['web/**/*.test.{ts,tsx}'],
          setupFiles: ['web/testing/setup.ts'],
          ...shared,
        },
      },
    ],
  },
});
