import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { limitsFor } from '#core/alarms/limits.ts';
import { type RandomState, uniform } from '#core/bench/random.ts';
import { AXLE_LAYOUTS, type AxleLayout } from '#core/rig/positions.ts';
import type { NewUnit } from '#schema/unit.ts';

/** A reading as the benchmarks need it. */
export interface BenchReading {
  position: string;
  sensorId: string;
  ms: number;
  kpa: number;
  tempC: number;
}

export const POSITIONS = ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'A2RO', 'B1L', 'B1R', 'B2L', 'B2R'];
export const sensorOf = (i: number): string => (0xa00000 + i).toString(16).toUpperCase();

/**
 * A long drive of ten wheels from a fixed seed, a reading each 5 s of each (the heavy case): warm and cool by turns, pressure after temperature in
 * steps of 1 kPa and 1 K as sensors tell it, a low tire now and then.
 */
export function makeReadings(count: number, startMs: number): BenchReading[] {
  const random: RandomState = { s: 11 };
  const errors = POSITIONS.map(() => 12 * uniform(random) - 6);
  return Array.from({ length: count }, (_, i) => {
    const wheel = i % POSITIONS.length;
    const low = Math.floor(i / 40_000) % 5 === 4 && wheel === 8;
    const gasC = 30 + 15 * Math.sin(i / 30_000);
    return {
      position: POSITIONS[wheel] as string,
      sensorId: sensorOf(wheel),
      ms: startMs + Math.floor(i / POSITIONS.length) * 5000 + wheel * 400,
      kpa: Math.round((652.3 * (273.15 + gasC)) / 293.15 - 101.3 + (errors[wheel] as number)) - (low ? 90 : 0),
      tempC: Math.round(gasC),
    };
  });
}

/** Best of several runs, seconds. */
export function best(runs: number, work: () => void): number {
  let shortest = Number.POSITIVE_INFINITY;
  for (let i = 0; i < runs; i += 1) {
    const from = process.hrtime.bigint();
    work();
    shortest = Math.min(shortest, Number(process.hrtime.bigint() - from) / 1e9);
  }
  return shortest;
}

/** A rig of its own for a benchmark: axle layouts of a truck and of a trailer, every wheel paired. @returns the rig's id */
export async function makeRig(base: string, truck: AxleLayout[], trailer: AxleLayout[], coldKpa: number): Promise<string> {
  const post = async (path: string, body: unknown): Promise<{ id: string }> => {
    const res = await fetch(base + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!res.ok) throw new Error(await res.text());
    return (await res.json()) as { id: string };
  };
  let next = 0;
  const { lowKpa, highKpa } = limitsFor({ school: 'share' }, coldKpa);
  const limits = { rule: { school: 'share' as const }, lowKpa, highKpa, hotC: 70 };
  const unit = (name: string, kind: NewUnit['kind'], layouts: AxleLayout[]): NewUnit => ({
    name,
    kind,
    axles: layouts.map((layout, i) => ({
      wheels: AXLE_LAYOUTS[layout].map((place) => {
        const sensor = { id: sensorOf(next), kind: 'cap' as const };
        next += 1;
        return { position: `${i + 1}${place}`, sensor };
      }),
      settings: { loaded: { cold: { kpa: coldKpa, tempC: 20 }, limits } },
    })),
    spares: [],
  });
  const ids = [];
  for (const u of [unit('Truck', 'vehicle', truck), unit('Trailer', 'trailer', trailer)])
    ids.push((await post('/api/units', u)).id);
  return (await post('/api/rigs', { name: 'Rig', unitIds: ids, loadState: 'loaded' })).id;
}

/** The built server in a process of its own, on a folder of its own. */
export async function startServer(folder: string, port: number): Promise<ChildProcess> {
  const server = spawn(process.execPath, [join(process.cwd(), 'dist/server.js')], {
    env: { ...process.env, DRUCKWERK_DATA: join(folder, 'data'), PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve, reject) => {
    server.stdout?.on('data', (d) => String(d).includes('Druckwerk is at') && resolve());
    server.on('exit', (code) => reject(new Error(`the server ended with ${code}`)));
  });
  server.removeAllListeners('exit');
  return server;
}
