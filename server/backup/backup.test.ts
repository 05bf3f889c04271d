import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { gunzipSync, gzipSync } from 'node:zlib';
import Database from 'better-sqlite3';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RestorePreview } from '#schema/backup.ts';
import { migrationNames } from '../db/migrations.ts';
import { closeDatabase } from '../db/open.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';
import { openWorld } from '../world/world.ts';
import { type KeptBackup, makeBackup, spare } from './backups.ts';
import { oldBackup } from './old-backup.test-data.ts';
import { commit, finishRestore, stage } from './restore.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

/** All rows of all tables: the world as another program reads it. */
function everything(folder: string): string {
  const raw = new Database(join(folder, 'druckwerk.sqlite'), { readonly: true });
  const tables = raw
    .prepare("select name from sqlite_master where type = 'table' and name not like 'knex%' and name <> 'meta' order by name")
    .pluck()
    .all() as string[];
  const rowsOf = (t: string) => (raw.prepare(`select * from ${t}`).raw().all() as unknown[]).map((r) => JSON.stringify(r)).sort();
  const text = tables.flatMap((t) => [t, ...rowsOf(t)]).join('\n');
  raw.close();
  const photos = join(folder, 'photos');
  const files = existsSync(photos) ? readdirSync(photos).sort() : [];
  return [
    text,
    ...files.map(
      (f) =>
        `${f} ${createHash('sha256')
          .update(readFileSync(join(photos, f)))
          .digest('hex')}`,
    ),
  ].join('\n');
}

/** What is drawn of a world: the letters of IDs, readings, how many photos. */
const drawn = fc.record({
  units: fc.integer({ min: 1, max: 4 }),
  readings: fc.array(fc.record({ wheel: fc.nat(3), s: fc.nat(86_000), kpa: fc.integer({ min: 100, max: 400 }) }), {
    maxLength: 200,
  }),
  photos: fc.array(fc.uint8Array({ minLength: 1, maxLength: 2000 }), { maxLength: 4 }),
});

async function fill(server: TestServer, world: typeof drawn extends fc.Arbitrary<infer W> ? W : never): Promise<void> {
  server.clock.ms = T0 + 86_400_000;
  for (let u = 0; u < world.units; u += 1) {
    const ids = [0, 1, 2, 3].map((w) => `A${u}000${w}`);
    const unit = (await server.http.post('/api/units').send(carDocument(ids)).expect(201)).body as { id: string };
    await server.http
      .post('/api/rigs')
      .send({ name: `Rig ${u}`, unitIds: [unit.id], loadState: 'loaded' })
      .expect(201);
  }
  if (world.readings.length > 0)
    await server.http
      .post('/api/readings?history=true')
      .send(world.readings.map((r) => readingAt(`A0000${r.wheel}`, r.s, r.kpa)))
      .expect(200);
  mkdirSync(join(server.folder, 'photos'), { recursive: true });
  world.photos.forEach((bytes, i) => {
    writeFileSync(join(server.folder, 'photos', `${String(i).padStart(8, '0')}-0000-4000-8000-000000000000.jpg`), bytes);
  });
}

const upload = async (server: TestServer, bytes: Buffer) =>
  server.http.post('/api/restore').set('Content-Type', 'application/gzip').send(bytes);

describe('a backup that is restored', () => {
  it.each(fc.sample(drawn, 20).map((world, i) => ({ n: i + 1, world })))(
    'gives back every record, reading and photo in the place of another world: $n of twenty',
    async ({ world }) => {
      const other = await testServer();
      try {
        await fill(s, world);
        other.clock.ms = s.clock.ms;
        await makeCar(other, ['C00001', 'C00002', 'C00003', 'C00004']);
        const before = everything(s.folder);
        const made = (await s.http.post('/api/backups').expect(201)).body as { name: string };
        const file = readFileSync(join(s.folder, 'backups', made.name));
        const preview = (await upload(other, file)).body as RestorePreview;
        expect(preview.backup).toMatchObject({
          rigs: Array.from({ length: world.units }, (_, u) => `Rig ${u}`),
          units: world.units,
          readings: new Set(world.readings.map((r) => `${r.wheel} ${r.s}`)).size,
          photos: world.photos.length,
        });
        expect(preview.now.rigs).toEqual(['Errand']);
        // Nothing is replaced by looking.
        expect((await other.http.get('/api/rigs').expect(200)).body).toHaveLength(1);
        const old = everything(other.folder);
        const { keptAside } = (await other.http.post(`/api/restore/${preview.token}`).expect(200)).body as { keptAside: string };
        expect(everything(other.folder)).toBe(before);
        expect(everything(join(other.folder, keptAside))).toBe(old);
        // It is what the server works with now.
        expect((await other.http.get('/api/rigs').expect(200)).body).toHaveLength(world.units);
        await other.http.post(`/api/restore/${preview.token}`).expect(404);
      } finally {
        await other.close();
      }
    },
  );

  it('is the world of the moment it was made, whatever is written while it is made', async () => {
    await makeCar(s);
    const making = s.http.post('/api/backups').expect(201);
    const writing = Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        s.http
          .post('/api/readings?history=true')
          .send([readingAt('A00001', i)])
          .expect(200),
      ),
    );
    const [{ body }] = [await making, await writing];
    const preview = (await s.http.post(`/api/restore?name=${body.name}`).expect(200)).body as RestorePreview;
    expect(preview.backup.readings).toBeLessThanOrEqual(20);
    expect(preview.now.readings).toBe(20);
  });

  it('rings on: alarms of the restored world are known, and a low reading of it rises', async () => {
    const { rig } = await makeCar(s);
    await s.http
      .post('/api/readings')
      .send([readingAt('A00001', -10)])
      .expect(200);
    const { name } = (await s.http.post('/api/backups').expect(201)).body as { name: string };
    await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
    const { token } = (await s.http.post(`/api/restore?name=${name}`).expect(200)).body as RestorePreview;
    await s.http.post(`/api/restore/${token}`).expect(200);
    s.clock.ms += 60_000;
    await s.http
      .post('/api/readings')
      .send([readingAt('A00001', 10, 200), readingAt('A00001', 15, 200)])
      .expect(200);
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body as { position: string; kind: string }[];
    expect(alarms.map((a) => `${a.position} ${a.kind}`)).toContain('A1L low');
  });
});

/** Change the tar inside a backup. */
const changed = (file: Buffer, work: (tar: Buffer) => Buffer): Buffer => gzipSync(work(gunzipSync(file)));

describe('a file that is no whole backup changes nothing and is told why', () => {
  let whole: Buffer;
  beforeEach(async () => {
    await makeCar(s);
    const { name } = (await s.http.post('/api/backups').expect(201)).body as { name: string };
    whole = readFileSync(join(s.folder, 'backups', name));
  });

  it.each([
    ['a picture', () => Buffer.from('GIF89a not a backup'), 'isn’t a Druckwerk backup'],
    ['one cut short', () => whole.subarray(0, whole.length - 400), 'damaged or was cut short'],
    ['nothing', () => gzipSync(Buffer.alloc(1024)), 'no manifest'],
    [
      'one byte of the database changed',
      () => changed(whole, (tar) => Buffer.from(tar.map((b, i) => (i === 512 + 3000 ? b ^ 1 : b)))),
      'isn’t as it was when it was made',
    ],
    [
      'a later layout',
      () => changed(whole, (tar) => Buffer.from(tar.toString('latin1').replace('"format": 1', '"format": 2'), 'latin1')),
      'newer version',
    ],
    [
      'a file that would go elsewhere',
      () =>
        changed(whole, (tar) => Buffer.from(tar.toString('latin1').replace('druckwerk.sqlite', '../../../../home'), 'latin1')),
      /damaged|which no backup has/,
    ],
  ])('%s', async (_name, make, why) => {
    const before = everything(s.folder);
    const res = await upload(s, make());
    expect(res.status).toBe(400);
    expect(res.body.detail).toMatch(why);
    expect(everything(s.folder)).toBe(before);
    expect(existsSync(join(s.folder, 'restoring'))).toBe(false);
  });

  it('one of a newer version', async () => {
    const raw = new Database(join(s.folder, 'druckwerk.sqlite'));
    raw.prepare("insert into knex_migrations (name, batch, migration_time) values ('999-of-tomorrow', 9, 0)").run();
    raw.close();
    const { path } = await makeBackup(s.folder, 'asked', new Date(T0 + 5000));
    const res = await upload(s, readFileSync(path));
    expect([res.status, res.body.detail]).toEqual([400, expect.stringMatching('newer version')]);
  });

  it('one of an older version is brought up to date, and is whole', async () => {
    const old = await oldBackup(1000);
    try {
      const preview = (await upload(s, readFileSync(old.path))).body as RestorePreview;
      expect(preview.backup).toMatchObject({ readings: 1000, units: 0 });
      await s.http.post(`/api/restore/${preview.token}`).expect(200);
      await makeCar(s, ['A00000', 'A00001', 'A00002', 'A00003']);
      const raw = new Database(join(s.folder, 'druckwerk.sqlite'), { readonly: true });
      expect(raw.prepare('select name from knex_migrations order by id').pluck().all()).toEqual(migrationNames);
      expect(raw.pragma('integrity_check', { simple: true })).toBe('ok');
      raw.close();
    } finally {
      rmSync(old.folder, { recursive: true });
    }
  });

  it('two at once: the second waits its turn, the first is whole', async () => {
    const [a, b] = await Promise.all([upload(s, whole), upload(s, whole)]);
    expect([a.status, b.status].sort()).toEqual([200, 409]);
    const { token } = (a.status === 200 ? a : b).body as RestorePreview;
    await s.http.post(`/api/restore/${token}`).expect(200);
  });

  it('is listed by name only: no other file can be fetched', async () => {
    await s.http.get('/api/backups/druckwerk.sqlite').expect(404);
    await s.http.get('/api/backups/..%2Fdruckwerk.sqlite').expect(404);
    const { body } = await s.http.get('/api/backups').expect(200);
    const res = await s.http
      .get(`/api/backups/${body.backups[0].name}`)
      .buffer(true)
      .parse((r, done) => {
        const parts: Buffer[] = [];
        r.on('data', (d: Buffer) => parts.push(d));
        r.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect(res.body.equals(whole)).toBe(true);
  });
});

it('killed at any step of a restore, the next start has one world whole: the old one, or the new one', async () => {
  await makeCar(s);
  mkdirSync(join(s.folder, 'photos'), { recursive: true });
  writeFileSync(join(s.folder, 'photos', '00000000-0000-4000-8000-000000000000.jpg'), 'old');
  const { path } = await makeBackup(s.folder, 'asked', new Date(T0));
  await s.http
    .post('/api/units')
    .send(carDocument(['C00001', 'C00002', 'C00003', 'C00004']))
    .expect(201);
  writeFileSync(join(s.folder, 'photos', '00000001-0000-4000-8000-000000000000.jpg'), 'new');
  await closeDatabase(s.db);
  s.app.hub.close();
  const unitsNow = async (): Promise<number> => {
    const w = await openWorld(s.folder);
    const n = (await w.db('units').count({ n: '*' })) as { n: number }[];
    await closeDatabase(w.db);
    w.release();
    return n[0]?.n as number;
  };
  // Staged and not confirmed: the old world, and no rest of it.
  await stage(s.folder, Readable.from(readFileSync(path)));
  expect(await unitsNow()).toBe(2);
  expect(existsSync(join(s.folder, 'restoring'))).toBe(false);
  // Confirmed: killed between any two of the steps.
  const fs = await import('node:fs/promises');
  await stage(s.folder, Readable.from(readFileSync(path)));
  const aside = await commit(s.folder, new Date(T0));
  await fs.mkdir(join(s.folder, aside), { recursive: true });
  await fs.rename(join(s.folder, 'druckwerk.sqlite'), join(s.folder, aside, 'druckwerk.sqlite'));
  expect(await unitsNow()).toBe(1);
  expect(readdirSync(join(s.folder, 'photos'))).toEqual(['00000000-0000-4000-8000-000000000000.jpg']);
  expect(readdirSync(join(s.folder, aside, 'photos'))).toHaveLength(2);
  expect(everything(join(s.folder, aside))).toContain('C00001');
  await finishRestore(s.folder);
  rmSync(s.folder, { recursive: true });
  s = await testServer();
});

describe('what is kept', () => {
  const DAY = 86_400_000;
  const NOW = Date.UTC(2026, 10, 26, 12);
  const at = (days: number, why: KeptBackup['why'] = 'daily', hours = 0): KeptBackup => ({
    path: '',
    name: `${why} ${days} ${hours}`,
    why,
    madeMs: NOW - days * DAY - hours * 3_600_000,
  });
  const left = (all: KeptBackup[]) => all.filter((b) => !spare(all, NOW).includes(b)).map((b) => b.name);
  it('one of each of the last seven days, one of each of the last four weeks', () => {
    const all = Array.from({ length: 60 }, (_, d) => at(d));
    // 26 November 2026 is a Thursday of week 48; the newest of weeks 48, 47, 46, 45 are 0, 4 (Sunday), 11 and 18 days old.
    expect(left(all)).toEqual([...[0, 1, 2, 3, 4, 5, 6, 11, 18].map((d) => `daily ${d} 0`)]);
  });
  it('of one day the newest; the last three of those that were asked for and before upgrades', () => {
    const all = [at(0), at(0, 'daily', 3), ...[0, 1, 2, 3].flatMap((d) => [at(d, 'asked'), at(d, 'upgrade')])];
    expect(
      spare(all, NOW)
        .map((b) => b.name)
        .sort(),
    ).toEqual(['asked 3 0', 'daily 0 3', 'upgrade 3 0']);
  });
});

it('made while the clock was years ahead, they neither stop new ones, nor push them out, nor look new', async () => {
  const ahead = Array.from({ length: 9 }, (_, d) => new Date(Date.UTC(2031, 0, 1 + d)));
  for (const day of ahead) await makeBackup(s.folder, 'daily', day);
  const days = async () => {
    const { body } = await s.http.get('/api/backups').expect(200);
    return (body.backups as { madeAt: string }[]).map((b) => b.madeAt.slice(0, 10));
  };
  const wrong = ahead.map((day) => day.toISOString().slice(0, 10)).reverse();
  expect((await s.http.get('/api/health').expect(200)).body.lastBackup).toBe('2031-01-09T00:00:00.000Z');
  await s.app.backups.daily();
  expect(await days()).toEqual(['2026-05-01', ...wrong]);
  expect((await s.http.get('/api/health').expect(200)).body.lastBackup).toBe('2026-05-01T08:00:00.000Z');
  // Looked at again ten minutes later, one is enough.
  s.clock.ms += 600_000;
  await s.app.backups.daily();
  expect(await days()).toHaveLength(10);
  s.clock.ms += 86_400_000;
  await s.app.backups.daily();
  expect(await days()).toEqual(['2026-05-02', '2026-05-01', ...wrong]);
});

it('by itself one a day, shown with its age in health, and the reason when it can’t be made', async () => {
  const dailies = async () => (await s.http.get('/api/backups').expect(200)).body;
  await s.app.backups.daily();
  expect((await dailies()).backups).toMatchObject([{ why: 'daily', madeAt: '2026-05-01T08:00:00.000Z' }]);
  expect((await s.http.get('/api/health').expect(200)).body.lastBackup).toBe('2026-05-01T08:00:00.000Z');
  s.clock.ms += 23 * 3_600_000;
  await s.app.backups.daily();
  expect((await dailies()).backups).toHaveLength(1);
  s.clock.ms += 3_600_000;
  await s.app.backups.daily();
  expect((await dailies()).backups).toHaveLength(2);
  s.clock.ms += 86_400_000;
  rmSync(join(s.folder, 'backups'), { recursive: true });
  writeFileSync(join(s.folder, 'backups'), 'in the way');
  await expect(s.app.backups.daily()).rejects.toThrow();
  rmSync(join(s.folder, 'backups'));
  expect((await dailies()).problem).toMatch(/./);
});

it('of a file that is damaged none is made, and its damage is said in words', async () => {
  await makeCar(s);
  s.app.hub.close();
  await closeDatabase(s.db);
  const path = join(s.folder, 'druckwerk.sqlite');
  const raw = new Database(path);
  const page = raw
    .prepare("select pageno from dbstat where name = 'readings' and pagetype = 'leaf' order by path")
    .pluck()
    .get() as number;
  const size = raw.pragma('page_size', { simple: true }) as number;
  raw.close();
  const bytes = readFileSync(path);
  bytes.fill(0xff, (page - 1) * size, page * size);
  writeFileSync(path, bytes);
  s = await testServer(s.folder);
  const res = await s.http.post('/api/backups').expect(503);
  expect(res.body).toMatchObject({ fault: 'damaged', detail: expect.stringMatching(/^The database file is damaged/) });
  const { body } = await s.http.get('/api/backups').expect(200);
  expect(body).toMatchObject({ backups: [], problem: 'The database file is damaged. Stop the server and restore a backup.' });
  expect(readdirSync(join(s.folder, 'backups'))).toEqual([]);
});
