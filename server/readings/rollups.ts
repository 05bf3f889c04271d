import type { Database, Statement } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { SensorHour } from '#core/log/drives.ts';
import type { ChartPoint } from '#schema/history.ts';
import { inTransaction, reading } from '../db/open.ts';
import { otherWork } from '../loop.ts';
import { DAY_MS, FIGURES, KeptRollups } from './kept-rollups.ts';

/** Steps that are kept, s. */
export const ROLLUP_STEPS = [300, 3600] as const;
/** Under this step readings themselves are shown, s. */
const RAW_UNDER_S = 60;

/**
 * Bring the rollups of a sensor in line with its readings, day by day as far as they are not.
 * @param forMs begin no further day after this time
 * @returns days that are left
 */
export function refreshRollups(
  raw: Database,
  sensorId: string,
  fromMs: number,
  toMs: number,
  forMs = Number.POSITIVE_INFINITY,
): number {
  const endMs = performance.now() + forMs;
  const days = raw
    .prepare('select day from rollup_days where sensor_id = ? and day between ? and ?')
    .pluck()
    .all(sensorId, Math.floor(fromMs / DAY_MS), Math.floor(toMs / DAY_MS)) as number[];
  if (days.length === 0) return 0;
  const clear = raw.prepare('delete from rollups where sensor_id = ? and step_s = ? and time_ms >= ? and time_ms < ?');
  // `%` may be under 0 before 1970.
  const make = (step: number) =>
    raw.prepare(
      `insert into rollups (sensor_id, step_s, time_ms, count, low_kpa, high_kpa, last_kpa, low_c, high_c, last_c, last_ms)
     select g.sensor_id, ${step}, g.bucket, g.count, g.low_kpa, g.high_kpa, r.pressure_kpa, g.low_c, g.high_c, r.temp_c, g.last_ms
     from (select sensor_id, time_ms - ((time_ms % ${step * 1000}) + ${step * 1000}) % ${step * 1000} as bucket, count(*) as count, min(pressure_kpa) as low_kpa,
       max(pressure_kpa) as high_kpa, min(temp_c) as low_c, max(temp_c) as high_c, max(time_ms) as last_ms
       from readings where sensor_id = :sensor and time_ms >= :from and time_ms < :to group by 2) g
     join readings r on r.sensor_id = g.sensor_id and r.time_ms = g.last_ms`,
    );
  const done = raw.prepare('delete from rollup_days where sensor_id = ? and day = ?');
  const makers = ROLLUP_STEPS.map((step) => [step, make(step)] as const);
  const { kept } = statementsOf(raw);
  let made = 0;
  for (const day of days) {
    for (const [step, maker] of makers) {
      clear.run(sensorId, step, day * DAY_MS, (day + 1) * DAY_MS);
      maker.run({ sensor: sensorId, from: day * DAY_MS, to: (day + 1) * DAY_MS });
      kept.forget(sensorId, step, day);
    }
    done.run(sensorId, day);
    made += 1;
    if (performance.now() >= endMs) break;
  }
  return days.length - made;
}

/** A slice takes about this long, or as long as one day does, ms; nothing else is answered in it. Days of few readings share one. */
const SLICE_MS = 8;

/** What a chart asks of each of its sensors, prepared once for a database. */
interface ChartStatements {
  out: Statement;
  readings: Statement;
  kept: KeptRollups;
}
const prepared = new WeakMap<Database, ChartStatements>();

function statementsOf(raw: Database): ChartStatements {
  const known = prepared.get(raw);
  if (known) return known;
  const made: ChartStatements = {
    out: raw.prepare('select 1 from rollup_days where sensor_id = ? and day between ? and ? limit 1'),
    readings: raw
      .prepare(
        `select time_ms, 1, pressure_kpa, pressure_kpa, pressure_kpa, temp_c, temp_c, temp_c, time_ms from readings
         where sensor_id = ? and time_ms >= ? and time_ms < ? order by time_ms`,
      )
      .raw(),
    kept: new KeptRollups(raw),
  };
  prepared.set(raw, made);
  return made;
}

/** Whether rollups of a sensor in this stretch are out of date. */
const isOut = (raw: Database, sensorId: string, fromMs: number, toMs: number): boolean =>
  statementsOf(raw).out.get(sensorId, Math.floor(fromMs / DAY_MS), Math.floor(toMs / DAY_MS)) !== undefined;

/**
 * Bring the rollups of sensors in line with their readings, in slices: between two of them whatever else is waiting is answered.
 * A big import marks years of days at once; made in one go they would hold up every page for seconds.
 */
export async function refreshInSlices(
  db: Knex,
  sensorIds: readonly string[],
  fromMs: number,
  toMs: number,
  sliceMs = SLICE_MS,
): Promise<void> {
  const out = await reading(db, (raw) => sensorIds.filter((id) => isOut(raw, id, fromMs, toMs)));
  for (const sensorId of out) {
    while ((await inTransaction(db, (raw) => refreshRollups(raw, sensorId, fromMs, toMs, sliceMs))) > 0) await otherWork();
    await otherWork();
  }
}

type Row = [number, number, number, number, number, number | null, number | null, number | null, number];

/** The step a chart of so many points needs, s; 0: the readings themselves. */
export function chartStep(fromMs: number, toMs: number, points: number): number {
  const wanted = (toMs - fromMs) / 1000 / points;
  if (wanted < RAW_UNDER_S) return 0;
  const base = wanted < 3600 ? 300 : 3600;
  return Math.ceil(wanted / base) * base;
}

/**
 * A sensor's readings between two times, gathered in steps. Lowest, highest and last are exactly those of the readings: whole buckets come
 * from the rollups, the ends from the readings.
 * @param stepS 0, or a multiple of 300
 */
export function chartSeries(raw: Database, sensorId: string, fromMs: number, toMs: number, stepS: number): ChartPoint[] {
  const { readings, kept } = statementsOf(raw);
  const rows = (from: number, to: number) => (from < to ? (readings.all(sensorId, from, to) as Row[]) : []);
  const end = toMs + 1;
  if (stepS === 0) return rows(fromMs, end).map(toPoint);
  if (isOut(raw, sensorId, fromMs, toMs)) refreshRollups(raw, sensorId, fromMs, toMs);
  const base = stepS % 3600 === 0 ? 3600 : 300;
  const innerFrom = Math.ceil(fromMs / (base * 1000)) * base * 1000;
  const innerTo = Math.max(innerFrom, Math.floor(end / (base * 1000)) * base * 1000);
  const stepMs = stepS * 1000;
  const out: ChartPoint[] = [];
  let last: ChartPoint | undefined;
  const add = (p: ChartPoint) => {
    p.ms = Math.floor(p.ms / stepMs) * stepMs;
    if (last?.ms !== p.ms) {
      last = p;
      out.push(p);
      return;
    }
    last.count += p.count;
    if (p.lowKpa < last.lowKpa) last.lowKpa = p.lowKpa;
    if (p.highKpa > last.highKpa) last.highKpa = p.highKpa;
    last.lastKpa = p.lastKpa;
    if (p.lowC !== null && (last.lowC === null || p.lowC < last.lowC)) last.lowC = p.lowC;
    if (p.highC !== null && (last.highC === null || p.highC > last.highC)) last.highC = p.highC;
    last.lastC = p.lastC;
    last.lastMs = p.lastMs;
  };
  for (const row of rows(fromMs, Math.min(innerFrom, end))) add(toPoint(row));
  for (const figures of kept.of(sensorId, base, innerFrom, innerTo))
    for (let i = 0; i < figures.length; i += FIGURES) {
      const ms = figures[i] as number;
      if (ms >= innerFrom && ms < innerTo) add(pointOf(figures, i));
    }
  for (const row of rows(Math.max(innerTo, innerFrom), end)) add(toPoint(row));
  return out;
}

/** Hours that a sensor was heard in, from a time on, as far as its rollups are in line with its readings. */
export function hoursSince(raw: Database, sensorId: string, fromMs: number): SensorHour[] {
  const hours: SensorHour[] = [];
  for (const figures of statementsOf(raw).kept.of(sensorId, 3600, fromMs, Number.MAX_SAFE_INTEGER))
    for (let i = 0; i < figures.length; i += FIGURES) {
      const { ms, count, lowC, highC } = pointOf(figures, i);
      if (ms >= fromMs) hours.push({ ms, count, lowC, highC });
    }
  return hours;
}

const known = (figure: number): number | null => (Number.isNaN(figure) ? null : figure);

/** The bucket whose figures begin at `i`. */
const pointOf = (figures: Float64Array, i: number): ChartPoint => ({
  ms: figures[i] as number,
  count: figures[i + 1] as number,
  lowKpa: figures[i + 2] as number,
  highKpa: figures[i + 3] as number,
  lastKpa: figures[i + 4] as number,
  lowC: known(figures[i + 5] as number),
  highC: known(figures[i + 6] as number),
  lastC: known(figures[i + 7] as number),
  lastMs: figures[i + 8] as number,
});

const toPoint = ([ms, count, lowKpa, highKpa, lastKpa, lowC, highC, lastC, lastMs]: Row): ChartPoint => ({
  ms,
  count,
  lowKpa,
  highKpa,
  lastKpa,
  lowC,
  highC,
  lastC,
  lastMs,
});
