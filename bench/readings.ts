import { type RandomState, uniform } from '#core/bench/random.ts';

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

/** A long drive of ten wheels from a fixed seed: a reading a minute each, a low tire now and then. */
export function makeReadings(count: number, startMs: number): BenchReading[] {
  const random: RandomState = { s: 11 };
  return Array.from({ length: count }, (_, i) => {
    const wheel = i % POSITIONS.length;
    const low = Math.floor(i / 4000) % 5 === 4 && wheel === 8;
    return {
      position: POSITIONS[wheel] as string,
      sensorId: sensorOf(wheel),
      ms: startMs + Math.floor(i / POSITIONS.length) * 60_000 + wheel * 1000,
      kpa: Math.round(560 + 20 * uniform(random)) - (low ? 90 : 0),
      tempC: Math.round(20 + 15 * uniform(random)),
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
