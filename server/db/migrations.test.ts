import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { testServer } from '../testing.ts';
import { migrationSource } from './migrations.ts';
import { closeDatabase, openDatabase } from './open.ts';

let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'druckwerk-old-'));
  file = join(folder, 'druckwerk.sqlite');
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const plain = (): Knex =>
  knex({ client: 'better-sqlite3', connection: { filename: file }, useNullAsDefault: true, migrations: { migrationSource } });
/** Tables and columns, as the file itself tells them. */
const shape = async (db: Knex): Promise<Record<string, string>> =>
  Object.fromEntries(
    (
      (await db.raw("select name, sql from sqlite_master where type = 'table' and name not like 'knex%' order by name")) as {
        name: string;
        sql: string;
      }[]
    ).map((t) => [t.name, t.sql.replace(/\s+/g, ' ')]),
  );

/** A file as it was left before the watch: a rig, a day and a bit of readings, an alarm that is open, a silence. */
async function oldFile(): Promise<void> {
  const db = plain();
  await db.migrate.up();
  await db.migrate.up();
  const unit = {
    id: 'u1',
    version: 1,
    name: 'Car',
    kind: 'vehicle',
    spares: [],
    axles: [
      {
        kind: 'single',
        settings: {
          loaded: { cold: { kpa: 250, tempC: 20 }, limits: { rule: { school: 'share' }, lowKpa: 225, highKpa: 300, hotC: 70 } },
        },
        wheels: [
          { position: '1L', sensor: { id: 'A00001', kind: 'cap' } },
          { position: '1R', sensor: { id: 'A00002', kind: 'cap' } },
        ],
      },
    ],
  };
  const rig = { id: 'r1', version: 1, name: 'Errand', unitIds: ['u1'], loadState: 'loaded' };
  const at = '2026-04-30T08:00:00.000Z';
  const row = (doc: { id: string }) => ({ id: doc.id, version: 1, doc: JSON.stringify(doc), created_at: at, updated_at: at });
  await db('units').insert(row(unit));
  await db('rigs').insert(row(rig));
  const first = Date.UTC(2026, 3, 30, 22);
  for (let i = 0; i < 40; i += 1) {
    await db('readings').insert({
      sensor_id: 'A00001',
      time_ms: first + i * 600_000,
      pressure_kpa: 200 + i / 8,
      temp_c: 20,
      source: 'live',
    });
  }
  await db('alarms').insert({
    id: 'a1',
    rig_id: 'r1',
    position: 'A1L',
    sensor_id: 'A00001',
    kind: 'low',
    severity: 'stop',
    from_ms: first,
    to_ms: null,
    acknowledged_at: null,
    limit_value: 225,
    value: 200,
    worst: 200,
    practice: 0,
  });
  await db.destroy();
}

describe('a file of an earlier version', () => {
  it('is brought up to date with everything in it: readings, the open alarm, the rig', async () => {
    await oldFile();
    const s = await testServer(folder);
    const alarms = (await s.http.get('/api/rigs/r1/alarms').expect(200)).body;
    expect(alarms).toMatchObject([{ position: 'A1L', kind: 'low', toTime: null, evidence: null, limit: 225 }]);
    const { readings } = (await s.http.get('/api/rigs/r1/readings').expect(200)).body;
    expect(readings).toHaveLength(40);
    // Charts over the old readings answer as those of today, though no rollup was ever made of them.
    const chart = (
      await s.http.get('/api/rigs/r1/chart?from=2026-04-01T00:00:00Z&to=2026-06-01T00:00:00Z&positions=A1L&points=50').expect(200)
    ).body;
    const points = chart.series[0].points as { count: number; lowKpa: number; highKpa: number }[];
    expect(points.reduce((n, p) => n + p.count, 0)).toBe(40);
    expect([Math.min(...points.map((p) => p.lowKpa)), Math.max(...points.map((p) => p.highKpa))]).toEqual([200, 204.875]);
    // And it takes what the old one could not: a typed figure without a temperature.
    await s.http
      .post('/api/rigs/r1/typed')
      .send({ readings: [{ position: 'A1R', pressureKpa: 251, tempC: null }] })
      .expect(200);
    await s.close();
  });

  it('goes back and forth without losing what both versions know', async () => {
    await oldFile();
    const db = plain();
    const before = await shape(db);
    await db.migrate.up();
    const now = await shape(db);
    await db('readings').insert({ sensor_id: 'A00002', time_ms: 1, pressure_kpa: 250, temp_c: null, source: 'typed' });
    await db.migrate.down();
    const back = await shape(db);
    expect(Object.keys(back)).toEqual(Object.keys(before));
    expect(await db('readings').count({ n: '*' })).toEqual([{ n: 40 }]);
    await db.migrate.up();
    expect(await shape(db)).toEqual(now);
    expect(await db('readings').count({ n: '*' })).toEqual([{ n: 40 }]);
    expect(await db('alarms').count({ n: '*' })).toEqual([{ n: 1 }]);
    await db.destroy();
  });
});

it('days whose readings are not all in the rollups are marked to be made again, and no others', async () => {
  await oldFile();
  const db = plain();
  await db.migrate.latest();
  await db.migrate.down();
  await db('readings').delete();
  await db('rollup_days').delete();
  const day = 86_400_000;
  const read = (times: number[]) =>
    db('readings').insert(times.map((time_ms) => ({ sensor_id: 'A00001', time_ms, pressure_kpa: 250, source: 'live' })));
  const rolled = (time_ms: number, count: number) =>
    db('rollups').insert({
      sensor_id: 'A00001',
      step_s: 3600,
      time_ms,
      count,
      low_kpa: 250,
      high_kpa: 250,
      last_kpa: 250,
      last_ms: time_ms,
    });
  // All of them in two hours.
  await read([20_000 * day, 20_000 * day + 1, 20_001 * day - 1]);
  await rolled(20_000 * day, 2);
  await rolled(20_001 * day - 3_600_000, 1);
  // One of two.
  await read([20_001 * day, 20_002 * day - 1]);
  await rolled(20_001 * day, 1);
  // None, and none before 1970: the last moment of its last day.
  await read([20_002 * day, -1]);
  await db.migrate.up();
  expect(await db('rollup_days').orderBy('day').pluck('day')).toEqual([-1, 20_001, 20_002]);
  await db.destroy();
});

it('a new file has the same tables as one brought up to date', async () => {
  const fresh = await openDatabase(file);
  const wanted = await shape(fresh);
  await closeDatabase(fresh);
  rmSync(folder, { recursive: true, force: true });
  folder = mkdtempSync(join(tmpdir(), 'druckwerk-old-'));
  file = join(folder, 'druckwerk.sqlite');
  await oldFile();
  const old = await openDatabase(file);
  expect(await shape(old)).toEqual(wanted);
  await closeDatabase(old);
});
