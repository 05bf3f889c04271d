// 100,000 readings over HTTP into the built server (a process of its own) against a bare better-sqlite3 bulk insert of the same rows.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { best, makeReadings, makeRig, startServer } from './readings.ts';

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
const server = await startServer(folder, port);
try {
  await makeRig(base, ['single', 'dual'], ['single', 'single'], 551);
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
