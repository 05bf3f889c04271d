// Serves the app on the demo world, in a folder of its own. `--fresh` makes the world again.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build();
const folder = join(root, '.demo');
if (process.argv.includes('--fresh')) rmSync(folder, { recursive: true, force: true });
process.env.DRUCKWERK_DATA = folder;
await import(`${root}/dist/demo.js`);
