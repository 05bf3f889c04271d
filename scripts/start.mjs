// Serves the built app on the owner's data.
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build();
await import(`${root}/dist/server.js`);
