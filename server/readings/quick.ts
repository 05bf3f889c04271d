import { GaugeKpa, RoadTempC } from '#schema/common.ts';
import { Reading } from '#schema/reading.ts';
import type { CheckedReading } from '../watch/store.ts';

const NUMBER = '-?(?:0|[1-9]\\d*)(?:\\.\\d+)?';
/**
 * A line of NDJSON in the plainest form: the fields in their usual order, nothing escaped, UTC. It only says that it is so: what it
 * captured would be ten new texts for each line, and the fields stand at known places.
 */
const PLAIN = new RegExp(
  `^\\{"sensorId":"[0-9A-Fa-f]{6}","time":"\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}:\\d{2}(?:\\.\\d{3})?Z","pressureKpa":${NUMBER},"tempC":${NUMBER}(?:,"batteryV":${NUMBER})?(?:,"rssiDbm":${NUMBER})?\\}$`,
);
const ID_AT = '{"sensorId":"'.length;
const DAY_AT = ID_AT + '000000","time":"'.length;
const CLOCK_AT = DAY_AT + '2026-05-01T'.length;
const PARTS_AT = CLOCK_AT + '08:00:00'.length;

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
  if (!PLAIN.test(line)) return null;
  const digit = (at: number) => line.charCodeAt(at) - 48;
  const two = (at: number) => digit(at) * 10 + digit(at + 1);
  const sensorId = line.slice(ID_AT, ID_AT + 6).toUpperCase();
  const [hour, minute, second] = [two(CLOCK_AT), two(CLOCK_AT + 3), two(CLOCK_AT + 6)];
  if (sensorId === 'FFFFFF' || hour > 23 || minute > 59 || second > 59) return null;
  const parts = line[PARTS_AT] === '.' ? two(PARTS_AT + 1) * 10 + digit(PARTS_AT + 3) : 0;
  const ms = midnight(line.slice(DAY_AT, CLOCK_AT - 1)) + hour * 3_600_000 + minute * 60_000 + second * 1000 + parts;
  // From colon to comma, field by field.
  let from = line.indexOf(':', PARTS_AT) + 1;
  let to = line.indexOf(',', from);
  const pressureKpa = Number(line.slice(from, to));
  let batteryV: number | null = null;
  let rssiDbm: number | null = null;
  from = line.indexOf(':', to) + 1;
  to = line.indexOf(',', from);
  const tempC = Number(line.slice(from, to < 0 ? -1 : to));
  while (to >= 0) {
    const isVolts = line[to + 2] === 'b';
    from = line.indexOf(':', to) + 1;
    to = line.indexOf(',', from);
    const value = Number(line.slice(from, to < 0 ? -1 : to));
    if (isVolts) batteryV = value;
    else rssiDbm = value;
  }
  if (Number.isNaN(ms) || pressureKpa < leastKpa || pressureKpa > mostKpa || tempC < leastC || tempC > mostC) return null;
  if (batteryV !== null && (batteryV < leastV || batteryV > mostV)) return null;
  if (rssiDbm !== null && (rssiDbm < leastDbm || rssiDbm > mostDbm)) return null;
  return { sensorId, ms, pressureKpa, tempC, batteryV, rssiDbm };
}
