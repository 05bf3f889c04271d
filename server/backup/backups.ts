import { randomUUID } from 'node:crypto';
import { readdirSync, statSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { getISOWeek, getISOWeekYear } from 'date-fns';
import type { BackupWhy } from '#schema/backup.ts';
import { migrationNames } from '../db/migrations.ts';
import { DATABASE, databaseFile } from '../db/open.ts';
import { roomIn } from '../room.ts';
import { makeFolder } from '../sync.ts';
import { packInThread } from './packing.ts';

/** A file in a backup, with its SHA-256. */
export interface BackedUpFile {
  name: string;
  bytes: number;
  sha256: string;
}

/** The last entry of a backup: what is in it. */
export interface Manifest {
  /** Version of this layout. */
  format: 1;
  madeAt: string;
  why: BackupWhy;
  /** The last migration of its database. */
  schema: string;
  files: BackedUpFile[];
}

/** A backup in the folder. */
export interface KeptBackup {
  path: string;
  name: string;
  why: BackupWhy;
  madeMs: number;
}

/** The file's name says when and why it was made; the log of what is kept is the folder itself. */
const NAME = /^druckwerk-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)Z-(daily|upgrade|asked)\.tar\.gz$/;
export const KEPT_DAYS = 7;
export const KEPT_WEEKS = 4;
/** Backups before an upgrade and those that were asked for, kept of each. */
const KEPT_OTHERS = 3;

export const backupFolder = (folder: string): string => join(folder, 'backups');

const nameOf = (why: BackupWhy, at: Date): string =>
  `druckwerk-${at.toISOString().slice(0, 19).replaceAll(':', '-')}Z-${why}.tar.gz`;

/**
 * Backups of a data folder, the newest first. Those dated later than now come last: a machine's clock was wrong then, or is now, and they are not the
 * newest for as long as it takes the clock to get there.
 */
export function listBackups(folder: string, nowMs = Date.now()): KeptBackup[] {
  const inside = backupFolder(folder);
  let names: string[] = [];
  try {
    names = readdirSync(inside);
  } catch {
    // No folder yet, or one that can't be read: no backups.
  }
  return names
    .flatMap((name) => {
      const m = NAME.exec(name);
      if (!m) return [];
      const [, day, h, min, s, why] = m as unknown as [string, string, string, string, string, BackupWhy];
      return [{ path: join(inside, name), name, why, madeMs: Date.parse(`${day}T${h}:${min}:${s}Z`) }];
    })
    .sort((a, b) => Number(a.madeMs > nowMs) - Number(b.madeMs > nowMs) || b.madeMs - a.madeMs);
}

export const newestBackup = (folder: string, nowMs?: number): KeptBackup | null => listBackups(folder, nowMs)[0] ?? null;

/** Names of the photo files of a data folder. */
export const photoNames = async (folder: string): Promise<string[]> =>
  (await readdir(join(folder, 'photos')).catch(() => [])).filter((name) => name.endsWith('.jpg')).sort();

/**
 * Back up a data folder: the database by SQLite's own online copy, the photos, and a manifest with their hashes.
 * @returns the file, whole and on the disk
 * @throws StorageProblem or the driver's error; ENOSPC when the disk has no room for it beside the readings
 */
export async function makeBackup(folder: string, why: BackupWhy, at: Date): Promise<KeptBackup> {
  const inside = backupFolder(folder);
  await makeFolder(inside);
  const name = nameOf(why, at);
  const part = join(inside, `${randomUUID()}.part`);
  const path = join(inside, name);
  await packInThread({
    file: databaseFile(folder),
    name: DATABASE,
    photos: join(folder, 'photos'),
    copy: `${part}.sqlite`,
    part,
    path,
    about: { madeAt: at.toISOString(), why },
    firstSchema: migrationNames[0] ?? '',
    room: await roomIn(folder),
  });
  return { path, name, why, madeMs: Math.floor(at.getTime() / 1000) * 1000 };
}

/**
 * Backups that are not kept: of those made each day the newest of seven days and of four weeks stay. One that is dated later than now stays too, and
 * takes no other's place: nobody knows how old it is.
 */
export function spare(all: readonly KeptBackup[], nowMs: number): KeptBackup[] {
  const keep = new Set<KeptBackup>();
  const newestOf = (list: readonly KeptBackup[], period: (at: Date) => string, most: number) => {
    const seen = new Set<string>();
    for (const b of list) {
      const name = period(new Date(b.madeMs));
      if (seen.has(name)) continue;
      if (seen.size === most) return;
      seen.add(name);
      keep.add(b);
    }
  };
  const newestFirst = all.filter((b) => b.madeMs <= nowMs).sort((a, b) => b.madeMs - a.madeMs);
  const daily = newestFirst.filter((b) => b.why === 'daily');
  newestOf(daily, (at) => at.toISOString().slice(0, 10), KEPT_DAYS);
  newestOf(daily, (at) => `${getISOWeekYear(at)}-${getISOWeek(at)}`, KEPT_WEEKS);
  for (const why of ['upgrade', 'asked'] as const)
    for (const b of newestFirst.filter((x) => x.why === why).slice(0, KEPT_OTHERS)) keep.add(b);
  return newestFirst.filter((b) => !keep.has(b));
}

/** Delete the backups that are not kept, and what a kill left half made. */
export async function prune(folder: string, nowMs: number): Promise<void> {
  await Promise.all(spare(listBackups(folder), nowMs).map((b) => rm(b.path, { force: true })));
  const inside = backupFolder(folder);
  for (const name of await readdir(inside).catch(() => [] as string[])) {
    if (!name.includes('.part')) continue;
    const path = join(inside, name);
    const { mtimeMs } = statSync(path, { throwIfNoEntry: false }) ?? { mtimeMs: Number.POSITIVE_INFINITY };
    if (Date.now() - mtimeMs > 3_600_000) await rm(path, { force: true });
  }
}

/** @returns the backup of this name; null when there is none. Never a path elsewhere. */
export const findBackup = (folder: string, name: string): KeptBackup | null =>
  listBackups(folder).find((b) => b.name === basename(name)) ?? null;
