import type { Database } from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { migrationSource } from './migrations.ts';

/**
 * Open (and bring up to date) the SQLite file.
 * WAL with `synchronous FULL`: what was answered as accepted is on the disk, also after a power cut.
 */
export async function openDatabase(filename: string): Promise<Knex> {
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      idleTimeoutMillis: 2 ** 31 - 1,
      afterCreate: (raw: Database, done: (error: Error | null, raw: Database) => void) => {
        raw.pragma('journal_mode = WAL');
        raw.pragma('synchronous = FULL');
        raw.pragma('foreign_keys = ON');
        // Bulk work need not tidy the log after every few thousand rows.
        raw.pragma('wal_autocheckpoint = 8000');
        raw.pragma('busy_timeout = 5000');
        done(null, raw);
      },
    },
    migrations: { migrationSource },
  });
  await db.migrate.latest();
  return db;
}

/**
 * Run synchronous work on the raw handle inside one transaction: all of it is kept or none. The pool holds one connection, so this
 * also waits its turn behind every other write.
 */
export async function inTransaction<T>(db: Knex, work: (raw: Database) => T): Promise<T> {
  return db.transaction(async (tx) => {
    const raw = (await tx.client.acquireConnection()) as Database;
    return work(raw);
  });
}
