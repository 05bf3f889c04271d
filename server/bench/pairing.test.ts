import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BenchView } from '#schema/bench.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let rig: Rig;
let unit: Unit;
beforeEach(async () => {
  s = await testServer();
  ({ rig, unit } = await makeCar(s, ['A00001', 'A00002', 'A00003']));
});
afterEach(async () => {
  await s.app.bench.stop();
  await s.close();
});

const bench = async (command: object, status = 200): Promise<{ bench: BenchView; saved?: string; code?: string }> =>
  (await s.http.post(`/api/rigs/${rig.id}/bench`).send(command).expect(status)).body;
const wheelView = async (position: string) =>
  (await s.http.get(`/api/rigs/${rig.id}/watch`)).body.wheels.find((w: { position: string }) => w.position === position);
async function run(seconds: number): Promise<void> {
  s.app.bench.start();
  for (let i = 0; i < seconds; i += 5) {
    s.clock.ms += 5000;
    await new Promise((resolve) => setTimeout(resolve, 120));
  }
}

describe('the bench’s monitor', () => {
  it('holds what was paired before it was laid out, and steps through its positions', async () => {
    const { bench: view } = await bench({ action: 'open' });
    expect(view.monitor?.saved).toEqual({ A1L: 'A00001', A1R: 'A00002', A2L: 'A00003' });
    expect((await bench({ action: 'step', by: -1 })).bench.monitor?.position).toBe('A2R');
    expect((await bench({ action: 'clearCode', position: 'A1L' })).bench.monitor?.saved.A1L).toBeUndefined();
    const { bench: swapped } = await bench({ action: 'exchange', a: 'A1L', b: 'A1R' });
    expect(swapped.monitor?.saved).toEqual({ A1L: 'A00002', A2L: 'A00003' });
  });
  it('a capture goes on over a stop, and times out in event time', async () => {
    const { bench: view } = await bench({ action: 'open' });
    await bench({ action: 'goTo', position: 'A2R' });
    await bench({ action: 'trouble', next: 'noAnswer' });
    await bench({ action: 'capture', style: 'phoneFirst', sensorId: view.tray[0]?.id });
    await run(10);
    s = await s.restart();
    const half = (await s.http.get(`/api/rigs/${rig.id}/bench`)).body as BenchView;
    expect(half.monitor?.capture).toMatchObject({ position: 'A2R', outcome: 'waiting', waitS: 90 });
    await bench({ action: 'run', factor: 60 });
    await run(10);
    const { bench: late } = await bench({ action: 'pause' });
    expect(late.monitor?.capture?.outcome).toBe('timedOut');
    expect((await bench({ action: 'saveCode', press: 'short' })).saved).toBe('nothingToSave');
  });
  it('paired at the table: it reads zero and nothing rings; fitted by its label it is live', async () => {
    const { bench: view } = await bench({ action: 'open' });
    const id = view.tray[0]?.id as string;
    await bench({ action: 'table', clear: true });
    await bench({ action: 'goTo', position: 'A2R' });
    await bench({ action: 'capture', style: 'heldNear', sensorId: id });
    await run(15);
    expect((await bench({ action: 'saveCode', press: 'long', intended: 'A2R' })).code).toBe(id);
    const paired = structuredClone(unit);
    const wheel = paired.axles[1]?.wheels[1];
    if (wheel) wheel.sensor = { id, kind: 'cap', fitted: false, style: 'heldNear' };
    await s.http.put(`/api/units/${unit.id}`).send(paired).expect(200);
    await bench({ action: 'run', factor: 10 });
    await run(15);
    expect(await wheelView('A2R')).toMatchObject({ state: 'notFitted', pressureKpa: 0, active: [] });
    const { bench: labelled } = await bench({ action: 'fitLabelled' });
    expect(labelled.wheels[3]?.sensorId).toBe(id);
    await run(15);
    expect((await wheelView('A2R')).state).toBe('live');
    // From now on a zero is a zero.
    await bench({ action: 'inflate', position: 'A2R', kpa: 1 });
    await run(10);
    expect((await wheelView('A2R')).active).toContain('low');
  });
  it('moves wheels with what sits in them, and refuses two for one place', async () => {
    await bench({ action: 'open' });
    const { bench: moved } = await bench({ action: 'rotateWheels', moves: { A1L: 'A2L', A2L: 'A1L' } });
    expect(moved.wheels.map((w) => w.sensorId)).toEqual(['A00003', 'A00002', 'A00001', null]);
    await bench({ action: 'rotateWheels', moves: { A1L: 'A1R', A2L: 'A1R' } }, 400);
  });
});

describe('the bench’s limit menu', () => {
  it('has the presets and the interlock of the rig’s monitor', async () => {
    const monitor = (
      await s.http
        .post('/api/monitors')
        .send({
          name: 'Small',
          groups: 'axle',
          unit: 'psi',
          step: 1,
          min: 0,
          max: 188,
          presetLow: 100,
          presetHigh: 103,
          presetHotC: 70,
          interlock: true,
          positionsPerUnit: 4,
          units: 1,
          showsIds: true,
          canDisconnect: false,
        })
        .expect(201)
    ).body;
    await bench({ action: 'open' });
    await bench({ action: 'openKeyer', groups: ['A1', 'A2'] }, 400);
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, monitorId: monitor.id })
      .expect(200);
    await bench({ action: 'key', key: 'up' }, 400);
    const { bench: open } = await bench({ action: 'openKeyer', groups: ['A1', 'A2'] });
    expect(open.keyer?.shown).toEqual({ 'A1 low': 100, 'A1 high': 103, 'A2 low': 100, 'A2 high': 103, 'all hot': 70 });
    expect((await bench({ action: 'key', key: 'up' })).saved).toBe('taken');
    expect((await bench({ action: 'key', key: 'up10' })).saved).toBe('refused');
    const { bench: after } = await bench({ action: 'key', key: 'leave' });
    expect(after.keyer).toMatchObject({ refusals: 1, leftUnsaved: 1, shown: { 'A1 low': 100 } });
    // Only a menu of free order lets one choose.
    await bench({ action: 'choose', stop: 1 }, 400);
  });
});
