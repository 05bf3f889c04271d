import type { Database } from 'better-sqlite3';
import { type LearnedRise, learnedRise, type RunReading, seenRuns } from '#core/pressure/hot-run.ts';
import { axleOf, type RigWheel } from '#core/rig/positions.ts';

/** How far back a rig learns from its own readings. */
const LEARN_MS = 60 * 86_400_000;

/** What an ordinary run adds to each axle's pressure, as the readings of its wheels show it; an axle that shows none is left out. */
export function learnedHotRun(raw: Database, all: readonly RigWheel[]): Record<string, LearnedRise> {
  const wheels = all.filter((w) => w.wheel.sensor && w.place !== 'S');
  const byMinute = raw.prepare(
    `select (time_ms / 60000) * 60 as timeS, max(pressure_kpa) as pressureKpa from readings
     where sensor_id = ? and time_ms >= (select max(time_ms) from readings where sensor_id = ?) - ? group by 1 order by 1`,
  );
  const runs = wheels.map((w) => {
    const id = w.wheel.sensor?.id as string;
    return { axle: axleOf(w.position), seen: seenRuns(byMinute.all(id, id, LEARN_MS) as RunReading[]) };
  });
  const axles: Record<string, LearnedRise> = {};
  for (const axle of new Set(runs.map((r) => r.axle))) {
    const learned = learnedRise(runs.filter((r) => r.axle === axle).flatMap((r) => r.seen));
    if (learned) axles[axle] = learned;
  }
  return axles;
}
