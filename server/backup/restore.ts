import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { extract } from 'tar-stream';
import type { WorldSummary } from '#schema/backup.ts';
import { inThread, readyDatabase } from '../db/in-thread.ts';
import { migrateBeside } from '../db/migrate.ts';
import { migrationNames } from '../db/migrations.ts';
import { DATABASE, databaseFile } from '../db/open.ts';
import { HttpProblem } from '../problem.ts';
import { mustHaveRoom } from '../room.ts';
import { syncFile, syncFolder } from '../sync.ts';
import type { BackedUpFile, Manifest } from './backups.ts';

/** A backup that was unpacked and checked, beside the world it would replace. */
export interface Staged {
  token: string;
  manifest: Manifest;
  summary: WorldSummary;
}

const STAGE = 'restoring';
/** The staged world is whole and wanted: whatever happens from here on, it takes the place of the old one. */
const READY = 'ready.json';
/** The old world's files, the log before the file it belongs to. */
const OWN_FILES = [`${DATABASE}-wal`, `${DATABASE}-shm`, DATABASE, 'photos'];
const PHOTO = /^photos\/[0-9a-f-]{36}\.jpg$/;
const MANIFEST_LIMIT = 50_000_000;

const stageOf = (folder: string): string => join(folder, STAGE);

const notABackup = (detail: string): HttpProblem => new HttpProblem(400, 'That file can’t be restored', { detail });

/** What is in a world. */
export async function summaryOf(file: string, photos: number): Promise<WorldSummary> {
  const [rigs = [], units, readings, alarms, times] = await inThread(file, [
    "select json_extract(doc, '$.name') from rigs where deleted_at is null order by created_at, rowid",
    'select count(*) from units where deleted_at is null',
    'select count(*) from readings',
    'select count(*) from alarms',
    'select min(time_ms), max(time_ms) from readings',
  ]);
  const only = (rows: unknown[][] | undefined) => rows?.[0]?.[0] as number;
  const [first, last] = (times?.[0] ?? []) as (number | null)[];
  const iso = (ms: number | null | undefined) => (ms == null ? null : new Date(ms).toISOString());
  return {
    rigs: rigs.map(([name]) => name as string),
    units: only(units),
    readings: only(readings),
    alarms: only(alarms),
    photos,
    firstReading: iso(first),
    lastReading: iso(last),
  };
}

/**
 * Unpack a backup beside the world and check it: every hash, the database's integrity, its version. Nothing of the world is touched.
 * @throws HttpProblem 400 with what is wrong with it
 */
export async function stage(folder: string, archive: Readable): Promise<Staged> {
  const to = stageOf(folder);
  await rm(to, { recursive: true, force: true });
  try {
    const { manifest, found } = await unpack(archive, folder);
    checkHashes(manifest, found);
    const summary = await checkDatabase(databaseFile(to), found.size - 1);
    return { token: randomUUID(), manifest, summary };
  } catch (error) {
    await rm(to, { recursive: true, force: true });
    throw error;
  }
}

async function unpack(archive: Readable, folder: string): Promise<{ manifest: Manifest; found: Map<string, BackedUpFile> }> {
  const to = stageOf(folder);
  const found = new Map<string, BackedUpFile>();
  let manifest: Manifest | null = null;
  const entries = extract();
  const gunzip = createGunzip();
  // The sender is read to its end and not destroyed, so that the answer still reaches it.
  const feed = pipeline(archive.iterator({ destroyOnReturn: false }), gunzip, entries);
  feed.catch(() => undefined);
  try {
    for await (const entry of entries) {
      const { name, type } = entry.header;
      if (type === 'directory') entry.resume();
      else if (name === 'manifest.json') manifest = await readManifest(entry as unknown as Readable);
      else if (type === 'file' && (name === DATABASE || PHOTO.test(name))) {
        // Not before: what is no backup at all never comes to the disk.
        if (found.size === 0) await mkdir(join(to, 'photos'), { recursive: true });
        await mustHaveRoom(folder, entry.header.size ?? 0);
        found.set(name, await keep(entry as unknown as Readable, name, join(to, name)));
      } else throw notABackup(`It contains “${name.slice(0, 60)}”, which no backup has.`);
    }
    await feed;
  } catch (error) {
    gunzip.destroy();
    if (error instanceof HttpProblem) throw error;
    const code = String((error as { code?: unknown }).code ?? '');
    if (/^(ENOSPC|EDQUOT|EACCES|EROFS)$/.test(code)) throw error;
    throw notABackup(
      code === 'Z_DATA_ERROR' && found.size === 0 ? 'It isn’t a Druckwerk backup.' : 'It is damaged or was cut short.',
    );
  }
  if (!manifest) throw notABackup('It has no manifest: it isn’t a Druckwerk backup, or it was cut short.');
  return { manifest, found };
}

async function readManifest(entry: Readable): Promise<Manifest> {
  let text = '';
  for await (const part of entry) {
    text += String(part);
    if (text.length > MANIFEST_LIMIT) throw notABackup('Its manifest is too long.');
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw notABackup('Its manifest is damaged.');
  }
  const m = value as Partial<Manifest> | null;
  if (m?.format !== 1) throw notABackup('It was made by a newer version of Druckwerk.');
  if (!Array.isArray(m.files) || typeof m.schema !== 'string' || Number.isNaN(Date.parse(String(m.madeAt))))
    throw notABackup('Its manifest is damaged.');
  return m as Manifest;
}

async function keep(entry: Readable, name: string, path: string): Promise<BackedUpFile> {
  const hash = createHash('sha256');
  let bytes = 0;
  const count = new Transform({
    transform(part: Buffer, _encoding, done) {
      hash.update(part);
      bytes += part.length;
      done(null, part);
    },
  });
  await pipeline(entry, count, createWriteStream(path));
  return { name, bytes, sha256: hash.digest('hex') };
}

function checkHashes(manifest: Manifest, found: ReadonlyMap<string, BackedUpFile>): void {
  const wanted = new Map(manifest.files.map((f) => [f.name, f]));
  for (const f of manifest.files) {
    const got = found.get(f.name);
    if (!got) throw notABackup(`It lacks ${f.name}.`);
    if (got.sha256 !== f.sha256 || got.bytes !== f.bytes) throw notABackup(`${f.name} in it isn’t as it was when it was made.`);
  }
  for (const name of found.keys()) if (!wanted.has(name)) throw notABackup(`It contains ${name}, which isn’t in its manifest.`);
  if (!wanted.has(DATABASE)) throw notABackup('It has no database.');
}

/** Check the database of a backup and bring it up to date. */
async function checkDatabase(file: string, photos: number): Promise<WorldSummary> {
  let old: boolean;
  try {
    const [whole, done = []] = await inThread(file, ['pragma integrity_check(1)', 'select name from knex_migrations']);
    if (whole?.[0]?.[0] !== 'ok') throw notABackup('Its database is damaged.');
    if (done.some(([n]) => !migrationNames.includes(n as string)))
      throw notABackup('It was made by a newer version of Druckwerk.');
    old = done.length < migrationNames.length;
  } catch (error) {
    throw error instanceof HttpProblem ? error : notABackup('Its database is damaged.');
  }
  if (old) await migrateBeside(file);
  const summary = await summaryOf(file, photos);
  // Who may come in is a matter of this machine now: a device that was revoked since must not come back with an old world.
  await readyDatabase(file, ['delete from devices']);
  return summary;
}

/** Bring to the disk what was staged: only then may it take the place of anything. */
export async function settle(folder: string): Promise<void> {
  const to = stageOf(folder);
  const photos = join(to, 'photos');
  for (const name of await readdir(photos)) await syncFile(join(photos, name));
  await syncFile(databaseFile(to));
  await Promise.all([photos, to].map(syncFolder));
}

/** Where the world that is replaced goes. */
const asideOf = (at: Date): string => `before-restore-${at.toISOString().slice(0, 19).replaceAll(':', '-')}Z`;

/** Say that the staged and settled world is to take the place of the old one. @returns the folder for the old one */
export async function commit(folder: string, at: Date): Promise<string> {
  const aside = asideOf(at);
  const file = await open(join(stageOf(folder), `${READY}.part`), 'w');
  await file.writeFile(JSON.stringify({ aside }));
  await file.sync();
  await file.close();
  await rename(join(stageOf(folder), `${READY}.part`), join(stageOf(folder), READY));
  await syncFolder(stageOf(folder));
  return aside;
}

/**
 * Put the staged world in its place, if one is wanted; else clear away what is left of a staging. Killed at any point, it goes on from there
 * at the next start. The database must not be open.
 */
export async function finishRestore(folder: string): Promise<void> {
  const from = stageOf(folder);
  if (!existsSync(from)) return;
  if (!existsSync(join(from, READY))) {
    await rm(from, { recursive: true, force: true });
    return;
  }
  const { aside } = JSON.parse(await readFile(join(from, READY), 'utf8')) as { aside: string };
  const old = join(folder, aside);
  await mkdir(old, { recursive: true });
  const done = join(old, 'complete');
  if (!existsSync(done)) {
    for (const name of OWN_FILES) {
      if (existsSync(join(folder, name)) && !existsSync(join(old, name))) await rename(join(folder, name), join(old, name));
    }
    await Promise.all([folder, old].map(syncFolder));
    // From here on what is in the folder is the new world's.
    await writeFile(done, '', { flush: true });
    await syncFolder(old);
  }
  for (const name of OWN_FILES) {
    if (existsSync(join(from, name))) await rename(join(from, name), join(folder, name));
  }
  await syncFolder(folder);
  await rm(from, { recursive: true, force: true });
  await rm(done, { force: true });
  // There was nothing to keep.
  if ((await readdir(old)).length === 0) await rm(old, { recursive: true });
}

/** Folders with worlds that a restore replaced. */
export const keptAside = async (folder: string): Promise<string[]> =>
  (await readdir(folder)).filter((n) => n.startsWith('before-restore-')).sort();
