// All checks: lint, types, unit and server tests, browser tests. Last line: `N passed, N failed`.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { findChromium, installFiles, root } from './bootstrap.mjs';
import { secondTries } from './second-try.mjs';

const started = Date.now();
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
let passed = 0;
let failed = 0;
/** What failed, said once more at the end: of a long log only its end may be kept. */
const failures = [];
/** What passed only when it was run again, so that somebody looks into it. */
const again = [];
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

function run(name, args, env = {}) {
  const from = Date.now();
  console.log(`\n── ${name}`);
  const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  console.log(`── ${name}: ${status === 0 ? 'ok' : 'FAILED'} after ${((Date.now() - from) / 1000).toFixed(0)} s`);
  return status === 0;
}

/** A check that passes or fails as a whole. */
function check(name, args) {
  outcome(name, run(name, args));
}

function outcome(name, ok) {
  if (ok) passed += 1;
  else {
    failed += 1;
    failures.push(name);
  }
}

/** Tests that are counted one by one; a run that broke off counts as a failure of its own. */
function tests(name, args, file, count, env) {
  const ok = run(name, args, env);
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

check('lint', ['node_modules/@biomejs/biome/bin/biome', 'ci', '.', '--error-on-warnings']);
check('validators', ['scripts/build.mjs', '--generate']);
// The build takes one core, the types the other.
const types = spawn(process.execPath, ['node_modules/typescript/bin/tsc', '-b', '--checkers', '1', '--builders', '2'], {
  cwd: root,
  stdio: 'inherit',
});
const typed = once(types, 'exit');
check('build', ['scripts/build.mjs']);
const [status] = await typed;
console.log(`── types: ${status === 0 ? 'ok' : 'FAILED'}`);
outcome('types', status === 0);

/** Tests of some of the projects in `vitest.config.ts`, so many files at a time. */
function unitTests(name, projects, workers) {
  rmSync(secondTries, { force: true });
  const report = join(results, `${projects[0]}.json`);
  tests(
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
  );
  // Read at once: the browser tests empty this folder.
  if (existsSync(secondTries)) again.push(...readFileSync(secondTries, 'utf8').trimEnd().split('\n'));
}
unitTests('core, schema and web tests', ['simulations', 'core', 'web'], 3);
if ((await driver) !== 0) outcome('database driver', false);
// Of these one or two wait for a process of their own.
unitTests('server tests', ['processes', 'server'], 4);

await fetched;
const chromium = findChromium();
if (chromium) {
  const report = join(root, 'dist', 'playwright.json');
  rmSync(report, { force: true });
  tests(
    'browser tests',
    ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'],
    report,
    (r) => {
      const flaky = specs(r.suites).filter((s) => s.tests.some((t) => t.status === 'flaky'));
      again.push(...flaky.map(({ file, title }) => `${file} › ${title}`));
      const broken = specs(r.suites).flatMap(({ file, title, tests }) =>
        tests
          .filter((t) => t.status === 'unexpected')
          .map((t) => `${file} › ${title}: ${reason(t.results.at(-1)?.error?.message)}`),
      );
      return { passed: r.stats.expected + r.stats.flaky, failed: broken };
    },
    {
      DRUCKWERK_TEST_JSON: report,
      CHROMIUM_PATH: chromium,
    },
  );
} else outcome('browser tests: no Chromium', false);

for (const what of again) console.log(`── passed on the second try only: ${what}`);
for (const what of failures) console.log(`── failed: ${what}`);
console.log(`\nTook ${((Date.now() - started) / 1000).toFixed(0)} s`);
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
