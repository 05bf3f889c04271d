import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Database } from 'better-sqlite3';
import knex from 'knex';
import { migrationSource } from '../db/migrations.ts';
import { makeBackup } from './backups.ts';

/** A backup as the second version of the file gave it, with so many readings of four sensors and nothing else, in a folder of its own. */
export async function oldBackup(readings: number): Promise<{ folder: string; path: string }> {
  const folder = mkdtempSync(join(tmpdir(), 'druckwerk-old-'));
  const filename = join(folder, 'druckwerk.sqlite');
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename },
    useNullAsDefault: true,
    migrations: { migrationSource },
  });
  await db.migrate.up();
  await db.migrate.up();
  const raw = (await db.client.acquireConnection()) as Database;
  raw.pragma('synchronous = OFF');
  raw
    .prepare(
      `insert into readings (sensor_id, time_ms, pressure_kpa, temp_c, source)
      with recursive n(i) as (select 0 union all select i + 1 from n where i + 1 < ?)
      select 'A0000' || (i % 4), ? + i * 1000, 250, 20, 'post' from n`,
    )
    .run(readings, Date.UTC(2026, 3, 1));
  db.client.releaseConnection(raw);
  await db.destroy();
  const { path } = await makeBackup(folder, 'asked', new Date('2026-04-20T08:00:00Z'));
  return { folder, path };
}
