import { statfs } from 'node:fs/promises';
import { cannotStore } from './db/storage.ts';

/** What nothing else may take of the disk, bytes: readings are stored while a backup is made or looked at, and the log grows to this. */
const READINGS_BYTES = 16 * 2 ** 20;

/** Bytes that are free for us where a folder is; null: unknown. */
export async function freeBytes(folder: string): Promise<number | null> {
  try {
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize;
  } catch {
    return null;
  }
}

/** Bytes that may be taken of the disk beside the readings that come in; infinite when nobody knows. */
export async function roomIn(folder: string): Promise<number> {
  const free = await freeBytes(folder);
  return free === null ? Number.POSITIVE_INFINITY : free - READINGS_BYTES;
}

/** @throws StorageProblem when so many bytes don't fit on the disk beside the readings that come in */
export async function mustHaveRoom(folder: string, bytes: number): Promise<void> {
  if ((await roomIn(folder)) < bytes) throw cannotStore('full');
}
