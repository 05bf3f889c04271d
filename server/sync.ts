import { open } from 'node:fs/promises';

/**
 * Brings the names in a folder to the disk. After a power cut a file that was made or renamed may otherwise be there under its old name, or not at all,
 * though all of it was written (fsync(2)).
 */
export async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
