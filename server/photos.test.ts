import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { type TestServer, testServer } from './testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

/** A picture with a place and a camera in its EXIF. */
const withPlace = (width = 2400) =>
  sharp({ create: { width, height: 1200, channels: 3, background: '#336699' } })
    .withExif({
      IFD0: { Make: 'INVENTEDCAMERA', Model: 'MODELX', Copyright: 'OWNERNAME' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '47/1 23/1 17/1', GPSLongitudeRef: 'E', GPSLongitude: '8/1 32/1 30/1' },
    })
    .jpeg()
    .toBuffer();

describe('photos', () => {
  it('are kept small, and searched as bytes hold neither place nor camera', async () => {
    const sent = await withPlace();
    expect(sent.includes('INVENTEDCAMERA')).toBe(true);
    const { id } = (await s.http.post('/api/photos').set('Content-Type', 'image/jpeg').send(sent).expect(201)).body;
    const files = readdirSync(join(s.folder, 'photos'));
    expect(files).toEqual([`${id}.jpg`]);
    const kept = readFileSync(join(s.folder, 'photos', files[0] as string));
    for (const trace of ['INVENTEDCAMERA', 'MODELX', 'OWNERNAME', 'GPS', 'Exif', 'http://ns.adobe.com'])
      expect(kept.includes(trace)).toBe(false);
    const meta = await sharp(kept).metadata();
    expect([meta.width, meta.height, meta.exif, meta.icc]).toEqual([1600, 800, undefined, undefined]);
    const got = await s.http.get(`/api/photos/${id}`).expect(200);
    expect(got.headers['content-type']).toBe('image/jpeg');
    await s.http.delete(`/api/photos/${id}`).expect(204);
    await s.http.get(`/api/photos/${id}`).expect(404);
  });
  it('a text file named .jpg is refused, and so is a torn picture', async () => {
    const text = await s.http
      .post('/api/photos')
      .set('Content-Type', 'image/jpeg')
      .send(Buffer.from('not a picture at all'))
      .expect(415);
    expect(text.body.detail).toBe('It could not be read as an image. Send a JPEG, PNG or WebP.');
    const torn = (await withPlace()).subarray(0, 3000);
    await s.http.post('/api/photos').set('Content-Type', 'image/jpeg').send(torn).expect(415);
    await s.http.post('/api/photos').set('Content-Type', 'image/jpeg').send(Buffer.alloc(0)).expect(400);
  });
  it('one of 40 MB is refused in clear words', async () => {
    const res = await s.http.post('/api/photos').set('Content-Type', 'image/jpeg').send(Buffer.alloc(40_000_000)).expect(413);
    expect(res.body.detail ?? res.body.title).toMatch(/25 MB|too large/i);
  });
  it('an address outside of the folder is no photo', async () => {
    await s.http.get('/api/photos/..%2Fdruckwerk.sqlite').expect(404);
  });
});
