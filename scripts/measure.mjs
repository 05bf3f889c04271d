// Measures the figures of docs/performance.md: ratios against a bare loop and raw SQLite in the same run.
import { spawnSync } from 'node:child_process';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build();
const { build: bundle } = await import('esbuild');
for (const file of ['measure/watch.ts', 'measure/lab.ts', 'measure/ingest.ts', 'measure/year.ts']) {
  // One file, like the server.
  const outfile = `${root}/dist/${file.replace('.ts', '.mjs')}`;
  await bundle({
    entryPoints: [`${root}/${file}`],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    outfile,
    logLevel: 'error',
  });
  const { status } = spawnSync(process.execPath, [outfile], { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
