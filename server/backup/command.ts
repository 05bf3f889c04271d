import { createReadStream, existsSync } from 'node:fs';
import { access, copyFile, mkdir } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { defaultDataFolder } from '../data-folder.ts';
import { HttpProblem } from '../problem.ts';
import { StartFailure, startFailure } from '../world/failures.ts';
import { lockFolder } from '../world/world.ts';
import { makeBackup, newestBackup } from './backups.ts';
import { commit, finishRestore, settle, stage } from './restore.ts';

const USAGE = `npm run backup [-- FILE]    back up the data folder, also while the server runs; FILE: put a copy there
npm run restore -- FILE     restore a backup (the newest of the folder: npm run restore -- newest); the server must be stopped`;

async function backup(folder: string, to: string | undefined): Promise<void> {
  const made = await makeBackup(folder, 'asked', new Date());
  if (to !== undefined) await copyFile(made.path, to);
  console.log(`Backed up to ${to ?? made.path}`);
}

async function restore(folder: string, from: string): Promise<void> {
  const path = from === 'newest' ? newestBackup(folder)?.path : resolve(from);
  if (path === undefined)
    throw new StartFailure('backup', `There is no backup in ${folder}.`, 'Name a file: npm run restore -- FILE');
  await access(path);
  await mkdir(folder, { recursive: true });
  const release = lockFolder(folder);
  try {
    const { manifest, summary } = await stage(folder, createReadStream(path));
    await settle(folder);
    const aside = await commit(folder, new Date());
    await finishRestore(folder);
    console.log(
      `Restored the backup of ${manifest.madeAt}: ${summary.rigs.length} rigs, ${summary.readings} readings, ${summary.photos} photos.`,
    );
    if (existsSync(join(folder, aside))) console.log(`What was there before is in ${join(folder, aside)}`);
  } finally {
    release();
  }
}

const [act, file] = process.argv.slice(2);
const folder = resolve(defaultDataFolder());
try {
  if (act === 'backup') await backup(folder, file);
  else if (act === 'restore' && file !== undefined) await restore(folder, file);
  else {
    console.error(USAGE);
    process.exitCode = 2;
  }
} catch (error) {
  const known =
    error instanceof HttpProblem
      ? new StartFailure('backup', `${error.message}.`.replace('..', '.'), 'Nothing was changed.')
      : (error as { code?: unknown }).code === 'ENOENT'
        ? new StartFailure('backup', `${(error as { path?: string }).path ?? file} isn’t there.`, 'Nothing was changed.')
        : startFailure(error, folder, null);
  if (!known) throw error;
  console.error(known.message);
  process.exitCode = known.exitCode;
}
