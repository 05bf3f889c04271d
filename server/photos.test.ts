import { readdirSync, readFileSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RigExport } from '#schema/exchange.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, T0, type TestServer, testServer } from './testing.ts';

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
    expect(text.body.detail).toBe('That file isn’t an image. Send a JPEG, PNG or WebP.');
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

describe('photos of a rig', () => {
  const DAY = 86_400_000;
  const files = () => readdirSync(join(s.folder, 'photos')).map((f) => f.replace('.jpg', ''));
  const add = async (): Promise<string> => {
    const { id } = (
      await s.http
        .post('/api/photos')
        .set('Content-Type', 'image/jpeg')
        .send(await withPlace(300))
        .expect(201)
    ).body;
    // As if it had come at the time of this server's clock.
    utimesSync(join(s.folder, 'photos', `${id}.jpg`), s.clock.ms / 1000, s.clock.ms / 1000);
    return id;
  };
  /** The car with photos on its first wheel. */
  async function withPhotos(unit: Unit, photos: string[]): Promise<Unit> {
    const next = structuredClone(unit);
    const [wheel] = next.axles[0]?.wheels ?? [];
    if (wheel) wheel.fitting = { done: [], photos };
    return (await s.http.put(`/api/units/${unit.id}`).send(next).expect(200)).body;
  }
  const sweep = () => s.app.photos.sweep(s.db, s.clock.ms);

  it('are deleted from the disk a day after nothing names them any more', async () => {
    let { unit } = await makeCar(s);
    const [one, two] = [await add(), await add()];
    unit = await withPhotos(unit, [one, two]);
    s.clock.ms = T0 + 10 * DAY;
    expect(await sweep()).toBe(0);
    await withPhotos(unit, [two]);
    expect(await sweep()).toBe(1);
    expect(files()).toEqual([two]);
    const fresh = await add();
    expect(await sweep()).toBe(0);
    expect(files().sort()).toEqual([two, fresh].sort());
  });

  it('of a deleted unit stay for thirty days, for the deletion can be taken back', async () => {
    const { unit, rig } = await makeCar(s);
    const photo = await add();
    await withPhotos(unit, [photo]);
    const steps = [
      { do: 'delete', kind: 'rigs', id: rig.id },
      { do: 'delete', kind: 'units', id: unit.id },
    ];
    await s.http.post('/api/changes').send({ steps }).expect(200);
    s.clock.ms = T0 + 29 * DAY;
    expect(await sweep()).toBe(0);
    s.clock.ms = T0 + 31 * DAY;
    expect(await sweep()).toBe(1);
  });

  it('go out and come in with their rig, under ids of their own', async () => {
    const { unit, rig } = await makeCar(s);
    const photo = await add();
    await withPhotos(unit, [photo]);
    const doc = (await s.http.get(`/api/rigs/${rig.id}/export`).expect(200)).body as RigExport;
    expect(Object.keys(doc.photos ?? {})).toEqual([photo]);
    expect((await s.http.post('/api/rigs/import/preview').send(doc).expect(200)).body.photos).toBe(1);
    const made = (await s.http.post('/api/rigs/import?sensors=free').send(doc).expect(201)).body as Rig;
    const copy = (await s.http.get(`/api/units/${made.unitIds[0]}`).expect(200)).body as Unit;
    const [kept] = copy.axles[0]?.wheels[0]?.fitting?.photos ?? [];
    expect(kept).not.toBe(photo);
    expect((await s.http.get(`/api/photos/${kept}`).expect(200)).headers['content-type']).toBe('image/jpeg');
    const bad = await s.http
      .post('/api/rigs/import?sensors=free')
      .send({ ...doc, photos: { [photo]: 'bm8gcGljdHVyZQ==' } })
      .expect(400);
    expect(bad.body.errors).toEqual([{ pointer: `/photos/${photo}`, detail: 'isn’t an image' }]);
  });

  it('come in by megabytes too, up to eight million characters each, and what is no JSON is named', async () => {
    const { unit, rig } = await makeCar(s);
    const photo = await add();
    await withPhotos(unit, [photo]);
    const doc = (await s.http.get(`/api/rigs/${rig.id}/export`).expect(200)).body as RigExport;
    // What follows the picture in its file is passed over.
    const weighing = (bytes: number) => ({
      ...doc,
      photos: { [photo]: Buffer.concat([Buffer.from(doc.photos?.[photo] ?? '', 'base64')], bytes).toString('base64') },
    });
    const take = (body: object | string) => s.http.post('/api/rigs/import?sensors=free').type('json').send(body);
    const made = (await take(weighing(6_000_000)).expect(201)).body as Rig;
    const copy = (await s.http.get(`/api/units/${made.unitIds[0]}`).expect(200)).body as Unit;
    expect(copy.axles[0]?.wheels[0]?.fitting?.photos).toHaveLength(1);
    const long = await take(weighing(6_000_003)).expect(400);
    expect(long.body.errors).toEqual([{ pointer: `/photos/${photo}`, detail: 'must hold at most 8000000 characters' }]);
    const torn = await take(JSON.stringify(weighing(3_000_000)).slice(0, -1)).expect(400);
    expect(torn.body.errors).toEqual([{ pointer: '', detail: expect.stringContaining('is not JSON') }]);
    await take(weighing(60_000_000)).expect(413);
  });

  it('of the log stay while an entry names them, and go out and come in with it', async () => {
    const { rig } = await makeCar(s);
    const photo = await add();
    const entry = {
      id: '5eed1090-0000-4000-8000-000000000001',
      at: '2026-04-30T08:00:00.000Z',
      kind: 'puncture',
      photos: [photo],
    };
    const { id: _id, ...doc } = rig;
    const kept = (
      await s.http
        .put(`/api/rigs/${rig.id}`)
        .send({ ...doc, log: [entry] })
        .expect(200)
    ).body as Rig;
    s.clock.ms = T0 + 10 * DAY;
    expect(await sweep()).toBe(0);
    const out = (await s.http.get(`/api/rigs/${rig.id}/export`).expect(200)).body as RigExport;
    expect(Object.keys(out.photos ?? {})).toEqual([photo]);
    const made = (await s.http.post('/api/rigs/import?sensors=free').send(out).expect(201)).body as Rig;
    const [copy] = made.log?.[0]?.photos ?? [];
    expect(copy).not.toBe(photo);
    await s.http.get(`/api/photos/${copy}`).expect(200);
    // Without the photo the entry still comes.
    const { photos: _photos, ...bare } = out;
    const without = (await s.http.post('/api/rigs/import?sensors=free').send(bare).expect(201)).body as Rig;
    expect(without.log?.[0]?.photos).toEqual([]);
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...doc, version: kept.version, log: [] })
      .expect(200);
    expect(await sweep()).toBe(1);
  });
});
