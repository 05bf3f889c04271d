// The lane for one's own work: lint, types, and the unit tests near what changed since a commit. npm run check [-- main]
import { spawnSync } from 'node:child_process';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build({ generateOnly: true });
const base = process.argv[2] ?? 'HEAD';
const git = (args) => spawnSync('git', args, { cwd: root, encoding: 'utf8' }).stdout.split('\n').filter(Boolean);
const changed = [
  ...git(['diff', '--name-only', '--diff-filter=d', base]),
  ...git(['ls-files', '--others', '--exclude-standard']),
];
const sources = changed.filter((f) => /\.(ts|tsx)$/.test(f) && !f.startsWith('e2e/'));

const steps = [
  ['lint', ['node_modules/@biomejs/biome/bin/biome', 'ci', '.', '--error-on-warnings']],
  ['types', ['node_modules/typescript/bin/tsc', '-b']],
];
if (sources.length > 0) steps.push(['tests near the change', ['node_modules/vitest/vitest.mjs', 'related', '--run', ...sources]]);
let failed = 0;
for (const [name, args] of steps) {
  console.log(`── ${name}`);
  if (spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit' }).status !== 0) failed += 1;
}
if (sources.length === 0) console.log('No source changed, so no tests were run.');
process.exitCode = failed === 0 ? 0 : 1;
