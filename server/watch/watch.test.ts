import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, moveOn, readingAt, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let unit: Unit;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ unit, rig } = await makeCar(s));
});
afterEach(() => s.close());

const send = (...readings: { time: string }[]) => {
  moveOn(s, readings);
  return s.http.post('/api/readings?history=true').send(readings).expect(200);
};
const alarms = async (): Promise<Alarm[]> => (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body;
const lows = async () => (await alarms()).filter((a) => a.kind === 'low');
const view = async (): Promise<WatchView> => (await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body;
const wheel = async (position: string) => (await view()).wheels.find((w) => w.position === position);

describe('the watch behind the server', () => {
  it('raises, worsens and returns a low alarm', async () => {
    await send(readingAt('A00001', 0), readingAt('A00001', 300, 224), readingAt('A00001', 600, 219));
    expect(await alarms()).toEqual([
      expect.objectContaining({
        position: 'A1L',
        kind: 'low',
        severity: 'stop',
        value: 224,
        worst: 219,
        limit: 225,
        toTime: null,
        practice: false,
      }),
    ]);
    expect((await wheel('A1L'))?.active).toEqual(['low']);
    await send(readingAt('A00001', 900, 250));
    expect((await alarms())[0]).toMatchObject({ fromTime: '2026-05-01T08:05:00.000Z', toTime: '2026-05-01T08:15:00.000Z' });
  });

  it('goes by event time inside a batch of any order', async () => {
    await send(readingAt('A00001', 120, 250), readingAt('A00001', 60, 200), readingAt('A00001', 0, 250));
    expect((await lows())[0]).toMatchObject({ fromTime: '2026-05-01T08:01:00.000Z', toTime: '2026-05-01T08:02:00.000Z' });
  });

  it('keeps an acknowledgement, twice is once, and knows which alarm', async () => {
    await send(readingAt('A00001', 0, 200));
    const [alarm] = await alarms();
    const first = (await s.http.post(`/api/rigs/${rig.id}/alarms/${alarm?.id}/acknowledge`).expect(200)).body;
    s.clock.ms += 5000;
    expect((await s.http.post(`/api/rigs/${rig.id}/alarms/${alarm?.id}/acknowledge`).expect(200)).body).toEqual(first);
    expect(first.acknowledgedAt).not.toBeNull();
    await s.http.post(`/api/rigs/${rig.id}/alarms/nothing/acknowledge`).expect(404);
  });

  it('takes up open alarms and readings after a stop, and does not ring them again', async () => {
    await send(readingAt('A00001', 0, 200), readingAt('A00002', 0, 250));
    const before = await alarms();
    s = await s.restart();
    expect(await alarms()).toEqual(before);
    expect((await wheel('A1L'))?.active).toEqual(['low']);
    await send(readingAt('A00001', 60, 199));
    expect((await alarms()).map((a) => a.id)).toEqual(before.map((a) => a.id));
    await send(readingAt('A00001', 120, 250));
    expect((await alarms())[0]?.toTime).not.toBeNull();
  });

  it('holds new limits against the last reading at once', async () => {
    await send(readingAt('A00001', 0, 230));
    expect(await alarms()).toEqual([]);
    const changed = structuredClone(unit);
    const limits = changed.axles[0]?.settings.loaded?.limits;
    if (limits) limits.lowKpa = 235;
    await s.http.put(`/api/units/${unit.id}`).send(changed).expect(200);
    expect(await alarms()).toEqual([expect.objectContaining({ position: 'A1L', kind: 'low', limit: 235 })]);
  });

  it('another sensor on a wheel begins unheard and ends the old one’s alarm', async () => {
    await send(readingAt('A00001', 0, 200));
    const changed = structuredClone(unit);
    if (changed.axles[0]?.wheels[0]) changed.axles[0].wheels[0].sensor = { id: 'A0000A', kind: 'cap' };
    await s.http.put(`/api/units/${unit.id}`).send(changed).expect(200);
    expect(await wheel('A1L')).toMatchObject({ state: 'notHeard', pressureKpa: null });
    expect((await alarms())[0]).toMatchObject({ sensorId: 'A00001', toTime: expect.any(String) });
  });

  it('never shows an old value as live', async () => {
    expect((await wheel('A1L'))?.state).toBe('notHeard');
    for (let t = 0; t < 600; t += 60) await send(...['A00001', 'A00002', 'A00003', 'A00004'].map((id) => readingAt(id, t)));
    s.clock.ms += 60_000;
    expect((await wheel('A1L'))?.state).toBe('live');
    s.clock.ms += 600_000;
    expect((await wheel('A1L'))?.state).toBe('asleep');
    const bare = structuredClone(unit);
    if (bare.axles[0]?.wheels[0]) bare.axles[0].wheels[0].sensor = null;
    await s.http.put(`/api/units/${unit.id}`).send(bare).expect(200);
    expect((await wheel('A1L'))?.state).toBe('notPaired');
  });

  it('one that goes quiet while the others speak is silent', async () => {
    for (let t = 0; t <= 40 * 60; t += 60) {
      const ids = t < 600 ? ['A00001', 'A00002', 'A00003', 'A00004'] : ['A00001', 'A00002', 'A00003'];
      await send(...ids.map((id, i) => readingAt(id, t + i)));
    }
    s.clock.ms += 40 * 60_000;
    expect((await wheel('A2R'))?.state).toBe('silent');
    expect((await alarms()).map((a) => `${a.position} ${a.kind} ${a.severity}`)).toEqual(['A2R silent look']);
  });

  it('silence of sound has an end and can be taken back', async () => {
    await s.http.post(`/api/rigs/${rig.id}/silence`).send({ minutes: 10 }).expect(200);
    expect((await view()).silencedUntil).toBe('2026-05-01T08:10:00.000Z');
    s = await s.restart();
    expect((await view()).silencedUntil).toBe('2026-05-01T08:10:00.000Z');
    s.clock.ms += 601_000;
    expect((await view()).silencedUntil).toBeNull();
    await s.http.post(`/api/rigs/${rig.id}/silence`).send({ minutes: -1 }).expect(400);
  });
});

describe('the live stream', () => {
  it('carries reading, wheel and alarm as they are kept', async () => {
    const server = s.app.express.listen(0, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const { port } = server.address() as { port: number };
    const stop = new AbortController();
    const res = await fetch(`http://127.0.0.1:${port}/api/rigs/${rig.id}/live`, { signal: stop.signal });
    expect(res.headers.get('content-type')).toBe('text/event-stream');
    const reader = res.body?.pipeThrough(new TextDecoderStream()).getReader();
    await send(readingAt('A00001', 0, 200));
    let text = '';
    while (!/event: alarm\ndata: .*\n\n/.test(text)) text += (await reader?.read())?.value ?? '';
    expect(text).toMatch(/event: reading\ndata: .*"position":"A1L"/);
    expect(text).toMatch(/event: wheel\ndata: .*"active":\["low"\]/);
    stop.abort();
    server.closeAllConnections();
    server.close();
    expect((await s.http.get('/api/rigs/nobody/live')).status).toBe(404);
  });
});
