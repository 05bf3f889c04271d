import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { WatchView } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let rig: Rig;
let unit: Unit;
beforeEach(async () => {
  s = await testServer();
  const made = await makeCar(s);
  rig = made.rig;
  const wheel = made.unit.axles[0]?.wheels[0];
  if (wheel) wheel.second = { name: 'The car’s own', sensor: { id: '5ec0d1', kind: 'internal' } };
  unit = (await s.http.put(`/api/units/${made.unit.id}`).send(made.unit).expect(200)).body;
});
afterEach(() => s.close());

const post = async (body: object) => (await s.http.post('/api/readings').send(body).expect(200)).body;
const first = async () => {
  const { wheels } = (await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body as WatchView;
  return wheels.find((w) => w.position === 'A1L');
};
const alarms = async () =>
  ((await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body as { position: string; kind: string }[]).map(
    (a) => `${a.position} ${a.kind}`,
  );

describe('a second source of a wheel', () => {
  it('is shown beside the first with its age and how often it speaks, and raises no alarm', async () => {
    expect((await first())?.second).toEqual({
      name: 'The car’s own',
      pressureKpa: null,
      tempC: null,
      time: null,
      ageS: null,
      everyS: null,
    });
    await post([
      readingAt('A00001', 0, 250),
      readingAt('5EC0D1', 0, 262),
      readingAt('5EC0D1', 60, 90),
      readingAt('5EC0D1', 120, 90),
    ]);
    s.clock.ms = T0 + 150_000;
    const wheel = await first();
    expect(wheel).toMatchObject({
      pressureKpa: 250,
      second: { name: 'The car’s own', pressureKpa: 90, ageS: 30, everyS: 60 },
    });
    expect(await alarms()).toEqual([]);
  });

  it('named by its wheel: the first or the second', async () => {
    const wheel = { rigId: rig.id, position: 'A1L' };
    const { sensorId: _, ...reading } = readingAt('A00001', 0, 240);
    expect(await post([{ ...reading, wheel: { ...wheel, second: true } }])).toMatchObject({ accepted: 1 });
    expect(await post([{ ...reading, wheel: { ...wheel, position: 'A1R', second: true } }])).toMatchObject({ unknownSensor: 1 });
    expect(await first()).toMatchObject({ pressureKpa: null, second: { pressureKpa: 240 } });
  });

  it('is still there after a stop, and an older reading that comes late does not replace it', async () => {
    await post([readingAt('5EC0D1', 60, 255)]);
    await post([readingAt('5EC0D1', 0, 250)]);
    expect((await first())?.second).toMatchObject({ pressureKpa: 255 });
    s = await s.restart();
    expect((await first())?.second).toMatchObject({ pressureKpa: 255, everyS: 60 });
  });

  it('trusted instead, it is the one that raises alarms', async () => {
    const wheel = unit.axles[0]?.wheels[0];
    if (!wheel?.sensor || !wheel.second) throw new Error('no second source');
    Object.assign(wheel, { sensor: wheel.second.sensor, second: { name: 'The kit', sensor: wheel.sensor } });
    await s.http.put(`/api/units/${unit.id}`).send(unit).expect(200);
    await post([readingAt('5EC0D1', 0, 250), readingAt('A00001', 0, 90), readingAt('A00001', 30, 90)]);
    s.clock.ms = T0 + 60_000;
    expect(await alarms()).toEqual([]);
    expect((await first())?.second).toMatchObject({ name: 'The kit', pressureKpa: 90 });
    s.clock.ms = T0 + 120_000;
    await post([readingAt('5EC0D1', 90, 90), readingAt('5EC0D1', 110, 90)]);
    expect(await alarms()).toContain('A1L low');
  });

  it('one sensor can’t be both, nor on another wheel', async () => {
    const wheel = unit.axles[0]?.wheels[0];
    if (wheel) wheel.second = { name: 'Twin', sensor: { id: 'A00002', kind: 'cap' } };
    const { body } = await s.http.put(`/api/units/${unit.id}`).send(unit).expect(400);
    expect(body.errors[0].detail).toContain('A00002 is already the sensor of');
  });
});
