import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import type { Knex } from 'knex';
import Papa from 'papaparse';
import { type ColumnMapping, type FileReading, isZone, type LineFault, needsZone, readLine } from '#core/files/columns.ts';
import type { ImportAnswer } from '#schema/history.ts';
import { records } from '../../generated/bodies.js';
import { inTransaction, reading } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { otherWork } from '../loop.ts';
import { badInput } from '../problem.ts';
import { type Handlers, mustBe, WRITTEN } from '../routing.ts';
import type { WatchService } from '../watch/service.ts';
import type { CheckedReading } from '../watch/store.ts';
import { linesOf, mustBePlain } from './lines.ts';
import { pagesOf, WHOLE, type WholeReading } from './pages.ts';

const NAMED_FAULTS = 1000;
const TOLD_EVERY_MS = 250;
/** After so many lines of a file everything else that waits has a turn. */
const LINES_A_TURN = 250;

/** Cells of a line of NDJSON by their names. @returns a fault when it is no object */
function fieldsOf(line: string): ((name: string) => string | undefined) | LineFault {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    return { column: '', detail: 'is not JSON, or was cut short' };
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return { column: '', detail: 'is not an object' };
  const fields = value as Record<string, unknown>;
  return (name) => {
    const v = Object.hasOwn(fields, name) ? fields[name] : undefined;
    return v === undefined || v === null || typeof v === 'object' ? undefined : String(v);
  };
}

/** One import: reads lines, keeps the good ones, names the others. */
class FileIntake {
  readonly answer: ImportAnswer = {
    bytes: 0,
    lines: 0,
    accepted: 0,
    repeated: 0,
    passedOver: 0,
    refusedCount: 0,
    refused: [],
    from: null,
    to: null,
    cancelled: false,
  };
  readonly #mapping: ColumnMapping;
  readonly #sensors: ReadonlyMap<string, string>;
  readonly #watch: WatchService;
  readonly #nowMs: number;
  #pending: CheckedReading[] = [];
  #fromMs = Number.POSITIVE_INFINITY;
  #toMs = Number.NEGATIVE_INFINITY;
  #columns = 0;
  /** The most digits after the decimal sign that the last column had so far. */
  #digits = 0;
  /** The next line is the last and has no end: the file may have been cut short in it. */
  unended = false;

  constructor(mapping: ColumnMapping, sensors: ReadonlyMap<string, string>, watch: WatchService, nowMs: number) {
    this.#mapping = mapping;
    this.#sensors = sensors;
    this.#watch = watch;
    this.#nowMs = nowMs;
  }

  refuse(line: number, fault: LineFault): void {
    this.answer.refusedCount += 1;
    if (this.answer.refused.length < NAMED_FAULTS) this.answer.refused.push({ line, ...fault });
  }

  /** Take a line. */
  line(text: string): void {
    this.answer.lines += 1;
    const fault = this.#read(text.endsWith('\r') ? text.slice(0, -1) : text);
    if (fault) this.refuse(this.answer.lines, fault);
  }

  /** @returns what is wrong with the line */
  #read(line: string): LineFault | null {
    const { answer } = this;
    const number = answer.lines;
    if (line.trim() === '') return null;
    const m = this.#mapping;
    let cell: (column: string) => string | undefined;
    if (m.kind === 'ndjson') {
      const fields = fieldsOf(line);
      if (typeof fields !== 'function') return fields;
      cell = fields;
    } else {
      const cells = line.includes('"')
        ? (Papa.parse<string[]>(line, { delimiter: m.delimiter }).data[0] ?? [])
        : line.split(m.delimiter);
      if (this.#columns === 0) this.#columns = cells.length;
      if (number === 1 && m.header) return null;
      if (cells.length < this.#columns) {
        return {
          column: '',
          detail: `has ${cells.length} columns instead of ${this.#columns}: was it cut short?`,
        };
      }
      const digits = (cells.at(-1) ?? '').split(m.decimal)[1]?.trim().length ?? 0;
      if (this.unended && digits < this.#digits) {
        return {
          column: String(cells.length - 1),
          detail: `“${(cells.at(-1) ?? '').slice(0, 40)}” may be cut short: the file ends here without a line end`,
        };
      }
      this.#digits = Math.max(this.#digits, digits);
      cell = (column) => cells[Number(column)];
    }
    const reading = readLine(cell, m);
    if (reading === null) {
      answer.passedOver += 1;
      return null;
    }
    return 'detail' in reading ? reading : this.#keep(reading);
  }

  #keep(r: FileReading): LineFault | null {
    const sensorId = this.#sensors.get(r.wheel.toUpperCase());
    if (sensorId === undefined) {
      return {
        column: this.#mapping.wheel,
        detail: `“${r.wheel.slice(0, 40)}” isn’t a wheel or sensor of this rig`,
      };
    }
    if (r.ms > this.#nowMs + 5 * 60_000) return { column: this.#mapping.time, detail: 'is in the future' };
    if (r.ms < 0) return { column: this.#mapping.time, detail: 'is before 1970' };
    const { ms, pressureKpa, tempC, batteryV, rssiDbm } = r;
    this.#pending.push({ sensorId, ms, pressureKpa, tempC, batteryV, rssiDbm });
    if (ms < this.#fromMs) this.#fromMs = ms;
    if (ms > this.#toMs) this.#toMs = ms;
    return null;
  }

  get full(): boolean {
    return this.#pending.length >= this.#watch.together;
  }

  async flush(): Promise<void> {
    const { answer } = this;
    if (this.#pending.length > 0) {
      const batch = this.#pending;
      this.#pending = [];
      const counts = await this.#watch.ingest(batch, 'history');
      answer.accepted += counts.accepted;
      answer.repeated += counts.repeated;
    }
    answer.from = Number.isFinite(this.#fromMs) ? new Date(this.#fromMs).toISOString() : null;
    answer.to = Number.isFinite(this.#toMs) ? new Date(this.#toMs).toISOString() : null;
  }
}

/** Columns of a file of readings. */
const READING_COLUMNS = ['time', 'position', 'sensorId', 'pressureKpa', 'tempC', 'batteryV', 'rssiDbm', 'source'];

/** Columns of a file of alarms. */
const ALARM_COLUMNS = [
  'fromTime',
  'toTime',
  'position',
  'sensorId',
  'kind',
  'severity',
  'limit',
  'value',
  'worst',
  'acknowledgedAt',
  'practice',
];

/** Send a file of rows, page by page: a CSV with a line of names, or NDJSON. */
async function sendRows(
  res: Response,
  name: string,
  format: string | undefined,
  columns: string[],
  pages: AsyncIterable<readonly object[]>,
): Promise<void> {
  const ndjson = format === 'ndjson';
  res.setHeader('Content-Type', ndjson ? 'application/x-ndjson' : 'text/csv; charset=utf-8');
  res.setHeader('Content-Disposition', `attachment; filename="${name}.${ndjson ? 'ndjson' : 'csv'}"`);
  const text = async function* () {
    if (!ndjson) yield `${columns.join()}\r\n`;
    for await (const rows of pages) {
      if (ndjson) yield rows.map((r) => `${JSON.stringify(r)}\n`).join('');
      else if (rows.length > 0) yield `${Papa.unparse([...rows], { columns, header: false })}\r\n`;
    }
  };
  // A fault half way destroys the answer, so that the client sees a broken transfer and not a short file.
  await pipeline(Readable.from(text()), res);
}

/** Files of readings and alarms, in and out. */
export function fileHandlers(
  db: Knex,
  watch: WatchService,
  hub: LiveHub,
  now: () => number,
): Pick<Handlers, 'importReadings' | 'fileShape' | 'exportReadings' | 'exportAlarms'> {
  return {
    async importReadings({ params, query, req }) {
      mustBePlain(req);
      const rigId = params.rig;
      const wheels = watch.wheels(rigId);
      let mapping: unknown;
      try {
        mapping = JSON.parse(query.mapping);
      } catch {
        throw badInput([{ pointer: '/mapping', detail: 'is missing or is not JSON' }]);
      }
      mustBe(records.columnMapping, mapping);
      const m: ColumnMapping = mapping;
      if (needsZone(m.timeFormat) && !isZone(m.zone))
        throw badInput([{ pointer: '/zone', detail: `there is no time zone ${m.zone}` }]);
      const sensors = new Map<string, string>();
      for (const w of wheels) {
        if (!w.wheel.sensor) continue;
        sensors.set(w.position, w.wheel.sensor.id);
        sensors.set(w.wheel.sensor.id, w.wheel.sensor.id);
        if (w.wheel.sensor.shownId !== undefined) sensors.set(w.wheel.sensor.shownId, w.wheel.sensor.id);
      }
      const job = query.job ?? '';
      const intake = new FileIntake(m, sensors, watch, now());
      const { answer } = intake;
      let toldAt = 0;
      try {
        const count = (n: number) => {
          answer.bytes += n;
        };
        const unended = () => {
          intake.unended = true;
        };
        for await (const lines of linesOf(req, count, unended)) {
          for (const line of lines) {
            intake.line(line);
            if (intake.full) await intake.flush();
            // What came in one piece is read in one go, and the first thousands of lines take ten times as long as later ones.
            else if (answer.lines % LINES_A_TURN === 0) await otherWork();
          }
          if (job !== '' && Date.now() - toldAt > TOLD_EVERY_MS) {
            toldAt = Date.now();
            hub.send(rigId, 'import', { job, ...answer, refused: answer.refused.slice(-5) });
          }
        }
      } catch (error) {
        // The sender went away: that is a cancel. Whole lines that came are kept.
        if (!req.destroyed && !(error as Error).message.includes('aborted')) throw error;
        answer.cancelled = true;
      }
      await intake.flush();
      const shape = query.shape ?? '';
      if (shape !== '' && answer.accepted + answer.repeated > 0) {
        await inTransaction(db, (raw) =>
          raw
            .prepare(
              'insert into file_shapes (shape, mapping, used_at) values (?, ?, ?) on conflict (shape) do update set mapping = excluded.mapping, used_at = excluded.used_at',
            )
            .run(shape, JSON.stringify(m), new Date(now()).toISOString()),
        );
      }
      if (job !== '') hub.send(rigId, 'import', { job, ...answer, done: true });
      return answer.cancelled ? WRITTEN : answer;
    },

    async fileShape({ query }) {
      const row = await reading(
        db,
        (raw) => raw.prepare('select mapping from file_shapes where shape = ?').pluck().get(query.shape) as string | undefined,
      );
      return { mapping: row === undefined ? null : JSON.parse(row) };
    },

    async exportReadings({ params, query, res }) {
      const wheels = watch.wheels(params.rig).filter((w) => w.wheel.sensor);
      const positions = new Map(wheels.map((w) => [w.wheel.sensor?.id as string, w.position]));
      const fromMs = query.from === undefined ? -8.64e15 : Date.parse(query.from);
      const toMs = query.to === undefined ? 8.64e15 : Date.parse(query.to);
      const pages = async function* () {
        for (const [sensorId, position] of positions)
          for await (const rows of pagesOf<WholeReading>(db, sensorId, fromMs, toMs, WHOLE)) {
            yield rows.map(([timeMs, pressureKpa, tempC, batteryV, rssiDbm, source]) => ({
              time: new Date(timeMs).toISOString(),
              position,
              sensorId,
              pressureKpa,
              tempC,
              batteryV,
              rssiDbm,
              source,
            }));
          }
      };
      await sendRows(res, 'readings', query.format, READING_COLUMNS, pages());
      return WRITTEN;
    },

    async exportAlarms({ params, query, res }) {
      // Before anything is sent: a rig that isn't there gets its problem.
      watch.wheels(params.rig);
      await sendRows(res, 'alarms', query.format, ALARM_COLUMNS, watch.alarmPages(params.rig));
      return WRITTEN;
    },
  };
}
