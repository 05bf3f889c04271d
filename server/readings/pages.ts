import type { Knex } from 'knex';
import { reading } from '../db/open.ts';
import { otherWork } from '../loop.ts';

/** All of a reading, beside its time. */
export const WHOLE = ['pressure_kpa', 'temp_c', 'battery_v', 'rssi_dbm', 'source'] as const;
export type WholeReading = [kpa: number, tempC: number | null, batteryV: number | null, rssiDbm: number | null, source: string];

/** Readings asked of the database in one turn: some 10 ms with what is made of them, once the code is warm. */
const ROWS_A_TURN = 2000;

/**
 * Readings of a sensor in order of time, so many at once: whatever else waits has its turn between two lots, and any length takes the same memory.
 * What comes in meanwhile for a time that is past is left out.
 * @param columns SQL names or expressions; `time_ms` comes first by itself
 * @param toMs included
 */
export async function* pagesOf<Columns extends unknown[]>(
  db: Knex,
  sensorId: string,
  fromMs: number,
  toMs: number,
  columns: readonly string[],
): AsyncGenerator<[timeMs: number, ...Columns][]> {
  for (let after = fromMs - 1; ; ) {
    const rows = await reading(
      db,
      (raw) =>
        raw
          .prepare(
            `select ${['time_ms', ...columns].join(', ')} from readings
             where sensor_id = ? and time_ms > ? and time_ms <= ? order by time_ms limit ${ROWS_A_TURN}`,
          )
          .raw()
          .all(sensorId, after, toMs) as [number, ...Columns][],
    );
    const last = rows.at(-1);
    if (!last) return;
    yield rows;
    // A transaction alone lets nobody else in, and a reader that takes all at once doesn't either.
    await otherWork();
    if (rows.length < ROWS_A_TURN) return;
    after = last[0];
  }
}

/** Readings of one step of time. What no reading has is null. */
export interface Bucket {
  /** Start of the step, ms since the epoch. */
  ms: number;
  count: number;
  /** kPa */
  meanKpa: number;
  lowKpa: number;
  highKpa: number;
  tempC: number | null;
  batteryV: number | null;
  rssiDbm: number | null;
}

/** Sum and count of what has a figure. */
type Sum = [sum: number | null, count: number];
const meanOf = ([sum, count]: Sum): number | null => (sum === null || count === 0 ? null : sum / count);
const added = ([a, n]: Sum, [b, m]: Sum): Sum => [a === null ? b : b === null ? a : a + b, n + m];

/** Of one bucket what one turn found of it. */
interface Part {
  ms: number;
  lastMs: number;
  kpa: Sum;
  lowKpa: number;
  highKpa: number;
  tempC: Sum;
  batteryV: Sum;
  rssiDbm: Sum;
}

function partOf(row: unknown[]): Part {
  const [ms, lastMs, count, kpa, lowKpa, highKpa, tempC, temps, batteryV, volts, rssiDbm, levels] = row as number[];
  return {
    ms: ms as number,
    lastMs: lastMs as number,
    kpa: [kpa as number, count as number],
    lowKpa: lowKpa as number,
    highKpa: highKpa as number,
    tempC: [tempC ?? null, temps as number],
    batteryV: [batteryV ?? null, volts as number],
    rssiDbm: [rssiDbm ?? null, levels as number],
  };
}

const bucketOf = (p: Part): Bucket => ({
  ms: p.ms,
  count: p.kpa[1],
  meanKpa: meanOf(p.kpa) as number,
  lowKpa: p.lowKpa,
  highKpa: p.highKpa,
  tempC: meanOf(p.tempC),
  batteryV: meanOf(p.batteryV),
  rssiDbm: meanOf(p.rssiDbm),
});

/**
 * A sensor's readings gathered in steps, in order of time, so many readings at once; a step may be longer than what one turn reads.
 * @param toMs included
 */
export async function* bucketsOf(
  db: Knex,
  sensorId: string,
  fromMs: number,
  toMs: number,
  stepMs: number,
): AsyncGenerator<Bucket> {
  // A number of JavaScript is bound as REAL: the step stands in the text. `%` may be under 0 before 1970.
  const step = Math.round(stepMs);
  const text = `select time_ms - ((time_ms % ${step}) + ${step}) % ${step} as at, max(time_ms), count(*),
      sum(pressure_kpa), min(pressure_kpa), max(pressure_kpa), sum(temp_c), count(temp_c), sum(battery_v), count(battery_v),
      sum(rssi_dbm), count(rssi_dbm)
    from (select * from readings where sensor_id = ? and time_ms > ? and time_ms <= ? order by time_ms limit ${ROWS_A_TURN})
    group by 1 order by 1`;
  let open: Part | null = null;
  for (let after = fromMs - 1; ; ) {
    const parts = (await reading(db, (raw) => raw.prepare(text).raw().all(sensorId, after, toMs) as unknown[][])).map(partOf);
    for (const p of parts) {
      if (open?.ms === p.ms) {
        open = {
          ...p,
          kpa: added(open.kpa, p.kpa),
          lowKpa: Math.min(open.lowKpa, p.lowKpa),
          highKpa: Math.max(open.highKpa, p.highKpa),
          tempC: added(open.tempC, p.tempC),
          batteryV: added(open.batteryV, p.batteryV),
          rssiDbm: added(open.rssiDbm, p.rssiDbm),
        };
        continue;
      }
      if (open) yield bucketOf(open);
      open = p;
    }
    await otherWork();
    if (parts.reduce((n, p) => n + p.kpa[1], 0) < ROWS_A_TURN) break;
    after = (parts.at(-1) as Part).lastMs;
  }
  if (open) yield bucketOf(open);
}
