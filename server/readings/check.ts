import { explain } from '#schema/explain.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { Reading } from '#schema/reading.ts';
import { records } from '../../generated/bodies.js';
import type { CheckedReading } from '../watch/store.ts';

const FUTURE_MS = 5 * 60_000;
const PAST_MS = 24 * 3600_000;

/** What is wrong with the time of a reading that is said to be of now; null when nothing is. */
export function timeFaults(ms: number, nowMs: number): FieldProblem[] | null {
  if (ms > nowMs + FUTURE_MS) {
    return [{ pointer: '/time', detail: 'is more than 5 minutes in the future; check the clock it came from' }];
  }
  if (ms < nowMs - PAST_MS) {
    return [{ pointer: '/time', detail: 'is more than a day old; send it with ?history=true if it is meant' }];
  }
  return null;
}

/**
 * Check one reading.
 * @param history true: any time is taken
 * @returns the reading, or what is wrong with it, field by field
 */
export function checkReading(value: unknown, nowMs: number, history: boolean): CheckedReading | FieldProblem[] {
  const valid = records.reading;
  if (!valid(value)) return explain(valid.errors);
  const r = value as Reading;
  if ((r.sensorId === undefined) === (r.wheel === undefined))
    return [
      r.wheel
        ? { pointer: '/wheel', detail: 'name the sensor or the wheel, not both' }
        : { pointer: '/sensorId', detail: 'is missing: name the sensor, or the wheel it is on' },
    ];
  const ms = Date.parse(r.time);
  const faults = history ? null : timeFaults(ms, nowMs);
  if (faults) return faults;
  return {
    sensorId: r.sensorId?.toUpperCase() ?? '',
    ...(r.wheel ? { wheel: r.wheel } : {}),
    ms,
    pressureKpa: r.pressureKpa,
    tempC: r.tempC,
    batteryV: r.batteryV ?? null,
    rssiDbm: r.rssiDbm ?? null,
  };
}
