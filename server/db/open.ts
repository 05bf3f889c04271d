import { statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { Database } from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { migrationSource } from './migrations.ts';
import { cannotStore, isBusy, StorageProblem, storageFault } from './storage.ts';

/** Name of the database in a data folder, and in a backup. */
export const DATABASE = 'druckwerk.sqlite';
/** The database of a data folder. */
export const databaseFile = (folder: string): string => join(folder, DATABASE);

/** A write waits this long for another program to let go of the file, ms; everything else is answered meanwhile. */
const LOCKED_MS = 4000;
const LOCKED_AGAIN_MS = 25;

/** What is known of the file behind a connection. */
interface Guard {
  file: string;
  /** Which file it is, whatever stands under its name later. */
  inode: number;
  /** Why the last write failed; null: it didn't. */
  failed: StorageProblem | null;
  /** Nothing is read or written while the file is replaced. */
  closed: boolean;
}

const guards = new WeakMap<Knex, Guard>();

const guardOf = (db: Knex): Guard => {
  const guard = guards.get(db);
  if (!guard) throw new Error('This database was not opened by openDatabase.');
  return guard;
};

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
        try {
          raw.pragma('journal_mode = WAL');
          raw.pragma('synchronous = FULL');
          raw.pragma('foreign_keys = ON');
          // Bulk work need not tidy the log after every few thousand rows.
          raw.pragma('wal_autocheckpoint = 8000');
          // Waiting in SQLite would stop everything else: whoever writes waits by the clock instead.
          raw.pragma('busy_timeout = 0');
          done(null, raw);
        } catch (error) {
          done(error as Error, raw);
        }
      },
    },
    migrations: { migrationSource },
  });
  try {
    await db.migrate.latest();
    guards.set(db, { file: filename, inode: statSync(filename).ino, failed: null, closed: false });
  } catch (error) {
    await db.destroy();
    throw error;
  }
  return db;
}

/** Replace the file while the connection is closed. @param work moves the files */
export async function replaceFile(db: Knex, work: () => Promise<void>): Promise<void> {
  const guard = guardOf(db);
  guard.closed = true;
  try {
    await db.destroy();
    await work();
  } finally {
    db.initialize();
    guard.inode = statSync(guard.file, { throwIfNoEntry: false })?.ino ?? 0;
    guard.failed = null;
    guard.closed = false;
  }
}

/** Why the last write failed; null when it didn't, or none was tried. */
export const storageFailure = (db: Knex): StorageProblem | null => guards.get(db)?.failed ?? null;

const isThere = (guard: Guard): boolean => statSync(guard.file, { throwIfNoEntry: false })?.ino === guard.inode;

async function begin(db: Knex, guard: Guard, statement: string): Promise<Database> {
  const until = Date.now() + LOCKED_MS;
  for (;;) {
    if (guard.closed) throw cannotStore('replaced');
    const raw = (await db.client.acquireConnection()) as Database;
    try {
      raw.exec(statement);
      return raw;
    } catch (error) {
      db.client.releaseConnection(raw);
      if (!isBusy(error) || Date.now() > until) throw error;
    }
    await pause(LOCKED_AGAIN_MS);
  }
}

async function run<T>(db: Knex, statement: string, work: (raw: Database) => T): Promise<T> {
  const guard = guardOf(db);
  const writes = statement !== 'begin';
  let raw: Database | null = null;
  try {
    raw = await begin(db, guard, statement);
    // A file that was deleted can still be written by whoever has it open: into nothing.
    if (writes && !isThere(guard)) throw cannotStore('gone');
    const result = work(raw);
    raw.exec('commit');
    if (writes) guard.failed = null;
    return result;
  } catch (error) {
    const fault = storageFault(error);
    if (fault && writes) guard.failed = fault;
    if (raw?.inTransaction) raw.exec('rollback');
    throw fault ?? error;
  } finally {
    if (raw) db.client.releaseConnection(raw);
  }
}

/**
 * Run synchronous work on the raw handle inside one transaction: all of it is kept or none. The pool holds one connection, so this
 * also waits its turn behind every other write.
 * @throws StorageProblem when it cannot be stored
 */
export const inTransaction = <T>(db: Knex, work: (raw: Database) => T): Promise<T> => run(db, 'begin immediate', work);

/** The same for work that only reads: it goes on while another program writes. */
export const reading = <T>(db: Knex, work: (raw: Database) => T): Promise<T> => run(db, 'begin', work);

/** The one connection, for what does not write and takes many turns, such as a copy of the file. */
export async function handleOf(db: Knex): Promise<Database> {
  const raw = await db.client.acquireConnection();
  db.client.releaseConnection(raw);
  return raw as Database;
}

/** Try to write. @returns why it can't be done; null when it can */
export async function tryStoring(db: Knex): Promise<StorageProblem | null> {
  try {
    await inTransaction(db, (raw) =>
      raw
        .prepare("insert into meta (name, value) values ('tried', ?) on conflict (name) do update set value = excluded.value")
        .run(new Date().toISOString()),
    );
    return null;
  } catch (error) {
    if (error instanceof StorageProblem) return error;
    throw error;
  }
}
