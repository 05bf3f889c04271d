// 100,000 readings over HTTP into the built server (a process of its own) against a bare better-sqlite3 bulk insert of the same rows.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { median } from '#core/watch/median.ts';
import { makeReadings, makeRig, startServer } from './readings.ts';

const COUNT = 100_000;
/** Turn and turn about, so that both sides meet the same machine; the first turns warm the server up and are not counted. */
const TURNS = 12;
const WARM_UP = 3;
const startMs = Date.UTC(2026, 0, 1);
const rows = makeReadings(COUNT * TURNS, startMs);

const folder = mkdtempSync(join(tmpdir(), 'druckwerk-bench-'));
const raw = new Database(join(folder, 'raw.sqlite'));
raw.pragma('journal_mode = WAL');
raw.pragma('synchronous = FULL');
raw.exec(`create table readings (sensor_id text not null, time_ms integer not null, pressure_kpa real not null, temp_c real not null,
  battery_v real, rssi_dbm real, source text not null, primary key (sensor_id, time_ms)) without rowid, strict`);
const insert = raw.prepare('insert or ignore into readings values (?, ?, ?, ?, null, null, ?)');
/** Seconds of a bare insert of one turn's rows. */
function bareTurn(turn: number): number {
  const slice = rows.slice(turn * COUNT, (turn + 1) * COUNT);
  const from = performance.now();
  raw.transaction(() => {
    for (const r of slice) insert.run(r.sensorId, r.ms, r.kpa, r.tempC, 'history');
  })();
  return (performance.now() - from) / 1000;
}

const port = 4698;
const base = `http://127.0.0.1:${port}`;
const server = await startServer(folder, port);
try {
  await makeRig(base, ['single', 'dual'], ['single', 'single'], 551);
  const bare: number[] = [];
  const http: number[] = [];
  for (let turn = 0; turn < TURNS; turn += 1) {
    const body = Buffer.from(
      rows
        .slice(turn * COUNT, (turn + 1) * COUNT)
        .map((r) =>
          JSON.stringify({ sensorId: r.sensorId, time: new Date(r.ms).toISOString(), pressureKpa: r.kpa, tempC: r.tempC }),
        )
        .join('\n'),
    );
    const plain = bareTurn(turn);
    const from = performance.now();
    const res = await fetch(`${base}/api/readings?history=true`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/x-ndjson' },
      body,
    });
    const answer = (await res.json()) as { accepted: number };
    const whole = (performance.now() - from) / 1000;
    if (answer.accepted !== COUNT) throw new Error(JSON.stringify(answer).slice(0, 300));
    if (turn < WARM_UP) continue;
    bare.push(plain);
    http.push(whole);
  }
  const rate = (seconds: number) => (COUNT / seconds / 1000).toFixed(0);
  const ratios = bare.map((b, i) => b / (http[i] as number)).sort((x, y) => x - y);
  console.log(
    `ingest: ${rate(median(http))} thousand readings a second over HTTP, bare insert ${rate(median(bare))} thousand, each the middle of ${TURNS - WARM_UP}`,
  );
  console.log(
    `ingest ratio to the bare insert: ${median(ratios).toFixed(2)} (${ratios[0]?.toFixed(2)} to ${ratios.at(-1)?.toFixed(2)})`,
  );
} finally {
  raw.close();
  server.kill('SIGTERM');
  await new Promise((r) => server.on('exit', r));
  rmSync(folder, { recursive: true, force: true });
}
