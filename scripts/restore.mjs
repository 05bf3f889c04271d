// Restores a backup into the data folder: see server/backup/command.ts.
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build({ serverOnly: true });
process.argv.splice(2, 0, 'restore');
await import(`${root}/dist/backup.js`);
