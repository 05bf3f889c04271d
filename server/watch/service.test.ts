import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Alarm, RigEvent, WatchView } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, moveOn, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { carDocument } from '../testing-documents.ts';
import type { WatchService } from './service.ts';
import type { CheckedReading } from './store.ts';

let s: TestServer;
let unit: Unit;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ unit, rig } = await makeCar(s));
});
afterEach(() => s.close());

const checked = (sensorId: string, seconds: number, pressureKpa: number): CheckedReading => ({
  sensorId,
  ms: T0 + seconds * 1000,
  pressureKpa,
  tempC: 20,
  batteryV: null,
  rssiDbm: null,
});
/** Readings that arrive when they are made. */
const ingest = (
  server: TestServer,
  readings: CheckedReading[],
  ...more: Parameters<WatchService['ingest']> extends [unknown, ...infer R] ? R : never
) => {
  moveOn(server, readings);
  return server.app.watch.ingest(readings, ...more);
};
const alarmsOf = async (id: string): Promise<Alarm[]> => (await s.http.get(`/api/rigs/${id}/alarms`)).body;
const viewOf = async (id: string): Promise<WatchView> => (await s.http.get(`/api/rigs/${id}/watch`)).body;
const countReadings = async () => (await s.db('readings').count({ n: '*' }))[0]?.n;

describe('a transaction that fails', () => {
  it('keeps neither its readings nor what the watch made of them, and the watch goes on as before', async () => {
    await ingest(s, [checked('A00001', 0, 250)], 'history');
    const before = await viewOf(rig.id);
    await expect(
      s.app.watch.ingest([checked('A00001', 60, 100), checked('A00002', 60, 100)], 'history', {
        also: () => {
          throw new Error('the disk is full');
        },
      }),
    ).rejects.toThrow('the disk is full');
    expect(await viewOf(rig.id)).toEqual(before);
    expect(await alarmsOf(rig.id)).toEqual([]);
    expect(await countReadings()).toBe(1);
    // The same readings sent again are new, and ring.
    expect(await ingest(s, [checked('A00001', 60, 100)], 'history')).toMatchObject({ accepted: 1 });
    expect((await alarmsOf(rig.id)).map((a) => a.kind).sort()).toEqual(['low', 'rapid']);
  });

  it('a refused edit takes nothing up again: stale, invalid, not there; a failure after the watch was changed does', async () => {
    const load = vi.spyOn(s.app.watch, 'load');
    const { id: _id, ...doc } = unit;
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...doc, version: 9 })
      .expect(409);
    const twice = structuredClone(doc);
    if (twice.axles[0]?.wheels[1]) twice.axles[0].wheels[1].sensor = { id: 'A00001', kind: 'cap' };
    await s.http.put(`/api/units/${unit.id}`).send(twice).expect(400);
    await s.http.put('/api/units/5eed1090-0000-4000-8000-00000000ffff').send(doc).expect(404);
    await s.http.post(`/api/rigs/${rig.id}/alarms/5eed1090-0000-4000-8000-00000000ffff/acknowledge`).expect(404);
    expect(load).not.toHaveBeenCalled();
    await expect(
      s.app.watch.ingest([checked('A00001', 0, 250)], 'history', {
        also: () => {
          throw new Error('the disk is full');
        },
      }),
    ).rejects.toThrow();
    expect(load).toHaveBeenCalledTimes(1);
  });

  it('a refused document leaves the watch as it was', async () => {
    await ingest(s, [checked('A00001', 0, 200)], 'history');
    const wrong = structuredClone(unit);
    if (wrong.axles[0]?.wheels[1]) wrong.axles[0].wheels[1].sensor = { id: 'A00001', kind: 'cap' };
    await s.http.put(`/api/units/${unit.id}`).send(wrong).expect(400);
    expect((await alarmsOf(rig.id))[0]).toMatchObject({ position: 'A1L', toTime: null });
    expect(await ingest(s, [checked('A00002', 10, 250)], 'history')).toMatchObject({ accepted: 1 });
  });
});

describe('a wheel without limits of its own', () => {
  it('rings low at 25 % under its cold target, and says that nobody set that', async () => {
    const bare = structuredClone(unit);
    for (const axle of bare.axles) axle.settings = { loaded: { cold: { kpa: 250, tempC: 20 } } };
    await s.http.put(`/api/units/${unit.id}`).send(bare).expect(200);
    // By hand: 250 - 62.5 = 187.5
    expect((await viewOf(rig.id)).wheels[0]).toMatchObject({ lowKpa: 187.5, lowAssumed: true, highKpa: null });
    await ingest(s, [checked('A00001', 0, 190), checked('A00002', 1, 187)], 'history');
    expect((await alarmsOf(rig.id)).map((a) => [a.position, a.kind, a.limit])).toEqual([['A1R', 'low', 187.5]]);
    for (const axle of bare.axles) axle.settings = {};
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...bare, version: unit.version + 1 })
      .expect(200);
    expect((await viewOf(rig.id)).wheels[0]).toMatchObject({ lowKpa: null, lowAssumed: false });
  });
});

describe('units shared between rigs', () => {
  it('ring in every rig that holds them, by the load state of each', async () => {
    const both = structuredClone(unit);
    for (const axle of both.axles) {
      axle.settings.empty = {
        cold: { kpa: 180, tempC: 20 },
        limits: { rule: { school: 'share' }, lowKpa: 162, highKpa: 216, hotC: 70 },
      };
    }
    await s.http.put(`/api/units/${unit.id}`).send(both).expect(200);
    const empty = (
      await s.http
        .post('/api/rigs')
        .send({ name: 'Empty', unitIds: [unit.id], loadState: 'empty' })
        .expect(201)
    ).body as Rig;
    await ingest(s, [checked('A00001', 0, 200)], 'history');
    expect((await alarmsOf(rig.id)).map((a) => a.kind)).toEqual(['low']);
    expect(await alarmsOf(empty.id)).toEqual([]);
    // Loaded less, the same air is enough: the alarm returns with the change of load state.
    await s.http
      .put(`/api/rigs/${rig.id}`)
      .send({ ...rig, loadState: 'empty' })
      .expect(200);
    expect((await alarmsOf(rig.id))[0]?.toTime).not.toBeNull();
  });

  it('a unit behind another carries another letter, and its sensors keep their readings', async () => {
    const trailer = (
      await s.http
        .post('/api/units')
        .send({ ...carDocument(['B00001', 'B00002']), name: 'Trailer', kind: 'trailer' })
        .expect(201)
    ).body;
    await s.http
      .post('/api/readings')
      .send([readingAt('B00001', 0, 240)])
      .expect(200);
    const rigs = await Promise.all(
      [[trailer.id], [unit.id, trailer.id]].map(
        async (unitIds, i) => (await s.http.post('/api/rigs').send({ name: `R${i}`, unitIds, loadState: 'loaded' })).body as Rig,
      ),
    );
    const positions = await Promise.all(
      rigs.map(async (r) =>
        (await s.http.get(`/api/rigs/${r.id}/readings?from=2026-05-01T00:00:00Z&to=2026-05-02T00:00:00Z`)).body.readings.map(
          (x: { position: string }) => x.position,
        ),
      ),
    );
    expect(positions).toEqual([['A1L'], ['B1L']]);
  });
});

describe('what a change of documents does to the watch', () => {
  it('a wheel that is taken away ends its alarm', async () => {
    await ingest(s, [checked('A00004', 0, 100)], 'history');
    const changed = structuredClone(unit);
    changed.axles.pop();
    await s.http.put(`/api/units/${unit.id}`).send(changed).expect(200);
    expect((await alarmsOf(rig.id))[0]).toMatchObject({ position: 'A2R', toTime: expect.any(String) });
    expect((await viewOf(rig.id)).wheels.map((w) => w.position)).toEqual(['A1L', 'A1R']);
  });

  it('a name changes nothing', async () => {
    await ingest(s, [checked('A00001', 0, 200)], 'history');
    const before = await viewOf(rig.id);
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...unit, name: 'Other' })
      .expect(200);
    const after = await viewOf(rig.id);
    expect(after).toEqual({ ...before, revision: after.revision });
  });

  it('a deleted rig that is restored knows its last readings and its open alarm', async () => {
    await ingest(s, [checked('A00001', 0, 200)], 'history');
    const before = await viewOf(rig.id);
    await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
    await s.http.post(`/api/rigs/${rig.id}/restore`).expect(200);
    // Its pages were told that it was gone.
    expect(await viewOf(rig.id)).toEqual({ ...before, revision: expect.not.stringContaining(before.revision) });
    await ingest(s, [checked('A00001', 60, 190)], 'history');
    expect(await alarmsOf(rig.id)).toHaveLength(1);
  });
});

describe('time', () => {
  it('ticks by the wall for rigs without a bench', async () => {
    for (let t = 0; t <= 30 * 60; t += 60) {
      const ids = t <= 600 ? ['A00001', 'A00002', 'A00003', 'A00004'] : ['A00001', 'A00002', 'A00003'];
      await ingest(
        s,
        ids.map((id) => checked(id, t, 250)),
        'history',
      );
    }
    s.clock.ms = T0 + 31 * 60_000;
    // A rig that can't be looked at leaves the others their turn.
    const { rig: benched } = await makeCar(s, ['B00001', 'B00002', 'B00003', 'B00004']);
    await s.http.post(`/api/rigs/${benched.id}/bench`).send({ action: 'open' }).expect(200);
    const { rig: other } = await makeCar(s, ['C00001', 'C00002', 'C00003', 'C00004']);
    const ticked: string[] = [];
    const tick = s.app.watch.tick.bind(s.app.watch);
    vi.spyOn(s.app.watch, 'tick').mockImplementation(async (rigId) => {
      ticked.push(rigId);
      await tick(rigId);
      if (rigId === rig.id) throw new Error('after all');
    });
    const failed: string[] = [];
    await s.app.watch.tickAll((error, rigId) => failed.push(`${rigId}: ${(error as Error).message}`));
    expect([ticked, failed]).toEqual([[rig.id, other.id], [`${rig.id}: after all`]]);
    expect((await alarmsOf(rig.id)).map((a) => `${a.position} ${a.kind}`)).toEqual(['A2R silent']);
  });

  it('a reading that comes over ten minutes late is stored and not judged', async () => {
    await ingest(s, [checked('A00001', 1200, 250)], 'history');
    expect(await ingest(s, [checked('A00001', 300, 100)], 'history')).toMatchObject({ accepted: 1 });
    expect(await alarmsOf(rig.id)).toEqual([]);
    expect(await countReadings()).toBe(2);
  });

  /** Nothing between, the server stopped and started, or a transaction that failed. */
  const between = {
    'as it runs': async () => undefined,
    'after a stop of the server': async () => {
      s = await s.restart();
    },
    'after a transaction that failed': async () => {
      const also = () => {
        throw new Error('the disk is full');
      };
      await expect(ingest(s, [checked('A00001', 420, 100)], 'history', { also })).rejects.toThrow('the disk is full');
    },
  };
  it.each(Object.keys(between) as (keyof typeof between)[])(
    'one that comes less late is put in its place, %s: the alarm begins earlier and is not rung twice',
    async (when) => {
      await ingest(s, [checked('A00001', 0, 250)], 'history');
      await ingest(s, [checked('A00001', 400, 220)], 'history');
      const [first] = await alarmsOf(rig.id);
      await between[when]();
      await ingest(s, [checked('A00001', 200, 221)], 'history');
      const after = (await alarmsOf(rig.id)).filter((a) => a.kind === 'low');
      expect(after).toHaveLength(1);
      expect(after[0]?.id).toBe(first?.id);
      expect(Date.parse(after[0]?.fromTime as string)).toBe(Date.parse(first?.fromTime as string) - 200_000);
    },
  );

  it('after a stop nothing is put before a command of the owner', async () => {
    await ingest(s, [checked('A00001', 0, 250)], 'history');
    await ingest(s, [checked('A00001', 400, 220)], 'history');
    const [first] = await alarmsOf(rig.id);
    await s.app.watch.answer(rig.id, 'A1L', 'set');
    s = await s.restart();
    await ingest(s, [checked('A00001', 200, 221)], 'history');
    const after = (await alarmsOf(rig.id)).filter((a) => a.kind === 'low');
    expect(after.map((a) => [a.id, a.fromTime])).toEqual([[first?.id, first?.fromTime]]);
  });

  it('an alarm that a late reading shows to be none is withdrawn', async () => {
    // 14 kPa inside two minutes is rapid; a reading in between that it was filled and read the same is not.
    await ingest(s, [checked('A00001', 0, 255), checked('A00001', 200, 254)], 'history');
    await ingest(s, [checked('A00001', 290, 238)], 'history');
    expect((await alarmsOf(rig.id)).map((a) => a.kind)).toEqual(['rapid']);
    await ingest(s, [checked('A00001', 230, 238)], 'history');
    const kinds = (await alarmsOf(rig.id)).map((a) => [a.kind, a.fromTime.slice(14, 19)]);
    expect(kinds).toHaveLength(1);
  });

  it('an alarm that a late reading shows to be none is out of the list, and stays out after a restart', async () => {
    const kinds = async () => (await alarmsOf(rig.id)).map((a) => [a.position, a.kind]);
    const falling: [number, number][] = [
      [177, 255],
      [479, 233],
      [688, 230],
      [938, 242],
      [1123, 253],
      [1408, 228],
    ];
    for (const [t, kpa] of falling) await ingest(s, [checked('A00001', t, kpa)], 'history');
    expect(await kinds()).toEqual([['A1L', 'slow']]);
    // Read four minutes before the last: the air went at once, and it was no slow loss.
    await ingest(s, [checked('A00001', 1142, 237)], 'history');
    expect(await kinds()).toEqual([['A1L', 'rapid']]);
    s = await s.restart();
    expect(await kinds()).toEqual([['A1L', 'rapid']]);
  });

  it('ten thousand readings in any order leave the same alarms as in order', async () => {
    const ids = ['A00001', 'A00002', 'A00003', 'A00004'];
    const all = Array.from({ length: 10_000 }, (_, i) => checked(ids[i % 4] as string, i * 15, i % 700 < 30 ? 215 : 250));
    await ingest(s, [...all].reverse(), 'history');
    const shuffled = (await alarmsOf(rig.id)).map((a) => [a.position, a.kind, a.fromTime, a.toTime]);
    const other = await testServer();
    const { rig: rig2 } = await makeCar(other);
    await ingest(other, all, 'history');
    const straight = ((await other.http.get(`/api/rigs/${rig2.id}/alarms`)).body as Alarm[]).map((a) => [
      a.position,
      a.kind,
      a.fromTime,
      a.toTime,
    ]);
    expect(shuffled.length).toBeGreaterThan(10);
    expect(shuffled.sort()).toEqual(straight.sort());
    await other.close();
  });

  it('stopped and started between any two readings, it says what it says without a stop', async () => {
    const other = await testServer();
    const { rig: rig2 } = await makeCar(other);
    const ids = ['A00001', 'A00002', 'A00003', 'A00004'];
    // Two hours: one wheel leaks, one heats, one goes quiet for a while.
    const all = Array.from({ length: 480 }, (_, i) => {
      const wheel = i % 4;
      const minute = Math.floor(i / 4);
      const kpa = wheel === 0 ? 250 - minute * 0.4 : wheel === 1 ? 250 + Math.min(20, Math.max(0, minute - 30)) : 250;
      const tempC = wheel === 1 ? 20 + Math.min(30, Math.max(0, minute - 30)) : 20;
      return { ...checked(ids[wheel] as string, minute * 60 + wheel * 7, Math.round(kpa)), tempC };
    }).filter((_, i) => !(i % 4 === 3 && i > 160 && i < 260));
    for (const [i, reading] of all.entries()) {
      await ingest(other, [reading], 'history');
      await ingest(s, [reading], 'history');
      if (i % 29 === 3) s = await s.restart();
    }
    const told = async (server: TestServer, id: string) =>
      ((await server.http.get(`/api/rigs/${id}/alarms`)).body as Alarm[])
        .map((a) => `${a.position} ${a.kind} ${a.fromTime} ${a.toTime} ${a.worst}`)
        .sort();
    const straight = await told(other, rig2.id);
    expect(straight.length).toBeGreaterThan(2);
    expect(await told(s, rig.id)).toEqual(straight);
    await other.close();
  }, 60_000);
});

describe('what a page is told while time passes', () => {
  /** Wheel and reading events of the stream, as they come. */
  async function listen() {
    const server = s.app.express.listen(0, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const stop = new AbortController();
    const res = await fetch(`http://127.0.0.1:${(server.address() as { port: number }).port}/api/rigs/${rig.id}/live`, {
      signal: stop.signal,
    });
    const reader = res.body?.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    const pump = (async () => {
      for (;;) {
        const part = await reader?.read();
        if (!part || part.done) return;
        text += part.value;
      }
    })().catch(() => undefined);
    const events = (name: string) =>
      [...text.matchAll(new RegExp(`event: ${name}\ndata: (.*)\n\n`, 'g'))].map(
        (m) => JSON.parse(m[1] as string) as { position: string; state?: string; ageS?: number },
      );
    const end = async () => {
      stop.abort();
      await pump;
      server.closeAllConnections();
      server.close();
    };
    const settle = () => new Promise((r) => setTimeout(r, 50));
    return { events, end, settle };
  }

  it('a wheel is told anew when it comes into another state and as its figure grows old; a live one is not', async () => {
    await ingest(s, [checked('A00001', 0, 250)], 'live');
    const { events, end, settle } = await listen();
    const step = async (seconds: number) => {
      s.clock.ms = T0 + seconds * 1000;
      await s.app.watch.tick(rig.id);
      await settle();
      return events('wheel').filter((w) => w.position === 'A1L');
    };
    const first = (await step(5)).length;
    for (const t of [10, 60, 200, 290]) expect(await step(t)).toHaveLength(first);
    const old = await step(301);
    expect(old.at(-1)).toMatchObject({ state: 'asleep', ageS: 301 });
    expect(await step(310)).toHaveLength(old.length);
    expect((await step(720)).at(-1)).toMatchObject({ ageS: 720 });
    const hours = await step(3 * 3600);
    expect(hours.at(-1)).toMatchObject({ ageS: 10_800 });
    // In hours a minute more is no news.
    expect(await step(3 * 3600 + 60)).toHaveLength(hours.length);
    await end();
  });

  it('a change of the rig says what the watch and the documents are from then on', async () => {
    const { events, end, settle } = await listen();
    const rigEvents = () => events('rig') as unknown as RigEvent[];
    const view = async () => (await s.http.get(`/api/rigs/${rig.id}/watch`).expect(200)).body as WatchView;
    const before = (await view()).revision;
    const unit = (await s.http.get(`/api/units/${rig.unitIds[0]}`).expect(200)).body as Unit;
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...unit, name: 'Other' })
      .expect(200);
    await settle();
    const [changed] = rigEvents() as [RigEvent];
    expect(changed.documents).toBe(`${rig.id} ${rig.version},${unit.id} ${unit.version + 1}`);
    expect(changed.revision).toBe((await view()).revision);
    expect(changed.revision).not.toBe(before);
    // A command changes no document.
    await s.http.post(`/api/rigs/${rig.id}/silence`).send({ minutes: 5 }).expect(200);
    await settle();
    expect(rigEvents()[1]).toMatchObject({ documents: changed.documents, revision: (await view()).revision });
    // Readings are told of by themselves.
    await ingest(s, [checked('A00001', 0, 250)], 'live');
    expect((await view()).revision).toBe(rigEvents()[1]?.revision);
    await end();
  });

  it('of 5,000 readings that come late, pages hear in three parts and others have their turn between; of others in one', async () => {
    const many = (from: number) => Array.from({ length: 5000 }, (_, i) => checked('A00001', from + i / 10, 250));
    await ingest(s, [checked('A00002', 590, 250)], 'history');
    const { events, end, settle } = await listen();
    const told = async (readings: CheckedReading[]) => {
      const before = events('wheel').filter((w) => w.position === 'A1L').length;
      let [turns, over] = [0, false];
      const turn = () => {
        turns += 1;
        if (!over) setImmediate(turn);
      };
      setImmediate(turn);
      expect(await ingest(s, readings, 'history')).toMatchObject({ accepted: 5000 });
      over = true;
      await settle();
      return { parts: events('wheel').filter((w) => w.position === 'A1L').length - before, turns };
    };
    const late = await told(many(0));
    expect(late.parts).toBe(3);
    expect(late.turns).toBeGreaterThanOrEqual(3);
    expect((await told(many(600))).parts).toBe(1);
    await end();
  });

  it('a reading is told once, though its wheel is told again', async () => {
    const { events, end, settle } = await listen();
    await ingest(s, [checked('A00001', 0, 250)], 'live');
    s.clock.ms = T0 + 400_000;
    await s.app.watch.tick(rig.id);
    await settle();
    expect(events('wheel').filter((w) => w.position === 'A1L').length).toBeGreaterThanOrEqual(2);
    expect(events('reading')).toHaveLength(1);
    await ingest(s, [checked('A00001', 60, 250)], 'live');
    await settle();
    expect(events('reading')).toHaveLength(2);
    await end();
  });
});
