import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { partsOf, USUAL_PARTS } from '#core/kit/parts.ts';
import { AXLE_LAYOUTS, type AxleLayout, faultsOf } from '#core/rig/positions.ts';
import type { RigExport } from '#schema/exchange.ts';
import { rigJsonSchema } from '#schema/rig-schema.ts';
import type { AlarmRule, NewUnit, Settings } from '#schema/unit.ts';
import { makeCar, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const monitor = {
  name: 'Six-place display',
  groups: 'axle' as const,
  unit: 'psi' as const,
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
const exported = async (id: string): Promise<RigExport> => (await s.http.get(`/api/rigs/${id}/export`).expect(200)).body;

/** Any unit the schema allows, with sensor IDs from its own range. */
const text = (max: number) =>
  fc.string({ minLength: 1, maxLength: max, unit: 'grapheme' }).filter((t) => /\S/.test(t) && t.length <= max);
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((n) => (Object.is(n, -0) ? 0 : n));
const rule: fc.Arbitrary<AlarmRule> = fc.oneof(
  fc.record({ school: fc.constant('share' as const) }),
  fc.record({ school: fc.constant('floorCeiling' as const), floorKpa: number(1, 100), ceilingKpa: number(500, 900) }),
  fc.record({ school: fc.constant('baseline' as const) }),
);
const settings: fc.Arbitrary<Settings> = fc.record(
  {
    loaded: fc.record(
      {
        cold: fc.record({ kpa: number(200, 400), tempC: number(-20, 40) }),
        limits: fc.record({
          rule,
          lowKpa: fc.option(number(1, 199)),
          highKpa: fc.option(number(401, 900)),
          hotC: number(30, 150),
        }),
      },
      { requiredKeys: [] },
    ),
    empty: fc.constant({}),
  },
  { requiredKeys: [] },
);
const unitArb = (letter: string): fc.Arbitrary<NewUnit> =>
  fc
    .record({
      name: text(80),
      kind: fc.constantFrom('vehicle' as const, 'trailer' as const),
      layouts: fc.array(fc.constantFrom(...(Object.keys(AXLE_LAYOUTS) as AxleLayout[])), { minLength: 1, maxLength: 9 }),
      settings: fc.array(settings, { minLength: 13, maxLength: 13 }),
      sensors: fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }),
      spares: fc.nat(4),
      note: fc.option(text(200), { nil: undefined }),
      hitchM: fc.option(number(0, 30), { nil: undefined }),
      sets: fc.boolean(),
    })
    .map((r) => {
      let n = 0;
      const sensor = () => {
        n += 1;
        return r.sensors[n - 1]
          ? { id: `${letter}${n.toString(16).padStart(5, '0').toUpperCase()}`, kind: 'cap' as const }
          : null;
      };
      return {
        name: r.name,
        kind: r.kind,
        ...(r.note === undefined ? {} : { note: r.note }),
        ...(r.hitchM === undefined ? {} : { hitchM: r.hitchM }),
        axles: r.layouts.map((layout, i) => ({
          wheels: AXLE_LAYOUTS[layout].map((place) => ({ position: `${i + 1}${place}`, sensor: sensor() })),
          settings: r.settings[i] as Settings,
        })),
        spares: Array.from({ length: r.spares }, (_, i) => ({
          wheel: { position: `S${i + 1}`, sensor: sensor() },
          settings: r.settings[9 + i] as Settings,
        })),
        ...(r.sets
          ? {
              wheelSets: {
                fitted: 'summer',
                stored: [
                  {
                    name: 'winter',
                    wheels: [{ position: '1L', sensor: { id: `${letter}FF000`, kind: 'internal' as const } }],
                    markings: [null],
                  },
                ],
              },
            }
          : {}),
      };
    });

describe('a rig as a document', () => {
  it('exported, deleted and imported it is the same, for any rig the schema allows', async () => {
    await fc.assert(
      fc.asyncProperty(unitArb('A'), fc.option(unitArb('B')), fc.boolean(), async (first, second, withMonitor) => {
        const units = second ? [first, second] : [first];
        for (const u of units) fc.pre(faultsOf(u).length === 0);
        const unitIds = [];
        for (const u of units) unitIds.push((await s.http.post('/api/units').send(u).expect(201)).body.id);
        const monitorId = withMonitor ? (await s.http.post('/api/monitors').send(monitor).expect(201)).body.id : null;
        const rig = (
          await s.http
            .post('/api/rigs')
            .send({
              name: 'R',
              unitIds,
              loadState: 'loaded',
              monitorId,
              capSchool: 'metalOnly',
              kit: { oRing: units.length, cell: 3 },
              map: { A1L: { list: 0, row: 0, column: 1 } },
            })
            .expect(201)
        ).body;
        const before = await exported(rig.id);
        expect(before.rig).toMatchObject({ capSchool: 'metalOnly', kit: { cell: 3 } });
        await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
        for (const id of unitIds) await s.http.delete(`/api/units/${id}`).expect(204);
        const back = (await s.http.post('/api/rigs/import').send(before).expect(201)).body;
        expect(await exported(back.id)).toEqual(before);
        await s.http.delete(`/api/rigs/${back.id}`).expect(204);
        for (const id of back.unitIds) await s.http.delete(`/api/units/${id}`).expect(204);
      }),
      { numRuns: 40 },
    );
  }, 60_000);

  it('previews without writing, names sensors that are taken, and can leave them out', async () => {
    const { rig } = await makeCar(s);
    const doc = await exported(rig.id);
    const preview = (await s.http.post('/api/rigs/import/preview').send(doc).expect(200)).body;
    expect(preview).toMatchObject({ name: 'Errand', units: [{ name: 'Car', wheels: 4, sensors: 4 }], monitor: null });
    expect(preview.taken).toHaveLength(4);
    expect(preview.taken[0]).toEqual({ pointer: '/units/0/axles/0/wheels/0/sensor/id', sensorId: 'A00001', by: 'Car, wheel 1L' });
    const refused = await s.http.post('/api/rigs/import').send(doc).expect(400);
    expect(refused.body.errors).toHaveLength(4);
    expect((await s.http.get('/api/rigs')).body).toHaveLength(1);
    const free = (await s.http.post('/api/rigs/import?sensors=free').send(doc).expect(201)).body;
    expect((await exported(free.id)).units[0]?.axles[0]?.wheels.map((w) => w.sensor)).toEqual([null, null]);
  });

  it('refuses what it does not know, at its pointer, and writes nothing', async () => {
    const { rig } = await makeCar(s);
    const doc = await exported(rig.id);
    const unit = doc.units[0] as NewUnit;
    for (const [wrong, pointer] of [
      [{ ...doc, version: 2 }, '/version'],
      [{ ...doc, format: 'other' }, '/format'],
      [{ ...doc, colour: 'red' }, '/colour'],
      [{ ...doc, units: [] }, '/units'],
      [{ ...doc, units: [{ ...unit, name: '' }] }, '/units/0/name'],
      [{ ...doc, units: [unit, { ...unit, name: 'Twin' }] }, '/units/1/axles/0/wheels/0/sensor/id'],
      [
        { ...doc, units: [{ ...unit, axles: [{ ...unit.axles[0], wheels: [{ position: '7L', sensor: null }] }] }] },
        '/units/0/axles/0/wheels/0/position',
      ],
    ] as const) {
      const res = await s.http.post('/api/rigs/import').send(wrong).expect(400);
      expect(res.body.errors.map((e: { pointer: string }) => e.pointer)).toContain(pointer);
    }
    expect((await s.http.get('/api/units')).body).toHaveLength(1);
    await s.http.get('/api/rigs/nobody/export').expect(404);
  });

  it('a monitor that is known already is not made twice', async () => {
    const unit = (
      await s.http
        .post('/api/units')
        .send({ name: 'U', kind: 'trailer', axles: [{ wheels: [{ position: '1C', sensor: null }], settings: {} }], spares: [] })
    ).body;
    const monitorId = (await s.http.post('/api/monitors').send(monitor)).body.id;
    const rig = (await s.http.post('/api/rigs').send({ name: 'R', unitIds: [unit.id], loadState: 'empty', monitorId })).body;
    const back = (
      await s.http
        .post('/api/rigs/import')
        .send(await exported(rig.id))
        .expect(201)
    ).body;
    expect(back.monitorId).toBe(monitorId);
    expect((await s.http.get('/api/monitors')).body).toHaveLength(1);
  });

  it('an export of before units had lists and kinds had parts still comes in, and goes out as it was', async () => {
    const before = JSON.parse(readFileSync(join(import.meta.dirname, 'exported-before.test-data.json'), 'utf8'));
    const rig = (await s.http.post('/api/rigs/import').send(before).expect(201)).body;
    expect(await exported(rig.id)).toEqual(before);
    expect(partsOf(rig, 'cap')).toMatchObject({ boot: 'none', lockNut: false, antiTheft: true });
  });

  it('takes along all that a rig says: its tow vehicle, lists, parts, papers, what was left out, its first drive', async () => {
    const { rig } = await makeCar(s);
    const at = '2026-05-01T08:00:00Z';
    const all = {
      towVehicle: { dashToCouplingM: 6, body: 'steel' },
      unwatched: ['B'],
      lists: { A: 2 },
      papers: { serial: 'K 77', warrantyUntil: '2028-05-01' },
      skipped: { radio: { why: 'a short car', at } },
      fitting: { parts: { cap: { ...USUAL_PARTS.cap, cell: 'CR2032' } }, retightenedAt: at },
      firstDrive: { startedAt: at },
    };
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, ...all })
      .expect(200);
    const doc = await exported(rig.id);
    expect(doc.rig).toMatchObject(all);
    const back = (await s.http.post('/api/rigs/import?sensors=free').send(doc).expect(201)).body;
    expect(back).toMatchObject(all);
  });

  it('is described by a published schema, the same in the docs', async () => {
    const { body, headers } = await s.http.get('/api/schema/rig.json').expect(200);
    expect(headers['content-type']).toContain('application/schema+json');
    expect(body).toEqual(JSON.parse(JSON.stringify(rigJsonSchema())));
    expect(JSON.parse(readFileSync(join(import.meta.dirname, '../../docs/rig.schema.json'), 'utf8'))).toEqual(body);
  });

  it('a unit in three rigs says which when it is to be deleted', async () => {
    const { unit } = await makeCar(s);
    for (const name of ['To market', 'To the coast'])
      await s.http
        .post('/api/rigs')
        .send({ name, unitIds: [unit.id], loadState: 'empty' })
        .expect(201);
    const res = await s.http.delete(`/api/units/${unit.id}`).expect(409);
    expect(res.body.detail).toBe(
      'The unit is part of a rig. It is part of Errand, To market, To the coast. Take it out there first.',
    );
    expect(res.body.rigs).toHaveLength(3);
  });
});
