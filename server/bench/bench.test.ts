import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Alarm } from '#schema/alarm.ts';
import type { BenchView } from '#schema/bench.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, readingAt, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let unit: Unit;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ unit, rig } = await makeCar(s, ['A00001', 'A00002', 'A00003']));
});
afterEach(() => s.close());

/** What a reading shows. */
interface Shown {
  time: string;
  pressureKpa: number;
  tempC: number;
}

const bench = async (command: object, status = 200): Promise<{ bench: BenchView; saved?: string; code?: string }> =>
  (await s.http.post(`/api/rigs/${rig.id}/bench`).send(command).expect(status)).body;
const wheelView = async (position: string) =>
  (await s.http.get(`/api/rigs/${rig.id}/watch`)).body.wheels.find((w: { position: string }) => w.position === position);

/** Let the wall clock run in steps of a second with the bench's own loop. */
async function run(seconds: number): Promise<void> {
  s.app.bench.start();
  for (let i = 0; i < seconds; i += 5) {
    s.clock.ms += 5000;
    await new Promise((r) => setTimeout(r, 120));
  }
}

describe('the bench behind the server', () => {
  it('opens with the paired sensors on their wheels and loose ones for the rest', async () => {
    const { bench: view } = await bench({ action: 'open' });
    expect(view.wheels.map((w) => w.sensorId)).toEqual(['A00001', 'A00002', 'A00003', null]);
    expect(view.tray.length).toBe(2);
    // By hand, with 97.77 kPa around it at 300 m: (250 + 97.77) * 288.15 / 293.15 - 97.77 = 244.07
    expect(view.wheels[0]?.pressureKpa).toBeCloseTo(244.07, 1);
  });

  it('drives: frames come in through ingest as practice, a hole rings the low alarm', async () => {
    await bench({ action: 'open' });
    await bench({ action: 'leak', position: 'A1L', holeMm: 2 });
    await bench({ action: 'drive', kmh: 80 });
    await bench({ action: 'run', factor: 10 });
    await run(20);
    expect(await wheelView('A1L')).toMatchObject({ practice: true, active: expect.arrayContaining(['low']) });
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`)).body;
    expect(alarms).toContainEqual(expect.objectContaining({ position: 'A1L', kind: 'low', practice: true }));
    s = await s.restart();
    const again = (await s.http.get(`/api/rigs/${rig.id}/bench`)).body as BenchView;
    expect(again).toMatchObject({ open: true, running: true, kmh: 80 });
    expect(again.wheels[0]?.holeMm).toBe(2);
    expect((await s.http.get(`/api/rigs/${rig.id}/alarms`)).body).toContainEqual(expect.objectContaining({ id: alarms[0].id }));
    await s.app.bench.stop();
  });

  it('a sensor held near shows its code, and is heard once it is paired and fitted', async () => {
    const { bench: view } = await bench({ action: 'open' });
    const id = view.tray[0]?.id as string;
    await bench({ action: 'table', clear: true });
    await bench({ action: 'goTo', position: 'A2R' });
    await bench({ action: 'capture', style: 'heldNear', sensorId: id });
    await run(10);
    const { bench: seen } = await bench({ action: 'pause' });
    expect(seen.monitor?.capture).toMatchObject({ position: 'A2R', code: id, outcome: 'whole' });
    const { saved, code } = await bench({ action: 'saveCode', press: 'long', intended: 'A2R' });
    expect([saved, code]).toEqual(['saved', id]);
    const paired = structuredClone(unit);
    if (paired.axles[1]?.wheels[1]) paired.axles[1].wheels[1].sensor = { id, kind: 'cap' };
    await s.http.put(`/api/units/${unit.id}`).send(paired).expect(200);
    const fitted = await bench({ action: 'fit', sensorId: id, position: 'A2R' });
    expect(fitted.bench.wheels[3]?.sensorId).toBe(id);
    await bench({ action: 'run', factor: 10 });
    await run(10);
    expect(await wheelView('A2R')).toMatchObject({ state: 'live', practice: true });
    await s.app.bench.stop();
  });

  it('put away, what it said is forgotten: the next real reading counts whatever its time', async () => {
    await bench({ action: 'open' });
    await bench({ action: 'drive', kmh: 80 });
    await bench({ action: 'run', factor: 60 });
    await run(20);
    expect((await wheelView('A1L')).state).toBe('live');
    await s.app.bench.stop();
    await bench({ action: 'close' });
    expect(await wheelView('A1L')).toMatchObject({ state: 'notHeard', pressureKpa: null, practice: false });
    await s.http
      .post('/api/readings')
      .send([readingAt('A00001', 0, 200)])
      .expect(200);
    expect(await wheelView('A1L')).toMatchObject({ state: 'live', pressureKpa: 200, practice: false, active: ['low'] });
  });

  it('says what cannot be done', async () => {
    expect((await s.http.post(`/api/rigs/${rig.id}/bench`).send({ action: 'stop' })).status).toBe(409);
    await bench({ action: 'open' });
    for (const [command, pointer] of [
      [{ action: 'leak', position: 'B9L', holeMm: 1 }, '/position'],
      [{ action: 'leak', position: 'A1L', holeMm: -1 }, '/holeMm'],
      [{ action: 'quiet', position: 'A2R', quiet: true }, '/position'],
      [{ action: 'capture', style: 'heldNear', sensorId: '123456' }, '/sensorId'],
      [{ action: 'goTo', position: 'B9L' }, '/position'],
      [{ action: 'rotateWheels', moves: { A1L: 'A1R', A2L: 'A1R' } }, '/moves'],
      [{ action: 'run', factor: 7 }, '/factor'],
      [{ action: 'fly' }, '/action'],
    ] as const) {
      const res = await s.http.post(`/api/rigs/${rig.id}/bench`).send(command).expect(400);
      expect(res.body.errors[0].pointer).toBe(pointer);
    }
  });
});

describe('six hundred times as fast', () => {
  it('two days with a nail are over in six minutes: a slow loss, never a rapid one', async () => {
    await bench({ action: 'open' });
    const { bench: view } = await bench({ action: 'scene', scene: 'nail', at: 'A1L', factor: 600 });
    expect(view).toMatchObject({ running: true, factor: 600 });
    // 60 h are 6 min of the wall clock; a machine that is busy misses a step now and then.
    let scene: BenchView['scene'] = view.scene;
    for (let i = 0; i < 40 && scene !== null; i += 1) {
      await run(20);
      scene = ((await s.http.get(`/api/rigs/${rig.id}/bench`)).body as BenchView).scene;
    }
    expect(scene).toBeNull();
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`)).body as Alarm[];
    expect(alarms.map((a) => a.kind)).not.toContain('rapid');
    // A cap may read up to 20 kPa wrong, so another wheel may really cross a limit: in 500 seeds twenty read low on the cool night and
    // four high after the drive. Nothing else may sound for it.
    for (const a of alarms.filter((x) => x.position !== 'A1L')) {
      expect(['low', 'high'], `${a.position} ${a.kind}`).toContain(a.kind);
      if (a.kind === 'low') expect(a.value).toBeLessThanOrEqual(a.limit);
      else expect(a.value).toBeGreaterThanOrEqual(a.limit);
    }
    const first = (kind: string) =>
      Math.min(...alarms.filter((a) => a.position === 'A1L' && a.kind === kind).map((a) => Date.parse(a.fromTime)));
    expect(first('slow')).toBeLessThan(Number.POSITIVE_INFINITY);
    // A parked sensor sends a step of 2 psi: the one that tells of the loss may be the one that is under the limit. On a cool night the
    // reading may cross it while under 7 % of the air is gone, by that sensor, which may read 20 kPa too little from the start: then the
    // loss is told later.
    if (first('slow') > first('low')) {
      const { readings } = (await s.http.get(`/api/rigs/${rig.id}/readings?position=A1L&from=2000-01-01T00:00:00Z`)).body as {
        readings: Shown[];
      };
      // Gas law, at rest: brought from what the sensor shows to the 20 °C of the target of 250 kPa.
      const cold = ({ pressureKpa, tempC }: Shown) => ((pressureKpa + 101.325) * 293.15) / (tempC + 273.15) - 101.325;
      const at = readings.find((r) => Date.parse(r.time) === first('low')) as Shown;
      expect(cold(at)).toBeGreaterThan(0.92 * Math.min(250, cold(readings[0] as Shown)));
      expect(first('slow') - first('low')).toBeLessThan(24 * 3_600_000);
    }
    await s.app.bench.stop();
  }, 120_000);

  it('but a wait for a sensor runs no faster than sixty times', async () => {
    const { bench: view } = await bench({ action: 'open' });
    await bench({ action: 'run', factor: 600 });
    await bench({ action: 'capture', style: 'heldNear', sensorId: view.tray[0]?.id });
    expect((await s.http.get(`/api/rigs/${rig.id}/bench`)).body).toMatchObject({ factor: 60 });
    await s.app.bench.stop();
  });
});
