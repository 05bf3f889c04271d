import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, moveOn, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';

let s: TestServer;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
});
afterEach(() => s.close());

const send = (...readings: { time: string }[]) => {
  moveOn(s, readings);
  return s.http.post('/api/readings?history=true').send(readings).expect(200);
};
const post = (path: string, body: object, status = 200) => s.http.post(`/api/rigs/${rig.id}/${path}`).send(body).expect(status);
const alarms = async (id = rig.id): Promise<Alarm[]> => (await s.http.get(`/api/rigs/${id}/alarms`).expect(200)).body;
const wheel = async (position: string) =>
  ((await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body as WatchView).wheels.find((w) => w.position === position);

describe('typed rounds', () => {
  it('are judged like any reading, with a temperature or without', async () => {
    const round = [
      { position: 'A1L', pressureKpa: 210, tempC: null },
      { position: 'A1R', pressureKpa: 250, tempC: 22 },
    ];
    expect((await post('typed', { readings: round })).body).toMatchObject({ accepted: 2 });
    expect((await alarms()).map((a) => `${a.position} ${a.kind}`)).toEqual(['A1L low']);
    expect(await wheel('A1L')).toMatchObject({ pressureKpa: 210, tempC: null, state: 'live', source: 'typed', heldKpa: null });
    expect(await wheel('A1R')).toMatchObject({ pressureKpa: 250, tempC: 22, source: 'typed' });
    // Taken up again after a stop, and grown old like any other.
    s = await s.restart();
    expect(await wheel('A1L')).toMatchObject({ pressureKpa: 210, tempC: null });
    s.clock.ms += 10 * 60_000;
    expect((await wheel('A1L'))?.state).not.toBe('live');
  });
  it('refuse a wheel without a sensor, the future, a figure no tire holds', async () => {
    await post('typed', { readings: [{ position: 'B1L', pressureKpa: 210, tempC: null }] }, 400);
    const answer = await post('typed', { readings: [{ position: 'A1L', pressureKpa: 9999, tempC: null }] }, 400);
    expect(answer.body.errors[0].pointer).toBe('/readings/0/pressureKpa');
    await post('typed', { time: '2027-01-01T00:00:00Z', readings: [{ position: 'A1L', pressureKpa: 250, tempC: null }] }, 400);
    await post('typed', { readings: [] }, 400);
  });
});

describe('a unit that is left behind', () => {
  let towing: Rig;
  beforeEach(async () => {
    const ids = ['B00001', 'B00002', 'B00003', 'B00004'];
    const trailer = (
      await s.http
        .post('/api/units')
        .send({ ...carDocument(ids), name: 'Cart', kind: 'trailer' })
        .expect(201)
    ).body as Unit;
    towing = (
      await s.http
        .post('/api/rigs')
        .send({ name: 'Towing', unitIds: [rig.unitIds[0], trailer.id], loadState: 'loaded' })
        .expect(201)
    ).body;
    rig = towing;
  });
  const drive = (fromMin: number, toMin: number, units: string) =>
    send(
      ...Array.from({ length: toMin - fromMin }, (_, m) => m + fromMin).flatMap((m) =>
        [...units].flatMap((u) => [1, 2, 3, 4].map((n) => readingAt(`${u}0000${n}`, m * 60 + n))),
      ),
    );

  it('is one alarm for the unit, found again when it is heard', async () => {
    await drive(0, 20, 'AB');
    await drive(20, 36, 'A');
    expect((await alarms()).map((a) => [a.position, a.kind, a.sensorId])).toEqual([['B', 'silent', '']]);
    const view = (await s.http.get(`/api/rigs/${rig.id}/watch`)).body as WatchView;
    expect(view.missing).toEqual(['B']);
    await drive(36, 38, 'AB');
    expect((await alarms())[0]?.toTime).not.toBeNull();
  });

  it('rests while it is disconnected, over a stop too, and begins unheard when it comes back', async () => {
    await drive(0, 20, 'AB');
    expect((await post('rest', { unit: 'B', resting: true })).body).toMatchObject({ resting: ['B'] });
    s = await s.restart();
    await drive(20, 60, 'A');
    expect(await alarms()).toEqual([]);
    expect((await wheel('B1L'))?.state).toBe('resting');
    await post('rest', { unit: 'B', resting: false });
    expect((await wheel('B1L'))?.state).toBe('notHeard');
    await post('rest', { unit: 'C', resting: true }, 400);
  });
});

describe('filling', () => {
  it('low does not ring for the wheels that are filled, and does for the others; it ends by itself', async () => {
    await send(...[1, 2, 3, 4].map((n) => readingAt(`A0000${n}`, 0, 250)));
    expect((await post('track', { mode: 'track', minutes: 90 })).body.track).toMatchObject({ endedTime: null });
    const over = (await post('track', { mode: 'over' })).body.track;
    expect(Date.parse(over.untilTime) - Date.parse(over.sinceTime)).toBe(90 * 60_000);
    expect(over.endedTime).not.toBeNull();
    expect((await post('track', { mode: 'road' })).body.track).toBeNull();
    await post('track', { mode: 'track', minutes: 721 }, 400);
    expect((await post('top-up', { positions: ['A1L'] })).body.topUp).toMatchObject({ positions: ['A1L'] });
    await send(readingAt('A00001', 60, 0), readingAt('A00002', 60, 0));
    expect((await alarms()).map((a) => a.position).every((p) => p === 'A1R')).toBe(true);
    expect(await wheel('A1L')).toMatchObject({ filling: true });
    s.clock.ms = T0 + 40 * 60_000;
    await s.app.watch.tick(rig.id);
    expect((await s.http.get(`/api/rigs/${rig.id}/watch`)).body.topUp).toBeNull();
    expect((await alarms()).some((a) => a.position === 'A1L' && a.kind === 'low')).toBe(true);
    await post('top-up', { positions: ['Z1L'] }, 400);
  });

  it('a sensor that falls to nothing is asked about; taken off, it rings no more', async () => {
    await send(readingAt('A00001', 0, 250), readingAt('A00001', 60, 0));
    expect((await wheel('A1L'))?.askedTime).toBe('2026-05-01T08:01:00.000Z');
    await post('answer', { position: 'A1L', answer: 'off' });
    expect(await wheel('A1L')).toMatchObject({ askedTime: null, active: [] });
    await send(readingAt('A00001', 120, 0), readingAt('A00001', 300, 251));
    expect((await alarms()).every((a) => a.toTime !== null)).toBe(true);
    expect(await wheel('A1L')).toMatchObject({ offTime: null, pressureKpa: 251 });
    await post('answer', { position: 'A1L', answer: 'maybe' }, 400);
  });
});

describe('acknowledged', () => {
  it('an alarm that grows much worse rings again, one that trembles does not', async () => {
    await send(readingAt('A00001', 0, 250), readingAt('A00001', 300, 224));
    const [low] = (await alarms()).filter((a) => a.kind === 'low');
    await post(`alarms/${low?.id}/acknowledge`, {});
    await send(readingAt('A00001', 600, 222));
    expect((await alarms()).find((a) => a.id === low?.id)?.acknowledgedAt).not.toBeNull();
    await send(readingAt('A00001', 900, 205));
    expect((await alarms()).find((a) => a.id === low?.id)).toMatchObject({ acknowledgedAt: null, toTime: null, worst: 205 });
  });
});

describe('the repeater', () => {
  it('a weak supply is told under the letter of the last unit, kept over a stop, and over once it is charged', async () => {
    await post('repeater', { volts: 12.6 });
    expect(await alarms()).toEqual([]);
    await post('repeater', { volts: 11.5 });
    expect(await alarms()).toMatchObject([
      { position: 'A', kind: 'battery', sensorId: '', limit: 11.8, value: 11.5, toTime: null },
    ]);
    s = await s.restart();
    await post('repeater', { volts: 11.2 });
    expect(await alarms()).toMatchObject([{ worst: 11.2, toTime: null }]);
    await post('repeater', { volts: 11.9 });
    expect((await alarms())[0]?.toTime).toBeNull();
    await post('repeater', { volts: 12.7 });
    expect((await alarms())[0]?.toTime).not.toBeNull();
    await post('repeater', { volts: 99 }, 400);
  });
});

describe('replay', () => {
  it('says what would have rung, with the limits of today or others', async () => {
    await send(
      ...Array.from({ length: 60 }, (_, m) => readingAt('A00001', m * 60, m >= 30 && m < 40 ? 235 : 250)),
      ...Array.from({ length: 60 }, (_, m) => readingAt('A00002', m * 60 + 3, 250)),
    );
    const stretch = { from: '2026-05-01T08:00:00Z', to: '2026-05-01T09:00:00Z' };
    const kinds = (body: { alarms: { position: string; kind: string }[] }) => body.alarms.map((a) => `${a.position} ${a.kind}`);
    const today = (await post('replay', stretch)).body;
    expect(today.readings).toBe(120);
    expect(kinds(today)).not.toContain('A1L low');
    const other = (await post('replay', { ...stretch, limits: { A1L: { lowKpa: 240, highKpa: null, hotC: 70 } } })).body;
    expect(other.alarms.find((a: { kind: string }) => a.kind === 'low')).toMatchObject({
      position: 'A1L',
      fromTime: '2026-05-01T08:30:00.000Z',
      toTime: '2026-05-01T08:40:00.000Z',
    });
    // Nothing of it is kept.
    expect((await alarms()).some((a) => a.kind === 'low')).toBe(false);
    await post('replay', { ...stretch, from: '2026-05-02T08:00:00Z' }, 400);
    await post('replay', { ...stretch, limits: { A1L: { lowKpa: 300, highKpa: 200, hotC: null } } }, 400);
  });

  it('reads each reading once, where few are and where thousands begin at once', async () => {
    const ids = ['A00001', 'A00002', 'A00003', 'A00004'];
    // A life sign a day for a month, then an hour in which four sensors speak each second, all in the same moment.
    const month = 30 * 86_400;
    const sparse = Array.from({ length: 30 }, (_, d) => ids.map((id) => readingAt(id, d * 86_400, 250))).flat();
    const dense = Array.from({ length: 3600 }, (_, i) =>
      ids.map((id) => readingAt(id, month + i, id === 'A00001' && i >= 2000 && i < 3000 ? 150 : 250)),
    ).flat();
    await send(...sparse);
    await send(...dense.slice(0, 8000));
    await send(...dense.slice(8000));
    const from = '2026-05-01T08:00:00.000Z';
    const { body } = await post('replay', { from, to: '2026-05-31T09:00:00.000Z' });
    expect(body.readings).toBe(30 * 4 + 3600 * 4);
    // 33 min 20 s and 50 min into the hour.
    expect(body.alarms.filter((a: { kind: string }) => a.kind === 'low')).toMatchObject([
      { position: 'A1L', fromTime: '2026-05-31T08:33:20.000Z', toTime: '2026-05-31T08:50:00.000Z' },
    ]);
  });
});
