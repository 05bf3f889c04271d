import { createServer } from 'node:net';
import { Aedes } from 'aedes';
import type { GatewaySettings } from '#schema/gateway.ts';
import type { App } from '../server/app.ts';

/** Where the stand-in says what it hears; the sensor's ID is the second level. */
const TOPIC = 'shed/+/heard';
const EVERY_MS = 5000;

interface Heard {
  id: string;
  bar: number;
  c: number;
}

/**
 * A stand-in for a gateway in a shed: a broker of its own on this machine, and the sensors of the parked motorcycle, which it hears and
 * says in bar once the owner connects to it. One of them is on no wheel yet.
 * @param sensors IDs it hears
 */
export async function startGateway(app: App, sensors: readonly string[]): Promise<void> {
  const broker = await Aedes.createBroker();
  const server = createServer(broker.handle);
  server.unref();
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : 0;
  const heard: Heard[] = sensors.map((id, i) => ({ id, bar: 2.31 + i * 0.17, c: 14 + i }));
  heard.push({ id: 'D07A3E', bar: 0.35, c: 15 });
  let turn = 0;
  const timer = setInterval(() => {
    if (broker.connectedClients === 0) return;
    const h = heard[turn % heard.length] as Heard;
    turn += 1;
    const payload = JSON.stringify({ bar: h.bar, celsius: h.c, at: new Date().toISOString() });
    broker.publish(
      { cmd: 'publish', topic: TOPIC.replace('+', h.id), payload: Buffer.from(payload), qos: 1, retain: false, dup: false },
      () => undefined,
    );
  }, EVERY_MS / heard.length);
  timer.unref();
  const settings: GatewaySettings = {
    enabled: false,
    url: `mqtt://127.0.0.1:${port}`,
    topic: TOPIC,
    fields: {
      sensor: 'topic:2',
      time: 'at',
      timeFormat: 'iso',
      pressure: 'bar',
      pressureUnit: 'bar',
      temp: 'celsius',
      tempUnit: 'C',
      battery: null,
      rssi: null,
    },
    names: {},
    publish: null,
  };
  await app.gateway.set(settings);
}
