import { createRequire } from 'node:module';
import type { BackupWhy } from '#schema/backup.ts';
import { runInThread, THREAD_HEAD } from '../db/in-thread.ts';

/** What goes into a backup, and where it goes. */
export interface Packing {
  /** The database. */
  file: string;
  /** The name it has in the backup. */
  name: string;
  /** The folder with photos; it needn't be there. */
  photos: string;
  /** Where the database is copied to. */
  copy: string;
  /** Where it is packed, and where it is when it is whole and on the disk. */
  part: string;
  path: string;
  about: { madeAt: string; why: BackupWhy };
  /** The last migration of a database that names none. */
  firstSchema: string;
  /** The most room it may take, bytes. */
  room: number;
}

// Each step that the thread that answers everybody takes waits for its turn there, and under load that is 50 ms: with all of them a backup took
// seconds. So every one of them is taken here. The copy is SQLite's own online one (https://sqlite.org/lang_vacuum.html#vacuuminto): one state of the
// database, whatever is written meanwhile. It isn't waited for on the disk, since it is deleted again; SQLite's other way would wait ten times.
//
// Packed in pieces of a MiB: in the stream’s own of 16 and 64 KiB it took half as long again. A database packs a fortieth better at level 3 and a tenth
// at level 9, in 1.3 and 6 times the time.
const packing = `${THREAD_HEAD}
const { createHash } = require('node:crypto');
const fs = require('node:fs');
const { dirname, join } = require('node:path');
const { pipeline } = require('node:stream/promises');
const { createGzip } = require('node:zlib');
const { pack } = require(workerData.tar);
const { file, name, photos, copy, part, path, about, firstSchema, room } = workerData;
const PIECE_BYTES = 2 ** 20;
const PACKING = { level: 1, chunkSize: PIECE_BYTES / 4 };

const bytesOf = (of) => fs.statSync(of, { throwIfNoEntry: false })?.size ?? 0;
const sync = (of) => {
  const fd = fs.openSync(of, 'r');
  try {
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
};
async function add(out, as, from) {
  const fd = fs.openSync(from, 'r');
  const { size } = fs.fstatSync(fd);
  const hash = createHash('sha256');
  const source = fs.createReadStream(from, { fd, highWaterMark: PIECE_BYTES });
  source.on('data', (piece) => hash.update(piece));
  await pipeline(source, out.entry({ name: as, size }));
  return { name: as, bytes: size, sha256: hash.digest('hex') };
}
async function fill(out, names, schema) {
  try {
    const files = [await add(out, name, copy)];
    for (const photo of names) files.push(await add(out, 'photos/' + photo, join(photos, photo)));
    out.entry({ name: 'manifest.json' }, JSON.stringify({ format: 1, ...about, schema, files }, null, 2));
    out.finalize();
  } catch (error) {
    out.destroy(error);
    throw error;
  }
}
(async () => {
  try {
    const names = (fs.existsSync(photos) ? fs.readdirSync(photos) : []).filter((photo) => photo.endsWith('.jpg')).sort();
    // The copy and, packed, at most as much as is packed.
    const database = bytesOf(file) + bytesOf(file + '-wal');
    const most = names.reduce((sum, photo) => sum + bytesOf(join(photos, photo)), 2 * database);
    if (most > room) throw Object.assign(new Error('There is no room for a backup.'), { code: 'ENOSPC' });
    raw.pragma('busy_timeout = 5000');
    raw.pragma('synchronous = OFF');
    raw.prepare('vacuum into ?').run(copy);
    const copied = new Database(copy, { readonly: true });
    const schema = copied.prepare('select name from knex_migrations order by id desc limit 1').pluck().get() ?? firstSchema;
    copied.close();
    const out = pack();
    await Promise.all([fill(out, names, schema), pipeline(out, createGzip(PACKING), fs.createWriteStream(part))]);
    sync(part);
    fs.renameSync(part, path);
    sync(dirname(path));
    answer(null);
  } finally {
    raw.close();
    for (const left of [part, copy, copy + '-journal']) fs.rmSync(left, { force: true });
  }
})().catch((error) => process.nextTick(() => { throw error; }));`;

/**
 * Packs a database and photos into a backup with a manifest of their hashes, in a thread.
 * @throws the driver's or the file system's error; ENOSPC also when it may take more room than it should
 */
export const packInThread = (data: Packing): Promise<null> =>
  runInThread(packing, { ...data, readonly: true, tar: createRequire(import.meta.url).resolve('tar-stream') });
