import type { Database } from 'better-sqlite3';
import {
  type Checkpoint,
  type LoggedReading,
  MOST_LOGGED,
  type Past,
  Watch,
  type WatchSnapshot,
  type WheelMemory,
} from '#core/watch/watch.ts';
import { LONGEST_SILENCE_MINUTES } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { ReadingSource } from '#schema/reading.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { assemble, limitsOf, type Watched } from './watched.ts';

/** A rig with what the database remembers of its wheels. */
export function restoreRig(
  raw: Database,
  rig: Rig,
  units: ReadonlyMap<string, Unit>,
  monitors: ReadonlyMap<string, Monitor>,
): Watched {
  const watched = assemble(rig, units, monitors);
  const state = raw
    .prepare('select silenced_until, silenced_minutes, state, resting, checkpoint from rig_states where rig_id = ?')
    .get(rig.id) as
    | {
        silenced_until: string | null;
        silenced_minutes: number | null;
        state: string | null;
        resting: string;
        checkpoint: string | null;
      }
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
  readSeconds(raw, watched);
  watched.keptCheckpoint = state?.checkpoint ? (JSON.parse(state.checkpoint) as Checkpoint) : null;
  const past = watched.keptCheckpoint && readingsSince(raw, watched, watched.keptCheckpoint);
  watched.watch = new Watch(limitsOf(watched), { sleepAware: true }, snapshot, past ?? undefined);
  if (state?.silenced_until) {
    const untilMs = Date.parse(state.silenced_until);
    const durationMs = (state.silenced_minutes ?? LONGEST_SILENCE_MINUTES) * 60_000;
    watched.silence = { untilMs, durationMs, seenMs: untilMs - durationMs };
  }
  watched.shelved =
    raw.prepare('select 1 from alarms where rig_id = ? and shelved_until_ms is not null').get(rig.id) !== undefined;
  return watched;
}

/** What the second sources of a rig's wheels said last. */
export function readSeconds(raw: Database, watched: Watched): void {
  const last = raw.prepare(
    'select time_ms as ms, pressure_kpa as kpa, temp_c as tempC from readings where sensor_id = ? order by time_ms desc limit 2',
  );
  watched.seconds = new Map();
  for (const { position, wheel } of watched.wheels) {
    if (!wheel.second) continue;
    const [now, before] = last.all(wheel.second.sensor.id) as { ms: number; kpa: number; tempC: number | null }[];
    if (now) watched.seconds.set(position, { ...now, everyMs: before ? now.ms - before.ms : null });
  }
}

/** The readings of a rig since its checkpoint; null when there are more than a watch keeps. */
function readingsSince(raw: Database, watched: Watched, checkpoint: Checkpoint): Past | null {
  const since = raw.prepare(
    `select time_ms as ms, pressure_kpa as kpa, temp_c as tempC, battery_v as volts from readings
       where sensor_id = ? and time_ms >= ? order by time_ms limit ?`,
  );
  const readings: LoggedReading[] = [];
  for (const { position, wheel } of watched.wheels) {
    if (!wheel.sensor) continue;
    const rows = since.all(wheel.sensor.id, checkpoint.ms, 2 * MOST_LOGGED + 1) as {
      ms: number;
      kpa: number;
      tempC: number | null;
      volts: number | null;
    }[];
    for (const r of rows) {
      readings.push({ position, ms: r.ms, kpa: r.kpa, tempC: r.tempC ?? Number.NaN, volts: r.volts ?? Number.NaN });
    }
    if (readings.length > 2 * MOST_LOGGED) return null;
  }
  return { checkpoint, readings };
}
