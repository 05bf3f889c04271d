// Measures the two figures of docs/performance.md: ratios against a bare loop and raw SQLite in the same run.
import { spawnSync } from 'node:child_process';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build();
for (const file of ['bench/watch.bench.ts', 'bench/ingest.bench.ts']) {
  const { status } = spawnSync(process.execPath, ['--import', 'tsx', file], { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
