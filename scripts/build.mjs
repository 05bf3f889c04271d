// Builds everything into dist/. `--generate` stops after the validators; `--force` builds what is up to date too.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { installFiles, root } from './bootstrap.mjs';

/** First-load JavaScript may weigh this much, gzipped. */
const BUDGET_KB = 120;

function filesUnder(folder) {
  if (!existsSync(join(root, folder))) return [];
  return readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile() && !/\.test\.tsx?$/.test(e.name))
    .map((e) => join(e.parentPath ?? e.path, e.name))
    .sort();
}

function stampOf(folders, files) {
  const hash = createHash('sha256');
  for (const path of [...folders.flatMap(filesUnder), ...files.map((f) => join(root, f))])
    hash.update(path.slice(root.length)).update(readFileSync(path));
  return hash.digest('hex');
}

/** Run a step when its sources changed since it last ran. */
function step(name, folders, files, outputs, force, work) {
  const file = join(root, 'dist', `.${name}-stamp`);
  const stamp = stampOf(folders, files);
  const fresh =
    !force && outputs.every((o) => existsSync(join(root, o))) && existsSync(file) && readFileSync(file, 'utf8') === stamp;
  if (fresh) return Promise.resolve();
  return Promise.resolve(work()).then(() => writeFileSync(file, stamp));
}

function run(args) {
  const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: ['ignore', 2, 2] });
  if (status !== 0) process.exit(status ?? 1);
}

/** Size of what the browser must load before it shows anything, kB gzipped. */
function firstLoadKb() {
  const manifest = JSON.parse(readFileSync(join(root, 'dist/web/.vite/manifest.json'), 'utf8'));
  const seen = new Set();
  const visit = (key) => {
    if (seen.has(key)) return;
    seen.add(key);
    for (const next of manifest[key].imports ?? []) visit(next);
  };
  visit(Object.keys(manifest).find((k) => manifest[k].isEntry));
  const bytes = [...seen].reduce(
    (sum, key) => sum + gzipSync(readFileSync(join(root, 'dist/web', manifest[key].file))).length,
    0,
  );
  return bytes / 1000;
}

/** Every text of the page packed beside it, as the server sends it. */
function pack() {
  const folder = join(root, 'dist/web/assets');
  for (const name of readdirSync(folder).filter((n) => /\.(js|css)$/.test(n))) {
    const text = readFileSync(join(folder, name));
    // The last two steps of quality take eight and twenty times as long, for a twentieth less.
    const params = { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: text.length };
    const packed = brotliCompressSync(text, { params });
    if (packed.length < text.length) writeFileSync(join(folder, `${name}.br`), packed);
  }
}

/** What V8 made of the server, for quicker starts. */
const KEPT_CODE = 'dist/server.code';

/**
 * Let the server start once and keep what V8 makes of it.
 * @returns whether it is kept; it isn't where the server can't start yet, as before its database driver is built
 */
export async function keepCode() {
  if (existsSync(join(root, KEPT_CODE))) return true;
  const free = createServer().listen(0, '127.0.0.1');
  await once(free, 'listening');
  const PORT = String(free.address().port);
  await new Promise((done) => free.close(done));
  const folder = mkdtempSync(join(tmpdir(), 'druckwerk-code-'));
  spawnSync(process.execPath, [join(root, 'dist/server.js')], {
    env: { ...process.env, PORT, HOST: '127.0.0.1', DRUCKWERK_DATA: folder, DRUCKWERK_KEEP_CODE: '1' },
    stdio: 'ignore',
    timeout: 60_000,
  });
  rmSync(folder, { recursive: true, force: true });
  return existsSync(join(root, KEPT_CODE));
}

export async function build({ generateOnly = false, calcOnly = false, serverOnly = false, force = false } = {}) {
  mkdirSync(join(root, 'dist'), { recursive: true });
  const common = [
    'package-lock.json',
    'package.json',
    'scripts/build.mjs',
    'scripts/server-bundle.mjs',
    'scripts/quick-start.mjs',
  ];
  await step(
    'validators',
    ['schema'],
    [...common, 'scripts/generate.ts'],
    ['generated/calc.js', 'generated/bodies.js', 'generated/forms.js', 'generated/openapi.json', 'generated/rig.schema.json'],
    force,
    () => run(['--import', 'tsx', 'scripts/generate.ts']),
  );
  if (generateOnly) return;
  await step(
    'server',
    ['core', 'schema', 'server', 'demo'],
    common,
    [
      'dist/server.js',
      'dist/server.cjs',
      'dist/demo.js',
      'dist/backup.js',
      'dist/calc.js',
      'dist/calc-worker.js',
      'dist/migrate-worker.js',
    ],
    force,
    async () => {
      const { build: bundle } = await import('esbuild');
      const { serverBundle, asFunction } = await import('./server-bundle.mjs');
      // Never code that was made of another file.
      rmSync(join(root, KEPT_CODE), { force: true });
      await bundle({
        ...serverBundle,
        ...asFunction,
        absWorkingDir: root,
        entryPoints: ['server/main.ts'],
        outfile: 'dist/server.cjs',
      });
      // A script has no loader of its own for what is loaded later.
      const server = join(root, 'dist/server.cjs');
      writeFileSync(server, readFileSync(server, 'utf8').replace(/\bimport\("/g, '__import("'));
      copyFileSync(join(root, 'scripts/quick-start.mjs'), join(root, 'dist/server.js'));
      await bundle({
        ...serverBundle,
        absWorkingDir: root,
        entryPoints: { demo: 'demo/start.ts', backup: 'server/backup/command.ts' },
        outdir: 'dist',
        sourcemap: true,
      });
      await bundle({
        ...serverBundle,
        absWorkingDir: root,
        entryPoints: {
          calc: 'server/calc/command.ts',
          'calc-worker': 'server/calc/worker.ts',
          'migrate-worker': 'server/db/migrate-worker.ts',
        },
        outdir: 'dist',
        minify: true,
      });
    },
  );
  if (calcOnly || serverOnly) return;
  await step('web', ['core', 'schema', 'web'], [...common, 'vite.config.ts'], ['dist/web/index.html'], force, () => {
    run(['node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn']);
    const kb = firstLoadKb();
    process.stderr.write(`First-load JavaScript: ${kb.toFixed(1)} kB gzipped (at most ${BUDGET_KB})\n`);
    if (kb > BUDGET_KB) process.exit(1);
    pack();
  });
  // With its pages: without them it doesn't start.
  await keepCode();
}

if (process.argv[1] === import.meta.filename) {
  installFiles();
  await build({ generateOnly: process.argv.includes('--generate'), force: process.argv.includes('--force') });
}
