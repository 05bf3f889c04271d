import type { Database, Statement } from 'better-sqlite3';
import type { Alarm, AlarmKind } from '#schema/alarm.ts';
import type { ReadingSource } from '#schema/reading.ts';

/** A reading that passed its checks. */
export interface CheckedReading {
  /** What its sensor is kept under; empty while only its wheel is known. */
  sensorId: string;
  /** The wheel that was named instead of a sensor. */
  wheel?: { rigId: string; position: string; second?: boolean };
  ms: number;
  pressureKpa: number;
  /** Null: a typed figure without one. */
  tempC: number | null;
  batteryV: number | null;
  rssiDbm: number | null;
}

export interface AlarmRow {
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
  shelved_from_ms: number | null;
  shelved_until_ms: number | null;
  shelved_worst: number | null;
}

const DAY_MS = 86_400_000;

const iso = (ms: number) => new Date(ms).toISOString();

export const toAlarm = (r: AlarmRow): Alarm => ({
  id: r.id,
  rigId: r.rig_id,
  position: r.position,
  sensorId: r.sensor_id,
  kind: r.kind,
  severity: r.severity,
  fromTime: iso(r.from_ms),
  toTime: r.to_ms === null ? null : iso(r.to_ms),
  acknowledgedAt: r.acknowledged_at,
  ...(r.shelved_until_ms === null || r.to_ms !== null ? {} : { shelvedUntil: iso(r.shelved_until_ms) }),
  limit: r.limit_value,
  value: r.value,
  worst: r.worst,
  evidence: r.evidence === null ? null : JSON.parse(r.evidence),
  practice: r.practice === 1,
  ...(r.withdrawn === 1 ? { withdrawn: true as const } : {}),
});

/** The rollups of the days of these readings are out of date. */
export function markDays(s: Statements, fresh: readonly { reading: CheckedReading }[]): void {
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
 * Store readings and say which of them are new. Many rows at once are stored in half the time: where all of them are new, or none, no more
 * need be asked. Where only some are, those are taken back and stored one by one, to know which. What may be taken back costs a quarter more,
 * so a part whose readings are all later than any of their sensors isn't prepared for that.
 */
export function insertFresh<T extends { reading: CheckedReading }>(
  s: Statements,
  known: readonly T[],
  source: ReadingSource,
): readonly T[] {
  const one = ({ reading: r }: T) =>
    s.insertReading.run(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm, source).changes > 0;
  const fresh: T[] = [];
  /** The last reading of a sensor, stored or among these. */
  const last = new Map<string, number>();
  const lastOf = (sensorId: string) => last.get(sensorId) ?? s.lastReading.pluck().get(sensorId) ?? Number.NEGATIVE_INFINITY;
  const isLater = ({ reading: { sensorId, ms } }: T) => {
    const before = lastOf(sensorId) as number;
    last.set(sensorId, Math.max(before, ms));
    return ms > before;
  };
  const rest = known.length % ROWS_AT_ONCE;
  for (let at = 0; at < known.length - rest; at += ROWS_AT_ONCE) {
    const part = known.slice(at, at + ROWS_AT_ONCE);
    const mayBeMixed = part.filter(isLater).length < part.length;
    if (mayBeMixed) s.savepoint.run();
    const changes = insertPart(s, part, source);
    const mixed = changes > 0 && changes < part.length;
    if (mixed) s.takeBack.run();
    if (mayBeMixed) s.release.run();
    // Of a part with some that were here already only a look at each tells which.
    if (mixed) fresh.push(...part.filter(one));
    else if (changes > 0) fresh.push(...part);
  }
  fresh.push(...known.slice(known.length - rest).filter(one));
  return fresh;
}

/** @returns how many of the rows were new */
function insertPart(s: Statements, part: readonly { reading: CheckedReading }[], source: ReadingSource): number {
  const values: unknown[] = [];
  // Most sensors' readings come without volts and level: what is not there need not be bound.
  const plain = part.every(({ reading: r }) => r.batteryV === null && r.rssiDbm === null);
  for (const { reading: r } of part) {
    if (plain) values.push(r.sensorId, r.ms, r.pressureKpa, r.tempC);
    else values.push(r.sensorId, r.ms, r.pressureKpa, r.tempC, r.batteryV, r.rssiDbm);
  }
  // Handed over one by one: as a list each is looked up by its number.
  return s.insertMany[source][plain ? 'plain' : 'full'].run(...values).changes;
}

const manyRows = (raw: Database, row: string): Statement =>
  raw.prepare(
    `insert or ignore into readings (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values ${Array(ROWS_AT_ONCE).fill(row).join(', ')}`,
  );
const manyOf = (raw: Database, source: ReadingSource) => ({
  plain: manyRows(raw, `(?, ?, ?, ?, null, null, '${source}')`),
  full: manyRows(raw, `(?, ?, ?, ?, ?, ?, '${source}')`),
});

const SQL = {
  savepoint: 'savepoint part',
  release: 'release part',
  takeBack: 'rollback to part',
  lastReading: 'select max(time_ms) from readings where sensor_id = ?',
  insertReading:
    'insert or ignore into readings (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values (?, ?, ?, ?, ?, ?, ?)',
  saveMemory:
    'insert into wheel_memory (rig_id, position, sensor_id, memory) values (?, ?, ?, ?) on conflict (rig_id, position) do update set sensor_id = excluded.sensor_id, memory = excluded.memory',
  forgetWheel: 'delete from wheel_memory where rig_id = ? and position = ?',
  saveState: `insert into rig_states (rig_id, silenced_until, silenced_minutes, state, resting) values (?, ?, ?, ?, ?)
     on conflict (rig_id) do update set silenced_until = excluded.silenced_until,
       silenced_minutes = excluded.silenced_minutes, state = excluded.state, resting = excluded.resting`,
  saveCheckpoint: 'update rig_states set checkpoint = ? where rig_id = ?',
  insertAhead:
    'insert or ignore into readings_ahead (sensor_id, time_ms, pressure_kpa, temp_c, battery_v, rssi_dbm, source) values (?, ?, ?, ?, ?, ?, ?)',
  markDaysAhead:
    'insert or ignore into rollup_days select distinct sensor_id, time_ms / 86400000 from readings where sensor_id = ? and time_ms > ?',
  copyAhead: 'insert or ignore into readings_ahead select * from readings where sensor_id = ? and time_ms > ?',
  deleteAhead: 'delete from readings where sensor_id = ? and time_ms > ?',
  markDay: 'insert or ignore into rollup_days (sensor_id, day) values (?, ?)',
  openAlarm: 'select id, from_ms, severity from alarms where rig_id = ? and position = ? and kind = ? and to_ms is null',
  alarmFrom:
    'select id from alarms where rig_id = ? and position = ? and kind = ? and from_ms = ? and withdrawn = 0 order by to_ms is null desc limit 1',
  alarmById: 'select * from alarms where id = ?',
  insertAlarm: `insert into alarms (id, rig_id, position, sensor_id, kind, severity, from_ms, to_ms, limit_value, value, worst, practice, evidence)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  worseAlarm: 'update alarms set worst = ?, limit_value = ?, severity = ?, evidence = coalesce(?, evidence) where id = ?',
  ringAgain:
    'update alarms set acknowledged_at = null, acknowledged_worst = null where id = ? and abs(worst - acknowledged_worst) >= ?',
  unacknowledge: 'update alarms set acknowledged_at = null, acknowledged_worst = null where id = ?',
  shelve: 'update alarms set shelved_from_ms = ?, shelved_until_ms = ?, shelved_worst = worst where id = ?',
  unshelve:
    'update alarms set shelved_from_ms = null, shelved_until_ms = null, shelved_worst = null where id = ? and shelved_until_ms is not null',
  shelvedWorse: 'select 1 from alarms where id = ? and shelved_until_ms is not null and abs(worst - shelved_worst) >= ?',
  // Over by the clock; also where the clock was set back to before it began.
  shelvesOver:
    'select id from alarms where rig_id = ? and shelved_until_ms is not null and (shelved_until_ms <= ? or shelved_from_ms > ?)',
  nextShelf: 'select min(shelved_until_ms) from alarms where rig_id = ?',
  logShelf: 'insert into shelves (alarm_id, rig_id, position, kind, from_ms, until_ms) values (?, ?, ?, ?, ?, ?)',
  endShelf: 'update shelves set ended_ms = ?, ended_by = ? where alarm_id = ? and ended_ms is null',
  closeAlarm: 'update alarms set to_ms = ? where id = ?',
  withdrawAlarm: 'update alarms set withdrawn = 1, to_ms = coalesce(to_ms, ?) where id = ?',
  correctAlarm:
    'update alarms set from_ms = ?, to_ms = ?, limit_value = ?, value = ?, worst = ?, severity = ?, evidence = coalesce(?, evidence) where id = ?',
} as const;

/** All that the watch asks of the database. */
export type Statements = Record<keyof typeof SQL, Statement> & {
  insertMany: Record<ReadingSource, Record<'plain' | 'full', Statement>>;
};

export function prepare(raw: Database): Statements {
  const single = Object.entries(SQL).map(([name, sql]) => [name, raw.prepare(sql)]);
  const sources: ReadingSource[] = ['live', 'history', 'bench', 'typed'];
  return { ...Object.fromEntries(single), insertMany: Object.fromEntries(sources.map((s) => [s, manyOf(raw, s)])) };
}
