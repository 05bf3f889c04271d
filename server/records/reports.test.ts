import { afterEach, beforeEach, expect, it } from 'vitest';
import { makeCar, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

it('a version is kept when the set changed, and not twice when it did not', async () => {
  const { rig, unit } = await makeCar(s);
  const first = (await s.http.post(`/api/rigs/${rig.id}/reports`).expect(201)).body;
  expect(first.report.wheels.map((w: { sensorId: string }) => w.sensorId)).toContain('A00001');
  s.clock.ms += 60_000;
  const same = (await s.http.post(`/api/rigs/${rig.id}/reports`).expect(200)).body;
  expect(same.id).toBe(first.id);
  const changed = structuredClone(unit);
  const wheel = changed.axles[0]?.wheels[0];
  if (wheel) wheel.fitting = { done: [{ code: 'sensorOn', at: '2026-05-01T08:00:00Z' }], leak: 'none' };
  await s.http.put(`/api/units/${unit.id}`).send(changed).expect(200);
  s.clock.ms += 60_000;
  await s.http.post(`/api/rigs/${rig.id}/reports`).expect(201);
  const again = await s.restart();
  const list = (await again.http.get(`/api/rigs/${rig.id}/reports`).expect(200)).body;
  expect(list).toHaveLength(2);
  expect(list[0].report.wheels[0].leak).toBe('none');
  await again.http.get('/api/rigs/nobody/report').expect(404);
  await again.close();
  s = await testServer();
});
