import { spawn } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { type AddressInfo, connect, createServer, type Server, type Socket } from 'node:net';
import { join } from 'node:path';
import { Aedes } from 'aedes';
import Database from 'better-sqlite3';
import mqtt, { type MqttClient } from 'mqtt';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { GatewaySettings, GatewayView } from '#schema/gateway.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { makeCar, T0, type TestServer, testServer } from '../testing.ts';

let s: TestServer;
let rig: Rig;
let broker: Aedes;
let listening: Server;
let port: number;
const clients: MqttClient[] = [];
const closers: (() => void)[] = [];
beforeEach(async () => {
  s = await testServer();
  ({ rig } = await makeCar(s));
  s.clock.ms = T0 + 60_000;
  broker = await Aedes.createBroker();
  listening = createServer(broker.handle).listen(0, '127.0.0.1');
  await new Promise((r) => listening.once('listening', r));
  port = (listening.address() as AddressInfo).port;
});
afterEach(async () => {
  await s.app.gateway.stop();
  for (const c of clients.splice(0)) c.end(true);
  for (const close of closers.splice(0)) close();
  await new Promise<void>((r) => broker.close(() => r()));
  listening.close();
  await s.close();
});

const settings = (change: Partial<GatewaySettings> = {}): GatewaySettings => ({
  enabled: true,
  url: `mqtt://127.0.0.1:${port}`,
  topic: 'tires/+/reading',
  fields: {
    sensor: 'topic:2',
    time: 'at',
    timeFormat: 'iso',
    pressure: 'air.psi',
    pressureUnit: 'psi',
    temp: 'air.f',
    tempUnit: 'F',
    battery: null,
    rssi: null,
  },
  names: {},
  publish: null,
  ...change,
});
const set = async (change: Partial<GatewaySettings> = {}): Promise<GatewayView> =>
  (await s.http.put('/api/gateway').send(settings(change)).expect(200)).body;
const view = async (): Promise<GatewayView> => (await s.http.get('/api/gateway').expect(200)).body;
const until = (what: () => Promise<void> | void, timeout = 10_000) => vi.waitFor(what, { timeout, interval: 30 });
const connected = () => until(async () => expect((await view()).state).toBe('connected'));
async function client(): Promise<MqttClient> {
  const c = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`);
  clients.push(c);
  return c;
}
const say = (at: number, psi: number, f = 68) => JSON.stringify({ at: new Date(T0 + at * 1000).toISOString(), air: { psi, f } });
const rows = () => s.db('readings').select('sensor_id', 'time_ms', 'pressure_kpa', 'temp_c');

describe('readings over MQTT', () => {
  it('come in by their fields and units, and ring like any other', async () => {
    await set();
    await connected();
    const c = await client();
    await c.publishAsync('tires/a00001/reading', say(0, 36), { qos: 1 });
    await c.publishAsync('tires/A00002/reading', say(5, 29), { qos: 1 });
    await c.publishAsync('tires/A00002/reading', say(10, 29), { qos: 1 });
    await c.publishAsync('elsewhere', 'not for us', { qos: 1 });
    await until(async () => expect((await view()).stored).toBe(3));
    // 36 psi and 29 psi by NIST SP 811's factor, 68 °F is 20 °C.
    expect(await rows()).toEqual([
      { sensor_id: 'A00001', time_ms: T0, pressure_kpa: expect.closeTo(248.211, 3), temp_c: 20 },
      { sensor_id: 'A00002', time_ms: T0 + 5000, pressure_kpa: expect.closeTo(199.948, 3), temp_c: 20 },
      { sensor_id: 'A00002', time_ms: T0 + 10_000, pressure_kpa: expect.closeTo(199.948, 3), temp_c: 20 },
    ]);
    const alarms = (await s.http.get(`/api/rigs/${rig.id}/alarms`).expect(200)).body as { position: string; kind: string }[];
    expect(alarms.map((a) => `${a.position} ${a.kind}`)).toContain('A1R low');
    expect(await view()).toMatchObject({ state: 'connected', messages: 3, refused: 0, fault: null });
  });

  it('a message that can’t be read is counted and named, and the next is taken', async () => {
    await set();
    await connected();
    const c = await client();
    for (const bad of ['', '{', '[]', '{"at":"yesterday","air":{"psi":36}}', '{"at":"2026-05-01T08:00:00Z"}', say(0, 900)])
      await c.publishAsync('tires/A00001/reading', bad, { qos: 1 });
    await c.publishAsync('tires/A00001/reading', say(1, 36), { qos: 1 });
    await until(async () => expect(await view()).toMatchObject({ stored: 1, refused: 6, messages: 7 }));
    expect((await view()).fault).toContain('tires/A00001/reading');
  });

  it('names of the gateway’s own, a time in seconds, or none: then it is the time of arrival', async () => {
    const own = settings().fields;
    await set({
      topic: 'g/#',
      fields: { ...own, sensor: 'name', time: 't', timeFormat: 'epochS', pressure: 'kpa', pressureUnit: 'kPa', temp: null },
      names: { 'front left': 'A00001' },
    });
    await connected();
    const c = await client();
    await c.publishAsync('g/x', JSON.stringify({ name: 'front left', t: T0 / 1000, kpa: 251 }), { qos: 1 });
    await until(async () => expect((await view()).stored).toBe(1));
    await set({ topic: 'g/#', fields: { ...own, sensor: 'name', time: null, pressure: 'kpa', pressureUnit: 'kPa', temp: null } });
    await connected();
    await c.publishAsync('g/x', JSON.stringify({ name: 'A00002', kpa: 252 }), { qos: 1 });
    await until(async () => expect((await view()).stored).toBe(2));
    expect(await rows()).toEqual([
      { sensor_id: 'A00001', time_ms: T0, pressure_kpa: 251, temp_c: null },
      { sensor_id: 'A00002', time_ms: T0 + 60_000, pressure_kpa: 252, temp_c: null },
    ]);
  });

  it('a sensor that nobody knows is offered with how often and when it was heard, until it is on a wheel', async () => {
    await set();
    await connected();
    const c = await client();
    for (let i = 0; i < 4; i += 1) {
      s.clock.ms = T0 + 60_000 + i * 40_000;
      await c.publishAsync('tires/C0FFEE/reading', say(60 + i * 40, 5.076), { qos: 1 });
      await until(async () => expect((await view()).unknown[0]?.count).toBe(i + 1));
    }
    expect((await view()).unknown).toEqual([
      {
        id: 'C0FFEE',
        isName: false,
        count: 4,
        firstTime: '2026-05-01T08:01:00.000Z',
        lastTime: '2026-05-01T08:03:00.000Z',
        pressureKpa: expect.closeTo(34.998, 3),
        tempC: 20,
      },
    ]);
    expect(await rows()).toEqual([]);
    await makeCar(s, ['C0FFEE', 'C00002', 'C00003', 'C00004']);
    expect((await view()).unknown).toEqual([]);
  });

  it('a name that is no ID is asked about, also when the sensor it was for was replaced', async () => {
    const fields = { ...settings().fields, sensor: 'wheel.name', pressure: 'kpa', pressureUnit: 'kPa' as const };
    await set({ fields });
    await connected();
    const c = await client();
    const send = async (name: string, at: number) =>
      c.publishAsync(
        'tires/x/reading',
        JSON.stringify({ 'wheel.name': name, at: new Date(T0 + at * 1000).toISOString(), kpa: 251 }),
        {
          qos: 1,
        },
      );
    for (const name of ['Front left', 'constructor', 'Front left']) await send(name, 0);
    await until(async () => expect((await view()).messages).toBe(3));
    expect((await view()).unknown.map((u) => [u.id, u.isName, u.count]).sort()).toEqual([
      ['Front left', true, 2],
      ['constructor', true, 1],
    ]);
    expect(await view()).toMatchObject({ refused: 0, fault: null, stored: 0 });
    await set({ fields, names: { 'Front left': 'a00001' } });
    expect((await view()).unknown.map((u) => u.id)).toEqual(['constructor']);
    await connected();
    await send('Front left', 5);
    await until(async () => expect((await view()).stored).toBe(1));
    // Another sensor is on that wheel now.
    const unit = (await s.http.get(`/api/units/${rig.unitIds[0]}`).expect(200)).body as Unit;
    (unit.axles[0]?.wheels[0]?.sensor as { id: string }).id = 'B00001';
    await s.http.put(`/api/units/${unit.id}`).send(unit).expect(200);
    await send('Front left', 10);
    await until(async () => expect((await view()).unknown.map((u) => u.id).sort()).toEqual(['Front left', 'constructor']));
    // A sensor without an ID has a key.
    (unit.axles[0]?.wheels[0]?.sensor as { id: string }).id = 'K0123456789A';
    await s.http
      .put(`/api/units/${unit.id}`)
      .send({ ...unit, version: unit.version + 1 })
      .expect(200);
    await set({ fields, names: { 'Front left': 'K0123456789A' } });
    await connected();
    await send('Front left', 15);
    await until(async () => expect((await rows()).map((r) => r.sensor_id)).toEqual(['A00001', 'K0123456789A']));
  });

  it('says how far messages are dated from their arrival, and refuses those of a clock that isn’t set and of an open position', async () => {
    const c = await client();
    // What the broker kept from before says nothing.
    await c.publishAsync('tires/A00002/reading', say(60 + 7200, 36), { qos: 1, retain: true });
    await set();
    await connected();
    await until(async () => expect((await view()).stored).toBe(1));
    expect((await view()).apartS).toBeNull();
    const at = (seconds: number) => c.publishAsync('tires/A00001/reading', say(seconds, 36), { qos: 1 });
    const stored = (n: number) => until(async () => expect((await view()).stored).toBe(n));
    // Right after it is connected, an old message may have waited at the broker; one ahead of the clock has not.
    await at(-3600);
    await stored(2);
    expect((await view()).apartS).toBeNull();
    await at(60 + 3600);
    await stored(3);
    expect((await view()).apartS).toBe(3600);
    s.clock.ms += 61_000;
    await at(-1800);
    await stored(4);
    expect((await view()).apartS).toBe(-1800 - 121);
    // One that can't be read says nothing.
    s.clock.ms += 3_600_000;
    await c.publishAsync('tires/A00001/reading', '{', { qos: 1 });
    await until(async () => expect(await view()).toMatchObject({ refused: 1, apartS: -1800 - 121 }));
    await at(121 + 3600);
    await stored(5);
    expect((await view()).apartS).toBe(0);
    await c.publishAsync('tires/A00001/reading', JSON.stringify({ at: '1970-01-01T00:00:12Z', air: { psi: 36 } }), { qos: 1 });
    await until(async () => expect((await view()).fault).toContain('dated 1970-01-01, so the gateway’s clock isn’t set'));
    await c.publishAsync('tires/ffffff/reading', say(0, 36), { qos: 1 });
    await until(async () => expect((await view()).fault).toContain('FFFFFF is an open position'));
    await c.publishAsync(`tires/${'x'.repeat(81)}/reading`, say(0, 36), { qos: 1 });
    await until(async () => expect((await view()).fault).toContain('is too long for a name'));
    expect(await view()).toMatchObject({ stored: 5, refused: 4, unknown: [], apartS: 0 });
  });

  it('a password is kept and never told; settings that can’t be are refused at their field', async () => {
    await set({ enabled: false, username: 'u', password: 'secret' });
    expect(JSON.stringify(await view())).not.toContain('secret');
    expect((await set({ enabled: false, username: 'u' })).hasPassword).toBe(true);
    for (const [bad, pointer] of [
      [{ topic: 'a/b#' }, '/topic'],
      [{ topic: '#/a' }, '/topic'],
      [{ url: 'http://x' }, '/url'],
      [{ names: { a: 'XYZ' } }, '/names/a'],
      [{ publish: 'a/+' }, '/publish'],
    ] as const) {
      const res = await s.http.put('/api/gateway').send(settings(bad)).expect(400);
      expect(res.body.errors[0].pointer).toBe(pointer);
    }
  });

  it('what the broker kept from before is taken with a time of its own, and never as heard now', async () => {
    const c = await client();
    const kept = { qos: 1, retain: true } as const;
    await c.publishAsync('tires/A00001/reading', say(-3600, 36), kept);
    const sockets: Socket[] = [];
    listening.on('connection', (socket) => sockets.push(socket));
    await set();
    await until(async () => expect((await view()).stored).toBe(1));
    expect(await rows()).toMatchObject([{ sensor_id: 'A00001', time_ms: T0 - 3_600_000 }]);
    // The line breaks: the broker knows us, and doesn't send again what it keeps.
    for (const socket of sockets) socket.destroy();
    await until(async () => expect((await view()).state).toBe('lost'));
    await connected();
    await c.publishAsync('tires/A00002/reading', say(5, 36), kept);
    await until(async () => expect((await view()).stored).toBe(2));
    expect((await view()).messages).toBe(2);
    // Without a time it may be of any day; what comes from now on is of now.
    await set({ fields: { ...settings().fields, time: null } });
    await connected();
    await c.publishAsync('tires/A00003/reading', say(0, 36), kept);
    await until(async () => expect((await view()).stored).toBe(3));
    expect((await rows()).slice(2)).toMatchObject([{ sensor_id: 'A00003', time_ms: T0 + 60_000 }]);
  });

  it('a topic of settings before these is no longer listened to, also when it was changed while away', async () => {
    const c = await client();
    await set({ topic: 'first/+/reading' });
    await connected();
    await set({ topic: 'second/+/reading', enabled: false });
    await set({ topic: 'tires/+/reading' });
    await connected();
    for (const topic of ['first', 'second', 'tires']) await c.publishAsync(`${topic}/A00001/reading`, say(0, 36), { qos: 1 });
    await until(async () => expect((await view()).stored).toBe(1));
    await new Promise((r) => setTimeout(r, 200));
    expect((await view()).messages).toBe(1);
    expect(JSON.stringify(await view())).not.toContain('first/');
  });

  it('is connected when the broker has taken down the topic, and says when it doesn’t', async () => {
    let grant: (() => void) | undefined;
    broker.authorizeSubscribe = (_client, subscription, done) => {
      grant = () => done(null, subscription);
    };
    await set();
    await until(() => expect(grant).toBeDefined());
    expect((await view()).state).toBe('connecting');
    grant?.();
    await connected();
    broker.authorizeSubscribe = (_client, _subscription, done) => done(null, null);
    await set();
    await until(async () => expect((await view()).fault).toContain('doesn’t let us listen to tires/+/reading'));
  });

  it('says that nobody answers, and connects by itself when somebody does; over a restart too', async () => {
    await new Promise<void>((r) => listening.close(() => r()));
    await set();
    await until(async () => expect((await view()).fault).toContain('Nobody answers'));
    listening = createServer(broker.handle).listen(port, '127.0.0.1');
    await connected();
    await s.app.gateway.stop();
    s = await s.restart();
    await s.app.gateway.start();
    await connected();
  });
});

/**
 * Mosquitto's broker where it is installed; none: the library's. That one may drop a message that waits in its queue when others are published while
 * it sends the queue again, because it numbers them again for each line.
 * @returns its port
 */
async function otherBroker(): Promise<number | null> {
  const own = '/usr/sbin/mosquitto';
  if (!existsSync(own)) return null;
  const probe = createServer().listen(0, '127.0.0.1');
  await new Promise((r) => probe.once('listening', r));
  const { port: free } = probe.address() as AddressInfo;
  await new Promise((r) => probe.close(r));
  const file = join(s.folder, 'mosquitto.conf');
  writeFileSync(file, `listener ${free} 127.0.0.1\nallow_anonymous true\nmax_queued_messages 0\n`);
  const child = spawn(own, ['-c', file], { stdio: 'ignore' });
  closers.push(() => child.kill());
  await until(
    () =>
      new Promise<void>((done, failed) => {
        const x = connect(free, '127.0.0.1', () => {
          x.end();
          done();
        });
        x.on('error', failed);
      }),
  );
  return free;
}

/** A line to a broker that breaks. @returns its port, and what breaks it now */
async function brokenLine(everyMs: number, to = port): Promise<{ port: number; cut: (lasting?: boolean) => void }> {
  const open = new Set<Socket>();
  let down = false;
  const server = createServer((a) => {
    if (down) {
      a.destroy();
      return;
    }
    const b = connect(to, '127.0.0.1');
    for (const [x, y] of [
      [a, b],
      [b, a],
    ] as const) {
      open.add(x);
      x.on('error', () => undefined);
      x.on('close', () => {
        open.delete(x);
        y.destroy();
      });
      x.pipe(y);
    }
  }).listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
  const timer = setInterval(() => {
    for (const x of open) x.destroy();
  }, everyMs);
  closers.push(() => {
    clearInterval(timer);
    for (const x of open) x.destroy();
    server.close();
  });
  /** Break it now, and for as long as this says. */
  const cut = (lasting = false) => {
    down = lasting;
    for (const x of open) x.destroy();
  };
  return { port: (server.address() as AddressInfo).port, cut };
}

it('another server of the same name at the broker is noticed, and a new name ends it', async () => {
  await s.http.post('/api/gateway/name').expect(404);
  await set();
  await connected();
  const nameOf = async () =>
    JSON.parse(((await s.db('meta').where({ name: 'gateway' }).first('value')) as { value: string }).value).clientId as string;
  const before = await nameOf();
  // As the restored world of a second computer does.
  const other = mqtt.connect(`mqtt://127.0.0.1:${port}`, { clientId: before, clean: false, reconnectPeriod: 1000 });
  clients.push(other);
  await until(async () => expect((await view()).pushedOut).toBe(true), 20_000);
  const renamed = (await s.http.post('/api/gateway/name').expect(200)).body as GatewayView;
  expect(renamed).toMatchObject({ pushedOut: false, settings: { topic: 'tires/+/reading' } });
  expect(await nameOf()).not.toBe(before);
  await connected();
  await until(() => expect(other.connected).toBe(true));
  (await client()).publish('tires/A00001/reading', say(1, 36), { qos: 1 });
  await until(async () => expect(await rows()).toHaveLength(1));
  expect((await view()).pushedOut).toBe(false);
}, 40_000);

it('a line that lasted between its breaks is no other server', async () => {
  const line = await brokenLine(600_000);
  await set({ url: `mqtt://127.0.0.1:${line.port}` });
  /** The line breaks as soon as it is there. */
  const short = async () => {
    await connected();
    line.cut();
    await until(async () => expect((await view()).state).toBe('lost'));
  };
  for (let i = 0; i < 3; i += 1) await short();
  await connected();
  await new Promise((r) => setTimeout(r, 3100));
  // The one that lasted, and a fourth that didn't.
  for (let i = 0; i < 2; i += 1) await short();
  expect((await view()).pushedOut).toBe(false);
  for (let i = 0; i < 3; i += 1) await short();
  expect((await view()).pushedOut).toBe(true);
}, 40_000);

it('what is still being stored when the line breaks is not acknowledged on the next, where its number is another message’s', async () => {
  const line = await brokenLine(1e9);
  await set({ url: `mqtt://127.0.0.1:${line.port}` });
  await connected();
  const c = await client();
  const topic = 'tires/A00001/reading';
  const acknowledged: (string | undefined)[] = [];
  broker.on('ack', (packet) => acknowledged.push((packet as { payload?: Buffer } | undefined)?.payload?.toString()));
  const first = [0, 5].map((at) => say(at, 36));
  for (const message of first) await c.publishAsync(topic, message, { qos: 1 });
  await until(() => expect(acknowledged).toEqual(first));
  const other = new Database(join(s.folder, 'druckwerk.sqlite'));
  other.exec('begin immediate');
  const waiting = [10, 15, 20, 25].map((at) => say(at, 36));
  for (const message of waiting) await c.publishAsync(topic, message, { qos: 1 });
  await until(async () => expect((await view()).messages).toBe(6));
  line.cut();
  await until(async () => expect((await view()).state).toBe('lost'));
  await connected();
  other.close();
  await until(async () => expect(await rows()).toHaveLength(6));
  await until(() => expect(acknowledged).toEqual([...first, ...waiting]));
});

it('messages that come while one is stored are stored with it, sixty-four at most', async () => {
  await set();
  await connected();
  const c = await client();
  const other = new Database(join(s.folder, 'druckwerk.sqlite'));
  other.exec('begin immediate');
  for (let i = 0; i < 100; i += 1) await c.publishAsync('tires/A00001/reading', say(i, 36), { qos: 1 });
  await until(async () => expect((await view()).messages).toBe(64));
  await new Promise((r) => setTimeout(r, 200));
  expect(await view()).toMatchObject({ messages: 64, stored: 0 });
  other.close();
  await until(async () => expect(await view()).toMatchObject({ messages: 100, stored: 100, refused: 0 }));
  expect(await rows()).toHaveLength(100);
});

it('messages that can’t be stored when the gateway is stopped are left to the broker, in whatever order they fail', async () => {
  const unhandled: unknown[] = [];
  const note = (reason: unknown) => unhandled.push(reason);
  process.on('unhandledRejection', note);
  try {
    await set();
    await connected();
    const fail: ((error: Error) => void)[] = [];
    vi.spyOn(s.app.watch, 'ingest').mockImplementation(() => new Promise((_, reject) => fail.push(reject)));
    const c = await client();
    for (let i = 0; i < 3; i += 1) await c.publishAsync('tires/A00001/reading', say(i, 36), { qos: 1 });
    await until(() => expect(fail).toHaveLength(3));
    await s.app.gateway.stop();
    for (const reject of fail.reverse()) {
      reject(new Error('The disk is gone.'));
      await new Promise((r) => setTimeout(r, 20));
    }
    expect(unhandled).toEqual([]);
    vi.restoreAllMocks();
    await s.app.gateway.start();
    await until(async () => expect(await rows()).toHaveLength(3));
  } finally {
    process.off('unhandledRejection', note);
    vi.restoreAllMocks();
  }
});

it('messages of one sensor that say no time and come at once are as many readings', async () => {
  await set({ fields: { ...settings().fields, time: null } });
  await connected();
  const c = await client();
  const psi = Array.from({ length: 20 }, (_, i) => 30 + i);
  await Promise.all(psi.map((p) => c.publishAsync('tires/A00001/reading', say(0, p), { qos: 1 })));
  await until(async () => expect(await rows()).toHaveLength(20));
  const stored = (await s.db('readings').select('pressure_kpa').orderBy('time_ms')) as { pressure_kpa: number }[];
  expect(stored.map((r) => Math.round(r.pressure_kpa / 6.894757293168))).toEqual(psi);
});

it('of 10,000 messages that another client publishes over a broken line every one is stored once', async () => {
  const mosquitto = await otherBroker();
  const to = mosquitto ?? port;
  const line = await brokenLine(1e9, to);
  await set({ url: `mqtt://127.0.0.1:${line.port}`, fields: { ...settings().fields, time: 't', timeFormat: 'epochMs' } });
  // What is published before the broker knows of us is kept for nobody.
  await connected();
  s.clock.ms = T0 + 3 * 3_600_000;
  const total = 10_000;
  const message = (i: number) => JSON.stringify({ t: T0 + i * 1000, air: { psi: 36 + (i % 3), f: 68 } });
  if (mosquitto === null) line.cut(true);
  /** However quick the machine is, the line breaks each time so many more are stored. */
  const between = 1500;
  let breaks = 0;
  const breaking = setInterval(() => {
    if (s.app.gateway.view().stored < (breaks + 1) * between) return;
    breaks += 1;
    line.cut();
  }, 2);
  closers.push(() => clearInterval(breaking));
  // Mosquitto's own client where it is installed: it publishes each line of its input. Else the library's, in this process.
  const own = '/usr/bin/mosquitto_pub';
  if (existsSync(own)) {
    const child = spawn(own, ['-h', '127.0.0.1', '-p', String(to), '-q', '1', '-l', '-t', 'tires/A00001/reading']);
    child.stdin.end(`${Array.from({ length: total }, (_, i) => message(i)).join('\n')}\n`);
    await new Promise((r) => child.on('close', r));
  } else {
    const other = await brokenLine(1100, to);
    const c = mqtt.connect(`mqtt://127.0.0.1:${other.port}`, { clientId: 'other', clean: false, reconnectPeriod: 100 });
    clients.push(c);
    await Promise.all(Array.from({ length: total }, (_, i) => c.publishAsync('tires/A00001/reading', message(i), { qos: 1 })));
  }
  line.cut();
  await until(async () => expect((await s.db('readings').count({ n: '*' }))[0]).toEqual({ n: total }), 100_000);
  expect(breaks).toBe(6);
  const stored = (await s.db('readings').select('time_ms', 'pressure_kpa').orderBy('time_ms')) as {
    time_ms: number;
    pressure_kpa: number;
  }[];
  expect(stored.map((r) => r.time_ms)).toEqual(Array.from({ length: total }, (_, i) => T0 + i * 1000));
  expect(stored.every((r, i) => Math.abs(r.pressure_kpa - (36 + (i % 3)) * 6.894757293168) < 1e-9)).toBe(true);
  expect((await view()).refused).toBe(0);
}, 120_000);

it('alarms and states go out retained: who listens later gets how it is now', async () => {
  await set({ publish: 'druckwerk' });
  await connected();
  await s.http
    .post('/api/readings')
    .send([0, 5].map((at) => ({ sensorId: 'A00001', time: new Date(T0 + at * 1000).toISOString(), pressureKpa: 190, tempC: 20 })))
    .expect(200);
  const heard = new Map<string, Record<string, unknown>>();
  const late = await client();
  late.on('message', (topic, payload) => heard.set(topic, JSON.parse(payload.toString())));
  await new Promise((r) => setTimeout(r, 300));
  await late.subscribeAsync('druckwerk/#');
  const low = `druckwerk/${rig.id}/alarm/A1L/low`;
  await until(() =>
    expect(heard.get(low)).toMatchObject({
      active: true,
      priority: 'stop',
      limit: 225,
      value: 190,
      fromTime: '2026-05-01T08:00:00.000Z',
    }),
  );
  expect(heard.get(`druckwerk/${rig.id}/wheel/A1L`)).toMatchObject({ state: 'live', pressureKpa: 190, tempC: 20 });
  expect(heard.get(`druckwerk/${rig.id}/wheel/A1R`)).toMatchObject({ state: 'notHeard', pressureKpa: null });
  await s.http
    .post('/api/readings')
    .send(
      [20, 25, 30, 90].map((at) => ({
        sensorId: 'A00001',
        time: new Date(T0 + at * 1000).toISOString(),
        pressureKpa: 250,
        tempC: 20,
      })),
    )
    .expect(200);
  await until(() => expect(heard.get(low)).toMatchObject({ active: false, toTime: expect.any(String) }));
});

it('what can’t go out, since it can’t be read just now, goes out with the next connection', async () => {
  const last = vi.spyOn(s.app.watch, 'lastAlarms').mockRejectedValue(new Error('The disk can’t be read.'));
  await set({ publish: 'home' });
  await connected();
  await until(() => expect(last).toHaveBeenCalled());
  last.mockRestore();
  const heard: string[] = [];
  const late = await client();
  late.on('message', (topic) => heard.push(topic));
  await late.subscribeAsync('home/#');
  await set({ publish: 'home' });
  await until(() => expect(heard).toContain(`home/${rig.id}/wheel/A2R`));
});

it('what went out is known to be of a server that is gone, of an alarm that has ended meanwhile, or of a wheel that isn’t there any more', async () => {
  const sockets = new Set<Socket>();
  listening.on('connection', (socket) => sockets.add(socket));
  await set({ publish: 'home' });
  await connected();
  const post = (readings: [string, number, number][]) =>
    s.http
      .post('/api/readings')
      .send(
        readings.map(([sensorId, at, pressureKpa]) => ({
          sensorId,
          time: new Date(T0 + at * 1000).toISOString(),
          pressureKpa,
          tempC: 20,
        })),
      )
      .expect(200);
  const kept = new Map<string, string>();
  const late = await client();
  late.on('message', (topic, payload) => kept.set(topic, payload.toString()));
  await late.subscribeAsync('home/#');
  await until(() => expect(kept.get('home/online')).toBe('true'));
  await post([
    ['A00001', 0, 190],
    ['A00001', 5, 190],
  ]);
  const low = `home/${rig.id}/alarm/A1L/low`;
  await until(() => expect(JSON.parse(kept.get(low) ?? '{}')).toMatchObject({ active: true }));

  // The line breaks without a word; in the meantime the tire is filled.
  const lines = [...sockets];
  listening.close();
  for (const socket of lines)
    if (!clients.some((c) => (c.stream as unknown as Socket).localPort === socket.remotePort)) socket.destroy();
  await until(() => expect(kept.get('home/online')).toBe('false'));
  await post([20, 25, 30, 90].map((at) => ['A00001', at, 250]));
  expect(JSON.parse(kept.get(low) ?? '{}')).toMatchObject({ active: true });
  listening = createServer(broker.handle).listen(port, '127.0.0.1');
  await until(() => expect(kept.get('home/online')).toBe('true'));
  await until(() => expect(JSON.parse(kept.get(low) ?? '{}')).toMatchObject({ active: false, toTime: expect.any(String) }));

  // An axle is taken off, then the rig is deleted.
  const axle = `home/${rig.id}/wheel/A2L`;
  const first = `home/${rig.id}/wheel/A1L`;
  await until(() => expect([kept.get(axle), kept.get(first)].every((t) => t?.includes('pressureKpa'))).toBe(true));
  const unit = (await s.http.get(`/api/units/${rig.unitIds[0]}`).expect(200)).body as Unit;
  await s.http
    .put(`/api/units/${unit.id}`)
    .send({ ...unit, axles: unit.axles.slice(0, 1) })
    .expect(200);
  await until(() => expect(kept.get(axle)).toBe(''));
  expect(kept.get(first)).toContain('pressureKpa');
  await s.http.delete(`/api/rigs/${rig.id}`).expect(204);
  await until(() => expect([kept.get(first), kept.get(low)]).toEqual(['', '']));

  await s.app.gateway.stop();
  await until(() => expect(kept.get('home/online')).toBe('false'));
});
