import { statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { Database } from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { Disk, type Tidying } from './disk.ts';
import { migrationSource } from './migrations.ts';
import { cannotStore, isBusy, StorageProblem, storageFault } from './storage.ts';

/** Name of the database in a data folder, and in a backup. */
export const DATABASE = 'druckwerk.sqlite';
/** The database of a data folder. */
export const databaseFile = (folder: string): string => join(folder, DATABASE);

/** A write waits this long for another program to let go of the file, ms; everything else is answered meanwhile. */
const LOCKED_MS = 4000;
const LOCKED_AGAIN_MS = 25;
const TIDYING_MS = 2;

/** What is known of the file behind a connection. */
interface Guard {
  file: string;
  /** Which file it is, whatever stands under its name later. */
  inode: number;
  /** Why the last write failed; null: it didn't. */
  failed: StorageProblem | null;
  /** Nothing is read or written while the file is replaced. */
  closed: boolean;
  /** Brings to the disk what was committed; null where SQLite has no log on this file system and waits for the disk itself, or nobody does. */
  disk: Disk | null;
}

const guards = new WeakMap<Knex, Guard>();

const guardOf = (db: Knex): Guard => {
  const guard = guards.get(db);
  if (!guard) throw new Error('This database was not opened by openDatabase.');
  return guard;
};

/** How a file is opened. */
export interface Opening {
  /** False: nobody waits for the disk, also not at the end. */
  lasting?: boolean;
  /** When its log is tidied, if not as usual. */
  tidying?: Tidying;
}

/**
 * Open (and bring up to date) the SQLite file. Close it with `closeDatabase`.
 * Whoever answers that something was stored waits for `onDisk` first: then it is there after a power cut too.
 */
export async function openDatabase(filename: string, { lasting = true, tidying }: Opening = {}): Promise<Knex> {
  let logged = true;
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
          // A drive of another machine may have no shared memory, which the log needs.
          logged = raw.pragma('journal_mode = WAL', { simple: true }) === 'wal';
          raw.pragma(`synchronous = ${!lasting ? 'OFF' : logged ? 'NORMAL' : 'FULL'}`);
          raw.pragma('foreign_keys = ON');
          // A thread does that: it waits for the disk.
          raw.pragma('wal_autocheckpoint = 0');
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
    const disk = lasting && logged ? new Disk(filename, tidying) : null;
    guards.set(db, { file: filename, inode: statSync(filename).ino, failed: null, closed: false, disk });
  } catch (error) {
    await db.destroy();
    throw error;
  }
  return db;
}

/** Close it, with everything on the disk. */
export async function closeDatabase(db: Knex): Promise<void> {
  await guardOf(db).disk?.close();
  await db.destroy();
}

/** Resolves when everything that was committed until now is on the disk. @throws StorageProblem when that isn't known */
export async function onDisk(db: Knex): Promise<void> {
  await guardOf(db).disk?.kept();
}

/** Replace the file while the connection is closed. @param work moves the files */
export async function replaceFile(db: Knex, work: () => Promise<void>): Promise<void> {
  const guard = guardOf(db);
  guard.closed = true;
  try {
    await closeDatabase(db);
    await work();
  } finally {
    db.initialize();
    guard.inode = statSync(guard.file, { throwIfNoEntry: false })?.ino ?? 0;
    guard.failed = null;
    guard.closed = false;
  }
}

/** Why the last write failed; null when it didn't, or none was tried. */
export function storageFailure(db: Knex): StorageProblem | null {
  const guard = guards.get(db);
  return guard?.failed ?? guard?.disk?.failed ?? null;
}

const isThere = (guard: Guard): boolean => statSync(guard.file, { throwIfNoEntry: false })?.ino === guard.inode;

async function begin(db: Knex, guard: Guard, statement: string): Promise<Database> {
  const { disk } = guard;
  const writes = statement !== 'begin';
  let until = Date.now() + LOCKED_MS;
  if (writes) await disk?.room();
  for (;;) {
    if (guard.closed) throw cannotStore('replaced');
    const raw = (await db.client.acquireConnection()) as Database;
    try {
      raw.exec(statement);
      // Asked only now, when nobody else can write any more.
      if (!writes || !disk?.shut) return raw;
      raw.exec('rollback');
      db.client.releaseConnection(raw);
    } catch (error) {
      db.client.releaseConnection(raw);
      if (!isBusy(error)) throw error;
      // Our own thread has it for some milliseconds, and lets go of it.
      if (disk?.tidying) until = Date.now() + LOCKED_MS;
      if (Date.now() > until) throw error;
    }
    await pause(disk?.tidying ? TIDYING_MS : LOCKED_AGAIN_MS);
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
    if (writes) {
      guard.failed = null;
      guard.disk?.wrote();
    }
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
 * also waits its turn behind every other write. It is on the disk a little later (`onDisk`).
 * @throws StorageProblem when it cannot be stored
 */
export const inTransaction = <T>(db: Knex, work: (raw: Database) => T): Promise<T> => run(db, 'begin immediate', work);

/** The same for work that only reads: it goes on while another program writes. */
export const reading = <T>(db: Knex, work: (raw: Database) => T): Promise<T> => run(db, 'begin', work);

/** Try to write. @returns why it can't be done; null when it can */
export async function tryStoring(db: Knex): Promise<StorageProblem | null> {
  try {
    await inTransaction(db, (raw) =>
      raw
        .prepare("insert into meta (name, value) values ('tried', ?) on conflict (name) do update set value = excluded.value")
        .run(new Date().toISOString()),
    );
    await onDisk(db);
    return null;
  } catch (error) {
    if (error instanceof StorageProblem) return error;
    throw error;
  }
}
