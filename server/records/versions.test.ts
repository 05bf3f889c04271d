import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Rig, Unit } from '#schema/unit.ts';
import type { PastVersion } from '#schema/versions.ts';
import { makeCar, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let unit: Unit;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ unit, rig } = await makeCar(s));
});
afterEach(() => s.close());

const past = async (kind: string, id: string): Promise<PastVersion[]> =>
  (await s.http.get(`/api/versions/${kind}/${id}`).expect(200)).body;

describe('past versions', () => {
  it('say what was changed, field by field, and when', async () => {
    s.clock.ms += 60_000;
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, name: 'Errand 2', note: 'new' })
      .expect(200);
    expect(await past('rigs', rig.id)).toEqual([
      {
        version: 2,
        at: '2026-05-01T08:01:00.000Z',
        device: null,
        what: 'changed',
        changes: expect.arrayContaining([
          { pointer: '/name', from: 'Errand', to: 'Errand 2' },
          { pointer: '/note', to: 'new' },
        ]),
      },
      { version: 1, at: '2026-05-01T08:00:00.000Z', device: null, what: 'made', changes: [] },
    ]);
  });

  it('can be seen and put back as a new version, with what follows for the watch', async () => {
    const changed = structuredClone(unit);
    for (const axle of changed.axles) if (axle.settings.loaded?.limits) axle.settings.loaded.limits.lowKpa = 150;
    await s.http.put(`/api/units/${unit.id}`).send(changed).expect(200);
    const low = async () => (await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body.wheels[0].lowKpa;
    expect(await low()).toBe(150);
    expect((await s.http.get(`/api/versions/units/${unit.id}/1`).expect(200)).body).toEqual(unit);
    const back = (await s.http.post(`/api/versions/units/${unit.id}/1`).expect(200)).body as Unit;
    expect(back).toEqual({ ...unit, version: 3 });
    expect(await low()).toBe(225);
    expect((await past('units', unit.id)).map((v) => v.what)).toEqual(['putBack', 'changed', 'made']);
  });

  it('deletions and restorations are among them; a change that is refused is not', async () => {
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, version: 7 })
      .expect(409);
    await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
    await s.http.post(`/api/rigs/${rig.id}/restore`).expect(200);
    expect((await past('rigs', rig.id)).map((v) => v.what)).toEqual(['restored', 'deleted', 'made']);
  });

  it('one that can’t be put back any more says why and changes nothing', async () => {
    const bare = structuredClone(unit);
    for (const axle of bare.axles) for (const w of axle.wheels) w.sensor = null;
    await s.http.put(`/api/units/${unit.id}`).send(bare).expect(200);
    // Another unit has those sensors now.
    await makeCar(s);
    expect((await s.http.post(`/api/versions/units/${unit.id}/1`).expect(400)).body.detail).toContain('one wheel only');
    expect((await past('units', unit.id)).map((v) => v.what)).toEqual(['changed', 'made']);
    await s.http.post(`/api/versions/units/${unit.id}/9`).expect(404);
    await s.http.get(`/api/versions/photos/${unit.id}`).expect(404);
    await s.http.get(`/api/versions/units/${unit.id}/1e3`).expect(404);
  });

  it('the last two hundred of a document are kept', async () => {
    let now = rig;
    for (let i = 0; i < 205; i += 1)
      now = (
        await s.http
          .put(`/api/rigs/${rig.id}`)
          .send({ ...now, note: `n${i}` })
          .expect(200)
      ).body;
    const all = await past('rigs', rig.id);
    expect([all.length, all[0]?.version, all.at(-1)?.version]).toEqual([200, 206, 7]);
  });
});

describe('If-Match on a deletion', () => {
  it.each([
    ['"1"', 204],
    ['"3", "1"', 204],
    ['*', 204],
    ['"2"', 412],
    ['W/"1"', 412],
  ])('%s', async (header, status) => {
    const res = await s.http.delete(`/api/rigs/${rig.id}`).set('If-Match', header);
    expect(res.status).toBe(status);
    await s.http.get(`/api/rigs/${rig.id}`).expect(status === 204 ? 404 : 200);
    if (status === 412) expect(res.body).toMatchObject({ storedVersion: 1, stored: { id: rig.id } });
  });
});

it('what no route takes is a problem too, whatever the method; API answers are never a page', async () => {
  const res = await s.http.post('/nowhere').expect(404);
  expect(res.headers['content-type']).toMatch('application/problem+json');
  const health = await s.http.get('/api/health').expect(200);
  expect(health.headers['content-security-policy']).toBe("default-src 'none'; frame-ancestors 'none'");
  expect(health.headers['permissions-policy']).toContain('camera=()');
});
