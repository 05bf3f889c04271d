// A year of 12 wheels over 400 hours of driving at one reading each 5 s (3.46 million rows): the year chart's query, the import of such a
// file into the built server in constant memory, and a week of streaming.
import { createReadStream, createWriteStream, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addSensor, advance, createBench, gaugeKpa, inflate } from '#core/bench/bench.ts';
import type { BenchWheel } from '#core/bench/state.ts';
import { plainMapping } from '#core/files/columns.test-data.ts';
import { makeRig, sensorOf, startServer } from './readings.ts';

const WHEELS = 12;
const HOURS = 400;
const COLD_KPA = 551;
const START = Date.UTC(2025, 0, 1);
const folder = mkdtempSync(join(tmpdir(), 'druckwerk-year-'));
const port = 4697;
const base = `http://127.0.0.1:${port}`;
const server = await startServer(folder, port);

/** Resident memory of the server now, MB (Linux). */
const resident = (): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1]) / 1024;
const rig = await makeRig(base, ['single', 'dual'], ['single', 'single', 'single'], COLD_KPA);

try {
  // 200 drives of two hours, spread over the year.
  const file = join(folder, 'year.csv');
  const out = createWriteStream(file);
  out.write('time,sensor,pressure kPa,temperature C,cell V,level dBm,remark\n');
  const drives = HOURS / 2;
  const state = createBench({
    seed: 2026,
    startMs: START,
    airC: 10,
    altitudeM: 200,
    wheels: Array.from({ length: WHEELS }, (_, i) => ({
      position: `A${i + 1}C`,
      coldKpa: COLD_KPA,
      coldTempC: 20,
      airLitres: 60,
      loadShare: 1,
      twin: null,
      spare: false,
    })),
  });
  state.wheels.forEach((w, i) => {
    w.permeation = 0.01;
    addSensor(state, sensorOf(i), 'cap', w.position);
  });
  let rows = 0;
  for (let d = 0; d < drives; d += 1) {
    // The rig stands, and its tires take the temperature of the air; then it drives and a monitor asks each sensor every 5 s.
    const begin = Math.floor((d * 364 * 86_400_000) / drives) / 1000;
    state.airC = 10 + 10 * Math.sin((2 * Math.PI * d) / drives);
    state.kmh = 0;
    advance(state, begin - state.nowS, 600);
    for (const w of state.wheels) inflate(state, w.position);
    state.kmh = 85;
    const lines: string[] = [];
    for (let i = 0; i < (2 * 3600) / 5; i += 1) {
      advance(state, 5, 5);
      // In March one tire bursts: 30 s, and it is mended.
      const burst = d === Math.floor(drives / 5) && i >= 700 && i < 706;
      const torn = state.wheels[5] as BenchWheel;
      if (burst) torn.holeMm = 12;
      else if (torn.holeMm > 0) {
        torn.holeMm = 0;
        inflate(state, torn.position);
      }
      state.sensors.forEach((sensor, w) => {
        const kpa = Math.max(0, Math.round(gaugeKpa(state, state.wheels[w] as BenchWheel) + sensor.errorKpa));
        const time = new Date(START + state.nowS * 1000 + w * 300).toISOString();
        lines.push(`${time},${sensor.id},${kpa},${Math.round(sensor.shownC)},2.81,-83,on the road\n`);
        rows += 1;
      });
    }
    if (!out.write(lines.join(''))) await new Promise<void>((resolve) => out.once('drain', () => resolve()));
  }
  await new Promise<void>((resolve) => out.end(() => resolve()));
  const size = statSync(file).size;

  const mapping = plainMapping();
  let most = 0;
  const look = setInterval(() => {
    most = Math.max(most, resident());
  }, 50);
  const from = performance.now();
  const answer = await new Promise<{ accepted: number; refusedCount: number }>((resolve, reject) => {
    const req = request(
      `${base}/api/rigs/${rig}/import-readings?mapping=${encodeURIComponent(JSON.stringify(mapping))}`,
      { method: 'POST', headers: { 'Content-Type': 'application/octet-stream', 'Content-Length': size } },
      (res) => {
        let text = '';
        res.on('data', (x) => {
          text += x;
        });
        res.on('end', () =>
          res.statusCode === 200 ? resolve(JSON.parse(text)) : reject(new Error(`${res.statusCode} ${text}`)),
        );
      },
    );
    req.on('error', reject);
    createReadStream(file).pipe(req);
  });
  clearInterval(look);
  const seconds = (performance.now() - from) / 1000;
  if (answer.accepted !== rows || answer.refusedCount !== 0) throw new Error(JSON.stringify(answer).slice(0, 300));
  console.log(
    `import: ${(size / 1e6).toFixed(0)} MB, ${(rows / 1e6).toFixed(2)} million rows in ${seconds.toFixed(0)} s, at most ${most.toFixed(0)} MB resident`,
  );

  const chart = async (begin: number, end: number): Promise<number> => {
    const t = performance.now();
    const res = await fetch(
      `${base}/api/rigs/${rig}/chart?from=${new Date(begin).toISOString()}&to=${new Date(end).toISOString()}&points=800`,
    );
    const body = (await res.json()) as { series: { points: { lowKpa: number }[] }[] };
    const took = performance.now() - t;
    if (end - begin > 300 * 86_400_000 && Math.min(...body.series.flatMap((s) => s.points.map((p) => p.lowKpa))) > 450)
      throw new Error('the burst of March is not seen');
    return took;
  };
  const year = START + 365 * 86_400_000;
  const first = await chart(START, year);
  const times: number[] = [];
  for (let i = 0; i < 60; i += 1) times.push(await chart(START + i * 3_600_000, year + i * 3_600_000 - 86_400_000));
  times.sort((a, b) => a - b);
  console.log(
    `year chart: median ${times[30]?.toFixed(0)} ms, 95 % ${times[57]?.toFixed(0)} ms; the first after the import ${(first / 1000).toFixed(1)} s (rollups made again)`,
  );

  // A week of streaming: a reading a minute of each wheel, six hours of road a day.
  const weeks: number[] = [];
  for (let day = 0; day < 7; day += 1) {
    for (let hour = 0; hour < 6; hour += 1) {
      const lines: string[] = [];
      for (let m = 0; m < 60; m += 1) {
        for (let w = 0; w < WHEELS; w += 1) {
          const time = new Date(year + day * 86_400_000 + hour * 3_600_000 + m * 60_000 + w * 300).toISOString();
          lines.push(JSON.stringify({ sensorId: sensorOf(w), time, pressureKpa: 551, tempC: 25 }));
        }
        await fetch(`${base}/api/readings?history=true`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/x-ndjson' },
          body: `${lines.splice(0).join('\n')}\n`,
        });
      }
    }
    weeks.push(resident());
  }
  console.log(`a week of streaming, resident at the end of each day, MB: ${weeks.map((m) => m.toFixed(0)).join(' ')}`);
} finally {
  server.kill('SIGTERM');
  await new Promise((r) => server.on('exit', r));
  rmSync(folder, { recursive: true, force: true });
}
