import {
  accessSync,
  closeSync,
  constants,
  existsSync,
  mkdirSync,
  openSync,
  readSync,
  statfsSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { Knex } from 'knex';
import { makeBackup, newestBackup } from '../backup/backups.ts';
import { finishRestore } from '../backup/restore.ts';
import { migrationNames } from '../db/migrations.ts';
import { databaseFile, openDatabase } from '../db/open.ts';
import { damaged, restoreAdvice, StartFailure, startFailure } from './failures.ts';

/** The data folder of a server: the database, photos, backups. */
export interface World {
  folder: string;
  db: Knex;
  /** Let another server use the folder. */
  release(): void;
}

/** Says that there was a world here, so that one that is gone is missed. */
const markerFile = (folder: string): string => join(folder, 'druckwerk.json');

/**
 * Open the data folder, or make it.
 * @throws StartFailure with what is wrong and what to do
 */
export async function openWorld(folder: string): Promise<World> {
  const file = databaseFile(folder);
  let release: (() => void) | null = null;
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.R_OK | constants.W_OK);
    release = lockFolder(folder);
    await finishRestore(folder);
    const before = look(folder, file);
    if (before.pending) await makeBackup(folder, 'upgrade', new Date());
    const db = await openDatabase(file);
    if (!existsSync(markerFile(folder)))
      writeFileSync(markerFile(folder), `${JSON.stringify({ begun: new Date().toISOString() })}\n`);
    return { folder, db, release };
  } catch (error) {
    release?.();
    // On a full disk SQLite says no more than that something went wrong.
    if (/^SQLITE_(IOERR|CANTOPEN)/.test(String((error as { code?: unknown }).code)) && isFull(folder))
      throw startFailure({ code: 'SQLITE_FULL' }, folder, null);
    throw startFailure(error, existsSync(file) ? file : folder, newestBackup(folder)?.path ?? null) ?? error;
  }
}

/** Less is free than a new database takes. */
function isFull(folder: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize < 65_536;
  } catch {
    return false;
  }
}

/**
 * Keep the folder for this server as long as it runs. SQLite's lock on a file of its own ends with the process, however it ends: no lock is
 * left behind by a kill.
 * @throws StartFailure when another server has it
 */
export function lockFolder(folder: string): () => void {
  const lock = new Database(join(folder, 'druckwerk.lock'), { timeout: 300 });
  try {
    lock.pragma('journal_mode = MEMORY');
    lock.exec('begin exclusive');
  } catch (error) {
    lock.close();
    if (String((error as { code?: unknown }).code).startsWith('SQLITE_BUSY'))
      throw new StartFailure(
        'second',
        `Another Druckwerk server is using ${folder}.`,
        'Stop it first, or set DRUCKWERK_DATA to another folder.',
      );
    throw error;
  }
  return () => lock.close();
}

/**
 * Look at the file before anything is changed.
 * @returns whether it is to be brought up to date
 * @throws StartFailure when it is empty where there was a world, damaged, or of a newer version
 */
function look(folder: string, file: string): { pending: boolean } {
  const newest = newestBackup(folder)?.path ?? null;
  const size = statSync(file, { throwIfNoEntry: false })?.size;
  if (size === undefined) {
    if (existsSync(markerFile(folder)))
      throw new StartFailure('emptied', `The database file ${file} is gone, though it was there before.`, restoreAdvice(newest));
    return { pending: false };
  }
  if (size === 0) {
    // Killed in the very first moment, it leaves an empty file and no mark.
    if (!existsSync(markerFile(folder)) && newest === null) return { pending: false };
    throw new StartFailure('emptied', `The database file ${file} is empty, though it wasn’t before.`, restoreAdvice(newest));
  }
  if (headOf(file) !== 'SQLite format 3') throw damaged(file, newest);
  // A log that is still there means that the server was killed, or the power went.
  const unclean = (statSync(`${file}-wal`, { throwIfNoEntry: false })?.size ?? 0) > 0;
  const raw = new Database(file, { timeout: 2000 });
  try {
    if (unclean && raw.pragma('quick_check(1)', { simple: true }) !== 'ok') throw damaged(file, newest);
    const names = tables(raw);
    if (names.size === 0) {
      if (existsSync(markerFile(folder)))
        throw new StartFailure('emptied', `The database file ${file} has nothing in it.`, restoreAdvice(newest));
      return { pending: false };
    }
    if (!names.has('knex_migrations')) {
      throw new StartFailure(
        'damaged',
        `${file} is the database of another program.`,
        'Set DRUCKWERK_DATA to a folder for Druckwerk alone.',
      );
    }
    const done = raw.prepare('select name from knex_migrations').pluck().all() as string[];
    const unknown = done.find((n) => !migrationNames.includes(n));
    if (unknown !== undefined) {
      throw new StartFailure(
        'newer',
        `${file} was written by a newer version of Druckwerk (${unknown}) and was left as it is.`,
        'Install that version again, or restore a backup from before it.',
      );
    }
    return { pending: done.length > 0 && done.length < migrationNames.length };
  } finally {
    raw.close();
  }
}

/** The first bytes of a file, by which SQLite knows its own. */
function headOf(file: string): string {
  const fd = openSync(file, 'r');
  try {
    const head = Buffer.alloc(15);
    readSync(fd, head, 0, 15, 0);
    return head.toString('latin1');
  } finally {
    closeSync(fd);
  }
}

const tables = (raw: Database.Database): Set<string> =>
  new Set(raw.prepare("select name from sqlite_master where type = 'table'").pluck().all() as string[]);
