import { randomUUID } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import { pressureAt } from '#core/gas/gas.ts';
import { gasTempFrom } from '#core/kit/physics.ts';
import { axleTruth } from '#core/pressure/axle.ts';
import { axleOf, type RigWheel, settingOf, unitLetter, wheelsOf } from '#core/rig/positions.ts';
import { WATCH } from '#core/watch/parameters.ts';
import { severityOf, stateOf } from '#core/watch/view.ts';
import {
  BUSY_WINDOW_MS,
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

/** A reading that passed its checks. */
export interface CheckedReading {
  sensorId: string;
  ms: number;
  pressureKpa: number;
  /** Null: a typed figure without one. */
  tempC: number | null;
  batteryV: number | null;
  rssiDbm: number | null;
}

/** What a batch came to. */
export interface Counts {
  accepted: number;
  repeated: number;
  unknownSensor: number;
}

/** The bench's clock and weather, while it drives the rig. */
export interface BenchClock {
  ms: number;
  airC: number;
  moving: boolean;
  /** Absolute ambient pressure, kPa. */
  ambientKpa: number;
}

/** What a page was last told of a wheel. */
interface Sent {
  state: string;
  time: string | null;
  /** Age as far as words tell it: minutes, then full hours; null while the figure is live or there is none. */
  age: number | null;
}

function sentOf({ state, time, ageS }: WheelView): Sent {
  const age = state === 'live' || ageS === null ? null : ageS < 6000 ? Math.round(ageS / 60) : Math.round(ageS / 3600) * 60;
  return { state, time, age };
}

/** One rig under watch. */
interface Watched {
  rig: Rig;
  units: Unit[];
  wheels: RigWheel[];
  byPosition: Map<string, RigWheel>;
  watch: Watch;
  /** Source of the last reading of each wheel. */
  sources: Map<string, ReadingSource>;
  silencedUntil: string | null;
  /** Letters of units that are disconnected. */
  resting: Set<string>;
  bench: BenchClock | null;
  /** What was last sent, to send only what changed. */
  sent: Map<string, Sent>;
  /** What the database holds of where the watch goes back to for a late reading. */
  keptFooting: Footing | null;
}

interface AlarmRow {
  id: string;
  rig_id: string;
  position: string;
  sensor_id: string;
  kind: AlarmKind;
  severity: Alarm['severity'];
  from_ms: number;
  to_ms: number | null;
  acknowledged_at: string | null;
  limit_value: number;
  value: number;
  worst: number;
  practice: number;
  evidence: string | null;
  withdrawn: number;
  acknowledged_worst: number | null;
}

const DAY_MS = 86_400_000;
/** A watch holds the readings of ten minutes, and of two thousand more; a rig that has stored more since has not judged them. */
const MOST_SINCE = 50_000;
const iso = (ms: number) => new Date(ms).toISOString();

const toAlarm = (r: AlarmRow): Alarm => ({
  id: r.id,
  rigId: r.rig_id,
  position: r.position,
  sensorId: r.sensor_id,
  kind: r.kind,
  severity: r.severity,
  fromTime: iso(r.from_ms),
  toTime: r.to_ms === null ? null : iso(r.to_ms),
  acknowledgedAt: r.acknowledged_at,
  limit: r.limit_value,
  value: r.value,
  worst: r.worst,
  evidence: r.evidence === null ? null : JSON.parse(r.evidence),
  practice: r.practice === 1,
  ...(r.withdrawn === 1 ? { withdrawn: true as const } : {}),
});

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
  #statements: ReturnType<typeof prepare> | null = null;

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
        const view = this.#wheelView(watched, position);
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
    const s = this.#statements as ReturnType<typeof prepare>;
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
        const view = this.#wheelView(current, w.position);
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
      wheels: watched.wheels.map((w) => this.#wheelView(watched, w.position) as WheelView),
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
      const ms = Math.max(this.#clockMs(watched), this.#lastHeard(watched));
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

  #wheelView(watched: Watched, position: string): WheelView | null {
    const w = watched.byPosition.get(position);
    if (!w) return null;
    const memory = w.wheel.sensor ? watched.watch.memory(position) : undefined;
    const nowMs = this.#clockMs(watched);
    const { cold, limits } = settingOf(w, watched.rig.loadState);
    const heard = memory !== undefined && memory.lastMs !== null;
    const airC = watched.bench?.airC ?? null;
    const kind = w.wheel.sensor?.kind ?? null;
    const held = heard && !memory.noTemp && cold !== undefined;
    const expectedKpa =
      held && cold && kind && airC !== null ? pressureAt(cold.kpa, cold.tempC, gasTempFrom(kind, memory.lastC, airC)) : null;
    const busy = watched.watch.busySinceMs !== null && heard && this.#lastHeard(watched) > nowMs - BUSY_WINDOW_MS;
    return {
      position,
      sensorId: w.wheel.sensor?.id ?? null,
      sensorKind: kind,
      state: stateOf(memory, nowMs, busy && w.place !== 'S', {
        waitsFitting: w.wheel.sensor?.fitted === false,
        resting: watched.resting.has(position[0] as string),
      }),
      pressureKpa: heard ? memory.lastKpa : null,
      tempC: heard && !memory.noTemp ? memory.lastC : null,
      time: heard ? iso(memory.lastMs as number) : null,
      ageS: heard ? Math.max(0, Math.round((nowMs - (memory.lastMs as number)) / 1000)) : null,
      practice: watched.sources.get(position) === 'bench',
      coldKpa: cold?.kpa ?? null,
      coldTempC: cold?.tempC ?? null,
      lowKpa: limits?.lowKpa ?? null,
      highKpa: limits?.highKpa ?? null,
      hotC: limits?.hotC ?? null,
      expectedKpa,
      heldKpa: held ? memory.heldKpa : null,
      heldLowKpa: held ? memory.heldLowKpa : null,
      heldHighKpa: held ? memory.heldHighKpa : null,
      loadMinimumKpa: loadMinimumOf(w, watched.rig),
      askedTime: memory?.askedMs == null ? null : iso(memory.askedMs),
      offTime: memory?.offSinceMs == null ? null : iso(memory.offSinceMs),
      filling: watched.watch.topUp?.positions.includes(position) ?? false,
      source: watched.sources.get(position) ?? null,
      active: Object.keys(memory?.active ?? {}) as AlarmKind[],
    };
  }

  #lastHeard(watched: Watched): number {
    let last = Number.NEGATIVE_INFINITY;
    for (const w of watched.wheels) last = Math.max(last, watched.watch.memory(w.position)?.lastMs ?? Number.NEGATIVE_INFINITY);
    return last;
  }
}

/** Says whether a rig and its units are still the same documents. */
const stamp = (w: Watched) => [w.rig, ...w.units].map((d) => `${d.id} ${d.version}`).join();

function touch(map: Map<string, Set<string>>, key: string, value: string): void {
  const set = map.get(key);
  if (set) set.add(value);
  else map.set(key, new Set([value]));
}

function assemble(rig: Rig, units: ReadonlyMap<string, Unit>): Watched {
  const own = rig.unitIds.flatMap((id) => units.get(id) ?? []);
  const wheels = wheelsOf(own);
  const watched: Watched = {
    rig,
    units: own,
    wheels,
    byPosition: new Map(wheels.map((w) => [w.position, w])),
    watch: new Watch({}, { sleepAware: true }),
    sources: new Map(),
    silencedUntil: null,
    resting: new Set(),
    bench: null,
    sent: new Map(),
    keptFooting: null,
  };
  watched.watch = new Watch(limitsOf(watched), { sleepAware: true });
  return watched;
}

/** Cold pressure under which a wheel cannot carry its load; null while its load is not known. */
function loadMinimumOf(w: RigWheel, rig: Rig): number | null {
  return axleTruth(w.holder, w.unit.kind, settingOf(w, rig.loadState)).minimum?.kpa ?? null;
}

/** Limits of every wheel that has a sensor. */
function limitsOf(watched: Watched): Record<string, WheelLimits> {
  const out: Record<string, WheelLimits> = {};
  for (const w of watched.wheels) {
    if (!w.wheel.sensor) continue;
    const { cold, limits } = settingOf(w, watched.rig.loadState);
    out[w.position] = {
      lowKpa: limits?.lowKpa ?? null,
      highKpa: limits?.highKpa ?? null,
      hotC: limits?.hotC ?? null,
      coldKpa: cold?.kpa ?? null,
      coldTempC: cold?.tempC ?? 20,
      sensorKind: w.wheel.sensor.kind,
      rests: w.place === 'S',
      ...(w.wheel.sensor.cellSince === undefined ? {} : { cellSinceMs: Date.parse(w.wheel.sensor.cellSince) }),
      ...(watched.resting.has(w.position[0] as string) ? { resting: true } : {}),
      ...(w.wheel.sensor.fitted === false ? { waitsFitting: true } : {}),
    };
  }
  return out;
}

/** The rollups of the days of these readings are out of date. */
function markDays(s: ReturnType<typeof prepare>, fresh: readonly { reading: CheckedReading }[]): void {
  const marked = new Map<string, number>();
  for (const { reading } of fresh) {
    const day = Math.floor(reading.ms / DAY_MS);
    if (marked.get(reading.sensorId) === day) continue;
    marked.set(reading.sensorId, day);
    s.markDay.run(reading.sensorId, day);
  }
}

/** Rows of one insert. */
const ROWS_AT_ONCE = 64;

/**
 * Store readings and say which of them are new. Many rows at once are stored in half the time: as long as all of them are new, or none, no
 * more need be asked. Where only some are, all is taken back and stored one by one, to know which.
 */
function insertFresh<T extends { reading: CheckedReading }>(
  s: ReturnType<typeof prepare>,
  known: readonly T[],
  source: ReadingSource,
): readonly T[] {
  const one = ({ reading: r }: T) =>
    s.insertReading.run(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm, source).changes > 0;
  const whole = known.length - (known.length % ROWS_AT_ONCE);
  if (whole === 0) return known.filter(one);
  s.savepoint.run();
  const fresh: T[] = [];
  let mixed = false;
  for (let at = 0; at < whole && !mixed; at += ROWS_AT_ONCE) {
    const part = known.slice(at, at + ROWS_AT_ONCE);
    const changes = insertPart(s, part, source);
    if (changes === part.length) fresh.push(...part);
    else mixed = changes > 0;
  }
  if (mixed) s.takeBack.run();
  s.release.run();
  if (mixed) return known.filter(one);
  for (let at = whole; at < known.length; at += 1) if (one(known[at] as T)) fresh.push(known[at] as T);
  return fresh;
}

/** @returns how many of the rows were new */
function insertPart(s: ReturnType<typeof prepare>, part: readonly { reading: CheckedReading }[], source: ReadingSource): number {
  const values: unknown[] = [];
  // Most sensors' readings come without volts and level: what is not there need not be bound.
  const plain = part.every(({ reading: r }) => r.batteryV === null && r.rssiDbm === null);
  for (const { reading: r } of part) {
    if (plain) values.push(r.sensorId, r.ms, r.pressureKpa, r.tempC);
    else values.push(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm);
  }
  return s.insertMany[source][plain ? 'plain' : 'full'].run(values).changes;
}

const manyRows = (raw: Database, row: string) =>
  raw.prepare(
    `insert or ignore into readings (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values ${Array(ROWS_AT_ONCE).fill(row).join(', ')}`,
  );
const manyOf = (raw: Database, source: ReadingSource) => ({
  plain: manyRows(raw, `(?, ?, ?, ?, null, null, '${source}')`),
  full: manyRows(raw, `(?, ?, ?, ?, ?, ?, '${source}')`),
});

const prepare = (raw: Database) => ({
  savepoint: raw.prepare('savepoint part'),
  release: raw.prepare('release part'),
  takeBack: raw.prepare('rollback to part'),
  insertMany: {
    live: manyOf(raw, 'live'),
    history: manyOf(raw, 'history'),
    bench: manyOf(raw, 'bench'),
    typed: manyOf(raw, 'typed'),
  } satisfies Record<ReadingSource, unknown>,
  insertReading: raw.prepare(
    'insert or ignore into readings (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values (?, ?, ?, ?, ?, ?, ?)',
  ),
  saveMemory: raw.prepare(
    'insert into wheel_memory (rig_id, position, sensor_id, memory) values (?, ?, ?, ?) on conflict (rig_id, position) do update set sensor_id = excluded.sensor_id, memory = excluded.memory',
  ),
  forgetWheel: raw.prepare('delete from wheel_memory where rig_id = ? and position = ?'),
  saveState: raw.prepare(
    `insert into rig_states (rig_id, silenced_until, state, resting) values (?, ?, ?, ?)
     on conflict (rig_id) do update set silenced_until = excluded.silenced_until, state = excluded.state, resting = excluded.resting`,
  ),
  saveFooting: raw.prepare('update rig_states set footing = ? where rig_id = ?'),
  markDay: raw.prepare('insert or ignore into rollup_days (sensor_id, day) values (?, ?)'),
  openAlarm: raw.prepare('select id, from_ms from alarms where rig_id = ? and position = ? and kind = ? and to_ms is null'),
  alarmFrom: raw.prepare(
    'select id from alarms where rig_id = ? and position = ? and kind = ? and from_ms = ? and withdrawn = 0 order by to_ms is null desc limit 1',
  ),
  alarmById: raw.prepare('select * from alarms where id = ?'),
  insertAlarm: raw.prepare(
    `insert into alarms (id, rig_id, position, sensor_id, kind, severity, from_ms, to_ms, limit_value, value, worst, practice, evidence)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  ),
  worseAlarm: raw.prepare('update alarms set worst = ?, limit_value = ?, evidence = coalesce(?, evidence) where id = ?'),
  ringAgain: raw.prepare(
    'update alarms set acknowledged_at = null, acknowledged_worst = null where id = ? and abs(worst - acknowledged_worst) >= ?',
  ),
  closeAlarm: raw.prepare('update alarms set to_ms = ? where id = ?'),
  withdrawAlarm: raw.prepare('update alarms set withdrawn = 1, to_ms = coalesce(to_ms, ?) where id = ?'),
  correctAlarm: raw.prepare(
    'update alarms set from_ms = ?, to_ms = ?, limit_value = ?, value = ?, worst = ?, evidence = coalesce(?, evidence) where id = ?',
  ),
});
