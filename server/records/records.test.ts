import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeCar, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const pointers = (res: { body: { errors?: { pointer: string }[] } }) => res.body.errors?.map((e) => e.pointer);

describe('units and rigs', () => {
  it('are made, read, listed, replaced, deleted and restored', async () => {
    const { unit, rig } = await makeCar(s);
    expect(unit.version).toBe(1);
    expect((await s.http.get(`/api/units/${unit.id}`).expect(200)).body).toEqual(unit);
    expect((await s.http.get('/api/rigs').expect(200)).body).toEqual([rig]);
    const renamed = (
      await s.http
        .put(`/api/units/${unit.id}`)
        .send({ ...unit, name: 'Small car' })
        .expect(200)
    ).body as Unit;
    expect(renamed).toEqual({ ...unit, name: 'Small car', version: 2 });
    await s.http.delete(`/api/units/${unit.id}`).expect(409);
    await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
    await s.http.get(`/api/rigs/${rig.id}`).expect(404);
    await s.http.get(`/api/rigs/${rig.id}/watch`).expect(404);
    expect((await s.http.post(`/api/rigs/${rig.id}/restore`).expect(200)).body).toEqual(rig);
    await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200);
  });

  it('a stale PUT gets 409 and both versions, and changes nothing', async () => {
    const { unit } = await makeCar(s);
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...unit, name: 'First' })
      .expect(200);
    const res = await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...unit, name: 'Second' })
      .expect(409);
    expect(res.headers['content-type']).toContain('application/problem+json');
    expect(res.body).toMatchObject({
      status: 409,
      sentVersion: 1,
      storedVersion: 2,
      sent: { name: 'Second' },
      stored: { name: 'First' },
    });
    expect((await s.http.get(`/api/units/${unit.id}`)).body.name).toBe('First');
  });

  it('one unit may be in several rigs; its readings show in each', async () => {
    const { unit } = await makeCar(s);
    const trailer = (
      await s.http
        .post('/api/units')
        .send({ ...carDocument(['B00001', 'B00002']), name: 'Trailer', kind: 'trailer' })
        .expect(201)
    ).body;
    const both = (
      await s.http
        .post('/api/rigs')
        .send({ name: 'Both', unitIds: [unit.id, trailer.id], loadState: 'loaded' })
        .expect(201)
    ).body;
    await s.http
      .post('/api/readings')
      .send([{ sensorId: 'B00002', time: new Date(s.clock.ms).toISOString(), pressureKpa: 251, tempC: 15 }])
      .expect(200);
    const view = (await s.http.get(`/api/rigs/${both.id}/watch`)).body;
    expect(view.wheels.map((w: { position: string }) => w.position).slice(0, 6)).toEqual([
      'A1L',
      'A1R',
      'A2L',
      'A2R',
      'B1L',
      'B1R',
    ]);
    expect(view.wheels.find((w: { position: string }) => w.position === 'B1R')).toMatchObject({
      state: 'live',
      pressureKpa: 251,
    });
  });

  it.each<[string, (u: Record<string, unknown>) => unknown, string]>([
    ['a unit without wheels', (u) => ({ ...u, axles: [{ wheels: [], settings: {} }] }), '/axles/0/wheels'],
    ['a unit without axles', (u) => ({ ...u, axles: [] }), '/axles'],
    ['an ID of five digits', () => carDocument(['A0001']), '/axles/0/wheels/0/sensor/id'],
    ['an ID that is not hexadecimal', () => carDocument(['A0000G']), '/axles/0/wheels/0/sensor/id'],
    ['FFFFFF as a sensor', () => carDocument(['ffffff']), '/axles/0/wheels/0/sensor/id'],
    ['the same sensor on two wheels', () => carDocument(['A00001', 'a00001']), '/axles/0/wheels/1/sensor/id'],
    ['a field nobody knows', (u) => ({ ...u, colour: 'red' }), '/colour'],
    ['no name', (u) => ({ ...u, name: ' ' }), '/name'],
    [
      'a negative pressure',
      (u) => ({
        ...u,
        axles: [{ wheels: [{ position: '1C', sensor: null }], settings: { loaded: { cold: { kpa: -5, tempC: 20 } } } }],
      }),
      '/axles/0/settings/loaded/cold/kpa',
    ],
    [
      'a low over its high',
      (u) => ({
        ...u,
        axles: [
          {
            wheels: [{ position: '1C', sensor: null }],
            settings: { loaded: { limits: { rule: { school: 'share' }, lowKpa: 300, highKpa: 200, hotC: 70 } } },
          },
        ],
      }),
      '/axles/0/settings/loaded/limits/lowKpa',
    ],
  ])('refuses %s at its field', async (_, change, pointer) => {
    const res = await s.http
      .post('/api/units')
      .send(change({ ...carDocument() }) as object)
      .expect(400);
    expect(pointers(res)).toContain(pointer);
    expect((await s.http.get('/api/units')).body).toEqual([]);
  });

  it('refuses a sensor that another unit has, by name', async () => {
    await makeCar(s);
    const res = await s.http
      .post('/api/units')
      .send({ ...carDocument(['B00001', 'A00003']), name: 'Other' })
      .expect(400);
    expect(res.body.errors).toEqual([
      { pointer: '/axles/0/wheels/1/sensor/id', detail: 'A00003 is already the sensor of Car, wheel 2L' },
    ]);
    expect((await s.http.get('/api/units')).body).toHaveLength(1);
  });

  it('a sensor of a wheel set that is put away is still taken', async () => {
    const { unit } = await makeCar(s);
    const stored = {
      ...unit,
      axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map((w) => ({ ...w, sensor: null })) })),
      wheelSets: {
        fitted: 'winter',
        stored: [{ name: 'summer', wheels: [{ position: '1L', sensor: { id: 'A00001', kind: 'cap' } }], markings: [null, null] }],
      },
    };
    await s.http.put(`/api/units/${unit.id}`).send(stored).expect(200);
    const res = await s.http
      .post('/api/units')
      .send({ ...carDocument(['A00001']), name: 'Other' })
      .expect(400);
    expect(res.body.errors[0].detail).toBe('A00001 is already the sensor of Car, wheel 1L of the summer set');
  });

  it('refuses a rig of units that are not there', async () => {
    const res = await s.http
      .post('/api/rigs')
      .send({ name: 'Ghost', unitIds: ['nobody'], loadState: 'loaded' })
      .expect(400);
    expect(pointers(res)).toEqual(['/unitIds/0']);
  });

  it('refuses a PUT without its version', async () => {
    const { unit } = await makeCar(s);
    const { version: _, ...rest } = unit;
    expect(pointers(await s.http.put(`/api/units/${unit.id}`).send(rest).expect(400))).toEqual(['/version']);
  });

  it('keeps a monitor that a rig has, and says which rig', async () => {
    const { rig } = await makeCar(s);
    const monitor = (
      await s.http
        .post('/api/monitors')
        .send({
          name: 'Two-place display',
          groups: 'axle',
          unit: 'psi',
          step: 1,
          min: 0,
          max: 90,
          presetLow: null,
          presetHigh: null,
          presetHotC: null,
          interlock: false,
          positionsPerUnit: 4,
          units: 1,
          showsIds: false,
          signs: ['lamp'],
          openShows: 'skipped',
          pairSave: 'end',
          canDisconnect: false,
        })
        .expect(201)
    ).body as { id: string };
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, monitorId: monitor.id })
      .expect(200);
    const { body } = await s.http.delete(`/api/monitors/${monitor.id}`).expect(409);
    expect(body).toMatchObject({
      detail: 'The monitor belongs to a rig. It is the monitor of Errand. Choose another one there first.',
      rigs: [{ id: rig.id }],
    });
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, version: 2, monitorId: null })
      .expect(200);
    await s.http.delete(`/api/monitors/${monitor.id}`).expect(204);
  });
  it('stores monitors and what they can do', async () => {
    const monitor = {
      name: 'Six-place display',
      groups: 'axle',
      unit: 'psi',
      step: 1,
      min: 0,
      max: 99,
      presetLow: 29,
      presetHigh: 44,
      presetHotC: 70,
      interlock: true,
      positionsPerUnit: 6,
      units: 1,
      showsIds: true,
      canDisconnect: false,
    };
    const made = (await s.http.post('/api/monitors').send(monitor).expect(201)).body;
    expect(
      (
        await s.http
          .put(`/api/monitors/${made.id}`)
          .send({ ...made, step: 0.5 })
          .expect(200)
      ).body,
    ).toMatchObject({ step: 0.5, version: 2 });
    expect(
      pointers(
        await s.http
          .post('/api/monitors')
          .send({ ...monitor, step: 0 })
          .expect(400),
      ),
    ).toEqual(['/step']);
  });
});

describe('several changes that belong together', () => {
  const steps = (...list: object[]) => s.http.post('/api/changes').send({ steps: list });

  it('are all made, in their order', async () => {
    const { unit, rig } = await makeCar(s);
    const { body } = await steps({ do: 'delete', kind: 'rigs', id: rig.id }, { do: 'delete', kind: 'units', id: unit.id }).expect(
      200,
    );
    expect([body.units, body.rigs]).toEqual([[], []]);
    const back = await steps({ do: 'restore', kind: 'units', id: unit.id }, { do: 'restore', kind: 'rigs', id: rig.id }).expect(
      200,
    );
    expect(back.body.rigs.map((r: { id: string }) => r.id)).toEqual([rig.id]);
    const renamed = { ...unit, name: 'Barrow' };
    const put = await steps({ do: 'putUnit', doc: renamed }, { do: 'putRig', doc: { ...rig, name: 'Round' } }).expect(200);
    expect([put.body.units[0].name, put.body.units[0].version, put.body.rigs[0].name]).toEqual(['Barrow', 2, 'Round']);
  });

  it('are none of them made when one of them fails', async () => {
    const { unit, rig } = await makeCar(s);
    await steps({ do: 'putUnit', doc: { ...unit, name: 'Barrow' } }, { do: 'putRig', doc: { ...rig, version: 99 } }).expect(409);
    await steps({ do: 'delete', kind: 'rigs', id: rig.id }, { do: 'delete', kind: 'units', id: 'nobody' }).expect(404);
    expect((await s.http.get(`/api/units/${unit.id}`).expect(200)).body).toEqual(unit);
    expect((await s.http.get(`/api/rigs/${rig.id}`).expect(200)).body).toEqual(rig);
    await steps().expect(400);
    await steps({ do: 'burn', kind: 'rigs', id: rig.id }).expect(400);
  });
});
