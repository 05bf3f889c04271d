import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import express, { Router } from 'express';
import sharp from 'sharp';
import { HttpProblem, notFound } from './problem.ts';

/** The most a photo may weigh as it is sent. */
const MOST_BYTES = 25_000_000;
/** The longer side as it is kept, pixels: enough to read an ID on a sensor. */
const SIDE = 1600;
const ID = /^[0-9a-f-]{36}$/;

/**
 * Photos of fitted wheels, as files beside the database. Every one is decoded and encoded anew, so that neither place nor camera nor
 * anything else the file carried is kept.
 */
export function photoRoutes(folder: string): Router {
  const router = Router();
  router.post('/photos', express.raw({ type: () => true, limit: MOST_BYTES }), async (req, res) => {
    const sent: unknown = req.body;
    if (!Buffer.isBuffer(sent) || sent.length === 0) throw new HttpProblem(400, 'No photo was sent');
    let kept: Buffer;
    try {
      kept = await sharp(sent, { limitInputPixels: 120_000_000, failOn: 'error' })
        .rotate()
        .resize({ width: SIDE, height: SIDE, fit: 'inside', withoutEnlargement: true })
        .flatten({ background: '#ffffff' })
        .jpeg({ quality: 80 })
        .toBuffer();
    } catch {
      throw new HttpProblem(415, 'This is no photo', { detail: 'It could not be read as an image. Send a JPEG, PNG or WebP.' });
    }
    const id = randomUUID();
    await mkdir(folder, { recursive: true });
    // Written aside and renamed: a kill in the middle leaves no half photo.
    const aside = join(folder, `${id}.part`);
    await writeFile(aside, kept);
    await rename(aside, join(folder, `${id}.jpg`));
    res.status(201).location(`/api/photos/${id}`).json({ id, bytes: kept.length });
  });
  router.get('/photos/:id', async (req, res) => {
    if (!ID.test(req.params.id)) throw notFound('photo');
    let photo: Buffer;
    try {
      photo = await readFile(join(folder, `${req.params.id}.jpg`));
    } catch {
      throw notFound('photo');
    }
    res.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    res.type('image/jpeg').send(photo);
  });
  router.delete('/photos/:id', async (req, res) => {
    if (!ID.test(req.params.id)) throw notFound('photo');
    await rm(join(folder, `${req.params.id}.jpg`), { force: true });
    res.status(204).end();
  });
  return router;
}
