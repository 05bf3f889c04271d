import { once } from 'node:events';
import { request } from 'node:http';
import { type AddressInfo, createServer } from 'node:net';
import { Aedes } from 'aedes';
import mqtt from 'mqtt';
import { carDocument } from '../server/testing-documents.ts';
import { expect, ServerProcess, test } from './server.ts';

const T0 = Date.now() - 6 * 3_600_000;
const REQUESTS = 8;
const LINES = 400;
/** Kills at random bytes; `DRUCKWERK_OFFSETS=100` for as many. They are drawn at each run. */
const OFFSETS = Number(process.env.DRUCKWERK_OFFSETS ?? 20);
/** Kills with everything going on at once; `DRUCKWERK_KILLS=100` for as many. */
const KILLS = Number(process.env.DRUCKWERK_KILLS ?? 12);

/** Four wheels for some hours: one leaks and is filled, one goes quiet, one bursts. */
function bodies(): string[] {
  const lines: string[] = [];
  for (let i = 0; i < REQUESTS * LINES; i += 1) {
    const wheel = i % 4;
    const minute = Math.floor(i / 4) / 3;
    if (wheel === 1 && minute > 150 && minute < 200) continue;
    const kpa =
      wheel === 0
        ? 250 - (minute % 90) * 0.4
        : wheel === 2 && minute > 100
          ? Math.max(60, 250 - (minute - 100) * 60)
          : 250 + (i % 3);
    lines.push(
      JSON.stringify({
        sensorId: `A0000${wheel + 1}`,
        time: new Date(T0 + minute * 60_000 + wheel * 1000).toISOString(),
        pressureKpa: Math.round(kpa),
        tempC: 20,
      }),
    );
  }
  const each = Math.ceil(lines.length / REQUESTS);
  return Array.from({ length: REQUESTS }, (_, i) => `${lines.slice(i * each, (i + 1) * each).join('\n')}\n`);
}

async function makeRig(url: string): Promise<string> {
  const post = async (path: string, body: object) =>
    (
      await fetch(`${url}/api/${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json() as Promise<{ id: string }>;
  const unit = await post('units', carDocument());
  return (await post('rigs', { name: 'Errand', unitIds: [unit.id], loadState: 'loaded' })).id;
}

/** Send a body; from `stopAt` on nothing more is written and `then` is called. @returns readings answered as accepted, or null */
function send(url: string, body: string, stopAt: number, then: () => void): Promise<number | null> {
  return new Promise((resolve) => {
    const req = request(`${url}/api/readings?history=true`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/x-ndjson', 'Content-Length': Buffer.byteLength(body) },
    });
    req.on('response', (res) => {
      let text = '';
      res.on('data', (d) => {
        text += d;
      });
      res.on('end', () => resolve((JSON.parse(text) as { accepted: number }).accepted));
      res.on('error', () => resolve(null));
    });
    req.on('error', () => resolve(null));
    if (stopAt >= body.length) {
      req.end(body);
      return;
    }
    req.write(body.slice(0, stopAt), () => setTimeout(then, Math.random() * 8));
  });
}

const standing = async (url: string, rig: string) =>
  ((await (await fetch(`${url}/api/rigs/${rig}/alarms?limit=5000`)).json()) as Record<string, unknown>[])
    .map((a) => `${a.position} ${a.kind} ${a.fromTime} ${a.toTime} ${a.worst}`)
    .sort();
/** Readings that are stored, each once: exported, since one answer has at most 50,000. */
const countOf = async (url: string, rig: string) => {
  const res = await fetch(`${url}/api/rigs/${rig}/export-readings?format=ndjson`);
  const text = await res.text();
  expect(res.status, text.slice(0, 500)).toBe(200);
  const names = text
    .split('\n')
    .filter(Boolean)
    .map((line) => {
      const { sensorId, time } = JSON.parse(line) as { sensorId: string; time: string };
      return `${sensorId} ${time}`;
    });
  expect(new Set(names).size).toBe(names.length);
  return names.length;
};

test('killed at twenty random bytes of what it is sent, the server keeps all it accepted and says the same alarms', async () => {
  test.setTimeout(OFFSETS * 12_000);
  const list = bodies();
  const whole = list.join('').length;
  const plain = new ServerProcess(false);
  await plain.start();
  const reference = await makeRig(plain.url);
  let total = 0;
  for (const body of list) total += (await send(plain.url, body, body.length, () => undefined)) ?? 0;
  const expected = await standing(plain.url, reference);
  expect(expected.length).toBeGreaterThan(4);
  expect(total).toBe(await countOf(plain.url, reference));
  await plain.remove();

  const offsets = Array.from({ length: OFFSETS }, () => Math.floor(Math.random() * whole));
  console.log(`killed at bytes ${offsets.join(' ')} of ${whole}`);
  for (const offset of offsets) {
    const server = new ServerProcess(false);
    await server.start();
    const rig = await makeRig(server.url);
    let accepted = 0;
    let before = 0;
    for (const body of list) {
      const stopAt = offset - before;
      before += body.length;
      let killed: Promise<void> | null = null;
      const answer = await send(server.url, body, stopAt < body.length ? Math.max(1, stopAt) : body.length, () => {
        killed = server.kill();
      });
      accepted += answer ?? 0;
      if (answer === null) {
        await killed;
        break;
      }
    }
    await server.start();
    expect(await countOf(server.url, rig)).toBeGreaterThanOrEqual(accepted);
    for (const body of list) await send(server.url, body, body.length, () => undefined);
    expect(await countOf(server.url, rig)).toBe(total);
    expect(await standing(server.url, rig)).toEqual(expected);
    await server.remove();
  }
});

test('killed while it backs up, restores, and takes readings over HTTP and MQTT, it loses nothing it accepted', async () => {
  test.setTimeout(60_000 + KILLS * 20_000);
  const broker = await Aedes.createBroker();
  const listening = createServer(broker.handle).listen(0, '127.0.0.1');
  await once(listening, 'listening');
  const { port } = listening.address() as AddressInfo;
  const publisher = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`);
  const server = new ServerProcess(false);
  await server.start();
  const rig = await makeRig(server.url);
  const put = await fetch(`${server.url}/api/gateway`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      enabled: true,
      url: `mqtt://127.0.0.1:${port}`,
      topic: 'k/+',
      fields: {
        sensor: 'topic:2',
        time: 't',
        timeFormat: 'epochMs',
        pressure: 'p',
        pressureUnit: 'kPa',
        temp: null,
        tempUnit: 'C',
        battery: null,
        rssi: null,
      },
      names: {},
      publish: null,
    }),
  });
  expect(put.status).toBe(200);
  await expect
    .poll(async () => ((await (await fetch(`${server.url}/api/gateway`)).json()) as { state: string }).state)
    .toBe('connected');
  /** Times of what came over MQTT. */
  const overMqtt = async () => {
    const res = await fetch(`${server.url}/api/rigs/${rig}/readings?from=${new Date(T0 - 1000).toISOString()}&position=A1R`);
    const text = await res.text();
    expect(res.status, text.slice(0, 500)).toBe(200);
    const list = JSON.parse(text) as { readings: { time: string }[] };
    return list.readings.map((r) => Date.parse(r.time));
  };
  let accepted = 0;
  let sent = 0;
  let published = 0;
  const kills = { backup: 0, restore: 0, readings: 0 };
  for (let k = 0; k < KILLS; k += 1) {
    const act = (['backup', 'restore', 'readings'] as const)[k % 3] as keyof typeof kills;
    kills[act] += 1;
    const after = Math.random() * (act === 'restore' ? 120 : 250);
    if (act === 'restore') {
      // What came since the backup would be gone with the world it is in: nothing comes while it is restored.
      await expect.poll(async () => (await overMqtt()).length, { timeout: 30_000 }).toBe(published);
      const made = (await (await fetch(`${server.url}/api/backups`, { method: 'POST' })).json()) as { name: string };
      const staged = await fetch(`${server.url}/api/restore?name=${made.name}`, { method: 'POST' });
      const { token } = (await staged.json()) as { token: string };
      void fetch(`${server.url}/api/restore/${token}`, { method: 'POST' }).catch(() => undefined);
    } else {
      if (act === 'backup') void fetch(`${server.url}/api/backups`, { method: 'POST' }).catch(() => undefined);
      for (let i = 0; i < 20; i += 1, published += 1)
        publisher.publish('k/A00002', JSON.stringify({ t: T0 + published * 1000 + 500, p: 250 }), { qos: 1 });
      void (async () => {
        for (;;) {
          const from = sent;
          sent += 50;
          const lines = Array.from({ length: 50 }, (_, i) =>
            JSON.stringify({
              sensorId: 'A00001',
              time: new Date(T0 + (from + i) * 100).toISOString(),
              pressureKpa: 250,
              tempC: 20,
            }),
          );
          const answer = await send(server.url, `${lines.join('\n')}\n`, 1e9, () => undefined);
          if (answer === null) return;
          accepted += answer;
        }
      })();
    }
    await new Promise((r) => setTimeout(r, after));
    await server.kill();
    await server.start();
    expect(await countOf(server.url, rig)).toBeGreaterThanOrEqual(accepted);
  }
  console.log(`killed ${kills.backup} times in a backup, ${kills.restore} in a restore, ${kills.readings} among readings alone`);
  // Every message of the gateway is there, once.
  await expect.poll(async () => (await overMqtt()).length, { timeout: 60_000 }).toBe(published);
  expect(await overMqtt()).toEqual(Array.from({ length: published }, (_, i) => T0 + i * 1000 + 500));
  await publisher.endAsync(true);
  await server.remove();
  await new Promise<void>((r) => broker.close(() => r()));
  listening.close();
});
