import { mkdir, open } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Brings a file to the disk: after this it is there after a power cut too. */
export async function syncFile(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/**
 * Brings the names in a folder to the disk. After a power cut a file that was made or renamed may otherwise be there under its old name, or not at all,
 * though all of it was written (fsync(2)).
 */
export const syncFolder = syncFile;

/** Makes a folder that isn't there yet, and brings its name to the disk: else what is kept in it may be gone with it. */
export async function makeFolder(folder: string): Promise<void> {
  const first = await mkdir(folder, { recursive: true });
  if (first !== undefined) await syncFolder(dirname(first));
}
