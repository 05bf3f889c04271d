import { addSensor, advance, benchMs, createBench, inflate, wheelAt } from '#core/bench/bench.ts';
import { between, normal, uniform } from '#core/bench/random.ts';
import { benchWheels } from '#core/bench/setup.ts';
import type { BenchFrame, BenchState } from '#core/bench/state.ts';
import { wheelsOf } from '#core/rig/positions.ts';
import type { LoadState } from '#schema/common.ts';
import type { Unit } from '#schema/unit.ts';

const DAY_S = 86_400;
const DAYS = 365;
/** A parked tire changes over half an hour: this is fine enough. */
const PARKED_DT_S = 150;

/**
 * The year before the demo's day, a day at a time, the oldest first: some eighty runs between the valley floor and the pass, summer and
 * winter, the air that goes through the rubber put back each month, and once a nail in A1R that is found after a week, on the next drive.
 * @param seed of the bench; the sensors are those of the demo's day when it is the same
 * @param endMs when the year ends, ms since the epoch
 * @returns what was heard on each day
 */
export function* lindenYear(
  units: readonly Unit[],
  loadState: LoadState,
  seed: number,
  endMs: number,
): Generator<BenchFrame[], void> {
  const bench: BenchState = createBench({
    seed,
    startMs: endMs - DAYS * DAY_S * 1000,
    airC: 8,
    altitudeM: 310,
    wheels: benchWheels(units, loadState),
  });
  for (const w of wheelsOf(units)) if (w.wheel.sensor) addSensor(bench, w.wheel.sensor.id, w.wheel.sensor.kind, w.position);
  for (const w of bench.wheels) w.permeation = 0.015;
  bench.lifeSigns = true;
  const r = bench.random;
  let weather = 0;
  let homeM = 310;
  for (let day = 0; day < DAYS; day += 1) {
    const frames: BenchFrame[] = [];
    weather = Math.max(-8, Math.min(8, 0.8 * weather + 2.5 * normal(r)));
    // Coldest in the middle of January, wherever in the year this is.
    const inYear = (benchMs(bench) / 1000 / DAY_S) % 365.25;
    const mean = 9 - 10 * Math.cos((2 * Math.PI * (inYear - 15)) / 365.25) + weather;
    const drives = uniform(r) < 0.22;
    const from = 3600 * between(r, 5, 12);
    const length = 3600 * between(r, 1, 3.5);
    const kmh = between(r, 50, 88);
    const awayM = homeM === 310 ? between(r, 45, 1940) : 310;
    const startM = homeM;
    if (day % 30 === 15) for (const w of bench.wheels) inflate(bench, w.position);
    if (day === 150) wheelAt(bench, 'A1R').holeMm = 0.03;
    if (day === 157) {
      wheelAt(bench, 'A1R').holeMm = 0;
      inflate(bench, 'A1R');
    }
    const endS = (day + 1) * DAY_S;
    while (bench.nowS < endS - 1e-6) {
      const t = bench.nowS - day * DAY_S;
      const rolling = drives && t >= from && t < from + length;
      const part = drives ? Math.min(1, Math.max(0, (t - from) / length)) : 0;
      bench.altitudeM = startM + (awayM - startM) * part;
      bench.airC = mean - 5 * Math.cos((2 * Math.PI * (t - 3 * 3600)) / DAY_S) - 0.0065 * (bench.altitudeM - 310);
      bench.kmh = rolling ? kmh : 0;
      const next = drives && t < from ? from - t : rolling ? from + length - t : endS - bench.nowS;
      const step = Math.max(1, Math.min(rolling ? 120 : 600, next, endS - bench.nowS));
      for (const f of advance(bench, step, rolling ? 5 : PARKED_DT_S)) frames.push(f);
    }
    if (drives) homeM = Math.round(awayM);
    yield frames;
  }
}
