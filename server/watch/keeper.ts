import { randomUUID } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import { gasTempFrom } from '#core/bench/parameters.ts';
import { pressureAt } from '#core/gas/gas.ts';
import { type RigWheel, settingOf, wheelsOf } from '#core/rig/positions.ts';
import { severityOf, stateOf } from '#core/watch/view.ts';
import {
  BUSY_WINDOW_MS,
  Watch,
  type WatchEvent,
  type WatchSnapshot,
  type WheelLimits,
  type WheelMemory,
} from '#core/watch/watch.ts';
import type { Alarm, AlarmKind, WatchView, WheelView } from '#schema/alarm.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { inTransaction } from '../db/open.ts';
import type { LiveHub } from '../live/hub.ts';
import { notFound } from '../problem.ts';
import { listRecords } from '../records/store.ts';

/** A reading that passed its checks. */
export interface CheckedReading {
  sensorId: string;
  ms: number;
  pressureKpa: number;
  tempC: number;
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
  bench: BenchClock | null;
  /** Wheel states as last sent, to send only what changed. */
  sentStates: Map<string, string>;
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
}

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
  practice: r.practice === 1,
});

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
    const memories = raw.prepare('select position, sensor_id, memory from wheel_memory where rig_id = ?').all(rig.id) as {
      position: string;
      sensor_id: string;
      memory: string;
    }[];
    const state = raw.prepare('select busy_since_ms, silenced_until from rig_states where rig_id = ?').get(rig.id) as
      | { busy_since_ms: number | null; silenced_until: string | null }
      | undefined;
    const snapshot: WatchSnapshot = { wheels: {}, busySinceMs: state?.busy_since_ms ?? null, scannedMs: null };
    const sourceOf = raw.prepare('select source from readings where sensor_id = ? and time_ms = ?');
    for (const m of memories) {
      if (watched.byPosition.get(m.position)?.wheel.sensor?.id !== m.sensor_id) continue;
      const memory = JSON.parse(m.memory) as WheelMemory;
      snapshot.wheels[m.position] = memory;
      const row = sourceOf.get(m.sensor_id, memory.lastMs) as { source: ReadingSource } | undefined;
      if (row) watched.sources.set(m.position, row.source);
    }
    watched.watch = new Watch(limitsOf(watched), { sleepAware: true }, snapshot);
    watched.silencedUntil = state?.silenced_until ?? null;
    return watched;
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
        watched.sentStates.set(position, view.state);
        if (view.time !== null) {
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
      next.sentStates = old.sentStates;
      this.#watched.set(rig.id, next);
      this.#writeEvents(next, events, told, old);
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
      for (const r of readings) {
        const places = this.#places.get(r.sensorId);
        if (!places) {
          counts.unknownSensor += 1;
          continue;
        }
        const { changes } = s.insertReading.run(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm, source);
        if (changes === 0) {
          counts.repeated += 1;
          continue;
        }
        counts.accepted += 1;
        if (places.length > 0) fresh.push({ reading: r, places });
      }
      // The watch goes by event time, whatever order a batch came in.
      fresh.sort((a, b) => a.reading.ms - b.reading.ms);
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
          if (watched.watch.read(position, r.ms, r.pressureKpa, r.tempC, list)) {
            watched.sources.set(position, source);
            touch(told.wheels, rigId, position);
          }
        }
      }
      for (const [rigId, list] of events) {
        const watched = this.#watched.get(rigId) as Watched;
        this.#writeEvents(watched, list, told);
        for (const position of told.wheels.get(rigId) ?? []) this.#saveMemory(watched, position);
        this.#saveState(watched);
      }
      options.also?.(raw);
      return counts;
    });
  }

  #writeEvents(watched: Watched, events: readonly WatchEvent[], told: Told, sensorsFrom: Watched = watched): void {
    const s = this.#statements as ReturnType<typeof prepare>;
    const rigId = watched.rig.id;
    for (const e of events) {
      const open = s.openAlarm.get(rigId, e.position, e.kind) as { id: string } | undefined;
      let id = open?.id;
      if (e.type === 'raised' && !open) {
        id = randomUUID();
        const sensorId = (sensorsFrom.byPosition.get(e.position) ?? watched.byPosition.get(e.position))?.wheel.sensor?.id ?? '';
        const practice = watched.sources.get(e.position) === 'bench' || watched.bench !== null ? 1 : 0;
        s.insertAlarm.run(
          id,
          rigId,
          e.position,
          sensorId,
          e.kind,
          severityOf(e.kind),
          e.fromMs,
          e.limit,
          e.value,
          e.worst,
          practice,
        );
      } else if (e.type === 'worse' && id) s.worseAlarm.run(e.worst, e.limit, id);
      else if (e.type === 'returned' && id) s.closeAlarm.run(e.atMs, id);
      if (id) touch(told.alarms, rigId, id);
      touch(told.wheels, rigId, e.position);
    }
  }

  #saveMemory(watched: Watched, position: string): void {
    const memory = watched.watch.memory(position);
    const sensorId = watched.byPosition.get(position)?.wheel.sensor?.id;
    if (memory && sensorId && memory.lastMs !== null) {
      this.#statements?.saveMemory.run(watched.rig.id, position, sensorId, JSON.stringify(memory));
    }
  }

  #saveState(watched: Watched): void {
    this.#statements?.saveState.run(watched.rig.id, watched.watch.busySinceMs, watched.silencedUntil);
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
        const state = this.#wheelView(current, w.position)?.state;
        if (state !== undefined && current.sentStates.get(w.position) !== state) touch(told.wheels, rigId, w.position);
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
      return;
    }
    // Bench air is not the road's: what it said is forgotten, so that the first real reading counts whatever its time.
    await this.#change((_raw, told) => {
      const current = this.#get(rigId);
      const reset = new Set([...current.sources].filter(([, source]) => source === 'bench').map(([position]) => position));
      const events: WatchEvent[] = [];
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

  async alarms(rigId: string, options: { active?: boolean; limit: number }): Promise<Alarm[]> {
    this.#get(rigId);
    return inTransaction(this.#db, (raw) => {
      const rows = raw
        .prepare(
          `select * from alarms where rig_id = ? ${options.active ? 'and to_ms is null' : ''} order by (to_ms is null) desc, from_ms desc limit ?`,
        )
        .all(rigId, options.limit) as AlarmRow[];
      return rows.map(toAlarm);
    });
  }

  /** Mark an alarm as seen. Doing it twice changes nothing. */
  async acknowledge(rigId: string, alarmId: string): Promise<Alarm> {
    this.#get(rigId);
    return this.#change((raw, told) => {
      raw
        .prepare('update alarms set acknowledged_at = ? where id = ? and rig_id = ? and acknowledged_at is null')
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
    return {
      rigId,
      time: iso(this.#clockMs(watched)),
      clock: watched.bench ? 'bench' : 'wall',
      wheels: watched.wheels.map((w) => this.#wheelView(watched, w.position) as WheelView),
      silencedUntil: until !== null && Date.parse(until) > this.#now() ? until : null,
      airC: watched.bench?.airC ?? null,
      moving: watched.bench?.moving ?? null,
    };
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
    const expectedKpa =
      heard && cold && kind && airC !== null ? pressureAt(cold.kpa, cold.tempC, gasTempFrom(kind, memory.lastC, airC)) : null;
    const busy = watched.watch.busySinceMs !== null && heard && this.#lastHeard(watched) > nowMs - BUSY_WINDOW_MS;
    return {
      position,
      sensorId: w.wheel.sensor?.id ?? null,
      sensorKind: kind,
      state: stateOf(memory, nowMs, busy && w.place !== 'S', { waitsFitting: w.wheel.sensor?.fitted === false }),
      pressureKpa: heard ? memory.lastKpa : null,
      tempC: heard ? memory.lastC : null,
      time: heard ? iso(memory.lastMs as number) : null,
      ageS: heard ? Math.max(0, Math.round((nowMs - (memory.lastMs as number)) / 1000)) : null,
      practice: watched.sources.get(position) === 'bench',
      coldKpa: cold?.kpa ?? null,
      coldTempC: cold?.tempC ?? null,
      lowKpa: limits?.lowKpa ?? null,
      highKpa: limits?.highKpa ?? null,
      hotC: limits?.hotC ?? null,
      expectedKpa,
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
    bench: null,
    sentStates: new Map(),
  };
  watched.watch = new Watch(limitsOf(watched), { sleepAware: true });
  return watched;
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
      rests: w.place === 'S',
      ...(w.wheel.sensor.fitted === false ? { waitsFitting: true } : {}),
    };
  }
  return out;
}

const prepare = (raw: Database) => ({
  insertReading: raw.prepare(
    'insert or ignore into readings (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values (?, ?, ?, ?, ?, ?, ?)',
  ),
  saveMemory: raw.prepare(
    'insert into wheel_memory (rig_id, position, sensor_id, memory) values (?, ?, ?, ?) on conflict (rig_id, position) do update set sensor_id = excluded.sensor_id, memory = excluded.memory',
  ),
  forgetWheel: raw.prepare('delete from wheel_memory where rig_id = ? and position = ?'),
  saveState: raw.prepare(
    'insert into rig_states (rig_id, busy_since_ms, silenced_until) values (?, ?, ?) on conflict (rig_id) do update set busy_since_ms = excluded.busy_since_ms, silenced_until = excluded.silenced_until',
  ),
  openAlarm: raw.prepare('select id from alarms where rig_id = ? and position = ? and kind = ? and to_ms is null'),
  alarmById: raw.prepare('select * from alarms where id = ?'),
  insertAlarm: raw.prepare(
    'insert into alarms (id, rig_id, position, sensor_id, kind, severity, from_ms, limit_value, value, worst, practice) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
  ),
  worseAlarm: raw.prepare('update alarms set worst = ?, limit_value = ? where id = ?'),
  closeAlarm: raw.prepare('update alarms set to_ms = ? where id = ?'),
});
