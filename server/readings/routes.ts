import express, { type Request, type Response } from 'express';
import type { Knex } from 'knex';
import type { ReadingsAnswer } from '#schema/history.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { IngestAnswer } from '#schema/reading.ts';
import { reading } from '../db/open.ts';
import { badInput, HttpProblem } from '../problem.ts';
import type { Handlers } from '../routing.ts';
import { MOST_TOGETHER } from '../watch/pace.ts';
import type { WatchService } from '../watch/service.ts';
import type { CheckedReading } from '../watch/store.ts';
import { checkReading, timeFaults } from './check.ts';
import { learnedHotRun } from './hot-run.ts';
import { parseInSlices } from './json-list.ts';
import { linesOf, mustBePlain } from './lines.ts';
import { bucketsOf, pagesOf, WHOLE, type WholeReading } from './pages.ts';
import { quickReading } from './quick.ts';

const BODY_LIMIT = 25_000_000;
/** With this many readings waiting to be stored a new sender is asked to come again. */
const MOST_WAITING = 8 * MOST_TOGETHER;
const NAMED_REFUSALS = 1000;
const MOST_ROWS = 50_000;
/** Of readings dated ahead of the clock the first so many of each wheel are listed. */
const MOST_AHEAD = 100;

/** Counts up a batch line by line. */
class Intake {
  readonly answer: IngestAnswer = { accepted: 0, repeated: 0, unknownSensor: 0, ahead: 0, refused: [], refusedCount: 0 };
  #pending: CheckedReading[] = [];
  readonly #watch: WatchService;
  readonly #nowMs: number;
  readonly #history: boolean;

  constructor(watch: WatchService, nowMs: number, history: boolean) {
    this.#watch = watch;
    this.#nowMs = nowMs;
    this.#history = history;
  }

  /** @returns true when there is a batch to be flushed */
  take(line: number, value: unknown): boolean {
    const checked = checkReading(value, this.#nowMs, this.#history);
    if (Array.isArray(checked)) this.refuse(line, checked);
    else this.#pending.push(checked);
    return this.#pending.length >= this.#watch.together;
  }

  /** The same for a reading whose fields are right; its time is checked against the clock. */
  takeChecked(line: number, reading: CheckedReading): boolean {
    const faults = this.#history ? null : timeFaults(reading.ms, this.#nowMs);
    if (faults) this.refuse(line, faults);
    else this.#pending.push(reading);
    return this.#pending.length >= this.#watch.together;
  }

  refuse(line: number, errors: FieldProblem[]): void {
    this.answer.refusedCount += 1;
    if (this.answer.refused.length >= NAMED_REFUSALS) return;
    const [first] = errors;
    this.answer.refused.push({
      line,
      pointer: first?.pointer ?? '',
      detail: errors.map((e) => (errors.length > 1 ? `${e.pointer} ${e.detail}` : e.detail)).join('; '),
    });
  }

  async flush(): Promise<void> {
    if (this.#pending.length === 0) return;
    const counts = await this.#watch.ingest(this.#pending, this.#history ? 'history' : 'live');
    this.#pending = [];
    this.answer.accepted += counts.accepted;
    this.answer.repeated += counts.repeated;
    this.answer.unknownSensor += counts.unknownSensor;
    this.answer.ahead += counts.ahead;
  }

  /** @throws HttpProblem 400 when no line could be read */
  async finish(): Promise<IngestAnswer> {
    await this.flush();
    const { answer } = this;
    if (answer.accepted + answer.repeated + answer.unknownSensor > 0) return answer;
    if (answer.refusedCount === 0) throw badInput([{ pointer: '', detail: 'holds no reading' }], 'No reading was sent');
    const errors = answer.refused.map((r) => ({ pointer: `/${r.line - 1}${r.pointer}`, detail: r.detail }));
    throw new HttpProblem(400, 'No line could be read', { errors, extra: { refused: answer.refused } });
  }
}

async function takeStream(req: Request, intake: Intake): Promise<void> {
  let number = 0;
  let bytes = 0;
  const count = (n: number) => {
    bytes += n;
    if (bytes > BODY_LIMIT) {
      throw new HttpProblem(413, 'The body is too large', { detail: `At most ${BODY_LIMIT / 1_000_000} MB are taken.` });
    }
  };
  for await (const lines of linesOf(req, count)) {
    for (const line of lines) {
      number += 1;
      const quick = quickReading(line);
      if (quick) {
        if (intake.takeChecked(number, quick)) await intake.flush();
        continue;
      }
      if (line.trim() === '') continue;
      let value: unknown;
      try {
        value = JSON.parse(line);
      } catch (error) {
        intake.refuse(number, [{ pointer: '', detail: `is not JSON: ${(error as Error).message}` }]);
        continue;
      }
      if (intake.take(number, value)) await intake.flush();
    }
  }
}

type ListedReading = ReadingsAnswer['readings'][number];
type Rest = Omit<ListedReading, 'position' | 'sensorId' | 'time' | 'batteryV' | 'rssiDbm'>;

/** A reading as it is stored. */
export interface ReadingRow {
  sensor_id: string;
  time_ms: number;
  pressure_kpa: number;
  temp_c: number | null;
  battery_v: number | null;
  rssi_dbm: number | null;
  source: string;
}

const takeText = express.text({ limit: BODY_LIMIT, type: 'application/json' });
/** The JSON body of a request, for a route that takes other bodies too. */
const jsonBody = async (req: Request, res: Response): Promise<unknown> => {
  await new Promise<void>((resolve, reject) => takeText(req, res, (error?: unknown) => (error ? reject(error) : resolve())));
  return typeof req.body === 'string' ? parseInSlices(req.body) : undefined;
};

const ms = (time: string | undefined): number | null => (time === undefined ? null : Date.parse(time));

/** Readings by program, and what is learned from them. */
export function readingHandlers(
  db: Knex,
  watch: WatchService,
  now: () => number,
): Pick<Handlers, 'ingest' | 'readings' | 'hotRun'> {
  return {
    async ingest({ query, req, res }) {
      if (watch.waiting > MOST_WAITING) {
        throw new HttpProblem(503, 'More readings are coming in than can be stored', {
          detail: 'None of this request was taken. Send it again in a second.',
          headers: { 'Retry-After': '1' },
        });
      }
      const intake = new Intake(watch, now(), query.history !== undefined);
      if (req.is('application/x-ndjson')) {
        mustBePlain(req);
        await takeStream(req, intake);
      } else if (req.is('application/json')) {
        const list = await jsonBody(req, res);
        if (!Array.isArray(list)) throw badInput([{ pointer: '', detail: 'must be a list of readings' }]);
        for (const [i, value] of list.entries()) if (intake.take(i + 1, value)) await intake.flush();
      } else {
        throw new HttpProblem(415, 'Send application/x-ndjson or a JSON array');
      }
      return intake.finish();
    },

    async readings({ params, query }) {
      const rigId = params.rig;
      const position = query.position ?? null;
      const wheels = watch.wheels(rigId).filter((w) => w.wheel.sensor && (position === null || w.position === position));
      if (position !== null && !watch.wheels(rigId).some((w) => w.position === position)) {
        throw badInput([{ pointer: '/position', detail: `${position} is not a wheel of this rig` }]);
      }
      const stepS = query.step ?? null;
      const toMs = ms(query.to);
      const fromMs = ms(query.from);
      const ids = wheels.map((w) => ({ position: w.position, id: w.wheel.sensor?.id as string }));
      const { begin, end, aheadOfClock } = await reading(db, (raw) => {
        const last = raw.prepare('select max(time_ms) as ms from readings where sensor_id = ?');
        // Who asks for what came since his last reading gets nothing, not a fault, while nothing has come.
        const until =
          toMs ?? ids.reduce((most, { id }) => Math.max(most, (last.get(id) as { ms: number | null }).ms ?? 0), fromMs ?? 0);
        const ahead = raw.prepare('select * from readings_ahead where sensor_id = ? order by time_ms limit ?');
        return {
          end: until,
          begin: fromMs ?? until - 24 * 3600_000,
          aheadOfClock: ids.flatMap(({ position: p, id }) =>
            (ahead.all(id, MOST_AHEAD) as ReadingRow[]).map((r) => ({
              position: p,
              sensorId: r.sensor_id,
              time: new Date(r.time_ms).toISOString(),
              pressureKpa: r.pressure_kpa,
              tempC: r.temp_c,
            })),
          ),
        };
      });
      if (begin > end) throw badInput([{ pointer: '/from', detail: 'is after `to`' }]);
      const readings: ListedReading[] = [];
      const add = (
        at: { position: string; id: string },
        ms: number,
        batteryV: number | null,
        rssiDbm: number | null,
        rest: Rest,
      ) => {
        readings.push({
          position: at.position,
          sensorId: at.id,
          time: new Date(ms).toISOString(),
          ...rest,
          ...(batteryV === null ? {} : { batteryV }),
          ...(rssiDbm === null ? {} : { rssiDbm }),
        });
        if (readings.length > MOST_ROWS)
          throw new HttpProblem(400, 'Too many readings for one answer', {
            detail: `More than ${MOST_ROWS}. Ask for a shorter time, one position, or a step.`,
            errors: [{ pointer: '/step', detail: 'is needed for so long a time' }],
          });
      };
      for (const at of ids)
        if (stepS === null)
          for await (const rows of pagesOf<WholeReading>(db, at.id, begin, end, WHOLE))
            for (const [timeMs, pressureKpa, tempC, batteryV, rssiDbm, source] of rows)
              add(at, timeMs, batteryV, rssiDbm, { pressureKpa, tempC, source });
        else
          for await (const b of bucketsOf(db, at.id, begin, end, stepS * 1000))
            add(at, b.ms, b.batteryV, b.rssiDbm, {
              pressureKpa: b.meanKpa,
              tempC: b.tempC,
              lowestKpa: b.lowKpa,
              highestKpa: b.highKpa,
              count: b.count,
            });
      return {
        from: new Date(begin).toISOString(),
        to: new Date(end).toISOString(),
        readings,
        ...(aheadOfClock.length > 0 ? { aheadOfClock } : {}),
      };
    },

    async hotRun({ params }) {
      const wheels = watch.wheels(params.rig);
      return { axles: await learnedHotRun(db, wheels) };
    },
  };
}
