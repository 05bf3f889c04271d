import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { plainMapping } from '../core/files/columns.test-data.ts';
import { idsOf, line, makeCar, probe, send } from './masses.ts';
import { test } from './measured.ts';
import { expect, post, type ServerProcess } from './server.ts';

interface Health {
  loopDelayMs: { p50: number; p99: number; p999: number; max: number };
  streams: number;
  waiting: number;
}
const health = async (own: ServerProcess): Promise<Health> => (await (await fetch(`${own.url}/api/health`)).json()) as Health;

test('nobody waits: import, charts, replay, exports, late batches, twenty benches at 600 times', async ({ own }) => {
  test.setTimeout(300_000);
  const ids = idsOf(0);
  const rig = await makeCar(own, 'Errand', ids);
  const day = 86_400_000;
  const now = Date.now();
  // Made before anything is measured: it takes this process most of a second, in which it would read no answer.
  const rows = Array.from({ length: 400_000 }, (_, i) => {
    const ms = now - 6 * day + Math.floor(i / 4) * 5000;
    return `${new Date(ms).toISOString()},${ids[i % 4]},${250 + (i % 7)},20`;
  });
  const file = `time,wheel,kPa,C\n${rows.join('\n')}\n`;
  const done = probe(own);
  const timed = async (what: string, work: () => Promise<void>) => {
    const from = performance.now();
    await work();
    console.log(
      `${what}: ${((performance.now() - from) / 1000).toFixed(1)} s, ${JSON.stringify((await health(own)).loopDelayMs)}`,
    );
  };
  await timed('400,000 lines imported', async () => {
    const mapping = encodeURIComponent(JSON.stringify(plainMapping({ battery: null, rssi: null })));
    const res = await fetch(`${own.url}/api/rigs/${rig}/import-readings?mapping=${mapping}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    });
    expect(((await res.json()) as { accepted: number }).accepted).toBe(400_000);
  });
  const stretch = `from=${new Date(now - 7 * day).toISOString()}&to=${new Date(now).toISOString()}`;
  await timed('the first chart of them', async () => {
    expect((await fetch(`${own.url}/api/rigs/${rig}/chart?${stretch}&points=800`)).ok).toBe(true);
  });
  await timed('replayed', async () => {
    const res = await fetch(`${own.url}/api/rigs/${rig}/replay`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ from: new Date(now - 7 * day).toISOString(), to: new Date(now).toISOString() }),
    });
    expect(((await res.json()) as { readings: number }).readings).toBe(400_000);
  });
  await timed('all of them exported, and asked for in steps', async () => {
    const lines = (await (await fetch(`${own.url}/api/rigs/${rig}/export-readings`)).text()).split('\r\n');
    // With a line of names, and the end of the last line.
    expect(lines).toHaveLength(400_002);
    const steps = await fetch(`${own.url}/api/rigs/${rig}/readings?${stretch}&step=3600`);
    const { readings } = (await steps.json()) as { readings: { count: number }[] };
    expect(readings.reduce((n, r) => n + r.count, 0)).toBe(400_000);
    for (const path of ['hot-run', 'report', 'events']) expect((await fetch(`${own.url}/api/rigs/${rig}/${path}`)).ok).toBe(true);
  });
  await timed('100,000 readings replayed by the calculation', async () => {
    const readings = Array.from({ length: 100_000 }, (_, i) => ({
      position: i % 2 === 0 ? 'A1L' : 'A1R',
      time: new Date(now + i * 1000).toISOString(),
      pressureKpa: i > 50_000 && i % 2 === 0 ? 150 : 250,
      tempC: 20,
    }));
    const limits = { coldKpa: 250, coldTempC: 20, lowKpa: 200, highKpa: null, hotC: 80 };
    const { alarms } = await post<{ alarms: { position: string; kind: string }[] }>(own, 'calc/watch.replay', {
      wheels: { A1L: limits, A1R: limits },
      readings,
    });
    expect(alarms).toContainEqual(expect.objectContaining({ position: 'A1L', kind: 'low' }));
  });
  await timed('a rig with photos of 30 MB', async () => {
    const doc = (await (await fetch(`${own.url}/api/rigs/${rig}/export`)).json()) as object;
    const photo = Buffer.alloc(3_000_000, 'photo').toString('base64');
    const photos = Object.fromEntries(Array.from({ length: 8 }, () => [randomUUID(), photo]));
    // Its units name none of them.
    expect(await post<{ photos: number }>(own, 'rigs/import/preview', { ...doc, photos })).toMatchObject({ photos: 0 });
  });
  const [late, ...others] = idsOf(1) as [string, ...string[]];
  await makeCar(own, 'Late', [late, ...others]);
  await timed('four wheels at 0.5 s, one hands in nine minutes at once', async () => {
    const from = now - 540_000;
    const steps = Array.from({ length: 1080 }, (_, i) => from + i * 500);
    expect((await send(own, steps.flatMap((ms) => others.map((id) => line(id, ms))).join('\n'))).status).toBe(200);
    expect((await send(own, steps.map((ms) => line(late, ms)).join('\n'))).status).toBe(200);
  });
  await timed('21,600 late readings', async () => {
    const from = now - 590_000;
    const steps = Array.from({ length: 21_600 }, (_, i) => from + i * 27 + 1);
    const res = await send(own, steps.map((ms) => line(late, ms)).join('\n'));
    const { accepted, repeated } = (await res.json()) as { accepted: number; repeated: number };
    // Some of them are of the very moments that came before.
    expect(accepted + repeated).toBe(21_600);
    expect(accepted).toBeGreaterThan(21_000);
  });
  await timed('2,000 a second for 10 s, every other sensor 5 s late', async () => {
    const fast = idsOf(2);
    await makeCar(own, 'Fast', fast);
    for (let k = 0; k < 100; k += 1) {
      const at = Date.now();
      const body = Array.from({ length: 200 }, (_, i) => line(fast[i % 4] as string, at - 5000 * (i % 2) + i)).join('\n');
      expect((await send(own, body)).status).toBe(200);
      await new Promise((r) => setTimeout(r, Math.max(0, 100 - (Date.now() - at))));
    }
  });
  await timed('twenty benches at 600 times for 8 s', async () => {
    for (let b = 0; b < 20; b += 1) {
      const id = await makeCar(own, `Bench ${b}`, idsOf(10 + b));
      await post(own, `rigs/${id}/bench`, { action: 'open' });
      await post(own, `rigs/${id}/bench`, { action: 'drive', kmh: 90 });
      await post(own, `rigs/${id}/bench`, { action: 'run', factor: 600 });
    }
    await new Promise((r) => setTimeout(r, 8000));
  });
  const { loopDelayMs } = await health(own);
  const slowest = await done();
  console.log(`slowest answer ${slowest.toFixed(0)} ms`);
  expect(loopDelayMs.p999).toBeLessThan(200);
  expect(slowest).toBeLessThan(1000);
});

test('of three hundred streams sixty-four are served, the rest are told to come again, and everything goes on', async ({
  own,
}) => {
  const rig = await makeCar(own, 'Errand', idsOf(0));
  const streams = await Promise.all(
    Array.from(
      { length: 300 },
      () =>
        new Promise<{ status: number; end: () => void }>((opened, failed) => {
          const req = request(`${own.url}/api/rigs/${rig}/live`, (res) => {
            res.resume();
            res.on('error', () => undefined);
            opened({ status: res.statusCode ?? 0, end: () => req.destroy() });
          });
          req.on('error', failed);
          req.end();
        }),
    ),
  );
  expect(streams.filter((s) => s.status === 200)).toHaveLength(64);
  expect(streams.filter((s) => s.status === 503)).toHaveLength(236);
  const from = performance.now();
  expect((await send(own, line(idsOf(0)[0] as string, Date.now()), false)).status).toBe(200);
  expect(performance.now() - from).toBeLessThan(1000);
  for (const s of streams) s.end();
  await expect.poll(async () => (await health(own)).streams).toBe(0);
});
