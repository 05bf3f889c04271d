import { addSensor, advance, benchMs, createBench, wheelAt } from '#core/bench/bench.ts';
import { benchWheels } from '#core/bench/setup.ts';
import type { BenchFrame, BenchState } from '#core/bench/state.ts';
import { wheelsOf } from '#core/rig/positions.ts';
import type { LoadState } from '#schema/common.ts';
import type { Unit } from '#schema/unit.ts';

/** A stretch of the day: how fast, from which altitude to which, in which air. */
interface Leg {
  minutes: number;
  kmh: number;
  fromM: number;
  toM: number;
  fromC: number;
  toC: number;
}

/** Some minutes of it: what was around the rig and what was heard. */
interface Stretch {
  /** Its end, ms since the epoch. */
  ms: number;
  airC: number;
  altitudeM: number;
  kmh: number;
  frames: BenchFrame[];
}

/** Lindental (310 m) over the Kreuzjoch (1,940 m) to Auweiler (180 m), a night there, and on the road again. */
const legs: Leg[] = [
  { minutes: 90, kmh: 0, fromM: 310, toM: 310, fromC: 8, toC: 14 },
  { minutes: 80, kmh: 62, fromM: 310, toM: 1940, fromC: 14, toC: 6 },
  { minutes: 20, kmh: 0, fromM: 1940, toM: 1940, fromC: 6, toC: 6 },
  { minutes: 95, kmh: 74, fromM: 1940, toM: 180, fromC: 6, toC: 17 },
  { minutes: 330, kmh: 0, fromM: 180, toM: 180, fromC: 17, toC: 12 },
  { minutes: 630, kmh: 0, fromM: 180, toM: 180, fromC: 12, toC: 4 },
  { minutes: 120, kmh: 0, fromM: 180, toM: 180, fromC: 4, toC: 9 },
  { minutes: 75, kmh: 88, fromM: 180, toM: 210, fromC: 9, toC: 11 },
];

/** Of the demo's bench, so that the sensors of the year are those of the day. */
export const SEED = 20260417;
const DAY_MIN = legs.reduce((sum, leg) => sum + leg.minutes, 0);

/**
 * A day of Linden run on the bench, ending at a given moment, from a fixed seed: a valve that seeps on B2L, a hub that runs hot on
 * A2RO, a sensor on B1R that goes quiet 40 minutes before the end.
 * @param endMs when the day ends, ms since the epoch
 * @returns what was heard, ten minutes at a time with what was around the rig; the bench as it is at the end, on the road; and when the
 * day begins, ms since the epoch
 */
export function lindenDay(
  units: readonly Unit[],
  loadState: LoadState,
  endMs: number,
): { stretches: Stretch[]; bench: BenchState; fromMs: number } {
  const fromMs = endMs - DAY_MIN * 60_000;
  const bench = createBench({
    seed: SEED,
    startMs: fromMs,
    airC: legs[0]?.fromC ?? 10,
    altitudeM: legs[0]?.fromM ?? 0,
    wheels: benchWheels(units, loadState),
  });
  for (const w of wheelsOf(units)) if (w.wheel.sensor) addSensor(bench, w.wheel.sensor.id, w.wheel.sensor.kind, w.position);
  for (const w of bench.wheels) w.permeation = 0.015;
  wheelAt(bench, 'B2L').holeMm = 0.035;
  const stretches: Stretch[] = [];
  let minute = 0;
  for (const leg of legs) {
    bench.kmh = leg.kmh;
    for (let m = 0; m < leg.minutes; m += 1) {
      const t = m / leg.minutes;
      bench.altitudeM = leg.fromM + (leg.toM - leg.fromM) * t;
      bench.airC = leg.fromC + (leg.toC - leg.fromC) * t;
      if (DAY_MIN - minute === 75) wheelAt(bench, 'A2RO').hubRiseK = 65;
      if (DAY_MIN - minute === 40) for (const s of bench.sensors) if (s.at === 'B1R') s.quiet = true;
      const frames = advance(bench, 60);
      minute += 1;
      const { airC, altitudeM, kmh } = bench;
      if (m % 10 === 0) stretches.push({ ms: 0, airC, altitudeM, kmh, frames: [] });
      const stretch = stretches.at(-1) as Stretch;
      stretch.frames.push(...frames);
      stretch.ms = benchMs(bench);
    }
  }
  return { stretches, bench, fromMs };
}
