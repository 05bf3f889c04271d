import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import type { Rig } from '#schema/unit.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
});
afterEach(() => s.close());

const MIN = 60;
const YEAR = 365 * 86_400;
const history = (...readings: object[]) => s.http.post('/api/readings?history=true').send(readings).expect(200);
const live = (...readings: object[]) => s.http.post('/api/readings').send(readings).expect(200);
const alarms = async (): Promise<Alarm[]> => (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body;
const view = async (): Promise<WatchView> => (await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body;
const wheel = async () => (await view()).wheels.find((w) => w.position === 'A1L');
/** A flat tire is heard and sounds, whatever came before. */
async function flatIsTold(seconds: number) {
  await live(readingAt('A00001', seconds, 80));
  expect(await wheel()).toMatchObject({ pressureKpa: 80, state: 'live', active: expect.arrayContaining(['low']) });
  expect((await alarms()).filter((a) => a.kind === 'low' && a.toTime === null)).toHaveLength(1);
}

describe('a reading dated ahead of the clock', () => {
  it.each([
    ['ten minutes', 10 * MIN],
    ['73 years', 73 * YEAR],
  ])('by %s is kept and marked, and does not make its wheel deaf', async (_what, ahead) => {
    await live(readingAt('A00001', 0, 250));
    expect((await history(readingAt('A00001', ahead, 250))).body).toMatchObject({ accepted: 1, ahead: 1, repeated: 0 });
    expect((await history(readingAt('A00001', ahead, 250))).body).toMatchObject({ accepted: 0, ahead: 0, repeated: 1 });
    expect(await wheel()).toMatchObject({ time: new Date(T0).toISOString() });
    const listed = (await s.http.get(`/api/rigs/${rig.id}/readings`).expect(200)).body;
    expect(listed.readings).toHaveLength(1);
    expect(listed.aheadOfClock).toMatchObject([{ position: 'A1L', time: readingAt('A00001', ahead).time, pressureKpa: 250 }]);
    s.clock.ms = T0 + 30_000;
    await flatIsTold(30);
    s = await s.restart();
    expect(await wheel()).toMatchObject({ pressureKpa: 80, active: expect.arrayContaining(['low']) });
  });

  it('by less than five minutes is judged: the clocks of two programs differ by less', async () => {
    expect((await history(readingAt('A00001', 299, 250))).body).toMatchObject({ accepted: 1, ahead: 0 });
    expect(await wheel()).toMatchObject({ pressureKpa: 250 });
  });

  it('a figure typed a few minutes ahead counts as now, and hides nothing that is heard since', async () => {
    const time = readingAt('A00001', 4 * MIN).time;
    const typed = await s.http
      .post(`/api/rigs/${rig.id}/typed`)
      .send({ time, readings: [{ position: 'A1L', pressureKpa: 250, tempC: 20 }] })
      .expect(200);
    expect(typed.body.time).toBe(new Date(T0).toISOString());
    s.clock.ms = T0 + 60_000;
    await flatIsTold(60);
  });
});

describe('a clock that was ahead and is set right', () => {
  beforeEach(async () => {
    s.clock.ms = T0 + YEAR * 1000;
    await live(readingAt('A00001', YEAR, 200), readingAt('A00002', YEAR, 250));
    expect(await wheel()).toMatchObject({ active: ['low'] });
    await s.http.post(`/api/rigs/${rig.id}/silence`).send({ minutes: 30 }).expect(200);
    s.clock.ms = T0;
  });

  const rightAgain = async () => {
    expect(await wheel()).toMatchObject({
      state: 'notHeard',
      pressureKpa: null,
      aheadTime: new Date(T0 + YEAR * 1000).toISOString(),
      active: [],
    });
    expect((await alarms()).filter((a) => a.toTime === null)).toEqual([]);
    s.clock.ms = T0 + 1000;
    await flatIsTold(1);
    expect((await wheel())?.aheadTime).toBeNull();
    expect((await s.db('readings').where('time_ms', '>', T0 + 86_400_000)).length).toBe(0);
    expect((await s.db('readings_ahead')).length).toBe(2);
  };

  it('its wheels start anew with the next tick, and say so', async () => {
    await s.app.watch.tick(rig.id);
    await rightAgain();
  });

  it('its wheels start anew when the server starts, and say so', async () => {
    s = await s.restart();
    await rightAgain();
    s = await s.restart();
    expect(await wheel()).toMatchObject({ pressureKpa: 80 });
  });

  it('a silence of 30 minutes lasts 30 minutes, over a restart too', async () => {
    await s.app.watch.tick(rig.id);
    const until = (await view()).silencedUntil as string;
    expect(Date.parse(until)).toBeLessThanOrEqual(T0 + 30 * 60_000);
    expect(Date.parse(until)).toBeGreaterThan(T0);
    s = await s.restart();
    s.clock.ms = T0 + 31 * 60_000;
    expect((await view()).silencedUntil).toBeNull();
  });
});
