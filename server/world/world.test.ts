import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
  truncateSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { createGzip } from 'node:zlib';
import Database from 'better-sqlite3';
import { pack } from 'tar-stream';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { makeBackup } from '../backup/backups.ts';
import { closeDatabase, openDatabase } from '../db/open.ts';
import { carDocument } from '../testing-documents.ts';
import { EXIT_CODES, portOf, type StartFault } from './failures.ts';
import { type Ended, type Running, shippedServer } from './shipped.test-data.ts';
import { openWorld } from './world.ts';

const shipped = shippedServer();
const { launch, running } = shipped;
let folder: string;
let file: string;
beforeEach(() => {
  folder = shipped.folder;
  file = join(folder, 'druckwerk.sqlite');
});

/** Two sentences, the code, no stack trace. */
function said(result: Running | Ended, fault: StartFault, ...words: (string | RegExp)[]): void {
  if (!('code' in result)) throw new Error('It started.');
  const text = result.err.trim();
  expect(result.code).toBe(EXIT_CODES[fault]);
  for (const w of words) expect(text).toMatch(w);
  expect(text).not.toMatch(/\n|\bat \S+:\d+|Error:/);
  expect(text.match(/[.:](\s|$)|npm run restore/g)?.length ?? 0).toBeGreaterThanOrEqual(2);
}

/** A world with a rig's worth of tables, put away cleanly, with one backup when asked. */
async function world(backup = false): Promise<void> {
  const w = await openWorld(folder);
  await closeDatabase(w.db);
  w.release();
  if (backup) await makeBackup(folder, 'asked', new Date('2026-03-04T05:06:07Z'));
}

describe('a server that can’t start says what is wrong and what to do, with a code of its own', () => {
  it('the data path is a file', async () => {
    writeFileSync(join(folder, 'a'), 'x');
    said(await launch({ DRUCKWERK_DATA: join(folder, 'a') }), 'folderIsFile', 'is a file', 'DRUCKWERK_DATA');
    said(await launch({ DRUCKWERK_DATA: join(folder, 'a', 'b') }), 'folderIsFile', 'is a file');
  });

  it.runIf(process.getuid?.() === 0)('the folder is forbidden (as another user; skipped unless run as root)', async () => {
    chmodSync(folder, 0o700);
    said(await launch({}, { uid: 65_534 }), 'forbidden', 'may not read and write', 'permission');
  });

  it('the file is damaged: at its head or in its middle after a kill; the newest backup is named', async () => {
    await world(true);
    const fd = openSync(file, 'r+');
    writeSync(fd, 'not a database at all', 0);
    said(await launch({}), 'damaged', 'is damaged', /npm run restore -- .*druckwerk-2026-03-04T05-06-07Z-asked\.tar\.gz/);
  });

  it('pages of it were overwritten, and the log shows that it was not put away', async () => {
    await world();
    const raw = new Database(file);
    raw.exec(
      `create table filler (a text); insert into filler select hex(randomblob(2000)) from generate_series(1, 200)`.replace(
        'generate_series(1, 200)',
        '(with recursive n(i) as (select 1 union all select i + 1 from n where i < 200) select i from n)',
      ),
    );
    raw.close();
    const fd = openSync(file, 'r+');
    for (let page = 20; page < 60; page += 1) writeSync(fd, Buffer.alloc(4096, 0xff), 0, 4096, page * 4096);
    writeFileSync(`${file}-wal`, 'left by a kill');
    said(await launch({}), 'damaged', 'is damaged', 'no backup');
  });

  it('the file was emptied, has lost its tables, or is gone: never a new world in silence', async () => {
    await world(true);
    truncateSync(file, 0);
    said(await launch({}), 'emptied', 'is empty', 'npm run restore');
    rmSync(file);
    said(await launch({}), 'emptied', 'is gone', 'npm run restore');
    new Database(file).exec('create table t (a); drop table t; vacuum').close();
    said(await launch({}), 'emptied', 'nothing in it');
  });

  it('a kill in the very first moment leaves an empty file, which is no world yet', async () => {
    writeFileSync(file, '');
    await expect(openWorld(folder).then((w) => closeDatabase(w.db))).resolves.toBeUndefined();
  });

  it('another program holds the file', async () => {
    await world();
    const other = new Database(file);
    other.pragma('locking_mode = EXCLUSIVE');
    other.exec('begin exclusive');
    said(await launch({}), 'locked', 'Another program is using', 'Close that program');
    other.close();
  });

  it('a newer version wrote the file: not a byte of it is changed', async () => {
    await world();
    const raw = new Database(file);
    raw.prepare("insert into knex_migrations (name, batch, migration_time) values ('999-of-tomorrow', 9, 0)").run();
    raw.close();
    const before = readFileSync(file);
    said(await launch({}), 'newer', '999-of-tomorrow', 'left as it is', 'Install that version');
    expect(readFileSync(file).equals(before)).toBe(true);
  });

  it('the database of another program is not taken over', async () => {
    new Database(file).exec('create table theirs (a)').close();
    said(await launch({}), 'damaged', 'another program', 'DRUCKWERK_DATA');
  });

  it('its packages are missing, or its driver is for another Node', () => {
    const start = join(folder, 'server.mjs');
    copyFileSync(join(import.meta.dirname, '../../scripts/quick-start.mjs'), start);
    const startsWith = (body: string) =>
      writeFileSync(
        join(folder, 'server.cjs'),
        `(function (module, require) { module.exports.serve = async () => { ${body} } })`,
      );
    const launchIt = () => {
      const { status, stderr } = spawnSync(process.execPath, [start], { encoding: 'utf8' });
      return { code: status, err: stderr };
    };
    startsWith("require('better-sqlite3')");
    said(launchIt(), 'packages', 'missing', 'npm start');
    writeFileSync(join(folder, 'driver.node'), 'for another machine');
    startsWith("require('./driver.node')");
    said(launchIt(), 'packages', 'another version of Node', 'npm start');
    startsWith("throw new Error('Could not locate the bindings file. Tried: many')");
    said(launchIt(), 'packages', 'missing', 'npm start');
    startsWith("throw new Error('nobody expected this')");
    expect(launchIt()).toMatchObject({ code: 1, err: expect.stringMatching('nobody expected this') });
  });

  it('the port is taken or absurd', async () => {
    const busy = createServer().listen(0, '127.0.0.1');
    await new Promise((r) => busy.once('listening', r));
    const { port } = busy.address() as { port: number };
    said(await launch({ PORT: String(port) }), 'portTaken', `Port ${port} is taken`, 'choose another');
    busy.close();
    said(await launch({ PORT: '99999' }), 'portWrong', '99999', '1 to 65535');
    said(await launch({ HOST: '203.0.113.9' }), 'portWrong', 'no address 203.0.113.9');
  });

  it.each(['', '80', '65535', '0'])('%j is a port', (text) => expect(portOf(text)).toBe(text === '' ? 4600 : Number(text)));
  it.each(['65536', '-1', '4600.5', 'http', '4 6', '1e3'])('%j is none', (text) => expect(() => portOf(text)).toThrow('no port'));

  it('a second server on the folder; after a kill of the first the folder is free at once', async () => {
    const first = await running();
    said(await launch({}), 'second', 'Another Druckwerk server is using', 'Stop it first');
    first.child.kill('SIGKILL');
    await first.ended;
    const second = await running();
    expect((await fetch(`${second.url}/api/health`)).status).toBe(200);
  });
});

const mounted = (path: string, options: string): boolean =>
  spawnSync('mount', ['-t', 'tmpfs', '-o', options, 'tmpfs', path]).status === 0;
const canMount = (() => {
  if (process.getuid?.() !== 0) return false;
  const probe = mkdtempSync(join(tmpdir(), 'druckwerk-mount-'));
  const ok = mounted(probe, 'size=1m');
  spawnSync('umount', [probe]);
  rmSync(probe, { recursive: true, force: true });
  if (!ok) console.warn('No tmpfs can be mounted here: a full and a read-only disk are not tested.');
  return ok;
})();

const reading = (i: number) => ({
  sensorId: 'A00001',
  time: new Date(Date.now() - i * 1000).toISOString(),
  pressureKpa: 250,
  tempC: 20,
});
const post = (url: string, path: string, body: unknown) =>
  fetch(`${url}/api/${path}`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
interface Health {
  canStore: boolean;
  problem: string | null;
  freeBytes: number;
}
const health = async (url: string): Promise<Health> => (await fetch(`${url}/api/health`)).json() as Promise<Health>;

async function pairOne(url: string): Promise<void> {
  const made = await post(url, 'units', carDocument());
  expect(made.status).toBe(201);
}

describe.runIf(canMount)('a disk (tmpfs; skipped where none can be mounted)', () => {
  let disk: string;
  beforeEach(() => {
    disk = join(folder, 'disk');
    mkdirSync(disk);
  });
  afterEach(() => {
    for (let i = 0; i < 2; i += 1) spawnSync('umount', ['-l', disk]);
  });

  it('that can only be read is named at the start', async () => {
    mounted(disk, 'size=8m');
    spawnSync('mount', ['-o', 'remount,ro', disk]);
    said(await launch({ DRUCKWERK_DATA: disk }), 'readOnly', 'only be read', 'writable');
  });

  it('that is full is named at the start', async () => {
    mounted(disk, 'size=64k');
    writeFileSync(join(disk, 'fill'), Buffer.alloc(57_344));
    said(await launch({ DRUCKWERK_DATA: disk }), 'full', 'is full', 'Make room');
  });

  it('that has no room for a backup, or for one that is looked at, is left to the readings', async () => {
    mounted(disk, 'size=48m');
    const { url } = await running({ DRUCKWERK_DATA: disk });
    await pairOne(url);
    const free = () => {
      const { bavail, bsize } = statfsSync(disk);
      return bavail * bsize;
    };
    // Packed, 12 MB of noise are 12 MB.
    mkdirSync(join(disk, 'photos'));
    writeFileSync(join(disk, 'photos', '00000000-0000-4000-8000-000000000000.jpg'), randomBytes(12e6));
    // Room for them, and not for the readings that may come meanwhile.
    const room = 12e6 + 14 * 2 ** 20;
    writeFileSync(join(disk, 'fill'), Buffer.alloc(free() - room));
    let least = room;
    const looking = setInterval(() => {
      least = Math.min(least, free());
    }, 2);
    expect((await post(url, 'backups', {})).status).toBe(507);
    const archive = pack();
    archive.entry({ name: 'druckwerk.sqlite' }, Buffer.alloc(12e6));
    archive.finalize();
    const sent = await buffer(archive.pipe(createGzip()));
    const res = await fetch(`${url}/api/restore`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/gzip' },
      body: new Uint8Array(sent),
    });
    expect(res.status).toBe(507);
    clearInterval(looking);
    // Neither began to fill it.
    expect(least).toBeGreaterThan(room - 1e6);
    expect((await post(url, 'readings', [reading(0)])).status).toBe(200);
    rmSync(join(disk, 'fill'));
    expect((await post(url, 'backups', {})).status).toBe(201);
  });

  it('that fills up while running: 507, nothing is called accepted, reading goes on, and so does all when there is room', async () => {
    mounted(disk, 'size=12m');
    const { url } = await running({ DRUCKWERK_DATA: disk });
    await pairOne(url);
    expect((await post(url, 'readings', [reading(0)])).status).toBe(200);
    const { bavail, bsize } = statfsSync(disk);
    writeFileSync(join(disk, 'fill'), Buffer.alloc(bavail * bsize - 8192));
    let refused: Response | undefined;
    let accepted = 1;
    for (let i = 1; i < 200 && !refused; i += 1) {
      const res = await post(url, 'readings', [reading(i)]);
      if (res.ok) accepted += ((await res.json()) as { accepted: number }).accepted;
      else refused = res;
    }
    expect(refused?.status).toBe(507);
    expect(refused?.headers.get('retry-after')).toBe('2');
    expect(await refused?.text()).toMatch('The disk is full');
    expect(await health(url)).toMatchObject({ canStore: false, problem: expect.stringMatching('The disk is full') });
    expect((await fetch(`${url}/api/units`)).status).toBe(200);
    rmSync(join(disk, 'fill'));
    expect((await post(url, 'readings', [reading(300)])).status).toBe(200);
    expect(await health(url)).toMatchObject({ canStore: true, problem: null });
    const raw = new Database(join(disk, 'druckwerk.sqlite'), { readonly: true });
    expect(raw.prepare('select count(*) from readings').pluck().get()).toBe(accepted + 1);
    raw.close();
  });
});

describe('a running server', () => {
  it('whose file is locked by another program answers everything else, then 503, and goes on', async () => {
    const { url } = await running();
    await pairOne(url);
    const other = new Database(file);
    other.exec('begin immediate');
    const from = Date.now();
    const write = post(url, 'readings', [reading(0)]);
    let slowest = 0;
    for (let i = 0; i < 20; i += 1) {
      const at = Date.now();
      expect((await fetch(`${url}/api/units`)).status).toBe(200);
      slowest = Math.max(slowest, Date.now() - at);
    }
    expect(slowest).toBeLessThan(1000);
    const res = await write;
    expect([res.status, ((await res.json()) as { detail: string }).detail]).toEqual([
      503,
      expect.stringMatching('Another program'),
    ]);
    expect(Date.now() - from).toBeGreaterThan(3000);
    // It lets go while somebody waits.
    const late = post(url, 'readings', [reading(1)]);
    setTimeout(() => other.exec('rollback'), 500);
    expect((await late).status).toBe(200);
    other.close();
  });

  it('whose file or folder is removed calls nothing accepted', async () => {
    const { url } = await running();
    await pairOne(url);
    const aside = `${folder}-aside`;
    renameSync(folder, aside);
    try {
      const res = await post(url, 'readings', [reading(0)]);
      expect([res.status, ((await res.json()) as { detail: string }).detail]).toEqual([
        503,
        expect.stringMatching('The database file is gone'),
      ]);
      expect(await health(url)).toMatchObject({ canStore: false });
      expect(existsSync(folder)).toBe(false);
    } finally {
      renameSync(aside, folder);
    }
    expect((await post(url, 'readings', [reading(0)])).status).toBe(200);
    rmSync(file);
    expect((await post(url, 'readings', [reading(1)])).status).toBe(503);
    expect((await fetch(`${url}/api/units`)).status).toBe(200);
  });

  it.each(['SIGTERM', 'SIGHUP', 'SIGINT'] as const)(
    'finishes what is running on %s, puts the log away and ends with 0',
    async (signal) => {
      const { url, child, ended } = await running();
      await pairOne(url);
      const { request } = await import('node:http');
      const answer = new Promise<string>((done, failed) => {
        const req = request(
          `${url}/api/readings`,
          { method: 'POST', headers: { 'Content-Type': 'application/x-ndjson' } },
          (res) => {
            let text = '';
            res.on('data', (d) => {
              text += d;
            });
            res.on('end', () => done(text));
          },
        );
        req.on('error', failed);
        req.write(`${JSON.stringify(reading(0))}\n`);
        setTimeout(() => child.kill(signal), 200);
        setTimeout(() => req.end(`${JSON.stringify(reading(1))}\n`), 700);
      });
      expect(JSON.parse(await answer)).toMatchObject({ accepted: 2 });
      expect((await ended).code).toBe(0);
      expect(statSync(`${file}-wal`, { throwIfNoEntry: false })).toBeUndefined();
    },
  );
});

it('a file of an earlier version is backed up before it is brought up to date', async () => {
  const db = await openDatabase(file);
  await db.migrate.down();
  await closeDatabase(db);
  const w = await openWorld(folder);
  await closeDatabase(w.db);
  w.release();
  const { listBackups } = await import('../backup/backups.ts');
  expect(listBackups(folder).map((b) => b.why)).toEqual(['upgrade']);
});

describe('the commands', () => {
  const command = (...args: string[]) =>
    spawnSync(process.execPath, [shipped.command, ...args], {
      encoding: 'utf8',
      env: { ...process.env, DRUCKWERK_DATA: folder },
    });

  it('back up a world while its server runs, and restore it into an empty folder and over a damaged file', async () => {
    const { url, child, ended } = await running();
    await pairOne(url);
    const made = command('backup', join(folder, 'copy.tar.gz'));
    expect([made.status, made.stderr]).toEqual([0, '']);
    const refused = command('restore', 'newest');
    expect([refused.status, refused.stderr]).toEqual([EXIT_CODES.second, expect.stringMatching('Another Druckwerk server')]);
    child.kill('SIGTERM');
    await ended;
    writeFileSync(file, 'damaged');
    const back = command('restore', 'newest');
    expect([back.status, back.stdout]).toEqual([0, expect.stringMatching(/0 rigs, 0 readings[\s\S]*before-restore-/)]);
    const again = await running();
    expect(await (await fetch(`${again.url}/api/units`)).json()).toHaveLength(1);
  });

  it('say what is wrong: no such file, no backup, nothing asked', () => {
    const none = command('restore', join(folder, 'nothing.tar.gz'));
    expect([none.status, none.stderr]).toEqual([
      EXIT_CODES.backup,
      expect.stringMatching(/nothing\.tar\.gz isn’t there\. Nothing was changed\.\n$/),
    ]);
    writeFileSync(join(folder, 'a.tar.gz'), 'no backup');
    const wrong = command('restore', join(folder, 'a.tar.gz'));
    expect([wrong.status, wrong.stderr]).toEqual([
      EXIT_CODES.backup,
      expect.stringMatching(/isn’t a Druckwerk backup\. Nothing was changed\.\n$/),
    ]);
    expect(command().status).toBe(2);
  });
});
