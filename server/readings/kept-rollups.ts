import type { Database, Statement } from 'better-sqlite3';
import { LRUCache } from 'lru-cache';

export const DAY_MS = 86_400_000;
/** Days whose rollups are kept together: a live rig's chart reads one such stretch again, and a year has few of them. */
const STRETCH_DAYS = 8;
/** What is kept at most, bytes: a year of hours of some forty sensors heard every hour. */
const MOST_BYTES = 24 * 2 ** 20;
/** Memory that a stretch takes beside its figures, bytes (assumed). */
const BESIDE = 200;

/** Figures of a bucket, one after the other: time, ms; count; lowest, highest and last kPa; lowest, highest and last °C; time of the last reading, ms. */
export const FIGURES = 9;

/**
 * Rollups of a database as they were read last. SQLite takes longer to hand over a year of hours than everything else a chart does. A stretch is
 * read when a chart first needs it, and read again after `forget` named one of its days.
 */
export class KeptRollups {
  readonly #rows: Statement;
  readonly #next: Statement;
  readonly #kept: LRUCache<string, Float64Array>;

  /** @param mostBytes what was used longest ago is dropped when there is more */
  constructor(raw: Database, mostBytes = MOST_BYTES) {
    this.#rows = raw
      .prepare(
        `select time_ms, count, low_kpa, high_kpa, last_kpa, low_c, high_c, last_c, last_ms from rollups
         where sensor_id = ? and step_s = ? and time_ms >= ? and time_ms < ? order by time_ms`,
      )
      .raw();
    this.#next = raw.prepare('select min(time_ms) from rollups where sensor_id = ? and step_s = ? and time_ms >= ?').pluck();
    this.#kept = new LRUCache({ maxSize: mostBytes, sizeCalculation: (figures) => figures.byteLength + BESIDE });
  }

  /** A day of a sensor has changed. @param day days since the epoch, under 0 before it */
  forget(sensorId: string, stepS: number, day: number): void {
    this.#kept.delete(nameOf(sensorId, stepS, Math.floor(day / STRETCH_DAYS)));
  }

  /**
   * Rollups of whole stretches, in order of time, that together cover the times asked for and a little more at both ends.
   * @returns the figures of their buckets (`FIGURES` each); NaN for a temperature that nobody reported
   */
  *of(sensorId: string, stepS: number, fromMs: number, toMs: number): Generator<Float64Array> {
    const stretchMs = STRETCH_DAYS * DAY_MS;
    for (let stretch = Math.floor(fromMs / stretchMs); stretch * stretchMs < toMs; ) {
      const figures = this.#stretch(sensorId, stepS, stretch);
      stretch += 1;
      if (figures.length > 0) {
        yield figures;
        continue;
      }
      // Whatever the times asked for, and with a reading of another century in the file: where nothing was heard nothing is looked at.
      const next = this.#next.get(sensorId, stepS, stretch * stretchMs) as number | null;
      if (next === null) return;
      stretch = Math.floor(next / stretchMs);
    }
  }

  #stretch(sensorId: string, stepS: number, stretch: number): Float64Array {
    const stretchMs = STRETCH_DAYS * DAY_MS;
    const name = nameOf(sensorId, stepS, stretch);
    const kept = this.#kept.get(name);
    if (kept) return kept;
    const rows = this.#rows.all(sensorId, stepS, stretch * stretchMs, (stretch + 1) * stretchMs) as (number | null)[][];
    const figures = new Float64Array(rows.length * FIGURES);
    let at = 0;
    for (const row of rows) for (const figure of row) figures[at++] = figure ?? Number.NaN;
    if (figures.length > 0) this.#kept.set(name, figures);
    return figures;
  }
}

const nameOf = (sensorId: string, stepS: number, stretch: number) => `${sensorId} ${stepS} ${stretch}`;
