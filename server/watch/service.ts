import { randomBytes } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import { type RigWheel, unitLetter, wheelsOf } from '#core/rig/positions.ts';
import { WATCH } from '#core/watch/parameters.ts';
import { NO_SURROUNDINGS, type Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import {
  type Alarm,
  LONGEST_SHELF_MINUTES,
  type RigEvent,
  type Shelf,
  type TrackRequest,
  type TypedRound,
  type WatchView,
  type WheelView,
} from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { inTransaction, reading } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { noteRound, roundTime } from '../log/events.ts';
import { otherWork } from '../loop.ts';
import { badInput, HttpProblem, notFound } from '../problem.ts';
import { listRecords } from '../records/store.ts';
import { Changes } from './changes.ts';
import { type Arrived, type Counts, noCounts, storeAndJudge } from './ingest.ts';
import { endShelf, endShelves, type ShelfEnd, saveMemory, saveState, writeEvents } from './ledger.ts';
import { MOST_LATE_TOGETHER, Pace } from './pace.ts';
import { readSeconds, restoreRig } from './restore.ts';
import { type AlarmRow, type CheckedReading, prepare, type Statements, toAlarm } from './store.ts';
import {
  assemble,
  type BenchClock,
  clockMs,
  lastHeard,
  limitsOf,
  type Place,
  type Places,
  sentOf,
  silencedUntil,
  stamp,
  type Watched,
  wheelView,
} from './watched.ts';

/** A line of the log of what was shelved. */
interface ShelfRow {
  alarm_id: string;
  position: string;
  kind: Alarm['kind'];
  from_ms: number;
  until_ms: number;
  ended_ms: number | null;
  ended_by: string | null;
}

/** Readings that wait to be stored, and who waits for them. */
interface Job {
  readings: readonly CheckedReading[];
  counts: Counts;
  source: ReadingSource;
  options: { onlyRig?: string; also?: (raw: Database) => void };
  resolve(counts: Counts): void;
  reject(error: unknown): void;
}

const NOWHERE: readonly Place[] = [];

/** Alarms of a rig that are open, the newest first. There are few, so they are found by the index of open ones and then sorted. */
const OPEN_ALARMS =
  'select * from alarms indexed by alarms_active where rig_id = ? and to_ms is null and withdrawn = 0 and from_ms <= ? order by from_ms desc limit ?';
/** Those that are over, and were not over before a time. */
const PAST_ALARMS =
  'select * from alarms where rig_id = ? and withdrawn = 0 and from_ms <= ? and to_ms >= ? order by from_ms desc limit ?';
/** The next of those that are over. */
const PAST_PAGE =
  'select * from alarms where rig_id = ? and withdrawn = 0 and to_ms is not null and (from_ms, id) < (?, ?) order by from_ms desc, id desc limit ?';
const ALARMS_A_PAGE = 1000;
/** The last that is over, of each wheel and kind: SQLite takes the other columns from the row with the greatest. */
const LAST_ALARMS =
  'select *, max(from_ms) from alarms where rig_id = ? and withdrawn = 0 and to_ms is not null group by position, kind';

/** Whether a job has a transaction of its own. */
const isAlone = ({ options }: Job): boolean => options.onlyRig !== undefined || options.also !== undefined;

const iso = (ms: number) => new Date(ms).toISOString();

const monitorsOf = (raw: Database): Map<string, Monitor> => new Map(listRecords<Monitor>(raw, 'monitors').map((m) => [m.id, m]));

/**
 * The one path of all readings: bench, HTTP, files and typed ones are stored here and shown to the watch of every rig that holds
 * the sensor, in one transaction; what came of it is sent on the live streams after the transaction is committed.
 */
export class WatchService {
  readonly #db: Knex;
  readonly #hub: LiveHub;
  readonly #now: () => number;
  #watched = new Map<string, Watched>();
  /** Sensor to the rigs and wheels that hold it; sensors of units in no rig have an empty list. */
  #places: Places = new Map();
  /** IDs that were seen later of sensors that are kept under a key. */
  #keys = new Map<string, string>();
  #prepared: Statements | null = null;
  #queue: Job[] = [];
  #waiting = 0;
  #draining = false;
  readonly #pace = new Pace();
  /** How often each rig was changed in this run of the server. */
  readonly #revisions = new Map<string, number>();
  readonly #run = randomBytes(4).toString('hex');
  /** Memory is ahead of what is stored: a transaction failed, and so did taking up the stored state. */
  #behind = false;

  constructor(db: Knex, hub: LiveHub, now: () => number) {
    this.#db = db;
    this.#hub = hub;
    this.#now = now;
  }

  get #statements(): Statements {
    if (!this.#prepared) throw new Error('The watch has not been loaded yet.');
    return this.#prepared;
  }

  /** Take up everything from the database: at the start, and after a transaction that failed. */
  async load(): Promise<void> {
    await reading(this.#db, (raw) => this.#load(raw));
    this.#behind = false;
  }

  #load(raw: Database): void {
    this.#prepared = prepare(raw);
    const before = this.#watched;
    this.#watched = new Map();
    const units = new Map(listRecords<Unit>(raw, 'units').map((u) => [u.id, u]));
    const monitors = monitorsOf(raw);
    for (const rig of listRecords<Rig>(raw, 'rigs')) {
      const watched = restoreRig(raw, rig, units, monitors);
      watched.bench = before.get(rig.id)?.bench ?? null;
      this.#watched.set(rig.id, watched);
    }
    this.#indexSensors([...units.values()]);
    // The clock may have been set back while nobody looked. Nothing is sent: every page asks for everything when it connects.
    const changes = new Changes();
    for (const watched of this.#watched.values())
      if (!watched.bench) this.#tickRig(watched, changes, (watch, ms, out) => watch.restartAhead(ms, out));
  }

  #indexSensors(units: readonly Unit[]): void {
    this.#places = new Map();
    this.#keys = new Map();
    for (const unit of units) {
      for (const { wheel } of wheelsOf([unit])) {
        for (const sensor of [wheel.sensor, wheel.second?.sensor]) {
          if (!sensor) continue;
          this.#places.set(sensor.id, []);
          if (sensor.shownId !== undefined) this.#keys.set(sensor.shownId, sensor.id);
        }
      }
    }
    for (const [rigId, watched] of this.#watched) {
      for (const { wheel, position } of watched.wheels) {
        if (wheel.sensor) this.#places.get(wheel.sensor.id)?.push({ rigId, position });
        if (wheel.second) this.#places.get(wheel.second.sensor.id)?.push({ rigId, position, second: true });
      }
    }
  }

  #get(rigId: string): Watched {
    const watched = this.#watched.get(rigId);
    if (!watched) throw notFound('rig');
    return watched;
  }

  rigWithUnits(rigId: string): { rig: Rig; units: Unit[] } {
    const { rig, units } = this.#get(rigId);
    return { rig, units };
  }

  /** What the display of a rig brings its pressures to by itself, °C; undefined: it shows what is in the tire. */
  correctsToC(rigId: string): number | undefined {
    return this.#get(rigId).monitor?.correctsToC;
  }

  has(rigId: string): boolean {
    return this.#watched.has(rigId);
  }

  /** All rigs that are watched. */
  rigIds(): string[] {
    return [...this.#watched.keys()];
  }

  /** Whether a sensor is on a wheel. */
  knows(sensorId: string): boolean {
    return this.#places.has(this.#keys.get(sensorId) ?? sensorId);
  }

  wheels(rigId: string): readonly RigWheel[] {
    return this.#get(rigId).wheels;
  }

  /**
   * Run work in a transaction; tell what happened after it is kept, take up the stored state again when it is not.
   * @param untouched whether nothing in memory had been changed yet when it failed: then there is nothing to take up again. A refused edit
   * must not cost every other rig a reload
   */
  async #change<T>(work: (raw: Database, changes: Changes) => T, untouched: () => boolean = () => false): Promise<T> {
    if (this.#behind) await this.load();
    const changes = new Changes();
    let result: T;
    let begun = false;
    try {
      result = await inTransaction(this.#db, (raw) => {
        begun = true;
        return work(raw, changes);
      });
    } catch (error) {
      if (begun && !untouched()) {
        this.#behind = true;
        // When that fails too it is tried before the next change.
        await this.load().catch(() => undefined);
      }
      throw error;
    }
    changes.send(this.#hub, this.#watched, this.#statements, this.#now());
    return result;
  }

  /**
   * Change documents, and what follows from them for the watch, in one transaction.
   * @param work changes the records
   */
  async changeRecords<T>(work: (raw: Database) => T): Promise<T> {
    const rigs = new Set<string>();
    let following = false;
    const result = await this.#change(
      (raw, changes) => {
        const answer = work(raw);
        following = true;
        this.#follow(raw, changes, rigs);
        return answer;
      },
      () => !following,
    );
    for (const rigId of rigs) this.#tell(rigId);
    return result;
  }

  /** Tell the pages of a rig that it was changed, and to what: who has that already needn't ask. */
  #tell(rigId: string): void {
    this.#revisions.set(rigId, (this.#revisions.get(rigId) ?? 0) + 1);
    const watched = this.#watched.get(rigId);
    const event: RigEvent = { rigId, revision: this.#revision(rigId), documents: watched ? stamp(watched) : '' };
    this.#hub.send(rigId, 'rig', event);
  }

  #revision = (rigId: string): string => `${this.#run}-${this.#revisions.get(rigId) ?? 0}`;

  /** Bring every watch in line with the stored documents. */
  #follow(raw: Database, changes: Changes, changed: Set<string>): void {
    const units = new Map(listRecords<Unit>(raw, 'units').map((u) => [u.id, u]));
    const monitors = monitorsOf(raw);
    const rigs = listRecords<Rig>(raw, 'rigs');
    const there = new Set(rigs.map((r) => r.id));
    for (const id of this.#watched.keys()) {
      if (there.has(id)) continue;
      this.#watched.delete(id);
      changed.add(id);
    }
    for (const rig of rigs) {
      const old = this.#watched.get(rig.id);
      if (!old) {
        this.#watched.set(rig.id, restoreRig(raw, rig, units, monitors));
        continue;
      }
      const next = assemble(rig, units, monitors);
      next.resting = old.resting;
      if (stamp(old) === stamp(next)) continue;
      changed.add(rig.id);
      const reset = new Set<string>();
      for (const [position, w] of old.byPosition) {
        if (next.byPosition.get(position)?.wheel.sensor?.id !== w.wheel.sensor?.id) reset.add(position);
      }
      const events: WatchEvent[] = [];
      old.watch.configure(limitsOf(next), reset, events);
      for (const position of reset) {
        old.sources.delete(position);
        this.#statements.forgetWheel.run(rig.id, position);
      }
      next.watch = old.watch;
      next.sources = old.sources;
      readSeconds(raw, next);
      next.silence = old.silence;
      next.shelved = old.shelved;
      next.bench = old.bench;
      next.sent = old.sent;
      next.keptCheckpoint = old.keptCheckpoint;
      this.#watched.set(rig.id, next);
      writeEvents(this.#statements, next, events, changes, old);
      saveState(this.#statements, next);
      for (const w of next.wheels) {
        saveMemory(this.#statements, next, w.position);
        changes.wheel(rig.id, w.position);
      }
    }
    this.#indexSensors([...units.values()]);
  }

  /** Find what the sensor is kept under where a reading names its wheel, or an ID that was seen later. */
  #settle(arrived: readonly Arrived[]): void {
    for (const { reading: r } of arrived) {
      if (r.wheel) {
        const wheel = this.#watched.get(r.wheel.rigId)?.byPosition.get(r.wheel.position)?.wheel;
        r.sensorId = (r.wheel.second ? wheel?.second?.sensor : wheel?.sensor)?.id ?? '';
      } else if (this.#keys.size > 0) r.sensorId = this.#keys.get(r.sensorId) ?? r.sensorId;
    }
  }

  /**
   * Store readings and show them to the watch. What arrives while others are being stored is stored together with the next: one
   * transaction, one look at the disk, one way back for those that are late.
   * @param onlyRig for a bench: its rig alone judges them
   * @param also work to be kept in the same transaction
   */
  ingest(
    readings: readonly CheckedReading[],
    source: ReadingSource,
    options: { onlyRig?: string; also?: (raw: Database) => void } = {},
  ): Promise<Counts> {
    return new Promise((resolve, reject) => {
      this.#queue.push({ readings, counts: noCounts(), source, options, resolve, reject });
      this.#waiting += readings.length;
      if (!this.#draining) void this.#drain();
    });
  }

  /** Readings that wait to be stored. */
  get waiting(): number {
    return this.#waiting;
  }

  /** Readings in one transaction, at most, just now: who hands in many hands in so many at a time. */
  get together(): number {
    return this.#pace.most;
  }

  /** Resolves when nothing waits to be stored. */
  async idle(): Promise<void> {
    while (this.#draining) await otherWork();
  }

  /** What is stored is about to be another world: before the next change it is taken up. */
  putDown(): void {
    this.#behind = true;
  }

  /** Store what waits, so much at a time that everything else is answered in between. */
  async #drain(): Promise<void> {
    this.#draining = true;
    while (this.#queue.length > 0) {
      await otherWork();
      const jobs = this.#nextJobs();
      try {
        await this.#store(jobs);
        for (const job of jobs) job.resolve(job.counts);
      } catch (error) {
        for (const job of jobs) job.reject(error);
      }
      for (const job of jobs) this.#waiting -= job.readings.length;
    }
    // In the same turn as the look at the queue: whoever comes after this starts the next pass.
    this.#draining = false;
  }

  /** Store jobs and have them judged: in one transaction, unless readings come late. */
  async #store(jobs: readonly Job[]): Promise<void> {
    const [{ source, options }] = jobs as [Job];
    const left: Arrived[] = jobs.flatMap(({ readings, counts }) =>
      readings.map((reading) => ({ reading, counts, places: NOWHERE })),
    );
    left.sort((a, b) => a.reading.ms - b.reading.ms);
    for (;;) {
      await this.#change((raw, changes) => {
        const from = performance.now();
        this.#settle(left);
        const late = !isAlone(jobs[0] as Job) && left.some((a) => this.#comesLate(a));
        const part = left.splice(0, late ? MOST_LATE_TOGETHER : left.length);
        storeAndJudge(this.#statements, this.#places, this.#watched, part, source, options.onlyRig, this.#now(), changes);
        if (!late) this.#pace.took(part.length, performance.now() - from);
        options.also?.(raw);
      });
      if (left.length === 0) return;
      await otherWork();
    }
  }

  /** Whether a watch goes back for a reading. */
  #comesLate({ reading }: Arrived): boolean {
    const places = this.#places.get(reading.sensorId) ?? [];
    return places.some(({ rigId, second }) => !second && this.#watched.get(rigId)?.watch.comesLate(reading.ms));
  }

  /** The first of those that wait, and those right after it that can be stored with it. */
  #nextJobs(): Job[] {
    const first = this.#queue.shift() as Job;
    const jobs = [first];
    if (isAlone(first)) return jobs;
    let count = first.readings.length;
    for (;;) {
      const next = this.#queue[0];
      if (!next || isAlone(next) || next.source !== first.source || count + next.readings.length > this.together) return jobs;
      count += next.readings.length;
      jobs.push(this.#queue.shift() as Job);
    }
  }

  /** Let a rig's watch look at the clock, and keep what comes of it. */
  #tickRig(current: Watched, changes: Changes, work: (watch: Watch, ms: number, out: WatchEvent[]) => readonly string[]): void {
    const s = this.#statements;
    const rigId = current.rig.id;
    // Kept in step with the clock, so that one that is set back is noticed.
    const silentUntil = current.silence?.untilMs;
    silencedUntil(current, this.#now());
    if (current.silence?.untilMs !== silentUntil) saveState(s, current);
    const nowMs = clockMs(current, this.#now());
    if (current.shelved) {
      for (const id of endShelves(s, current, nowMs)) changes.alarm(rigId, id);
      current.shelved = s.nextShelf.pluck().get(rigId) != null;
    }
    const events: WatchEvent[] = [];
    const restarted = work(current.watch, nowMs, events);
    if (events.length === 0 && restarted.length === 0) return;
    for (const position of restarted) {
      const sensorId = current.byPosition.get(position)?.wheel.sensor?.id;
      if (sensorId) {
        const after = [sensorId, nowMs + WATCH.aheadMs] as const;
        s.markDaysAhead.run(...after);
        s.copyAhead.run(...after);
        s.deleteAhead.run(...after);
      }
      current.sources.delete(position);
      saveMemory(s, current, position);
      changes.wheel(rigId, position);
    }
    writeEvents(s, current, events, changes);
    for (const e of events) saveMemory(s, current, e.position);
    saveState(s, current);
  }

  /** Let time pass for a rig: who has gone silent, whose value has grown old? */
  async tick(rigId: string): Promise<void> {
    await this.#change((_raw, changes) => {
      const current = this.#watched.get(rigId);
      if (!current) return;
      this.#tickRig(current, changes, (watch, ms, out) => watch.tick(ms, out));
      if (!this.#hub.has(rigId)) return;
      for (const w of current.wheels) {
        const view = wheelView(current, w.position, clockMs(current, this.#now()));
        if (!view) continue;
        const { state, age } = sentOf(view);
        const before = current.sent.get(w.position);
        // A page has no clock of the rig's: so it gets a wheel when its state changes, and while its figure grows old.
        if (before?.state !== state || before.age !== age) changes.wheel(rigId, w.position);
      }
    });
  }

  /** Let time pass for every rig that runs by the wall clock. @param failed told of one that can't: the others still have their turn */
  async tickAll(failed: (error: unknown, rigId: string) => void): Promise<void> {
    const rigs = [...this.#watched.values()].filter((w) => w.bench === null).map((w) => w.rig.id);
    for (const rigId of rigs) await this.tick(rigId).catch((error) => failed(error, rigId));
  }

  /** The bench takes over the rig's clock, moves it on, or (null) gives it back. */
  async setBench(rigId: string, clock: BenchClock | null): Promise<void> {
    const watched = this.#get(rigId);
    if (clock !== null) {
      watched.bench = clock;
      // In steps, for each change of what is around it closes the door to late readings.
      watched.watch.surround({
        airC: Math.round(clock.airC),
        moving: clock.moving,
        ambientKpa: Math.round(clock.ambientKpa * 2) / 2,
      });
      return;
    }
    // Bench air is not the road's: what it said is forgotten, so that the first real reading counts whatever its time.
    await this.#change((_raw, changes) => {
      const current = this.#get(rigId);
      const reset = new Set([...current.sources].filter(([, source]) => source === 'bench').map(([position]) => position));
      const events: WatchEvent[] = [];
      current.watch.surround(NO_SURROUNDINGS);
      current.watch.configure(limitsOf(current), reset, events);
      writeEvents(this.#statements, current, events, changes);
      for (const position of reset) {
        current.sources.delete(position);
        this.#statements.forgetWheel.run(rigId, position);
      }
      current.bench = null;
      saveState(this.#statements, current);
      for (const w of current.wheels) changes.wheel(rigId, w.position);
    });
  }

  async silence(rigId: string, minutes: number): Promise<WatchView> {
    await this.#change((_raw) => {
      const watched = this.#get(rigId);
      const [nowMs, durationMs] = [this.#now(), minutes * 60_000];
      watched.silence = minutes > 0 ? { untilMs: nowMs + durationMs, durationMs, seenMs: nowMs } : null;
      saveState(this.#statements, watched);
    });
    this.#tell(rigId);
    return this.view(rigId);
  }

  async alarms(
    rigId: string,
    options: { active?: boolean; limit: number; fromMs?: number | null; toMs?: number | null },
  ): Promise<Alarm[]> {
    this.#get(rigId);
    const { active, limit, fromMs, toMs } = options;
    return reading(this.#db, (raw) => {
      const rows = raw.prepare(OPEN_ALARMS).all(rigId, toMs ?? 9e15, limit) as AlarmRow[];
      if (!active)
        rows.push(...(raw.prepare(PAST_ALARMS).all(rigId, toMs ?? 9e15, fromMs ?? -9e15, limit - rows.length) as AlarmRow[]));
      return rows.map(toAlarm);
    });
  }

  /** The last alarm of each kind on each wheel, open or over; one that is open comes after one that isn't. */
  async lastAlarms(rigId: string): Promise<Alarm[]> {
    const past = await reading(this.#db, (raw) => raw.prepare(LAST_ALARMS).all(rigId) as AlarmRow[]);
    return [...past.map(toAlarm), ...(await this.alarms(rigId, { active: true, limit: ALARMS_A_PAGE }))];
  }

  /** All alarms of a rig, some thousand at a time, in the order of `alarms`; between two pages others have a turn. */
  async *alarmPages(rigId: string): AsyncGenerator<Alarm[]> {
    yield await this.alarms(rigId, { active: true, limit: ALARMS_A_PAGE });
    for (let last: AlarmRow | undefined; ; ) {
      const from = [rigId, last?.from_ms ?? 9e15, last?.id ?? ''];
      const rows = await reading(this.#db, (raw) => raw.prepare(PAST_PAGE).all(...from, ALARMS_A_PAGE) as AlarmRow[]);
      if (rows.length === 0) return;
      last = rows.at(-1);
      yield rows.map(toAlarm);
      await otherWork();
    }
  }

  /** Mark an alarm as seen. Doing it twice changes nothing. */
  async acknowledge(rigId: string, alarmId: string): Promise<Alarm> {
    this.#get(rigId);
    return this.#change(
      (raw, changes) => {
        raw
          .prepare(
            'update alarms set acknowledged_at = ?, acknowledged_worst = worst where id = ? and rig_id = ? and acknowledged_at is null',
          )
          .run(iso(clockMs(this.#get(rigId), this.#now())), alarmId, rigId);
        const row = raw.prepare('select * from alarms where id = ? and rig_id = ?').get(alarmId, rigId) as AlarmRow | undefined;
        if (!row) throw notFound('alarm');
        changes.alarm(rigId, alarmId);
        return toAlarm(row);
      },
      () => true,
    );
  }

  /**
   * Shelve one alarm: it makes no sound for a time, unless it gets worse. Its mark stays.
   * @param minutes of the rig's clock; 0 ends it
   */
  async shelve(rigId: string, alarmId: string, minutes: number): Promise<Alarm> {
    this.#get(rigId);
    return this.#change((raw, changes) => {
      const watched = this.#get(rigId);
      const s = this.#statements;
      const find = raw.prepare('select * from alarms where id = ? and rig_id = ? and withdrawn = 0');
      const row = find.get(alarmId, rigId) as AlarmRow | undefined;
      if (!row) throw notFound('alarm');
      if (row.to_ms !== null) throw new HttpProblem(409, 'This alarm is over, so there is nothing to shelve');
      const most = LONGEST_SHELF_MINUTES[row.severity];
      if (minutes > most) throw badInput([{ pointer: '/minutes', detail: `is over ${most}, the longest for this alarm` }]);
      const nowMs = clockMs(watched, this.#now());
      endShelf(s, alarmId, nowMs, 'owner');
      if (minutes > 0) {
        const untilMs = Math.round(nowMs + minutes * 60_000);
        s.shelve.run(nowMs, untilMs, alarmId);
        s.logShelf.run(alarmId, rigId, row.position, row.kind, nowMs, untilMs);
        watched.shelved = true;
      }
      changes.alarm(rigId, alarmId);
      return toAlarm(find.get(alarmId, rigId) as AlarmRow);
    });
  }

  /** What was shelved, the latest first. */
  async shelves(rigId: string): Promise<Shelf[]> {
    this.#get(rigId);
    return reading(this.#db, (raw) =>
      (
        raw.prepare('select * from shelves where rig_id = ? order by from_ms desc, id desc limit 200').all(rigId) as ShelfRow[]
      ).map((r) => ({
        alarmId: r.alarm_id,
        position: r.position,
        kind: r.kind,
        fromTime: iso(r.from_ms),
        untilTime: iso(r.until_ms),
        ended: r.ended_ms === null ? null : { time: iso(r.ended_ms), by: r.ended_by as ShelfEnd },
      })),
    );
  }

  view(rigId: string): WatchView {
    const watched = this.#get(rigId);
    const until = silencedUntil(watched, this.#now());
    const { topUp, track } = watched.watch;
    return {
      rigId,
      revision: this.#revision(rigId),
      time: iso(clockMs(watched, this.#now())),
      clock: watched.bench ? 'bench' : 'wall',
      wheels: watched.wheels.map((w) => wheelView(watched, w.position, clockMs(watched, this.#now())) as WheelView),
      silencedUntil: until === null ? null : iso(until),
      airC: watched.bench?.airC ?? null,
      moving: watched.bench?.moving ?? null,
      resting: [...watched.resting],
      missing: [...watched.watch.missing.keys()],
      topUp: topUp && { positions: topUp.positions, untilTime: iso(topUp.untilMs) },
      track: track && {
        sinceTime: iso(track.sinceMs),
        untilTime: iso(track.untilMs),
        endedTime: track.endedMs === null ? null : iso(track.endedMs),
      },
    };
  }

  /** Run a command of the owner's on the watch of a rig, and keep and tell what came of it. */
  async #command(rigId: string, work: (watched: Watched, ms: number, events: WatchEvent[]) => void): Promise<WatchView> {
    this.#get(rigId);
    await this.#change((_raw, changes) => {
      const watched = this.#get(rigId);
      const events: WatchEvent[] = [];
      // Event time: no older than what was heard last.
      const ms = Math.max(clockMs(watched, this.#now()), lastHeard(watched));
      work(watched, ms, events);
      writeEvents(this.#statements, watched, events, changes);
      for (const w of watched.wheels) {
        saveMemory(this.#statements, watched, w.position);
        changes.wheel(rigId, w.position);
      }
      saveState(this.#statements, watched);
    });
    this.#tell(rigId);
    return this.view(rigId);
  }

  /** Disconnect a unit, so that its wheels rest, or connect it again. @throws HttpProblem 400 at a letter that is no unit */
  rest(rigId: string, unit: string, resting: boolean): Promise<WatchView> {
    const { units } = this.#get(rigId);
    if (!units.some((_, i) => unitLetter(i) === unit))
      throw badInput([{ pointer: '/unit', detail: `the rig has no unit ${unit}` }]);
    return this.#command(rigId, (watched, ms, events) => {
      if (resting) watched.resting.add(unit);
      else watched.resting.delete(unit);
      const limits = limitsOf(watched);
      // What a unit said before it was away says nothing of its tires now.
      const reset = new Set(resting ? [] : Object.keys(limits).filter((p) => p.startsWith(unit)));
      watched.watch.configure(limits, reset, events);
      watched.watch.tick(ms, events);
      for (const position of reset) {
        watched.sources.delete(position);
        this.#statements.forgetWheel.run(rigId, position);
      }
    });
  }

  /** Begin filling the wheels named; none: end it. @throws HttpProblem 400 at a wheel that has no sensor */
  topUp(rigId: string, positions: readonly string[]): Promise<WatchView> {
    this.#mustHaveSensor(rigId, positions, (i) => `/positions/${i}`);
    return this.#command(rigId, (watched, ms, events) => {
      if (positions.length === 0) watched.watch.endTopUp(ms, events);
      else watched.watch.startTopUp(positions, ms, events);
    });
  }

  /** A track day begins for so many minutes, is over, or the road pressures are set. */
  track(rigId: string, mode: TrackRequest['mode'], minutes: number): Promise<WatchView> {
    return this.#command(rigId, (watched, ms, events) => {
      if (mode === 'track') watched.watch.startTrack(ms + minutes * 60_000, ms, events);
      else if (mode === 'over') watched.watch.endTrack(ms, events);
      else watched.watch.forgetTrack(ms, events);
    });
  }

  /** What the owner says of a wheel: its sensor is off or on its valve, or its pressure was set on purpose. */
  answer(rigId: string, position: string, answer: 'off' | 'on' | 'set'): Promise<WatchView> {
    this.#mustHaveSensor(rigId, [position], () => '/position');
    return this.#command(rigId, (watched, ms, events) => {
      if (answer === 'set') watched.watch.takeAsSet(position, ms, events);
      else watched.watch.answerOff(position, answer === 'off', ms, events);
    });
  }

  /** Voltage of the repeater's own supply, as a program or the owner gives it. It is usually on the last unit. */
  repeater(rigId: string, volts: number): Promise<WatchView> {
    const { units } = this.#get(rigId);
    return this.#command(rigId, (watched, ms, events) => {
      watched.watch.tellRepeater(unitLetter(units.length - 1), volts, ms, events);
    });
  }

  #mustHaveSensor(rigId: string, positions: readonly string[], pointer: (i: number) => string): void {
    const { byPosition } = this.#get(rigId);
    positions.forEach((p, i) => {
      if (!byPosition.get(p)?.wheel.sensor) throw badInput([{ pointer: pointer(i), detail: `${p} has no sensor in this rig` }]);
    });
  }

  /** Figures the owner typed off a monitor, judged like any reading. */
  async typed(rigId: string, round: TypedRound): Promise<Counts & { time: string }> {
    const watched = this.#get(rigId);
    this.#mustHaveSensor(
      rigId,
      round.readings.map((r) => r.position),
      (i) => `/readings/${i}/position`,
    );
    if (watched.bench) {
      throw new HttpProblem(409, 'The bench drives this rig', { detail: 'Close the bench before you type real figures.' });
    }
    const { id } = round;
    const before = id === undefined ? undefined : await reading(this.#db, (raw) => roundTime(raw, rigId, id));
    // Its answer was lost on the way.
    if (before !== undefined) return { ...noCounts(), repeated: round.readings.length, time: iso(before) };
    const typedMs = round.time === undefined ? this.#now() - (round.ageS ?? 0) * 1000 : Date.parse(round.time);
    if (typedMs > this.#now() + WATCH.aheadMs) throw badInput([{ pointer: '/time', detail: 'is in the future' }]);
    // A watch that is a few minutes fast: taken as now, or the figure would hide what is heard until then.
    const ms = Math.round(Math.min(typedMs, this.#now()));
    const readings = round.readings.map((r) => ({
      sensorId: watched.byPosition.get(r.position)?.wheel.sensor?.id as string,
      ms,
      pressureKpa: r.pressureKpa,
      tempC: r.tempC,
      batteryV: null,
      rssiDbm: null,
    }));
    const figures = Object.fromEntries(round.readings.map((r) => [r.position, r.pressureKpa]));
    const also = (raw: Database) => noteRound(raw, rigId, ms, figures, id);
    return { ...(await this.ingest(readings, 'typed', { also })), time: iso(ms) };
  }

  /** Limits of a rig as the watch holds them now. */
  limits(rigId: string): Record<string, WheelLimits> {
    return limitsOf(this.#get(rigId));
  }
}
