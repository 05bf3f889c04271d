import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RigExport } from '#schema/exchange.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const KEYS = ['K00000000001', 'K00000000002', 'K00000000003', 'K00000000004'];
const at = (seconds: number, pressureKpa: number) => {
  const { sensorId: _, ...rest } = readingAt('A00001', seconds, pressureKpa);
  return rest;
};
const post = async (body: object) => (await s.http.post('/api/readings').send(body).expect(200)).body;
const pressures = async (rigId: string) =>
  (await s.http.get(`/api/rigs/${rigId}/readings`).expect(200)).body.readings.map(
    (r: { position: string; pressureKpa: number }) => `${r.position} ${r.pressureKpa}`,
  );

describe('sensors whose ID nobody knows', () => {
  it('are told by their wheel, watched, and ring', async () => {
    const { rig } = await makeCar(s, KEYS);
    const wheel = { rigId: rig.id, position: 'A1R' };
    expect(await post([{ wheel, ...at(0, 250) }])).toMatchObject({ accepted: 1, unknownSensor: 0 });
    s.clock.ms = T0 + 120_000;
    await post([
      { wheel, ...at(60, 180) },
      { wheel, ...at(90, 180) },
    ]);
    expect(await pressures(rig.id)).toEqual(['A1R 250', 'A1R 180', 'A1R 180']);
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body;
    expect(alarms.map((a: { position: string; kind: string }) => `${a.position} ${a.kind}`)).toContain('A1R low');
  });
  it('a wheel that isn’t there, or has none, is an unknown sensor; neither or both named is refused', async () => {
    const { rig } = await makeCar(s, KEYS.slice(0, 3));
    const named = (position: string) => ({ wheel: { rigId: rig.id, position }, ...at(0, 250) });
    expect(await post([named('A2R'), named('B1L'), { wheel: { rigId: 'none', position: 'A1L' }, ...at(0, 250) }])).toMatchObject({
      accepted: 0,
      unknownSensor: 3,
    });
    const both = { ...named('A1L'), sensorId: KEYS[0] };
    expect(await post([named('A1L'), both, at(0, 250)])).toMatchObject({
      accepted: 1,
      refused: [
        { line: 2, pointer: '/wheel', detail: 'name the sensor or the wheel, not both' },
        { line: 3, pointer: '/sensorId', detail: 'is missing: name the sensor, or the wheel it is on' },
      ],
    });
  });
  it('an ID that is seen later leads to the same sensor: nothing is lost', async () => {
    const { rig, unit } = await makeCar(s, KEYS);
    await post([{ wheel: { rigId: rig.id, position: 'A1L' }, ...at(0, 250) }]);
    expect(await post([{ ...at(10, 249), sensorId: '4CA1E0' }])).toMatchObject({ unknownSensor: 1 });
    const wheel = unit.axles[0]?.wheels[0];
    if (wheel?.sensor) wheel.sensor.shownId = '4ca1e0';
    const { body: known } = await s.http.put(`/api/units/${unit.id}`).send(unit).expect(200);
    expect(known.axles[0].wheels[0].sensor).toMatchObject({ id: KEYS[0], shownId: '4CA1E0' });
    expect(await post([{ ...at(20, 248), sensorId: '4ca1e0' }])).toMatchObject({ accepted: 1 });
    expect(await pressures(rig.id)).toEqual(['A1L 250', 'A1L 248']);
    // The ID is taken now, for this unit and every other.
    await s.http
      .post('/api/units')
      .send({ ...carDocument(['4CA1E0']), name: 'Other' })
      .expect(400)
      .expect((r) => expect(r.body.errors[0]).toMatchObject({ pointer: '/axles/0/wheels/0/sensor/id' }));
  });
  it('are typed off a monitor like any other', async () => {
    const { rig } = await makeCar(s, KEYS);
    const { body } = await s.http
      .post(`/api/rigs/${rig.id}/typed`)
      .send({
        readings: ['A1L', 'A1R', 'A2L', 'A2R'].map((position) => ({
          position,
          pressureKpa: position === 'A2L' ? 180 : 250,
          tempC: null,
        })),
      })
      .expect(200);
    expect(body).toMatchObject({ accepted: 4, unknownSensor: 0 });
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body;
    expect(alarms.map((a: { position: string; kind: string }) => `${a.position} ${a.kind}`)).toEqual(['A2L low']);
  });
  it('keep their readings over a restart', async () => {
    const { rig } = await makeCar(s, KEYS);
    await post([{ wheel: { rigId: rig.id, position: 'A1L' }, ...at(0, 250) }]);
    s = await s.restart();
    await post([{ wheel: { rigId: rig.id, position: 'A1L' }, ...at(10, 249) }]);
    expect(await pressures(rig.id)).toEqual(['A1L 250', 'A1L 249']);
  });
  it('a rig that goes out as a file and comes in again has keys of its own, and no conflict', async () => {
    const { rig } = await makeCar(s, KEYS);
    const doc = (await s.http.get(`/api/rigs/${rig.id}/export`).expect(200)).body as RigExport;
    const again = (await s.http.post('/api/rigs/import').send(doc).expect(201)).body;
    const units = (await s.http.get('/api/units').expect(200)).body as {
      id: string;
      axles: { wheels: { sensor: { id: string } }[] }[];
    }[];
    const ids = units.flatMap((u) => u.axles.flatMap((a) => a.wheels.map((w) => w.sensor.id)));
    expect(again.unitIds[0]).not.toBe(rig.unitIds[0]);
    expect(new Set(ids).size).toBe(8);
    expect(ids.every((id) => /^K[0-9A-Z]{11}$/.test(id))).toBe(true);
  });
});
