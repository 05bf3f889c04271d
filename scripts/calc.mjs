// One calculation on the command line: npm run -s calc -- <operation> '<json>'
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
const bundle = join(root, 'dist/calc.js');
const newest = (folder) =>
  Math.max(...readdirSync(join(root, folder), { recursive: true }).map((f) => statSync(join(root, folder, f)).mtimeMs));

if (!existsSync(bundle) || Math.max(newest('core'), newest('schema'), newest('server/calc')) > statSync(bundle).mtimeMs) {
  const { installPackages } = await import('./bootstrap.mjs');
  installPackages();
  const { build } = await import('./build.mjs');
  await build({ calcOnly: true });
}
await import(bundle);
