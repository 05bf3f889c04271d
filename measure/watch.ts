// The watch engine against a minimal loop over the same array: gas-law compensation and three comparisons a reading, nothing else.
import { Engine } from '#core/watch/engine.ts';
import { Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import type { SensorKind } from '#schema/common.ts';
import { best, makeReadings, POSITIONS } from './readings.ts';

const COUNT = 1_000_000;
/** Turn by turn, so that a machine that is slow for a while is slow for all of them; the best of each counts. */
const TURNS = 12;
const readings = makeReadings(COUNT, Date.UTC(2026, 0, 1));

let sink = 0;
function loop(): void {
  let hits = 0;
  for (const r of readings) {
    const cold = ((r.kpa + 101.325) * 293.15) / (r.tempC + 273.15) - 101.325;
    sink += cold;
    if (r.kpa <= 496) hits += 1;
    if (r.kpa >= 690) hits += 1;
    if (r.tempC >= 70) hits += 1;
  }
  sink += hits;
}

let events = 0;
function run(kind: SensorKind, whole: boolean): void {
  const limits: WheelLimits = { lowKpa: 496, highKpa: 690, hotC: 70, coldKpa: 551, coldTempC: 20, sensorKind: kind };
  const wheels = Object.fromEntries(POSITIONS.map((p) => [p, limits]));
  const out: WatchEvent[] = [];
  if (whole) {
    const watch = new Watch(wheels, { sleepAware: true });
    for (const r of readings) watch.read(r.position, r.ms, r.kpa, r.tempC, out);
  } else {
    const engine = new Engine(wheels, { sleepAware: true });
    for (const r of readings) engine.read(r.position, r.ms, r.kpa, r.tempC, Number.NaN, out);
  }
  events += out.length;
}

const least = { loop: Infinity, cap: Infinity, internal: Infinity, late: Infinity };
for (let turn = 0; turn < TURNS; turn += 1) {
  least.loop = Math.min(least.loop, best(2, loop));
  least.cap = Math.min(
    least.cap,
    best(1, () => run('cap', false)),
  );
  least.internal = Math.min(
    least.internal,
    best(1, () => run('internal', false)),
  );
  least.late = Math.min(
    least.late,
    best(1, () => run('cap', true)),
  );
}
if (!Number.isFinite(sink) || events === 0) throw new Error('nothing was measured');
const million = (s: number) => (COUNT / s / 1e6).toFixed(1);
console.log(`minimal loop: ${million(least.loop)} million readings a second`);
for (const kind of ['cap', 'internal'] as const) {
  console.log(
    `watch engine, ${kind}: ${million(least[kind])} million a second, ${(least[kind] / least.loop).toFixed(1)} times the loop's time`,
  );
}
console.log(`with room for late readings: ${million(least.late)} million a second`);
