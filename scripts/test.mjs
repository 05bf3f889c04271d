// All checks: lint, types, unit and server tests, browser tests. Last line: `N passed, N failed`.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync } from 'node:fs';
import { setPriority } from 'node:os';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { findChromium, installFiles, root } from './bootstrap.mjs';
import { processorTime, stolenShare } from './stolen.mjs';

const started = Date.now();
const processorsAtStart = processorTime();
/** A part of the set-up in a process of its own, beside what doesn't need it. */
const beside = (part) => {
  const child = spawn(process.execPath, ['-e', `import('./scripts/bootstrap.mjs').then((m) => m.${part}())`], {
    cwd: root,
    stdio: ['ignore', 2, 2],
  });
  return once(child, 'exit').then(([code]) => code);
};
// Debian's Chromium, where it is missing, comes while the packages do, and the database driver is built beside the tests that need no database.
const fetched = beside('findChromium');
installFiles();
const driver = beside('buildDriver');
// Where a machine sets more certificates, Node reads them at each of the hundreds of starts to come, for as long as all else of a start; nothing
// from here on asks another machine for anything.
delete process.env.NODE_EXTRA_CA_CERTS;
let passed = 0;
let failed = 0;
/** What failed, said once more at the end: of a long log only its end may be kept. */
const failures = [];
/** What passed only when it was run again, so that somebody looks into it. */
const again = [];
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

/**
 * @param how `besides`: it runs beside something else, and is printed when it has ended; `nice`: it lets others go first, from 1 to 19
 * @returns whether it ended well
 */
async function run(name, args, { env = {}, besides = false, nice = 0 } = {}) {
  const from = Date.now();
  if (!besides) console.log(`\n── ${name}`);
  const child = spawn(process.execPath, args, {
    cwd: root,
    stdio: besides ? ['ignore', 'pipe', 'pipe'] : 'inherit',
    env: { ...process.env, ...env },
  });
  if (nice > 0) setPriority(child.pid, nice);
  const printed = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => printed.push(chunk));
  const [status] = await once(child, 'close');
  if (besides) console.log(`\n── ${name}\n${Buffer.concat(printed)}`);
  console.log(`── ${name}: ${status === 0 ? 'ok' : 'FAILED'} after ${((Date.now() - from) / 1000).toFixed(0)} s`);
  return status === 0;
}

/** A check that passes or fails as a whole. */
async function check(name, args) {
  outcome(name, await run(name, args));
}

function outcome(name, ok) {
  if (ok) passed += 1;
  else {
    failed += 1;
    failures.push(name);
  }
}

/** Tests that are counted one by one; a run that broke off counts as a failure of its own. */
async function tests(name, args, file, count, how) {
  const ok = await run(name, args, how);
  const report = existsSync(file) ? count(JSON.parse(readFileSync(file, 'utf8'))) : { passed: 0, failed: [] };
  passed += report.passed;
  failures.push(...report.failed);
  failed += report.failed.length;
  if (!ok && report.failed.length === 0) outcome(`${name}: the run broke off`, false);
}

/** @returns the first line of what a test reported, without the terminal's colours, cut where it is very long */
const reason = (text = '') => stripVTControlCharacters(text).split('\n')[0].slice(0, 300);

/** All specs of a Playwright report, those of nested suites too. */
const specs = (suites = []) => suites.flatMap((s) => [...s.specs, ...specs(s.suites)]);

await check('lint', ['node_modules/@biomejs/biome/bin/biome', 'ci', '.', '--error-on-warnings']);
await check('validators', ['scripts/build.mjs', '--generate']);
// The build takes one core, the types the other.
const types = spawn(process.execPath, ['node_modules/typescript/bin/tsc', '-b', '--checkers', '1', '--builders', '2'], {
  // Its own tidying of memory takes a quarter of its time; with four times as much before it tidies, it takes 250 MB more.
  env: { GOGC: '400', ...process.env },
  cwd: root,
  stdio: 'inherit',
});
const typed = once(types, 'exit');
await check('build', ['scripts/build.mjs']);
const [status] = await typed;
console.log(`── types: ${status === 0 ? 'ok' : 'FAILED'}`);
outcome('types', status === 0);

/** Tests of some of the projects in `vitest.config.ts`, so many files at a time. */
async function unitTests(name, projects, workers, how) {
  const report = join(results, `${projects[0]}.json`);
  const seconds = join(results, `${projects[0]}.second-tries.txt`);
  await tests(
    name,
    [
      'node_modules/vitest/vitest.mjs',
      'run',
      ...projects.map((p) => `--project=${p}`),
      `--maxWorkers=${workers}`,
      '--reporter=default',
      '--reporter=json',
      '--reporter=./scripts/second-try.mjs',
      `--outputFile.json=${report}`,
    ],
    report,
    (r) => ({
      passed: r.numPassedTests,
      // A file that couldn't be read at all has no tests of its own.
      failed: r.testResults.flatMap(({ name, status, message, assertionResults }) => {
        const file = relative(root, name);
        const tests = assertionResults.filter((t) => t.status === 'failed');
        if (status === 'failed' && tests.length === 0) return [`${file}: ${reason(message)}`];
        return tests.map((t) => `${file} › ${t.fullName}: ${reason(t.failureMessages[0])}`);
      }),
    }),
    { ...how, env: { ...how?.env, DRUCKWERK_SECOND_TRIES: seconds } },
  );
  // Read at once: the browser tests empty this folder.
  if (existsSync(seconds)) again.push(...readFileSync(seconds, 'utf8').trimEnd().split('\n'));
}
/**
 * Where the server's tests have their folders: in memory where it has room (they take 0.3 GB), since a disk that several of them wait for may stand
 * still for seconds, which no server can help.
 */
function roomInMemory() {
  const folder = '/dev/shm';
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize > 1e9 ? { TMPDIR: folder } : {};
  } catch {
    return {};
  }
}

// What computes goes beside what loads: the others load all modules once a process, so each kind has but one, and those of the server, which wait
// for disks and processes, three. Simulations take what the others leave: they wait for nobody, and fill the cores to the end, also while the driver
// is built.
const simulated = unitTests('simulations', ['simulations'], 2, { besides: true, nice: 10 });
await unitTests('core, schema and web tests', ['core', 'web'], 1);
if ((await driver) !== 0) outcome('database driver', false);
// Not at the build where the driver was still missing.
if (!(await (await import('./build.mjs')).keepCode())) outcome('the code of the server, kept for its next starts', false);
await unitTests('server tests', ['processes', 'server'], 3, { env: roomInMemory() });
await simulated;

await fetched;
const chromium = findChromium();
if (chromium) {
  const report = join(root, 'dist', 'playwright.json');
  rmSync(report, { force: true });
  await tests(
    'browser tests',
    ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'],
    report,
    (r) => {
      const flaky = specs(r.suites).filter((s) => s.tests.some((t) => t.status === 'flaky'));
      again.push(...flaky.map(({ file, title }) => `${file} › ${title}`));
      const broken = specs(r.suites).flatMap(({ file, title, tests }) =>
        tests.filter((t) => t.status === 'unexpected').map((t) => `${file} › ${title}: ${reason(t.results[0]?.error?.message)}`),
      );
      return { passed: r.stats.expected + r.stats.flaky, failed: broken };
    },
    { env: { DRUCKWERK_TEST_JSON: report, CHROMIUM_PATH: chromium } },
  );
} else outcome('browser tests: no Chromium', false);

for (const what of again) console.log(`── passed on the second try only: ${what}`);
for (const what of failures) console.log(`── failed: ${what}`);
// What a run takes says little where others have the processors: tests lost races in minutes in which most of the time went to them.
const stolen = stolenShare(processorsAtStart, processorTime());
const shared = stolen === null || stolen < 1 ? '' : `; the machine under this one took ${stolen.toFixed(0)} % of the processors`;
console.log(`\nTook ${((Date.now() - started) / 1000).toFixed(0)} s${shared}`);
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
