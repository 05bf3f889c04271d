import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { buildName, cacheFolder, forgetDriver, keepDriver, takeDriver } from './kept-driver.mjs';

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'druckwerk-kept-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const lockfile = (integrity = 'sha512-aaaa', version = '12.0.0') =>
  JSON.stringify({ packages: { 'node_modules/better-sqlite3': { version, integrity } } });

describe('a database driver that was built before', () => {
  it('is taken by the next clone', () => {
    const [kept, built, wanted] = ['kept', 'built.node', 'clone/build/Release/better_sqlite3.node'].map((p) =>
      join(folder, p),
    ) as [string, string, string];
    writeFileSync(built, 'machine code');
    expect(takeDriver(kept, 'a.node', wanted)).toBe(false);
    keepDriver(kept, 'a.node', built);
    expect(takeDriver(kept, 'a.node', wanted)).toBe(true);
    expect(readFileSync(wanted, 'utf8')).toBe('machine code');
    forgetDriver(kept, 'a.node');
    expect(takeDriver(kept, 'a.node', wanted)).toBe(false);
  });

  it('is left where it is when it is not whole, or its hash is gone', () => {
    const [built, wanted] = [join(folder, 'built.node'), join(folder, 'wanted.node')];
    writeFileSync(built, 'machine code');
    keepDriver(folder, 'a.node', built);
    truncateSync(join(folder, 'a.node'), 5);
    expect(takeDriver(folder, 'a.node', wanted)).toBe(false);
    keepDriver(folder, 'a.node', built);
    rmSync(join(folder, 'a.node.sha256'));
    expect(takeDriver(folder, 'a.node', wanted)).toBe(false);
    expect(existsSync(wanted)).toBe(false);
  });

  it('is not kept where nothing can be written, and nothing is thrown', () => {
    writeFileSync(join(folder, 'file'), '');
    writeFileSync(join(folder, 'built.node'), 'machine code');
    chmodSync(folder, 0o500);
    keepDriver(join(folder, 'file'), 'a.node', join(folder, 'built.node'));
    keepDriver(folder, 'b.node', join(folder, 'gone.node'));
    chmodSync(folder, 0o700);
    expect(existsSync(join(folder, 'b.node'))).toBe(false);
  });

  it('has another name for another package, Node, machine or flag', () => {
    const names = [
      buildName(lockfile(), ['-O2'], { modules: '115' }, 'linux', 'x64'),
      buildName(lockfile('sha512-bbbb'), ['-O2'], { modules: '115' }, 'linux', 'x64'),
      buildName(lockfile('sha512-aaaa', '12.0.1'), ['-O2'], { modules: '115' }, 'linux', 'x64'),
      buildName(lockfile(), ['-O3'], { modules: '115' }, 'linux', 'x64'),
      buildName(lockfile(), ['-O2'], { modules: '127' }, 'linux', 'x64'),
      buildName(lockfile(), ['-O2'], { modules: '115' }, 'darwin', 'x64'),
      buildName(lockfile(), ['-O2'], { modules: '115' }, 'linux', 'arm64'),
    ];
    expect(new Set(names).size).toBe(names.length);
    expect(buildName(lockfile(), ['-O2'], { modules: '115' }, 'linux', 'x64')).toBe(names[0]);
  });

  // Where flags of one's own are given, or Windows takes none, they are in it.
  it.skipIf(process.env.CFLAGS !== undefined || process.platform === 'win32')(
    'is built without the parts nothing asks for',
    () => {
      const own = new Database(':memory:');
      const options = (own.pragma('compile_options') as { compile_options: string }[]).map((o) => o.compile_options);
      own.close();
      expect(options).toContain('ENABLE_COLUMN_METADATA');
      expect(options.filter((o) => /FTS|RTREE|GEOPOLY/.test(o))).toEqual([]);
    },
  );

  it('is in the user’s folder for what can be made again', () => {
    expect(cacheFolder({ XDG_CACHE_HOME: '/x' }, 'linux')).toBe('/x/druckwerk');
    expect(cacheFolder({}, 'linux')).toMatch(/\.cache\/druckwerk$/);
    expect(cacheFolder({}, 'darwin')).toMatch(/Library\/Caches\/druckwerk$/);
    expect(cacheFolder({ LOCALAPPDATA: '/l' }, 'win32')).toMatch(/Druckwerk.cache$/);
  });
});
