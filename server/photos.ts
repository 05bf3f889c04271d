import { randomUUID } from 'node:crypto';
import { readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from 'better-sqlite3';
import express, { type Request, type Response } from 'express';
import type { Knex } from 'knex';
import type { Report } from '#schema/report.ts';
import type { NewRig, NewUnit } from '#schema/unit.ts';
import { reading } from './db/open.ts';
import { HttpProblem, notFound } from './problem.ts';
import { type Handlers, Reply, WRITTEN } from './routing.ts';
import { makeFolder, syncFolder } from './sync.ts';

/** The most a photo may weigh as it is sent. */
const MOST_BYTES = 25_000_000;
/** The longer side as it is kept, pixels: enough to read an ID on a sensor. */
const SIDE = 1600;
const ID = /^[0-9a-f-]{36}$/;
const DAY_MS = 86_400_000;
/** A photo that nothing names any more is kept this long: the change that took it away can be undone. */
const UNNAMED_MS = DAY_MS;
/** Photos of a deleted unit are kept this long: the deletion can be taken back. */
const DELETED_MS = 30 * DAY_MS;

/** Photos of fitted wheels, as files beside the database. */
export class PhotoStore {
  readonly #folder: string;

  constructor(folder: string) {
    this.#folder = folder;
  }

  #file(id: string): string {
    if (!ID.test(id)) throw notFound('photo');
    return join(this.#folder, `${id}.jpg`);
  }

  /**
   * Keep a photo. It is decoded and encoded again, so that neither place nor camera nor anything else the file carried is kept.
   * @throws HttpProblem 415 when it isn't an image
   */
  async add(sent: Buffer): Promise<{ id: string; bytes: number }> {
    const { default: sharp } = await import('sharp');
    let kept: Buffer;
    try {
      kept = await sharp(sent, { limitInputPixels: 120_000_000, failOn: 'error' })
        .rotate()
        .resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true })
        .flatten({ background: '#ffffff' })
        .jpeg({ quality: 80 })
        .toBuffer();
    } catch {
      throw new HttpProblem(415, 'That file isn’t an image', { detail: 'Send a JPEG, PNG or WebP.' });
    }
    const id = randomUUID();
    await makeFolder(this.#folder);
    // Written aside and renamed: a kill in the middle leaves no half photo, and a power cut none that was answered and isn't there.
    const aside = join(this.#folder, `${id}.part`);
    await writeFile(aside, kept, { flush: true });
    await rename(aside, this.#file(id));
    await syncFolder(this.#folder);
    return { id, bytes: kept.length };
  }

  /** @throws HttpProblem 404 */
  async read(id: string): Promise<Buffer> {
    const file = this.#file(id);
    try {
      return await readFile(file);
    } catch {
      throw notFound('photo');
    }
  }

  async remove(id: string): Promise<void> {
    await rm(this.#file(id), { force: true });
  }

  /** Delete photos that nothing names any more. @returns how many */
  async sweep(db: Knex, nowMs: number): Promise<number> {
    const files = await readdir(this.#folder).catch(() => []);
    if (files.length === 0) return 0;
    const named = await reading(db, (raw) => namedPhotos(raw, nowMs));
    let gone = 0;
    for (const name of files) {
      const file = join(this.#folder, name);
      if (named.has(name.replace(/\.jpg$/, ''))) continue;
      const { mtimeMs } = await stat(file);
      if (nowMs - mtimeMs < UNNAMED_MS) continue;
      await rm(file, { force: true });
      gone += 1;
    }
    return gone;
  }
}

/** Photos that a unit names. */
export const photosOf = (unit: Pick<NewUnit, 'axles' | 'spares'>): string[] =>
  [...unit.axles.flatMap((a) => a.wheels), ...unit.spares.map((s) => s.wheel)].flatMap((w) => w.fitting?.photos ?? []);

/** Photos that a rig's log names. */
export const logPhotosOf = (rig: Pick<NewRig, 'log'>): string[] => (rig.log ?? []).flatMap((e) => e.photos ?? []);

/** Photos that a stored unit, log or report names. */
function namedPhotos(raw: Database, nowMs: number): Set<string> {
  const since = new Date(nowMs - DELETED_MS).toISOString();
  const units = raw.prepare('select doc from units where deleted_at is null or deleted_at > ?').pluck().all(since) as string[];
  const rigs = raw.prepare('select doc from rigs where deleted_at is null or deleted_at > ?').pluck().all(since) as string[];
  const reports = raw
    .prepare('select p.doc from reports p join rigs r on r.id = p.rig_id where r.deleted_at is null or r.deleted_at > ?')
    .pluck()
    .all(since) as string[];
  return new Set([
    ...units.flatMap((doc) => photosOf(JSON.parse(doc) as NewUnit)),
    ...rigs.flatMap((doc) => logPhotosOf(JSON.parse(doc) as NewRig)),
    ...reports.flatMap((doc) => (JSON.parse(doc) as Report).wheels.flatMap((w) => w.photos)),
  ]);
}

const parseRaw = express.raw({ type: () => true, limit: MOST_BYTES });
const rawBody = (req: Request, res: Response): Promise<unknown> =>
  new Promise((resolve, reject) => parseRaw(req, res, (error?: unknown) => (error ? reject(error) : resolve(req.body))));

/** Photos by request. */
export function photoHandlers(photos: PhotoStore): Pick<Handlers, 'addPhoto' | 'photo' | 'removePhoto'> {
  return {
    async addPhoto({ req, res }) {
      const sent = await rawBody(req, res);
      if (!Buffer.isBuffer(sent) || sent.length === 0) throw new HttpProblem(400, 'No photo was sent');
      const made = await photos.add(sent);
      return new Reply(made, { headers: { Location: `/api/photos/${made.id}` } });
    },
    async photo({ params, res }) {
      const photo = await photos.read(params.id);
      res.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
      res.type('image/jpeg').send(photo);
      return WRITTEN;
    },
    async removePhoto({ params }) {
      await photos.remove(params.id);
      return undefined;
    },
  };
}
