import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { LogEvent } from '#schema/log.ts';
import type { Unit } from '#schema/unit.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const events = async (rigId: string): Promise<LogEvent[]> => (await s.http.get(`/api/rigs/${rigId}/events`).expect(200)).body;
const put = async (unit: Unit): Promise<Unit> => {
  const { id: _id, ...doc } = unit;
  return (await s.http.put(`/api/units/${unit.id}`).send(doc).expect(200)).body;
};
const withLow = (unit: Unit, lowKpa: number): Unit => {
  const next = structuredClone(unit);
  const limits = next.axles[0]?.settings.loaded?.limits;
  if (limits) limits.lowKpa = lowKpa;
  return next;
};

it('a round that is sent twice is noted once, and its readings are stored once', async () => {
  const { rig } = await makeCar(s);
  s.clock.ms += 60_000;
  const round = { id: 'r1', readings: [{ position: 'A1L', pressureKpa: 251, tempC: null }] };
  const send = async (ageS: number) =>
    (
      await s.http
        .post(`/api/rigs/${rig.id}/typed`)
        .send({ ...round, ageS })
        .expect(200)
    ).body;
  // Typed 30 s ago, whatever the clock of the phone says; the answer is lost, and it comes again a minute later.
  expect(await send(30)).toMatchObject({ accepted: 1, time: new Date(T0 + 30_000).toISOString() });
  s.clock.ms += 60_000;
  expect(await send(90.2)).toMatchObject({ accepted: 0, repeated: 1, time: new Date(T0 + 30_000).toISOString() });
  expect((await events(rig.id)).filter((e) => e.kind === 'round')).toHaveLength(1);
  expect(await s.db('readings').count({ n: '*' })).toEqual([{ n: 1 }]);
});

describe('what the app writes down by itself', () => {
  it('limits: before and after, saves close together as one, put back as none', async () => {
    const { unit, rig } = await makeCar(s);
    let now = await put(withLow(unit, 221));
    s.clock.ms += 60_000;
    now = await put(withLow(now, 218));
    const [only, ...more] = await events(rig.id);
    expect(more).toEqual([]);
    expect(only).toMatchObject({
      kind: 'settings',
      axle: 'A1',
      loadState: 'loaded',
      time: new Date(T0 + 60_000).toISOString(),
      from: { lowKpa: 225, coldKpa: 250 },
      to: { lowKpa: 218 },
    });
    s.clock.ms += 60_000;
    now = await put(withLow(now, 225));
    expect(await events(rig.id)).toEqual([]);
    // A name that changes is no setting.
    now = await put({ ...now, name: 'Car two' });
    expect(await events(rig.id)).toEqual([]);
    await put(withLow(now, 210));
    s.clock.ms += 11 * 60_000;
    await put(withLow({ ...now, version: now.version + 1 }, 200));
    expect((await events(rig.id)).map((e) => e.kind === 'settings' && [e.from.lowKpa, e.to.lowKpa])).toEqual([
      [210, 200],
      [225, 210],
    ]);
    // It outlives a stop.
    s = await s.restart();
    expect(await events(rig.id)).toHaveLength(2);
  });

  it('a refused save leaves nothing behind', async () => {
    const { unit, rig } = await makeCar(s);
    const { id: _id, ...doc } = withLow({ ...unit, version: 7 }, 200);
    await s.http.put(`/api/units/${unit.id}`).send(doc).expect(409);
    expect(await events(rig.id)).toEqual([]);
  });

  it('sets of wheels, rounds off the monitor, drives in the readings; each rig its own', async () => {
    const { unit, rig } = await makeCar(s);
    const other = await makeCar(s, ['B00001', 'B00002', 'B00003', 'B00004']);
    let now = await put({ ...unit, wheelSets: { fitted: 'summer', stored: [] } });
    now = await put({ ...now, wheelSets: { fitted: 'winter', stored: [] } });
    s.clock.ms += 1000;
    await s.http
      .post(`/api/rigs/${rig.id}/typed`)
      .send({
        readings: [
          { position: 'A1L', pressureKpa: 248, tempC: null },
          { position: 'A1R', pressureKpa: 251, tempC: 18 },
        ],
      })
      .expect(200);
    // An hour and a half on the road, a reading a minute, warming by 20 K.
    const drive = ['A00001', 'A00002', 'A00003', 'A00004'].flatMap((id, i) =>
      Array.from({ length: 90 }, (_, m) => readingAt(id, -7200 * 3 + m * 60 + i, 250 + m / 4, 15 + 20 * (1 - Math.exp(-m / 22)))),
    );
    await s.http.post('/api/readings?history=true').send(drive).expect(200);
    const got = await events(rig.id);
    expect(got.map((e) => e.kind)).toEqual(['round', 'wheelSet', 'drive']);
    expect(got[0]).toMatchObject({ readings: { A1L: 248, A1R: 251 } });
    expect(got[1]).toMatchObject({ unit: 'A', name: 'winter' });
    expect(got[2]).toMatchObject({
      time: new Date(T0 - 6 * 3_600_000).toISOString(),
      until: new Date(T0 - 4 * 3_600_000).toISOString(),
      wheels: 4,
    });
    expect(await events(other.rig.id)).toEqual([]);
    expect(
      (await s.http.get(`/api/rigs/${rig.id}/events?from=${new Date(T0 + 500).toISOString()}`).expect(200)).body,
    ).toHaveLength(1);
    await s.http.get(`/api/rigs/${rig.id}/events?from=soon`).expect(400);
  });
});
