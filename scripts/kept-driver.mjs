// A built database driver is kept for the next clone: compiling SQLite takes a core for most of a minute. Needs nothing but Node.
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';

const hashOf = (data) => createHash('sha256').update(data).digest('hex');

/** The user's folder for what can be made again. */
export function cacheFolder(env = process.env, platform = process.platform) {
  if (env.XDG_CACHE_HOME) return join(env.XDG_CACHE_HOME, 'druckwerk');
  if (platform === 'win32' && env.LOCALAPPDATA) return join(env.LOCALAPPDATA, 'Druckwerk', 'cache');
  if (platform === 'darwin') return join(homedir(), 'Library/Caches/druckwerk');
  return join(homedir(), '.cache/druckwerk');
}

/** Name of a build: the package by its hash in the lockfile, what it was compiled for, and with which flags. */
export function buildName(lockfile, flags, versions = process.versions, platform = process.platform, arch = process.arch) {
  const { version, integrity } = JSON.parse(lockfile).packages['node_modules/better-sqlite3'];
  return `better-sqlite3-${version}-${hashOf([integrity, versions.modules, platform, arch, ...flags].join(' ')).slice(0, 16)}.node`;
}

/** Put a kept build where the package looks for its own. @returns whether there was one, whole */
export function takeDriver(folder, name, to) {
  const from = join(folder, name);
  try {
    // A copy that was cut short must not be loaded: it could end the process that tries.
    if (hashOf(readFileSync(from)) !== readFileSync(`${from}.sha256`, 'utf8')) return false;
    mkdirSync(dirname(to), { recursive: true });
    copyFileSync(from, to);
    return true;
  } catch {
    return false;
  }
}

/** Keep a build. A folder that can't be written to keeps none. */
export function keepDriver(folder, name, from) {
  const to = join(folder, name);
  const half = `${to}.${process.pid}`;
  try {
    mkdirSync(folder, { recursive: true });
    try {
      copyFileSync(from, half);
      writeFileSync(`${to}.sha256`, hashOf(readFileSync(half)));
      renameSync(half, to);
    } finally {
      rmSync(half, { force: true });
    }
  } catch {
    // The next clone builds its own.
  }
}

/** Forget a build that didn't load. */
export function forgetDriver(folder, name) {
  for (const file of [name, `${name}.sha256`]) if (existsSync(join(folder, file))) rmSync(join(folder, file), { force: true });
}
