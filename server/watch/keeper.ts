import { randomUUID } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import { axleOf, type RigWheel, unitLetter, wheelsOf } from '#core/rig/positions.ts';
import { WATCH } from '#core/watch/parameters.ts';
import { severityOf } from '#core/watch/view.ts';
import {
  type Footing,
  type LoggedReading,
  NO_SURROUNDINGS,
  type Past,
  Watch,
  type WatchEvent,
  type WatchSnapshot,
  type WheelLimits,
  type WheelMemory,
} from '#core/watch/watch.ts';
import type { Alarm, AlarmKind, TypedRound, WatchView, WheelView } from '#schema/alarm.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { inTransaction } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { badInput, HttpProblem, notFound } from '../problem.ts';
import { listRecords } from '../records/store.ts';
import { type AlarmRow, type CheckedReading, insertFresh, markDays, prepare, type Statements, toAlarm } from './store.ts';
import { assemble, type BenchClock, lastHeard, limitsOf, sentOf, stamp, type Watched, wheelView } from './watched.ts';

/** What a batch came to. */
export interface Counts {
  accepted: number;
  repeated: number;
  unknownSensor: number;
}

/** A watch holds the readings of ten minutes, and of two thousand more; a rig that has stored more since has not judged them. */
const MOST_SINCE = 50_000;
const iso = (ms: number) => new Date(ms).toISOString();

/** How much worse an alarm that was seen must grow before it rings again; null: it does not. */
const worseBy = (kind: AlarmKind): number | null =>
  kind === 'hot' || kind === 'apart' ? WATCH.worseK : kind === 'silent' || kind === 'battery' ? null : WATCH.worseKpa;

/** What happened in a transaction, to be told once it is kept. */
interface Told {
  wheels: Map<string, Set<string>>;
  alarms: Map<string, Set<string>>;
}

/**
 * The one path of all readings: bench, HTTP, files and typed ones are stored here and shown to the watch of every rig that holds
 * the sensor, in one transaction; what came of it is told on the live streams after the transaction is kept.
 */
export class WatchKeeper {
  readonly #db: Knex;
  readonly #hub: LiveHub;
  readonly #now: () => number;
  #watched = new Map<string, Watched>();
  /** Sensor to the rigs and wheels that hold it; sensors of units in no rig have an empty list. */
  #places = new Map<string, { rigId: string; position: string }[]>();
  #statements: Statements | null = null;

  constructor(db: Knex, hub: LiveHub, now: () => number) {
    this.#db = db;
    this.#hub = hub;
    this.#now = now;
  }

  /** Take up everything from the database: at the start, and after a transaction that failed. */
  async load(): Promise<void> {
    await inTransaction(this.#db, (raw) => this.#load(raw));
  }

  #load(raw: Database): void {
    this.#statements = prepare(raw);
    const before = this.#watched;
    this.#watched = new Map();
    const units = new Map(listRecords<Unit>(raw, 'units').map((u) => [u.id, u]));
    for (const rig of listRecords<Rig>(raw, 'rigs')) {
      const watched = this.#takeUp(raw, rig, units);
      watched.bench = before.get(rig.id)?.bench ?? null;
      this.#watched.set(rig.id, watched);
    }
    this.#indexSensors([...units.values()]);
  }

  /** A rig with what the database remembers of its wheels. */
  #takeUp(raw: Database, rig: Rig, units: ReadonlyMap<string, Unit>): Watched {
    const watched = assemble(rig, units);
    const state = raw.prepare('select silenced_until, state, resting, footing from rig_states where rig_id = ?').get(rig.id) as
      | { silenced_until: string | null; state: string | null; resting: string; footing: string | null }
      | undefined;
    watched.resting = new Set(state ? (JSON.parse(state.resting) as string[]) : []);
    const memories = raw.prepare('select position, sensor_id, memory from wheel_memory where rig_id = ?').all(rig.id) as {
      position: string;
      sensor_id: string;
      memory: string;
    }[];
    const wheels: Record<string, WheelMemory> = {};
    const snapshot: Partial<WatchSnapshot> = { ...(state?.state ? JSON.parse(state.state) : {}), wheels };
    const sourceOf = raw.prepare('select source from readings where sensor_id = ? and time_ms = ?');
    for (const m of memories) {
      if (watched.byPosition.get(m.position)?.wheel.sensor?.id !== m.sensor_id) continue;
      const memory = JSON.parse(m.memory) as WheelMemory;
      wheels[m.position] = memory;
      const row = sourceOf.get(m.sensor_id, memory.lastMs) as { source: ReadingSource } | undefined;
      if (row) watched.sources.set(m.position, row.source);
    }
    watched.keptFooting = state?.footing ? (JSON.parse(state.footing) as Footing) : null;
    const past = watched.keptFooting && this.#past(raw, watched, watched.keptFooting);
    watched.watch = new Watch(limitsOf(watched), { sleepAware: true }, snapshot, past ?? undefined);
    watched.silencedUntil = state?.silenced_until ?? null;
    return watched;
  }

  /** The readings of a rig since its footing; null when there are more than a watch keeps. */
  #past(raw: Database, watched: Watched, footing: Footing): Past | null {
    const since = raw.prepare(
      `select time_ms as ms, pressure_kpa as kpa, temp_c as tempC, battery_v as volts from readings
       where sensor_id = ? and time_ms >= ? order by time_ms limit ?`,
    );
    const readings: LoggedReading[] = [];
    for (const { position, wheel } of watched.wheels) {
      if (!wheel.sensor) continue;
      const rows = since.all(wheel.sensor.id, footing.ms, MOST_SINCE + 1) as {
        ms: number;
        kpa: number;
        tempC: number | null;
        volts: number | null;
      }[];
      for (const r of rows) {
        readings.push({ position, ms: r.ms, kpa: r.kpa, tempC: r.tempC ?? Number.NaN, volts: r.volts ?? Number.NaN });
      }
      if (readings.length > MOST_SINCE) return null;
    }
    return { footing, readings };
  }

  #indexSensors(units: readonly Unit[]): void {
    this.#places = new Map();
    for (const unit of units) {
      for (const w of wheelsOf([unit])) if (w.wheel.sensor) this.#places.set(w.wheel.sensor.id, []);
    }
    for (const [rigId, watched] of this.#watched) {
      for (const w of watched.wheels)
        if (w.wheel.sensor) this.#places.get(w.wheel.sensor.id)?.push({ rigId, position: w.position });
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

  has(rigId: string): boolean {
    return this.#watched.has(rigId);
  }

  wheels(rigId: string): readonly RigWheel[] {
    return this.#get(rigId).wheels;
  }

  /** Run work in a transaction; tell what happened after it is kept, take up the stored state again when it is not. */
  async #change<T>(work: (raw: Database, told: Told) => T): Promise<T> {
    const told: Told = { wheels: new Map(), alarms: new Map() };
    let result: T;
    try {
      result = await inTransaction(this.#db, (raw) => work(raw, told));
    } catch (error) {
      await this.load();
      throw error;
    }
    this.#tell(told);
    return result;
  }

  #tell(told: Told): void {
    for (const [rigId, positions] of told.wheels) {
      const watched = this.#watched.get(rigId);
      if (!watched || !this.#hub.has(rigId)) continue;
      for (const position of positions) {
        const view = wheelView(watched, position, this.#clockMs(watched));
        if (!view) continue;
        const before = watched.sent.get(position);
        watched.sent.set(position, sentOf(view));
        if (view.time !== null && view.time !== before?.time) {
          const { sensorId, time, pressureKpa, tempC } = view;
          this.#hub.send(rigId, 'reading', { position, sensorId, time, pressureKpa, tempC, practice: view.practice });
        }
        this.#hub.send(rigId, 'wheel', view);
      }
    }
    for (const [rigId, ids] of told.alarms) {
      if (!this.#hub.has(rigId)) continue;
      for (const id of ids) {
        const row = this.#statements?.alarmById.get(id) as AlarmRow | undefined;
        if (row) this.#hub.send(rigId, 'alarm', toAlarm(row));
      }
    }
  }

  /**
   * Change documents, and what follows from them for the watch, in one transaction.
   * @param work changes the records
   */
  async changeRecords<T>(work: (raw: Database) => T): Promise<T> {
    const rigs = new Set<string>();
    const result = await this.#change((raw, told) => {
      const answer = work(raw);
      this.#follow(raw, told, rigs);
      return answer;
    });
    for (const rigId of rigs) this.#hub.send(rigId, 'rig', { rigId });
    return result;
  }

  /** Bring every watch in line with the stored documents. */
  #follow(raw: Database, told: Told, changed: Set<string>): void {
    const units = new Map(listRecords<Unit>(raw, 'units').map((u) => [u.id, u]));
    const rigs = listRecords<Rig>(raw, 'rigs');
    const there = new Set(rigs.map((r) => r.id));
    for (const id of this.#watched.keys()) if (!there.has(id)) this.#watched.delete(id);
    for (const rig of rigs) {
      const old = this.#watched.get(rig.id);
      if (!old) {
        this.#watched.set(rig.id, this.#takeUp(raw, rig, units));
        continue;
      }
      const next = assemble(rig, units);
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
        this.#statements?.forgetWheel.run(rig.id, position);
      }
      next.watch = old.watch;
      next.sources = old.sources;
      next.silencedUntil = old.silencedUntil;
      next.bench = old.bench;
      next.sent = old.sent;
      next.keptFooting = old.keptFooting;
      this.#watched.set(rig.id, next);
      this.#writeEvents(next, events, told, old);
      this.#saveState(next);
      for (const w of next.wheels) {
        this.#saveMemory(next, w.position);
        touch(told.wheels, rig.id, w.position);
      }
    }
    this.#indexSensors([...units.values()]);
  }

  /**
   * Store readings and show them to the watch.
   * @param onlyRig for a bench: its rig alone judges them
   * @param also work to be kept in the same transaction
   */
  async ingest(
    readings: readonly CheckedReading[],
    source: ReadingSource,
    options: { onlyRig?: string; also?: (raw: Database) => void } = {},
  ): Promise<Counts> {
    return this.#change((raw, told) => {
      const s = this.#statements ?? prepare(raw);
      this.#statements = s;
      const counts: Counts = { accepted: 0, repeated: 0, unknownSensor: 0 };
      const fresh: { reading: CheckedReading; places: { rigId: string; position: string }[] }[] = [];
      const known: { reading: CheckedReading; places: { rigId: string; position: string }[] }[] = [];
      for (const r of readings) {
        const places = this.#places.get(r.sensorId);
        if (places) known.push({ reading: r, places });
        else counts.unknownSensor += 1;
      }
      for (const k of insertFresh(s, known, source)) {
        counts.accepted += 1;
        if (k.places.length > 0) fresh.push(k);
      }
      counts.repeated = known.length - counts.accepted;
      // The watch goes by event time, whatever order a batch came in.
      fresh.sort((a, b) => a.reading.ms - b.reading.ms);
      markDays(s, fresh);
      const events = new Map<string, WatchEvent[]>();
      for (const { reading: r, places } of fresh) {
        for (const { rigId, position } of places) {
          if (options.onlyRig !== undefined && options.onlyRig !== rigId) continue;
          const watched = this.#watched.get(rigId) as Watched;
          // While the bench drives a rig, its clock rules: readings from elsewhere are kept but not judged.
          if (watched.bench && source !== 'bench') continue;
          let list = events.get(rigId);
          if (!list) {
            list = [];
            events.set(rigId, list);
          }
          if (watched.watch.read(position, r.ms, r.pressureKpa, r.tempC ?? Number.NaN, list, r.batteryV ?? Number.NaN)) {
            watched.sources.set(position, source);
            touch(told.wheels, rigId, position);
          }
        }
      }
      for (const [rigId, list] of events) {
        const watched = this.#watched.get(rigId) as Watched;
        this.#writeEvents(watched, list, told);
        // Holding one wheel against the others of its axle changes what is remembered of all of them.
        const axles = new Set([...(told.wheels.get(rigId) ?? [])].map(axleOf));
        for (const w of watched.wheels) if (axles.has(axleOf(w.position))) this.#saveMemory(watched, w.position);
        this.#saveState(watched);
      }
      options.also?.(raw);
      return counts;
    });
  }

  #writeEvents(watched: Watched, events: readonly WatchEvent[], told: Told, sensorsFrom: Watched = watched): void {
    const s = this.#statements as Statements;
    const rigId = watched.rig.id;
    events.forEach((e, i) => {
      const open = s.openAlarm.get(rigId, e.position, e.kind) as { id: string; from_ms: number } | undefined;
      const evidence = e.evidence ? JSON.stringify(e.evidence) : null;
      let id: string | undefined;
      if (e.type === 'raised') {
        // A late reading may tell of one that is over already, beside one that is open.
        const end =
          open && events.slice(i + 1).find((x) => x.type === 'returned' && x.kind === e.kind && x.position === e.position);
        if (!open || end) {
          id = randomUUID();
          const sensorId = (sensorsFrom.byPosition.get(e.position) ?? watched.byPosition.get(e.position))?.wheel.sensor?.id ?? '';
          const practice = watched.sources.get(e.position) === 'bench' || watched.bench !== null ? 1 : 0;
          const severity = severityOf(e.kind);
          const toMs = open && end ? end.atMs : null;
          s.insertAlarm.run(
            id,
            rigId,
            e.position,
            sensorId,
            e.kind,
            severity,
            e.fromMs,
            toMs,
            e.limit,
            e.value,
            e.worst,
            practice,
            evidence,
          );
        }
      } else if (e.type === 'worse' && open) {
        id = open.id;
        s.worseAlarm.run(e.worst, e.limit, evidence, id);
        const by = worseBy(e.kind);
        if (by !== null) s.ringAgain.run(id, by);
      } else if (e.type === 'returned' && open?.from_ms === e.fromMs) {
        id = open.id;
        s.closeAlarm.run(e.atMs, id);
      } else if (e.type === 'corrected' || e.type === 'withdrawn') {
        const row = s.alarmFrom.get(rigId, e.position, e.kind, e.oldFromMs as number) as { id: string } | undefined;
        id = row?.id;
        if (id && e.type === 'withdrawn') s.withdrawAlarm.run(e.oldFromMs as number, id);
        else if (id && (e.toMs != null || !open || open.id === id)) {
          s.correctAlarm.run(e.fromMs, e.toMs ?? null, e.limit, e.value, e.worst, evidence, id);
        }
      }
      if (id) touch(told.alarms, rigId, id);
      touch(told.wheels, rigId, e.position);
    });
  }

  #saveMemory(watched: Watched, position: string): void {
    const memory = watched.watch.memory(position);
    const sensorId = watched.byPosition.get(position)?.wheel.sensor?.id;
    if (memory && sensorId && memory.lastMs !== null) {
      this.#statements?.saveMemory.run(watched.rig.id, position, sensorId, JSON.stringify(memory));
    }
  }

  #saveState(watched: Watched): void {
    const { watch, rig, silencedUntil, resting } = watched;
    const state = JSON.stringify(watch.rigState());
    this.#statements?.saveState.run(rig.id, silencedUntil, state, JSON.stringify([...resting]));
    // The bench tells its rig of another air many times a minute, and none of its readings is late.
    const footing = watched.bench ? null : watch.footing;
    if (footing === watched.keptFooting) return;
    watched.keptFooting = footing;
    this.#statements?.saveFooting.run(footing && JSON.stringify(footing), rig.id);
  }

  #clockMs(watched: Watched): number {
    return watched.bench?.ms ?? this.#now();
  }

  /** Let time pass for a rig: who has gone silent, whose value has grown old? */
  async tick(rigId: string): Promise<void> {
    await this.#change((_raw, told) => {
      const events: WatchEvent[] = [];
      const current = this.#watched.get(rigId);
      if (!current) return;
      current.watch.tick(this.#clockMs(current), events);
      if (events.length > 0) {
        this.#writeEvents(current, events, told);
        for (const e of events) this.#saveMemory(current, e.position);
        this.#saveState(current);
      }
      if (!this.#hub.has(rigId)) return;
      for (const w of current.wheels) {
        const view = wheelView(current, w.position, this.#clockMs(current));
        if (!view) continue;
        const { state, age } = sentOf(view);
        const before = current.sent.get(w.position);
        // A page has no clock of the rig's: it is told when a wheel comes into another state, and while its figure grows old.
        if (before?.state !== state || before.age !== age) touch(told.wheels, rigId, w.position);
      }
    });
  }

  /** Rigs that run by the wall clock. */
  wallRigs(): string[] {
    return [...this.#watched.values()].filter((w) => w.bench === null).map((w) => w.rig.id);
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
    await this.#change((_raw, told) => {
      const current = this.#get(rigId);
      const reset = new Set([...current.sources].filter(([, source]) => source === 'bench').map(([position]) => position));
      const events: WatchEvent[] = [];
      current.watch.surround(NO_SURROUNDINGS);
      current.watch.configure(limitsOf(current), reset, events);
      this.#writeEvents(current, events, told);
      for (const position of reset) {
        current.sources.delete(position);
        this.#statements?.forgetWheel.run(rigId, position);
      }
      current.bench = null;
      this.#saveState(current);
      for (const w of current.wheels) touch(told.wheels, rigId, w.position);
    });
  }

  async silence(rigId: string, minutes: number): Promise<WatchView> {
    await this.#change((_raw) => {
      const watched = this.#get(rigId);
      watched.silencedUntil = minutes > 0 ? iso(this.#now() + minutes * 60_000) : null;
      this.#saveState(watched);
    });
    this.#hub.send(rigId, 'rig', { rigId });
    return this.view(rigId);
  }

  async alarms(
    rigId: string,
    options: { active?: boolean; limit: number; fromMs?: number | null; toMs?: number | null },
  ): Promise<Alarm[]> {
    this.#get(rigId);
    return inTransaction(this.#db, (raw) => {
      const rows = raw
        .prepare(
          `select * from alarms where rig_id = ? and withdrawn = 0 and from_ms <= ? and coalesce(to_ms, 9e15) >= ? ${options.active ? 'and to_ms is null' : ''} order by (to_ms is null) desc, from_ms desc limit ?`,
        )
        .all(rigId, options.toMs ?? 9e15, options.fromMs ?? -9e15, options.limit) as AlarmRow[];
      return rows.map(toAlarm);
    });
  }

  /** Mark an alarm as seen. Doing it twice changes nothing. */
  async acknowledge(rigId: string, alarmId: string): Promise<Alarm> {
    this.#get(rigId);
    return this.#change((raw, told) => {
      raw
        .prepare(
          'update alarms set acknowledged_at = ?, acknowledged_worst = worst where id = ? and rig_id = ? and acknowledged_at is null',
        )
        .run(iso(this.#now()), alarmId, rigId);
      const row = raw.prepare('select * from alarms where id = ? and rig_id = ?').get(alarmId, rigId) as AlarmRow | undefined;
      if (!row) throw notFound('alarm');
      touch(told.alarms, rigId, alarmId);
      return toAlarm(row);
    });
  }

  view(rigId: string): WatchView {
    const watched = this.#get(rigId);
    const until = watched.silencedUntil;
    const { topUp } = watched.watch;
    return {
      rigId,
      time: iso(this.#clockMs(watched)),
      clock: watched.bench ? 'bench' : 'wall',
      wheels: watched.wheels.map((w) => wheelView(watched, w.position, this.#clockMs(watched)) as WheelView),
      silencedUntil: until !== null && Date.parse(until) > this.#now() ? until : null,
      airC: watched.bench?.airC ?? null,
      moving: watched.bench?.moving ?? null,
      resting: [...watched.resting],
      missing: [...watched.watch.missing.keys()],
      topUp: topUp && { positions: topUp.positions, untilTime: iso(topUp.untilMs) },
    };
  }

  /** Run a command of the owner's on the watch of a rig, and keep and tell what came of it. */
  async #command(rigId: string, work: (watched: Watched, ms: number, events: WatchEvent[]) => void): Promise<WatchView> {
    this.#get(rigId);
    await this.#change((_raw, told) => {
      const watched = this.#get(rigId);
      const events: WatchEvent[] = [];
      // Event time: no older than what was heard last.
      const ms = Math.max(this.#clockMs(watched), lastHeard(watched));
      work(watched, ms, events);
      this.#writeEvents(watched, events, told);
      for (const w of watched.wheels) {
        this.#saveMemory(watched, w.position);
        touch(told.wheels, rigId, w.position);
      }
      this.#saveState(watched);
    });
    this.#hub.send(rigId, 'rig', { rigId });
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
        this.#statements?.forgetWheel.run(rigId, position);
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

  /** What the owner says of a wheel: its sensor is off or on its valve, or its pressure was set on purpose. */
  answer(rigId: string, position: string, answer: 'off' | 'on' | 'set'): Promise<WatchView> {
    this.#mustHaveSensor(rigId, [position], () => '/position');
    return this.#command(rigId, (watched, ms, events) => {
      if (answer === 'set') watched.watch.takeAsSet(position, ms, events);
      else watched.watch.answerOff(position, answer === 'off', ms, events);
    });
  }

  /** What the repeater's own supply is at, V, as a program or the owner tells it. It stands on the last unit, as a rule. */
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
    const ms = round.time === undefined ? this.#now() : Date.parse(round.time);
    if (ms > this.#now() + 5 * 60_000) throw badInput([{ pointer: '/time', detail: 'is in the future' }]);
    const readings = round.readings.map((r) => ({
      sensorId: watched.byPosition.get(r.position)?.wheel.sensor?.id as string,
      ms,
      pressureKpa: r.pressureKpa,
      tempC: r.tempC,
      batteryV: null,
      rssiDbm: null,
    }));
    return { ...(await this.ingest(readings, 'typed')), time: iso(ms) };
  }

  /** Limits of a rig as the watch holds them now. */
  limits(rigId: string): Record<string, WheelLimits> {
    return limitsOf(this.#get(rigId));
  }
}

function touch(map: Map<string, Set<string>>, key: string, value: string): void {
  const set = map.get(key);
  if (set) set.add(value);
  else map.set(key, new Set([value]));
}
