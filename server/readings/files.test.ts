import { once } from 'node:events';
import { request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { plainMapping } from '#core/files/columns.test-data.ts';
import type { ColumnMapping } from '#core/files/columns.ts';
import type { Alarm } from '#schema/alarm.ts';
import type { CodeAnswer } from '#schema/devices.ts';
import type { ImportAnswer } from '#schema/history.ts';
import type { Rig } from '#schema/unit.ts';
import { makeCar, readingAt, T0, type TestServer, testServer } from '../testing.ts';
import { WatchService } from '../watch/service.ts';

let s: TestServer;
let rig: Rig;
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
  s.clock.ms = T0 + 86_400_000;
});
afterEach(() => s.close());

const mapping = (change: Partial<ColumnMapping> = {}) => plainMapping({ battery: null, rssi: null, ...change });
const bring = async (body: Buffer | string, m: ColumnMapping, more = ''): Promise<ImportAnswer> =>
  (
    await s.http
      .post(`/api/rigs/${rig.id}/import-readings?mapping=${encodeURIComponent(JSON.stringify(m))}${more}`)
      .set('Content-Type', 'application/octet-stream')
      .send(body)
      .expect(200)
  ).body;
const stored = async () =>
  (await s.db('readings').select('*').orderBy(['sensor_id', 'time_ms'])) as {
    sensor_id: string;
    pressure_kpa: number;
    time_ms: number;
  }[];

describe('files of readings', () => {
  const three = (end: string, last = end) =>
    ['time,wheel,kPa,C', '2026-05-01T08:00:00Z,A1L,250.1,20.5', '2026-05-01T08:01:00Z,A1L,250.2,20.6'].join(end) + last;

  it.each([
    ['line feeds', '\n'],
    ['carriage returns and line feeds', '\r\n'],
    ['carriage returns alone', '\r'],
  ])('ended by %s, also in pieces and longer than any line', async (_name, end) => {
    expect(await bring(three(end), mapping())).toMatchObject({ lines: 3, accepted: 2, refusedCount: 0 });
    const many = Array.from({ length: 3000 }, (_, i) => `${new Date(T0 + i * 1000).toISOString()},A1R,240,20`);
    expect(await bring(['time,wheel,kPa,C', ...many].join(end) + end, mapping())).toMatchObject({
      accepted: 3000,
      refusedCount: 0,
    });
  });

  it('are stored in transactions that grow, so that the first ones hold up nobody', async () => {
    const ingest = vi.spyOn(WatchService.prototype, 'ingest');
    const many = Array.from({ length: 9000 }, (_, i) => `${new Date(T0 + i * 1000).toISOString()},A1R,240,20`);
    expect(await bring(['time,wheel,kPa,C', ...many].join('\n'), mapping())).toMatchObject({ accepted: 9000 });
    const parts = ingest.mock.calls.map(([readings]) => readings.length);
    expect(parts[0]).toBe(250);
    for (const [i, n] of parts.slice(1).entries()) expect(n).toBeLessThanOrEqual(2 * (parts[i] as number));
    expect(parts.length).toBeGreaterThan(5);
    ingest.mockRestore();
  });

  it('a last figure that may be cut short is named; a whole one without a line end is taken', async () => {
    expect(await bring(three('\n', ''), mapping())).toMatchObject({ accepted: 2, refusedCount: 0 });
    const cut = await bring(`${three('\n')}2026-05-01T08:02:00Z,A1L,250.3,20`, mapping());
    expect(cut).toMatchObject({ accepted: 0, repeated: 2, refusedCount: 1 });
    expect(cut.refused).toEqual([{ line: 4, column: '3', detail: expect.stringContaining('“20” may be cut short') }]);
    expect(await bring(`${three('\n')}2026-05-01T08:02:00Z,A1L,250.3,20\n`, mapping())).toMatchObject({ accepted: 1 });
  });

  it('30 February is no day, 29 February is one in a leap year', async () => {
    s.clock.ms = Date.UTC(2028, 5, 1);
    const answer = await bring(
      [
        't,w,p,c',
        '2026-02-30T08:00:00Z,A1L,250,20',
        '2027-02-29T08:00:00Z,A1L,250,20',
        '2028-02-29T08:00:00Z,A1L,250,20',
        '',
      ].join('\n'),
      mapping(),
    );
    expect(answer).toMatchObject({ accepted: 1, refusedCount: 2 });
    expect(answer.refused.map((r) => [r.line, r.column])).toEqual([
      [2, '0'],
      [3, '0'],
    ]);
    const res = await s.http
      .post('/api/readings?history=true')
      .send([{ sensorId: 'A00001', time: '2026-02-30T08:00:00Z', pressureKpa: 250, tempC: 20 }])
      .expect(400);
    expect(res.body.errors).toMatchObject([{ pointer: '/0/time' }]);
  });

  it('readings before 1970 leave with the rest', async () => {
    await s.http
      .post('/api/readings?history=true')
      .send([{ sensorId: 'A00001', time: '1969-07-20T20:17:00Z', pressureKpa: 180, tempC: 20 }, readingAt('A00001', 0)])
      .expect(200);
    const { text } = await s.http.get(`/api/rigs/${rig.id}/export-readings`).expect(200);
    expect(
      text
        .trim()
        .split('\r\n')
        .slice(1)
        .map((l) => l.slice(0, 10)),
    ).toEqual(['1969-07-20', '2026-05-01']);
  });

  it('names every bad line and keeps the good ones; half a last line is one of them', async () => {
    const lines = [
      'time,wheel,kPa,C',
      '2026-05-01T08:00:00Z,A1L,250,20',
      '2026-05-01T08:01:00Z,A1L,NaN,20',
      '2026-05-01T08:02:00Z,A1L,251,20',
      '2027-05-01T08:02:00Z,A1L,251,20',
      'yesterday,A1L,251,20',
      '2026-05-01T08:03:00Z,B9L,251,20',
      '2026-05-01T08:03:00Z,A00002,249,20',
      '2026-05-01T08:03:00Z,A00002,249,20',
      '2026-05-01T08:04:00Z,A1',
    ];
    const answer = await bring(lines.join('\r\n'), mapping());
    expect(answer).toMatchObject({ lines: 10, accepted: 3, repeated: 1, refusedCount: 5, cancelled: false });
    expect(answer.refused.map((r) => [r.line, r.column])).toEqual([
      [3, '2'],
      [5, '0'],
      [6, '0'],
      [7, '1'],
      [10, ''],
    ]);
    expect(answer.refused[4]?.detail).toContain('cut short');
    expect(await stored()).toHaveLength(3);
  });

  it('UTF-16 with semicolons, decimal commas, bar, Fahrenheit, a local clock and names of its own', async () => {
    const text = 'Zeit;Rad;Druck;Temp\r\n01.07.2026 10:00;vorn links;2,5;68\r\n01.07.2026 10:01;Ersatz;2,5;68\r\n';
    s.clock.ms = Date.UTC(2026, 7, 1);
    const m = mapping({
      delimiter: ';',
      decimal: ',',
      timeFormat: 'local',
      zone: 'Europe/Berlin',
      pressureUnit: 'bar',
      tempUnit: 'F',
      wheels: { 'vorn links': 'A1L', Ersatz: '' },
    });
    for (const body of [
      Buffer.from(`\uFEFF${text}`, 'utf16le'),
      Buffer.from(`\uFEFF${text}`, 'utf16le').swap16(),
      Buffer.from(text),
    ]) {
      expect(await bring(body, m)).toMatchObject({ refusedCount: 0, passedOver: 1 });
    }
    // 10:00 of a summer's day in Berlin is 08:00 UTC; 68 °F is 20 °C; 2.5 bar is 250 kPa.
    expect(await stored()).toMatchObject([
      { sensor_id: 'A00001', time_ms: Date.UTC(2026, 6, 1, 8), pressure_kpa: 250, temp_c: 20 },
    ]);
  });

  it.each(['constructor', '__proto__', 'toString', 'hasOwnProperty'])('a wheel called %s is a wheel of no rig', async (name) => {
    const lines = ['time,wheel,kPa,C', `2026-05-01T08:00:00Z,${name},250,20`, '2026-05-01T08:01:00Z,A1L,250,20'];
    const answer = await bring(lines.join('\n'), mapping());
    expect(answer).toMatchObject({ accepted: 1, refusedCount: 1 });
    expect(answer.refused[0]).toMatchObject({ line: 2 });
    const fields = [`{"time":"2026-05-01T08:02:00Z","wheel":"A1L","${name}":1,"kPa":250}`];
    const m = mapping({ kind: 'ndjson', time: 'time', wheel: name, pressure: 'kPa', temp: null });
    expect(await bring(fields.join('\n'), m)).toMatchObject({ accepted: 0, refusedCount: 1 });
  });

  it('remembers how a file of the same make is read', async () => {
    await bring('t,w,p\n2026-05-01T08:00:00Z,A1L,36\n', mapping({ pressureUnit: 'psi', temp: null }), '&shape=csv%20abc');
    const known = (await s.http.get('/api/file-shapes?shape=csv%20abc').expect(200)).body;
    expect(known.mapping).toMatchObject({ pressureUnit: 'psi', temp: null });
    expect((await s.http.get('/api/file-shapes?shape=other')).body).toEqual({ mapping: null });
  });

  it('out and in again is exact, as CSV and as NDJSON, and adds nothing to what is there', async () => {
    const readings = Array.from({ length: 400 }, (_, i) => ({
      ...readingAt(`A0000${(i % 4) + 1}`, i * 7 + i / 1000, 200 + Math.sqrt(i) * 3.3, 10 + Math.sin(i) * 20),
      ...(i % 3 === 0 ? { batteryV: 2.8 + i / 7000 } : {}),
      ...(i % 5 === 0 ? { rssiDbm: -80 - i / 13 } : {}),
    }));
    await s.http.post('/api/readings?history=true').send(readings).expect(200);
    const before = (await s.db('readings').select('*').orderBy(['sensor_id', 'time_ms'])).map(({ source: _, ...r }) => r);
    for (const format of ['csv', 'ndjson'] as const) {
      const text = (
        await s.http
          .get(`/api/rigs/${rig.id}/export-readings?format=${format}`)
          .buffer()
          .parse((res, done) => {
            let all = '';
            res.on('data', (d: Buffer) => {
              all += d;
            });
            res.on('end', () => done(null, all));
          })
      ).body as string;
      const m =
        format === 'csv'
          ? mapping({ wheel: '2', pressure: '3', temp: '4', battery: '5', rssi: '6' })
          : mapping({
              kind: 'ndjson',
              time: 'time',
              wheel: 'sensorId',
              pressure: 'pressureKpa',
              temp: 'tempC',
              battery: 'batteryV',
              rssi: 'rssiDbm',
            });
      expect(await bring(text, m)).toMatchObject({ accepted: 0, repeated: 400, refusedCount: 0 });
      await s.db('readings').delete();
      expect(await bring(text, m)).toMatchObject({ accepted: 400, refusedCount: 0 });
      const after = (await s.db('readings').select('*').orderBy(['sensor_id', 'time_ms'])).map(({ source: _, ...r }) => r);
      expect(after).toEqual(before);
    }
  });

  it('takes out alarms', async () => {
    await s.http
      .post('/api/readings?history=true')
      .send([readingAt('A00001', 0, 200)])
      .expect(200);
    const csv = (await s.http.get(`/api/rigs/${rig.id}/export-alarms`).expect(200)).text.trim().split('\r\n');
    expect(csv).toHaveLength(2);
    expect(csv[1]).toContain(',A1L,A00001,low,stop,225,200,200,');
    const lines = (await s.http.get(`/api/rigs/${rig.id}/export-alarms?format=ndjson`).buffer()).text;
    expect(JSON.parse(lines ?? '')).toMatchObject({ position: 'A1L', kind: 'low' });
  });

  it('takes out alarms of years, each once: open ones first, then from the newest', async () => {
    const alarm = (i: number, fromMs: number, toMs: number | null, withdrawn = 0) => ({
      id: `alarm-${String((i * 7919) % 10_000).padStart(4, '0')}`,
      rig_id: rig.id,
      position: 'A1L',
      sensor_id: 'A00001',
      kind: i === 0 ? 'hot' : 'low',
      severity: 'look',
      from_ms: fromMs,
      to_ms: toMs,
      limit_value: 225,
      value: 220,
      worst: 210,
      practice: 0,
      withdrawn,
    });
    const minute = (n: number) => T0 + n * 60_000;
    // Three at a time begin in the same moment, so that pages end amid them; two are open, and begin in the middle and at the end.
    const past = Array.from({ length: 2500 }, (_, i) => alarm(i + 2, minute(Math.floor(i / 3)), minute(Math.floor(i / 3) + 1)));
    const open = [alarm(0, minute(900), null), alarm(1, minute(400), null)];
    await s.db.batchInsert('alarms', [...past, alarm(9000, minute(5), minute(6), 1), ...open], 50);
    const text = (await s.http.get(`/api/rigs/${rig.id}/export-alarms?format=ndjson`).buffer()).text ?? '';
    const listed = text
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as Alarm);
    expect(listed).toHaveLength(2502);
    expect(new Set(listed.map((a) => a.id))).toEqual(new Set([...open, ...past].map((a) => a.id)));
    expect(listed.slice(0, 2).map((a) => a.id)).toEqual(open.map((a) => a.id));
    const times = listed.slice(2).map((a) => a.fromTime);
    expect(times).toEqual([...times].sort().reverse());
    const csv = (await s.http.get(`/api/rigs/${rig.id}/export-alarms`).expect(200)).text.trim().split('\r\n');
    expect(csv).toHaveLength(2503);
    // The list is the same from its head on, and a window has what was going on in it.
    const list = async (query: string) => (await s.http.get(`/api/rigs/${rig.id}/alarms?${query}`).expect(200)).body as Alarm[];
    const [first, ...rest] = await list('limit=11');
    expect([first?.id, rest[0]?.id, ...rest.slice(1).map((a) => a.fromTime)]).toEqual([
      ...open.map((a) => a.id),
      ...times.slice(0, 9),
    ]);
    expect((await list('active=true')).map((a) => a.id)).toEqual(open.map((a) => a.id));
    const window = `from=${new Date(minute(10)).toISOString()}&to=${new Date(minute(11)).toISOString()}`;
    // Begun at minute 9, 10 or 11; both open ones began later.
    expect((await list(window)).map((a) => a.fromTime)).toEqual(
      [11, 11, 11, 10, 10, 10, 9, 9, 9].map((n) => new Date(minute(n)).toISOString()),
    );
    expect(await list('limit=1')).toHaveLength(1);
    await s.http.get('/api/rigs/none/export-alarms').expect(404);
  });

  it('refuses a mapping that is none, field by field', async () => {
    await s.http.post(`/api/rigs/${rig.id}/import-readings`).send('x').expect(400);
    const wrong = encodeURIComponent(JSON.stringify({ ...mapping(), pressureUnit: 'atm' }));
    const answer = await s.http.post(`/api/rigs/${rig.id}/import-readings?mapping=${wrong}`).send('x').expect(400);
    expect(answer.body.errors[0].pointer).toBe('/pressureUnit');
    const zone = encodeURIComponent(JSON.stringify(mapping({ timeFormat: 'local', zone: 'Moon/Base' })));
    await s.http.post(`/api/rigs/${rig.id}/import-readings?mapping=${zone}`).send('x').expect(400);
  });
});

it('cancelled half way: what came by then is kept, and the same file can be brought in again', async () => {
  const lines = ['time,wheel,kPa,C'];
  for (let i = 0; i < 20_000; i += 1) lines.push(`${new Date(T0 + i * 1000).toISOString()},A1L,250,20`);
  const body = `${lines.join('\n')}\n`;
  const server = s.app.express.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const path = `/api/rigs/${rig.id}/import-readings?job=half&mapping=${encodeURIComponent(JSON.stringify(mapping()))}`;
  const ended = new Promise<void>((done) => {
    s.app.hub.tap((_rigId, event, data) => {
      if (event === 'import' && (data as { done?: boolean }).done) done();
    });
  });
  const req = request({ port, path, method: 'POST', headers: { 'Content-Length': body.length } });
  req.on('error', () => undefined);
  req.write(body.slice(0, body.length / 2));
  await vi.waitFor(async () => expect((await stored()).length).toBeGreaterThan(4000), { timeout: 10_000 });
  req.destroy();
  // What is in hand is kept before it ends.
  await ended;
  const kept = (await stored()).length;
  expect(kept).toBeLessThan(20_000);
  server.close();
  expect(await bring(body, mapping())).toMatchObject({ accepted: 20_000 - kept, repeated: kept, refusedCount: 0 });
});

it('a fault half way through a file going out breaks the transfer, and the server goes on', async () => {
  const server = s.app.express.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const base = `http://127.0.0.1:${port}`;
  // The line with the names of the columns goes out first; the readings behind it fail.
  await s.db.raw('alter table readings rename to readings_gone');
  // Packed, as a device gets it, and not, as this machine does.
  const { code } = (await s.http.post('/api/devices/code').send({ name: 'Phone', role: 'read' }).expect(200)).body as CodeAnswer;
  const { token } = (await s.http.post('/api/devices/pair').set('X-Elsewhere', '1').send({ code }).expect(200)).body as {
    token: string;
  };
  const device = { 'X-Elsewhere': '1', Authorization: `Bearer ${token}` };
  for (const headers of [{}, device]) {
    const whole = fetch(`${base}/api/rigs/${rig.id}/export-readings`, { headers }).then((answer) => answer.text());
    await expect(whole).rejects.toThrow();
    expect((await fetch(`${base}/api/health`)).status).toBe(200);
  }
  await s.db.raw('alter table readings_gone rename to readings');
  const header = (await (await fetch(`${base}/api/rigs/${rig.id}/export-readings`)).text()).trim();
  expect(header).toBe('time,position,sensorId,pressureKpa,tempC,batteryV,rssiDbm,source');
  server.closeAllConnections();
  server.close();
});
