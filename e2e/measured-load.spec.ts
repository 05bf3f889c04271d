import { request } from 'node:http';
import { plainMapping } from '../core/files/columns.test-data.ts';
import { carDocument } from '../server/testing-documents.ts';
import { expect, post, type ServerProcess, test } from './server.ts';

interface Health {
  loopDelayMs: { p50: number; p99: number; p999: number; max: number };
  streams: number;
  waiting: number;
}
const health = async (own: ServerProcess): Promise<Health> => (await (await fetch(`${own.url}/api/health`)).json()) as Health;

async function makeRig(own: ServerProcess, name: string, ids: string[]): Promise<string> {
  const unit = await post<{ id: string }>(own, 'units', { ...carDocument(ids), name });
  return (await post<{ id: string }>(own, 'rigs', { name, unitIds: [unit.id], loadState: 'loaded' })).id;
}
const idsOf = (rig: number) => [1, 2, 3, 4].map((w) => `B${rig.toString(16).toUpperCase().padStart(4, '0')}${w}`);
const line = (sensorId: string, ms: number, kpa = 250) =>
  `{"sensorId":"${sensorId}","time":"${new Date(ms).toISOString()}","pressureKpa":${kpa},"tempC":20}`;
const send = (own: ServerProcess, body: string, history = true) =>
  fetch(`${own.url}/api/readings${history ? '?history=true' : ''}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/x-ndjson' },
    body,
  });

/** Ask something small again and again, as a page does. @returns ends it, with how long the slowest took, ms */
function probe(own: ServerProcess): () => Promise<number> {
  let slowest = 0;
  let on = true;
  const asking = (async () => {
    while (on) {
      const from = performance.now();
      expect((await fetch(`${own.url}/api/rigs`)).ok).toBe(true);
      slowest = Math.max(slowest, performance.now() - from);
      await new Promise((r) => setTimeout(r, 50));
    }
  })();
  return async () => {
    on = false;
    await asking;
    return slowest;
  };
}

test('nobody waits: import, charts, replay, late batches, twenty benches at 600 times', async ({ own }) => {
  test.setTimeout(300_000);
  const ids = idsOf(0);
  const rig = await makeRig(own, 'Errand', ids);
  const day = 86_400_000;
  const now = Date.now();
  const done = probe(own);
  const timed = async (what: string, work: () => Promise<void>) => {
    const from = performance.now();
    await work();
    console.log(
      `${what}: ${((performance.now() - from) / 1000).toFixed(1)} s, ${JSON.stringify((await health(own)).loopDelayMs)}`,
    );
  };
  await timed('400,000 lines imported', async () => {
    const rows = Array.from({ length: 400_000 }, (_, i) => {
      const ms = now - 6 * day + Math.floor(i / 4) * 5000;
      return `${new Date(ms).toISOString()},${ids[i % 4]},${250 + (i % 7)},20`;
    });
    const mapping = encodeURIComponent(JSON.stringify(plainMapping({ battery: null, rssi: null })));
    const res = await fetch(`${own.url}/api/rigs/${rig}/import-readings?mapping=${mapping}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: `time,wheel,kPa,C\n${rows.join('\n')}\n`,
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
  const [late, ...others] = idsOf(1) as [string, ...string[]];
  await makeRig(own, 'Late', [late, ...others]);
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
    await makeRig(own, 'Fast', fast);
    for (let k = 0; k < 100; k += 1) {
      const at = Date.now();
      const body = Array.from({ length: 200 }, (_, i) => line(fast[i % 4] as string, at - 5000 * (i % 2) + i)).join('\n');
      expect((await send(own, body)).status).toBe(200);
      await new Promise((r) => setTimeout(r, Math.max(0, 100 - (Date.now() - at))));
    }
  });
  await timed('twenty benches at 600 times for 8 s', async () => {
    for (let b = 0; b < 20; b += 1) {
      const id = await makeRig(own, `Bench ${b}`, idsOf(10 + b));
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
  expect(slowest).toBeLessThan(2000);
});

test('twelve connections at 2,000 readings a second in all: nothing that was accepted is lost', async ({ own }) => {
  await makeRig(own, 'Errand', idsOf(0));
  const start = Date.now() - 3_600_000;
  let accepted = 0;
  let busy = 0;
  const done = probe(own);
  const until = Date.now() + 8000;
  await Promise.all(
    Array.from({ length: 12 }, async (_, c) => {
      for (let k = 0; Date.now() < until; k += 1) {
        const at = Date.now();
        const body = Array.from({ length: 167 }, (_x, i) =>
          line(idsOf(0)[c % 4] as string, start + c * 7 + (k * 167 + i) * 100),
        ).join('\n');
        const res = await send(own, body);
        if (res.status === 200) accepted += ((await res.json()) as { accepted: number }).accepted;
        else {
          expect([429, 503]).toContain(res.status);
          expect(Number(res.headers.get('retry-after'))).toBeGreaterThan(0);
          await res.body?.cancel();
          busy += 1;
        }
        await new Promise((r) => setTimeout(r, Math.max(0, 1000 - (Date.now() - at))));
      }
    }),
  );
  console.log(`${accepted} accepted, ${busy} asked to come again, slowest answer ${(await done()).toFixed(0)} ms`);
  await own.kill();
  await own.start();
  const rigs = (await (await fetch(`${own.url}/api/rigs`)).json()) as { id: string }[];
  const csv = await (await fetch(`${own.url}/api/rigs/${rigs[0]?.id}/export-readings?format=ndjson`)).text();
  expect(csv.trim().split('\n').length).toBe(accepted);
});

test('of three hundred streams sixty-four are served, the rest are told to come again, and everything goes on', async ({
  own,
}) => {
  const rig = await makeRig(own, 'Errand', idsOf(0));
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
