// 100,000 readings over HTTP into the built server (a process of its own) against a bare better-sqlite3 bulk insert of the same rows.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { AXLE_LAYOUTS } from '#core/rig/positions.ts';
import type { NewUnit } from '#schema/unit.ts';
import { best, makeReadings, sensorOf } from './readings.ts';

const COUNT = 100_000;
const RUNS = 3;
const startMs = Date.UTC(2026, 0, 1);
const rows = makeReadings(COUNT * RUNS, startMs);

const folder = mkdtempSync(join(tmpdir(), 'druckwerk-bench-'));
const raw = new Database(join(folder, 'raw.sqlite'));
raw.pragma('journal_mode = WAL');
raw.pragma('synchronous = FULL');
raw.exec(`create table readings (sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real not null,
  battery_v real, rssi_dbm real, source text not null, primary key (sensor_id, time_ms)) without rowid, strict`);
const insert = raw.prepare('insert or ignore into readings values (?, ?, ?, ?, null, null, ?)');
let part = 0;
const bare = best(RUNS, () => {
  const slice = rows.slice(part * COUNT, (part + 1) * COUNT);
  part += 1;
  raw.transaction(() => {
    for (const r of slice) insert.run(r.sensorId, r.ms, r.kpa, r.tempC, 'history');
  })();
});
raw.close();

const port = 4698;
const base = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, [join(import.meta.dirname, '../dist/server.js')], {
  env: { ...process.env, DRUCKWERK_DATA: join(folder, 'data'), PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
try {
  await new Promise<void>((resolve) => server.stdout.on('data', (d) => String(d).includes('Druckwerk is at') && resolve()));
  const post = async (path: string, body: unknown) => {
    const res = await fetch(base + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!res.ok) throw new Error(await res.text());
    return (await res.json()) as { id: string };
  };
  let next = 0;
  const axle = (n: number, layout: keyof typeof AXLE_LAYOUTS): NewUnit['axles'][number] => ({
    wheels: AXLE_LAYOUTS[layout].map((place) => {
      const sensor = { id: sensorOf(next), kind: 'cap' as const };
      next += 1;
      return { position: `${n}${place}`, sensor };
    }),
    settings: {
      loaded: {
        cold: { kpa: 551, tempC: 20 },
        limits: { rule: { school: 'share' }, lowKpa: 496, highKpa: 690, hotC: 70 },
      },
    },
  });
  const truck = await post('/api/units', {
    name: 'Truck',
    kind: 'vehicle',
    axles: [axle(1, 'single'), axle(2, 'dual')],
    spares: [],
  });
  const trailer = await post('/api/units', {
    name: 'Trailer',
    kind: 'trailer',
    axles: [axle(1, 'single'), axle(2, 'single')],
    spares: [],
  });
  await post('/api/rigs', { name: 'Rig', unitIds: [truck.id, trailer.id], loadState: 'loaded' });

  let http = Number.POSITIVE_INFINITY;
  for (let run = 0; run < RUNS; run += 1) {
    const lines = rows
      .slice(run * COUNT, (run + 1) * COUNT)
      .map((r) =>
        JSON.stringify({ sensorId: r.sensorId, time: new Date(r.ms).toISOString(), pressureKpa: r.kpa, tempC: r.tempC }),
      )
      .join('\n');
    const from = performance.now();
    const res = await fetch(`${base}/api/readings?history=true`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/x-ndjson' },
      body: lines,
    });
    const answer = (await res.json()) as { accepted: number };
    http = Math.min(http, (performance.now() - from) / 1000);
    if (answer.accepted !== COUNT) throw new Error(JSON.stringify(answer).slice(0, 300));
  }
  console.log(
    `ingest: ${(COUNT / http / 1000).toFixed(1)} thousand readings a second over HTTP, bare insert ${(COUNT / bare / 1000).toFixed(1)} thousand`,
  );
  console.log(`ingest ratio to the bare insert: ${(bare / http).toFixed(3)}`);
} finally {
  server.kill('SIGTERM');
  await new Promise((r) => server.on('exit', r));
  rmSync(folder, { recursive: true, force: true });
}
