import { GaugeKpa, RoadTempC } from '#schema/common.ts';
import { Reading } from '#schema/reading.ts';
import type { CheckedReading } from '../watch/keeper.ts';

const NUMBER = '(-?(?:0|[1-9]\\d*)(?:\\.\\d+)?)';
/** A line of NDJSON in the plainest form: the fields in their usual order, nothing escaped, UTC. */
const PLAIN = new RegExp(
  `^\\{"sensorId":"([0-9A-Fa-f]{6})","time":"(\\d{4}-\\d{2}-\\d{2})T(\\d{2}):(\\d{2}):(\\d{2})(?:\\.(\\d{3}))?Z","pressureKpa":${NUMBER},"tempC":${NUMBER}(?:,"batteryV":${NUMBER})?(?:,"rssiDbm":${NUMBER})?\\}$`,
);

const bounds = (s: { minimum?: number; maximum?: number }): [number, number] => [s.minimum ?? -Infinity, s.maximum ?? Infinity];
const [leastKpa, mostKpa] = bounds(GaugeKpa);
const [leastC, mostC] = bounds(RoadTempC);
const [leastV, mostV] = bounds(Reading.properties.batteryV);
const [leastDbm, mostDbm] = bounds(Reading.properties.rssiDbm);

let lastDay = '';
let lastDayMs = Number.NaN;
/** Midnight of a day, UTC; NaN for one that is not in the calendar. */
function midnight(day: string): number {
  if (day !== lastDay) {
    lastDay = day;
    const ms = Date.parse(`${day}T00:00:00Z`);
    lastDayMs = Number.isNaN(ms) || new Date(ms).toISOString().slice(0, 10) !== day ? Number.NaN : ms;
  }
  return lastDayMs;
}

/**
 * Read a line that is in the plainest form and right in every field. It says nothing of any other line: those are parsed and checked field
 * by field, so that what is wrong can be named.
 * @returns the reading, or null
 */
export function quickReading(line: string): CheckedReading | null {
  const m = PLAIN.exec(line);
  if (!m) return null;
  const sensorId = (m[1] as string).toUpperCase();
  const [hour, minute, second] = [Number(m[3]), Number(m[4]), Number(m[5])];
  if (sensorId === 'FFFFFF' || hour > 23 || minute > 59 || second > 59) return null;
  const ms =
    midnight(m[2] as string) + hour * 3_600_000 + minute * 60_000 + second * 1000 + (m[6] === undefined ? 0 : Number(m[6]));
  const pressureKpa = Number(m[7]);
  const tempC = Number(m[8]);
  const batteryV = m[9] === undefined ? null : Number(m[9]);
  const rssiDbm = m[10] === undefined ? null : Number(m[10]);
  if (Number.isNaN(ms) || pressureKpa < leastKpa || pressureKpa > mostKpa || tempC < leastC || tempC > mostC) return null;
  if (batteryV !== null && (batteryV < leastV || batteryV > mostV)) return null;
  if (rssiDbm !== null && (rssiDbm < leastDbm || rssiDbm > mostDbm)) return null;
  return { sensorId, ms, pressureKpa, tempC, batteryV, rssiDbm };
}
