// Starts the server from `server.cjs` beside it, with the code that V8 made of it at the build (`server.code`): reading it took a third of each start.
// The build copies this file to `dist/server.js`.
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Script } from 'node:vm';

const file = join(import.meta.dirname, 'server.cjs');
const kept = join(import.meta.dirname, 'server.code');

/** What was kept, if anything was. V8 itself refuses what was made by another version of it, or of a file of another length. */
function keptCode() {
  try {
    return readFileSync(kept);
  } catch {
    return undefined;
  }
}

/** Whether an error says that a package is missing, or was made for another Node or machine. */
const ofPackages = (error) => /MODULE_NOT_FOUND|ERR_DLOPEN_FAILED/.test(error?.code) || /bindings file/.test(error?.message);

/** The exit code `packages` of `server/world/failures.ts`. */
const NO_PACKAGES = 23;

const script = new Script(readFileSync(file, 'utf8'), { filename: file, cachedData: keptCode() });
const module = { exports: {} };
const later = (name) => import(name);
try {
  script.runInThisContext()(module, createRequire(file), later, pathToFileURL(file).href, import.meta.dirname);
  await module.exports.serve();
} catch (error) {
  if (!ofPackages(error)) throw error;
  console.error(
    'Packages of the server are missing, or are for another version of Node. Start it with npm start, which installs them.',
  );
  process.exit(NO_PACKAGES);
}

// The build lets it start once, and answer what a page asks first: what V8 has made by then is kept.
if (process.env.DRUCKWERK_KEEP_CODE) {
  for (const path of ['', 'api/health', 'api/rigs', 'api/units', 'api/monitors'])
    await (await fetch(`http://127.0.0.1:${process.env.PORT}/${path}`)).arrayBuffer();
  writeFileSync(`${kept}.new`, script.createCachedData());
  renameSync(`${kept}.new`, kept);
  process.exit(0);
}
