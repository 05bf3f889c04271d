import { once } from 'node:events';
import { type IncomingMessage, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { WatchService } from '../watch/service.ts';

let s: TestServer;
beforeEach(async () => {
  s = await testServer();
});
afterEach(() => s.close());

const post = (body: unknown, query = '') => s.http.post(`/api/readings${query}`).send(body as object);
const ndjson = (lines: string[], query = '') =>
  s.http.post(`/api/readings${query}`).set('Content-Type', 'application/x-ndjson').send(lines.join('\n'));

describe('POST /api/readings', () => {
  it('stores a reading once, whichever way it is repeated', async () => {
    const { rig } = await makeCar(s);
    const batch = [readingAt('A00001', 0), readingAt('a00002', 0), readingAt('A00001', 0)];
    expect((await post(batch).expect(200)).body).toEqual({
      accepted: 2,
      repeated: 1,
      unknownSensor: 0,
      ahead: 0,
      refused: [],
      refusedCount: 0,
    });
    expect((await ndjson(batch.map((r) => JSON.stringify(r))).expect(200)).body).toMatchObject({ accepted: 0, repeated: 3 });
    const { readings } = (await s.http.get(`/api/rigs/${rig.id}/readings`).expect(200)).body;
    expect(readings).toEqual([
      { position: 'A1L', sensorId: 'A00001', time: '2026-05-01T08:00:00.000Z', pressureKpa: 250, tempC: 20, source: 'live' },
      { position: 'A1R', sensorId: 'A00002', time: '2026-05-01T08:00:00.000Z', pressureKpa: 250, tempC: 20, source: 'live' },
    ]);
  });

  // More rows than one insert takes, so that whole parts are new, whole parts are known, and some are mixed.
  it.each<[string, (i: number) => boolean, boolean]>([
    ['none', () => false, false],
    ['all', () => true, false],
    ['whole parts', (i) => i < 128, false],
    ['every third', (i) => i % 3 === 0, false],
    ['one in the middle', (i) => i === 150, true],
    ['one of the rest', (i) => i === 299, true],
  ])('of 300 readings it knows which are here already: %s', async (_, known, withVolts) => {
    await makeCar(s);
    const all = Array.from({ length: 300 }, (_, i) => ({
      ...readingAt(i % 2 === 0 ? 'A00001' : 'A00002', -300 + i, 240 + (i % 7)),
      ...(withVolts ? { batteryV: 2.9, rssiDbm: -70 } : {}),
    }));
    const before = all.filter((_, i) => known(i)).map((r) => ({ ...r, pressureKpa: 200 }));
    if (before.length > 0) await post(before).expect(200);
    expect((await ndjson(all.map((r) => JSON.stringify(r))).expect(200)).body).toMatchObject({
      accepted: 300 - before.length,
      repeated: before.length,
    });
    // What was here first stays, what came new is as it came.
    const rows = await s.db('readings').orderBy(['time_ms']);
    expect(rows.map((r) => r.pressure_kpa)).toEqual(all.map((r, i) => (known(i) ? 200 : r.pressureKpa)));
    expect(rows.every((r) => r.battery_v === (withVolts ? 2.9 : null) && r.rssi_dbm === (withVolts ? -70 : null))).toBe(true);
  });

  it('of 300 readings later than all before it takes one that came twice once, as it came first', async () => {
    await makeCar(s);
    const all = Array.from({ length: 300 }, (_, i) => readingAt(i % 2 === 0 ? 'A00001' : 'A00002', -300 + i, 240 + (i % 7)));
    all[152] = { ...(all[150] as (typeof all)[number]), pressureKpa: 200 };
    expect((await ndjson(all.map((r) => JSON.stringify(r))).expect(200)).body).toMatchObject({ accepted: 299, repeated: 1 });
    const rows = await s.db('readings').orderBy(['time_ms']);
    expect(rows.map((r) => r.pressure_kpa)).toEqual(all.filter((_, i) => i !== 152).map((r) => r.pressureKpa));
  });

  it('says that packed lines must come unpacked; a packed list is taken', async () => {
    await makeCar(s);
    const packed = (type: string, body: string) =>
      s.http
        .post('/api/readings')
        .set({ 'Content-Type': type, 'Content-Encoding': 'gzip' })
        .serialize((b) => b)
        .send(gzipSync(body));
    const reading = JSON.stringify(readingAt('A00001', 0));
    const { body } = await packed('application/x-ndjson', reading).expect(415);
    expect(body.detail).toBe('Lines are taken unpacked. Send them without Content-Encoding (it is gzip).');
    expect((await packed('application/json', `[${reading}]`).expect(200)).body).toMatchObject({ accepted: 1 });
  });

  it('tells line by line what is wrong and keeps the good lines', async () => {
    await makeCar(s);
    const lines = [
      JSON.stringify(readingAt('A00001', 0)),
      '{"sensorId":"A00001","time":"2026-05-01T08:00:01Z","pressureKpa":NaN,"tempC":20}',
      JSON.stringify(readingAt('A00001', 2, -1)),
      '',
      JSON.stringify(readingAt('FFFFFF', 3)),
      JSON.stringify(readingAt('A0001', 4)),
      JSON.stringify(readingAt('A00001', 400)),
      JSON.stringify(readingAt('A00001', -366 * 86400)),
      JSON.stringify({ ...readingAt('A00001', 5), colour: 'red' }),
      JSON.stringify({ ...readingAt('A00001', 6), pressureKpa: '250' }),
      JSON.stringify(readingAt('BADA55', 7)),
      JSON.stringify(readingAt('A00002', 8)),
    ];
    const { body } = await ndjson(lines).expect(200);
    expect(body).toMatchObject({ accepted: 2, repeated: 0, unknownSensor: 1, refusedCount: 8 });
    expect(body.refused.map((r: { line: number; pointer: string }) => `${r.line} ${r.pointer}`)).toEqual([
      '2 ',
      '3 /pressureKpa',
      '5 /sensorId',
      '6 /sensorId',
      '7 /time',
      '8 /time',
      '9 /colour',
      '10 /pressureKpa',
    ]);
    expect(body.refused[2].detail).toContain('FFFFFF means an open position');
    expect(body.refused[4].detail).toContain('in the future');
    expect(body.refused[5].detail).toContain('over a day old'.slice(-7));
  });

  it('takes any time as history', async () => {
    await makeCar(s);
    const batch = [readingAt('A00001', -366 * 86400), readingAt('A00001', 86400)];
    expect((await post(batch, '?history=true').expect(200)).body).toMatchObject({ accepted: 2 });
  });

  it('answers 4xx when no line could be read', async () => {
    const res = await post([readingAt('A00001', 0, -3)]).expect(400);
    expect(res.body.errors).toEqual([{ pointer: '/0/pressureKpa', detail: 'must not be negative' }]);
    await post([]).expect(400);
    await post({ sensorId: 'A00001' }).expect(400);
    await ndjson(['not json']).expect(400);
    expect(
      (await s.http.post('/api/readings').set('Content-Type', 'application/json').send('[{"pressureKpa":NaN}]').expect(400)).body
        .detail,
    ).toContain('The body is not JSON');
    await s.http.post('/api/readings').set('Content-Type', 'text/plain').send('x').expect(415);
  });

  it.each(['application/json', 'application/x-ndjson'])('refuses a %s body of 50 MB with 413', async (type) => {
    const server = s.app.express.listen(0, '127.0.0.1');
    await once(server, 'listening');
    const req = request({
      method: 'POST',
      port: (server.address() as AddressInfo).port,
      path: '/api/readings',
      headers: { 'Content-Type': type },
    });
    req.end(Buffer.alloc(50_000_000, 'x'));
    const [res] = (await once(req, 'response')) as [IncomingMessage];
    let text = '';
    for await (const chunk of res) text += chunk;
    expect(res.statusCode).toBe(413);
    expect(JSON.parse(text).detail).toContain('The body is too large');
    server.close();
  });

  it('takes a long stream in batches, the first of them small, since its code has never run', async () => {
    const { rig } = await makeCar(s);
    const ingest = vi.spyOn(WatchService.prototype, 'ingest');
    const lines = Array.from({ length: 5000 }, (_, i) => JSON.stringify(readingAt('A00001', -i)));
    expect((await ndjson(lines).expect(200)).body).toMatchObject({ accepted: 5000 });
    const parts = ingest.mock.calls.map(([readings]) => readings.length);
    ingest.mockRestore();
    expect(parts.slice(0, 2)).toEqual([250, expect.toSatisfy((n: number) => n >= 250 && n <= 500)]);
    const stepped = (await s.http.get(`/api/rigs/${rig.id}/readings?position=A1L&step=3600`).expect(200)).body.readings;
    expect(stepped.reduce((sum: number, r: { count: number }) => sum + r.count, 0)).toBe(5000);
  });
});

describe('GET /api/rigs/:rig/readings', () => {
  it('is bounded by from, to and position, and says what is wrong with them', async () => {
    const { rig } = await makeCar(s);
    await post([0, 60, 120, 180].flatMap((t) => [readingAt('A00001', t), readingAt('A00002', t)])).expect(200);
    const from = new Date(T0 + 60_000).toISOString();
    const to = new Date(T0 + 120_000).toISOString();
    const { body } = await s.http.get(`/api/rigs/${rig.id}/readings?from=${from}&to=${to}&position=A1R`).expect(200);
    expect(body.readings.map((r: { time: string }) => r.time)).toEqual([from, to]);
    for (const [query, pointer] of [
      ['from=yesterday', '/from'],
      ['position=Z9L', '/position'],
      ['step=0', '/step'],
      [`from=${to}&to=${from}`, '/from'],
    ]) {
      const res = await s.http.get(`/api/rigs/${rig.id}/readings?${query}`).expect(400);
      expect(res.body.errors[0].pointer).toBe(pointer);
    }
    await s.http.get('/api/rigs/nobody/readings').expect(404);
  });

  it('answers with nothing when nothing has come since', async () => {
    const { rig } = await makeCar(s);
    const since = `/api/rigs/${rig.id}/readings?from=${new Date(T0 + 1).toISOString()}`;
    // Never heard, and then heard before that only.
    expect((await s.http.get(since).expect(200)).body.readings).toEqual([]);
    await post([readingAt('A00001', 0)]).expect(200);
    expect((await s.http.get(since).expect(200)).body.readings).toEqual([]);
  });
});
