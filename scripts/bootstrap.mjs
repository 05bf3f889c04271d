// Installs what is missing. Needs nothing but Node and npm; safe to call at every start.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildName, cacheFolder, forgetDriver, keepDriver, takeDriver } from './kept-driver.mjs';

export const root = join(import.meta.dirname, '..');
/** Written once the packages are there, and once their database driver is built. */
const filesStamp = join(root, 'node_modules', '.druckwerk-stamp');
const driverStamp = join(root, 'node_modules', '.druckwerk-driver');

/** Says where the installed packages came from; times of files say nothing in a fresh clone. */
const stamp = (folder = root) =>
  createHash('sha256')
    .update(readFileSync(join(folder, 'package-lock.json')))
    .update(`${process.versions.modules} ${process.platform} ${process.arch}`)
    .digest('hex');
const isCurrent = (file, folder) => existsSync(file) && readFileSync(file, 'utf8') === stamp(folder);

const say = (text) => process.stderr.write(`${text}\n`);

/** Parts of SQLite that nothing here asks for: search in texts, and places on a map. They are a quarter of what is compiled. */
const LEFT_OUT = ['FTS3', 'FTS3_PARENTHESIS', 'FTS4', 'FTS5', 'GEOPOLY', 'RTREE'].map((part) => `-USQLITE_ENABLE_${part}`);

/**
 * SQLite's own level: the package's `-O3` takes a quarter longer to compile and is no faster (docs/performance.md). And no warnings: Node's
 * headers ask for all of them, the package prints none of SQLite's, and looking for them takes another quarter.
 */
const flags = () => ({
  CFLAGS: process.env.CFLAGS ?? ['-O2', '-Wno-all', '-Wno-extra', ...LEFT_OUT].join(' '),
  CXXFLAGS: process.env.CXXFLAGS ?? '-O2 -Wno-all -Wno-extra',
});

function npm(args, folder = root) {
  const env = { ...process.env };
  // Native modules are built against Node's own headers where the system has them.
  if (existsSync('/usr/include/node')) env.npm_package_config_node_gyp_nodedir = '/usr';
  // They are built on all cores.
  env.JOBS ??= 'max';
  Object.assign(env, flags());
  const cli = process.env.npm_execpath;
  const [command, list] = cli?.endsWith('.js') ? [process.execPath, [cli, ...args]] : ['npm', args];
  return spawnSync(command, list, {
    cwd: folder,
    env,
    stdio: ['ignore', 2, 2],
    shell: process.platform === 'win32' && command === 'npm',
  });
}

/** Install the packages of the lockfile when they are not there yet; the database driver isn't built by this. */
export function installFiles() {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) {
    say(`Druckwerk needs Node 20.19 or later; this is ${process.versions.node}.`);
    process.exit(1);
  }
  if (isCurrent(filesStamp)) return;
  say('Installing packages. The first time this takes one to two minutes: the database driver is built here.');
  clean(root);
  writeFileSync(filesStamp, stamp());
}

/** Install the packages of a folder's lockfile, without their scripts. */
function clean(folder) {
  const args = ['ci', '--include=dev', '--ignore-scripts', '--no-audit', '--no-fund'];
  // What npm has kept is as good as what it would ask for: the lockfile names each package by its hash. What it kept may know no newer version,
  // so a second try asks.
  const { status } = npm([...args, '--prefer-offline'], folder);
  if (status === 0) return;
  say('Once more, with nothing taken from what npm has kept.');
  const again = npm([...args, '--prefer-online'], folder);
  if (again.status === 0) return;
  say('The packages could not be installed. See the lines above.');
  process.exit(again.status ?? 1);
}

/** Install the packages of a tool that has a lockfile of its own, in a folder of this project. */
export function installTool(folder) {
  const file = join(folder, 'node_modules', '.druckwerk-stamp');
  if (isCurrent(file, folder)) return;
  clean(folder);
  writeFileSync(file, stamp(folder));
}

/** @returns why the database driver doesn't load, tried in a process of its own; null where it does */
function driverFault() {
  const { status, stderr } = spawnSync(process.execPath, ['-e', "new (require('better-sqlite3'))(':memory:').close()"], {
    cwd: root,
    encoding: 'utf8',
  });
  return status === 0 ? null : (/^\w*Error: .*/m.exec(stderr)?.[0] ?? `the process that tried ended with ${status}`);
}

/**
 * The database driver of installed packages, when it isn't there yet: one that was built for an earlier clone, or built now, which takes a core
 * for most of a minute.
 */
export function buildDriver() {
  if (isCurrent(driverStamp)) return;
  if (driverFault() !== null) {
    const file = join(root, 'node_modules/better-sqlite3/build/Release/better_sqlite3.node');
    const folder = cacheFolder();
    const name = buildName(readFileSync(join(root, 'package-lock.json'), 'utf8'), Object.values(flags()));
    const taken = takeDriver(folder, name, file);
    const loads = taken && driverFault() === null;
    if (taken && !loads) forgetDriver(folder, name);
    if (!loads) {
      const { status } = npm(['rebuild', 'better-sqlite3']);
      if (status !== 0) {
        say('The database driver could not be built. See the lines above; it needs a C++ compiler, make and python3.');
        process.exit(status ?? 1);
      }
      const fault = driverFault();
      if (fault !== null) {
        say(`The database driver does not load: ${fault}`);
        process.exit(1);
      }
      keepDriver(folder, name, file);
    }
  }
  writeFileSync(driverStamp, stamp());
}

/** Install what is missing of the packages, with their database driver. */
export function installPackages() {
  installFiles();
  buildDriver();
}

/** Where Chromium is, installing Debian's when that can be done here; null when it cannot. */
export function findChromium() {
  const known = [process.env.CHROMIUM_PATH, '/usr/bin/chromium', '/usr/bin/chromium-browser'].filter(Boolean);
  const there = known.find((p) => existsSync(p));
  if (there) return there;
  if (process.platform === 'linux' && process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    say('Installing Chromium for the browser tests.');
    const run = (args) =>
      spawnSync('apt-get', args, { stdio: ['ignore', 2, 2], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }).status;
    run(['update']);
    run(['install', '-y', '--no-install-recommends', 'chromium']);
    if (existsSync('/usr/bin/chromium')) return '/usr/bin/chromium';
  }
  say(
    'Chromium is missing. Install it (Debian: sudo apt-get install chromium) or set CHROMIUM_PATH to where it is, then run this again.',
  );
  return null;
}
