import { open } from 'node:fs/promises';

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
