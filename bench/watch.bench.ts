// The watch engine against a minimal loop over the same array: gas-law compensation and three comparisons a reading, nothing else.
import { Watch, type WatchEvent, type WheelLimits } from '#core/watch/watch.ts';
import { best, makeReadings, POSITIONS } from './readings.ts';

const COUNT = 1_000_000;
const readings = makeReadings(COUNT, Date.UTC(2026, 0, 1));
const limits: WheelLimits = { lowKpa: 496, highKpa: 690, hotC: 70, coldKpa: 551 };
const wheels = Object.fromEntries(POSITIONS.map((p) => [p, limits]));

let sink = 0;
const loop = best(5, () => {
  let hits = 0;
  for (const r of readings) {
    const cold = ((r.kpa + 101.325) * 293.15) / (r.tempC + 273.15) - 101.325;
    sink += cold;
    if (r.kpa <= 496) hits += 1;
    if (r.kpa >= 690) hits += 1;
    if (r.tempC >= 70) hits += 1;
  }
  sink += hits;
});
let events = 0;
const engine = best(5, () => {
  const watch = new Watch(wheels, { sleepAware: true });
  const out: WatchEvent[] = [];
  for (const r of readings) watch.read(r.position, r.ms, r.kpa, r.tempC, out);
  events = out.length;
});
if (!Number.isFinite(sink) || events === 0) throw new Error('nothing was measured');
console.log(
  `watch: ${(COUNT / engine / 1e6).toFixed(2)} million readings a second, minimal loop ${(COUNT / loop / 1e6).toFixed(1)} million`,
);
console.log(`watch ratio to the minimal loop: ${(loop / engine).toFixed(3)} (${events} events)`);
