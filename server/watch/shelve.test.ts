import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Alarm, Shelf } from '#schema/alarm.ts';
import type { Rig } from '#schema/unit.ts';
import { makeCar, moveOn, readingAt, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
});
afterEach(() => s.close());

const MIN = 60_000;
const say = async (seconds: number, kpa: number, tempC = 20) => {
  const readings = [readingAt('A00001', seconds, kpa, tempC)];
  moveOn(s, readings);
  await s.http.post('/api/readings').send(readings).expect(200);
};
const alarms = async (): Promise<Alarm[]> => (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body;
const only = async (kind: Alarm['kind']) => (await alarms()).find((a) => a.kind === kind) as Alarm;
const log = async (): Promise<Shelf[]> => (await s.http.get(`/api/rigs/${rig.id}/shelves`).expect(200)).body;
const shelve = (id: string, minutes: number, status = 200) =>
  s.http.post(`/api/rigs/${rig.id}/alarms/${id}/shelve`).send({ minutes }).expect(status);
const tick = () => s.app.watch.tick(rig.id);
/** Too hot for its limit of 70 °C: it asks for a stop. */
const hot = async () => {
  await say(0, 290, 72);
  await say(60, 290, 72);
  return only('hot');
};
/** A high alarm, which asks for a look. */
const high = async () => {
  await say(0, 305);
  await say(60, 305);
  return only('high');
};

describe('shelving one alarm', () => {
  it('lasts until its end is over, which is in the log; the alarm stays open all the while', async () => {
    const { id } = await high();
    const shelved = (await shelve(id, 60)).body as Alarm;
    expect(shelved.shelvedUntil).toBe(new Date(s.clock.ms + 60 * MIN).toISOString());
    expect(shelved.toTime).toBeNull();
    expect(await log()).toMatchObject([{ alarmId: id, position: 'A1L', kind: 'high', ended: null }]);
    s.clock.ms += 59 * MIN;
    await tick();
    expect((await only('high')).shelvedUntil).toBeDefined();
    s.clock.ms += MIN;
    await tick();
    expect((await only('high')).shelvedUntil).toBeUndefined();
    expect((await log())[0]?.ended).toEqual({ time: new Date(s.clock.ms).toISOString(), by: 'time' });
  });

  it('ends when the alarm gets worse, and by its owner', async () => {
    const { id } = await high();
    await shelve(id, 60);
    // A little more is no other matter; 14 kPa more is.
    await say(120, 306);
    expect((await only('high')).shelvedUntil).toBeDefined();
    await say(180, 325);
    await say(240, 325);
    expect((await only('high')).shelvedUntil).toBeUndefined();
    expect((await log())[0]?.ended?.by).toBe('worse');
    await shelve(id, 15);
    expect(((await shelve(id, 0)).body as Alarm).shelvedUntil).toBeUndefined();
    expect((await log()).map((l) => l.ended?.by)).toEqual(['owner', 'worse']);
  });

  it('ends with its cause; what is over can’t be shelved', async () => {
    const { id } = await high();
    await shelve(id, 60);
    for (let i = 2; i < 12; i += 1) await say(i * 60, 250);
    expect((await only('high')).toTime).not.toBeNull();
    expect((await log())[0]?.ended?.by).toBe('gone');
    const answer = await shelve(id, 60, 409);
    expect(answer.body.title).toBe('Conflict');
  });

  it('one that asks for a stop is shelved for 30 minutes at the most; no other minutes, no other alarm', async () => {
    const { id, severity } = await hot();
    expect(severity).toBe('stop');
    const answer = await shelve(id, 31, 400);
    expect(answer.body.errors).toEqual([{ pointer: '/minutes', detail: 'is over 30, the longest for this alarm' }]);
    await shelve(id, 30);
    await shelve(id, -1, 400);
    await shelve(id, 1441, 400);
    await shelve('00000000-0000-4000-8000-000000000000', 10, 404);
  });

  it('is taken up again after a stop, and a clock that is set back ends it', async () => {
    const { id } = await high();
    await shelve(id, 600);
    s = await s.restart();
    expect((await only('high')).shelvedUntil).toBeDefined();
    s.clock.ms -= 3 * 3_600_000;
    await tick();
    expect((await only('high')).shelvedUntil).toBeUndefined();
    expect((await log())[0]?.ended?.by).toBe('time');
  });

  it('shelved again it has one end, the later one', async () => {
    const { id } = await high();
    await shelve(id, 15);
    await shelve(id, 60);
    const all = await log();
    expect(all.map((l) => l.ended?.by ?? 'lasts')).toEqual(['lasts', 'owner']);
    expect(Date.parse(all[0]?.untilTime ?? '') - Date.parse(all[0]?.fromTime ?? '')).toBe(60 * MIN);
  });
});

it('an alarm of the bench has the bench’s clock alone: raised, acknowledged and shelved', async () => {
  const bench = (command: object) => s.http.post(`/api/rigs/${rig.id}/bench`).send(command).expect(200);
  await bench({ action: 'open' });
  await bench({ action: 'drive', kmh: 60 });
  await bench({ action: 'leak', position: 'A1L', holeMm: 2 });
  await bench({ action: 'run', factor: 60 });
  s.app.bench.start();
  try {
    await expect
      .poll(
        async () => {
          s.clock.ms += 1000;
          return (await alarms()).length;
        },
        { timeout: 20_000, interval: 30 },
      )
      .toBeGreaterThan(0);
  } finally {
    await s.app.bench.stop();
  }
  const [alarm] = await alarms();
  expect(alarm?.practice).toBe(true);
  // The wall's clock stands three days away from the bench's.
  s.clock.ms = T0 + 3 * 86_400_000;
  const view = (await s.http.get(`/api/rigs/${rig.id}/watch`)).body as { time: string };
  const seen = (await s.http.post(`/api/rigs/${rig.id}/alarms/${alarm?.id}/acknowledge`).expect(200)).body as Alarm;
  expect(Math.abs(Date.parse(seen.acknowledgedAt ?? '') - Date.parse(view.time))).toBeLessThan(10 * MIN);
  const shelved = (await shelve(alarm?.id as string, 20)).body as Alarm;
  expect(Math.abs(Date.parse(shelved.shelvedUntil ?? '') - Date.parse(view.time) - 20 * MIN)).toBeLessThan(10 * MIN);
});
