import type { Knex } from 'knex';
import { type LearnedRise, learnedRise, type RunReading, type SeenRun, seenRuns } from '#core/pressure/hot-run.ts';
import { axleOf, type RigWheel } from '#core/rig/positions.ts';
import { reading } from '../db/open.ts';
import { pagesOf } from './pages.ts';

/** How far back a rig learns from its own readings. */
const LEARN_MS = 60 * 86_400_000;

/** The highest pressure of each minute that a sensor was heard in, of its last sixty days. */
async function minutesOf(db: Knex, sensorId: string): Promise<RunReading[]> {
  const lastMs = await reading(
    db,
    (raw) => raw.prepare('select max(time_ms) from readings where sensor_id = ?').pluck().get(sensorId) as number | null,
  );
  const minutes: RunReading[] = [];
  if (lastMs === null) return minutes;
  let last: RunReading | undefined;
  for await (const rows of pagesOf<[number]>(db, sensorId, lastMs - LEARN_MS, lastMs, ['pressure_kpa']))
    for (const [ms, pressureKpa] of rows) {
      const timeS = Math.floor(ms / 60_000) * 60;
      if (last?.timeS !== timeS) {
        last = { timeS, pressureKpa };
        minutes.push(last);
      } else if (pressureKpa > last.pressureKpa) last.pressureKpa = pressureKpa;
    }
  return minutes;
}

/** What an ordinary run adds to each axle's pressure, as the readings of its wheels show it; an axle that shows none is left out. */
export async function learnedHotRun(db: Knex, all: readonly RigWheel[]): Promise<Record<string, LearnedRise>> {
  const runs: { axle: string; seen: SeenRun[] }[] = [];
  for (const w of all)
    if (w.wheel.sensor && w.place !== 'S')
      runs.push({ axle: axleOf(w.position), seen: seenRuns(await minutesOf(db, w.wheel.sensor.id)) });
  const axles: Record<string, LearnedRise> = {};
  for (const axle of new Set(runs.map((r) => r.axle))) {
    const learned = learnedRise(runs.filter((r) => r.axle === axle).flatMap((r) => r.seen));
    if (learned) axles[axle] = learned;
  }
  return axles;
}
