import { afterEach, beforeEach, expect, it } from 'vitest';
import { makeCar, moveOn, readingAt, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

it('learns from the rig’s own readings what a run adds, axle by axle', async () => {
  const { rig } = await makeCar(s);
  expect((await s.http.get(`/api/rigs/${rig.id}/hot-run`).expect(200)).body).toEqual({ axles: {} });
  const night = 12 * 3600;
  const batch = ['A00001', 'A00002'].flatMap((id) => [
    { ...readingAt(id, -night), pressureKpa: 250 },
    ...Array.from({ length: 100 }, (_, m) => ({ ...readingAt(id, m * 60), pressureKpa: 250 + 25 * (1 - Math.exp(-m / 22)) })),
  ]);
  moveOn(s, batch);
  await s.http.post('/api/readings?history=true').send(batch).expect(200);
  const { axles } = (await s.http.get(`/api/rigs/${rig.id}/hot-run`).expect(200)).body;
  expect(Object.keys(axles)).toEqual(['A1']);
  expect(axles.A1.runs).toBe(2);
  expect(axles.A1.share).toBeGreaterThan(0.097);
  expect(axles.A1.share).toBeLessThan(0.1);
  await s.http.get('/api/rigs/nobody/hot-run').expect(404);
});

it('a rig keeps its climate and what was keyed, and refuses weather that cannot be', async () => {
  const { rig } = await makeCar(s);
  const climate = {
    coldestC: -10,
    hottestC: 33,
    altitudeSetM: 310,
    passM: 1940,
    days: { source: 'own.csv', from: '2026-01-01', minC: [-3, null], maxC: [4, null] },
  };
  const keyed = { at: '2026-05-01T08:00:00Z', loadState: 'loaded', groups: { A1: { low: 33, high: 44 } }, hotC: null };
  const saved = (
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, climate, keyed })
      .expect(200)
  ).body;
  expect(saved).toMatchObject({ climate, keyed });
  const again = await s.restart();
  expect((await again.http.get(`/api/rigs/${rig.id}`).expect(200)).body).toMatchObject({ climate, keyed });
  await again.close();
  s = await testServer();
  const other = await makeCar(s);
  const bad = await s.http
    .put(`/api/rigs/${other.rig.id}`)
    .send({ ...other.rig, climate: { coldestC: -90, hottestC: 20 } })
    .expect(400);
  expect(bad.body.errors).toEqual([{ pointer: '/climate/coldestC', detail: 'must be at least -60' }]);
});
