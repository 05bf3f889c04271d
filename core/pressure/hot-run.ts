import { median } from 'simple-statistics';
import type { LearnedRise } from '#schema/history.ts';
import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';

/** What an ordinary run adds to the cold gauge pressure: about 10 % (common practice, no source). */
export const DEFAULT_HOT_SHARE = 0.1;

/**
 * Rise of the gas over the temperature at which it was cold, K, that adds a share of the cold gauge pressure: constant volume, ideal
 * gas, `dT = T * share * p / (p + ambient)`.
 * @param share of the cold gauge pressure, 0 or more
 */
export function riseForShare(coldKpa: number, coldTempC: number, share: number, ambientAbsKpa = STANDARD_AMBIENT_KPA): number {
  return ((coldTempC - ABSOLUTE_ZERO_C) * share * coldKpa) / (coldKpa + ambientAbsKpa);
}

/** One reading of one wheel: when, s, and the gauge pressure. */
export interface RunReading {
  timeS: number;
  pressureKpa: number;
}

/** A run that was seen: what it began with and what it added, as a share of the gauge pressure it began with. */
export interface SeenRun {
  fromS: number;
  startKpa: number;
  share: number;
}

const REST_S = 3 * 3600;
/** A run must last this long to warm a tire through: twice the rolling lag of 22 min (assumed). */
const RUN_S = 44 * 60;
/** A rise smaller than a sensor's step and error is no run. Assumed. */
const LEAST_RISE_KPA = 7;

/**
 * Runs in a wheel's readings, by pressure alone, since no outside sensor shows the gas's temperature: a start after three hours
 * without a reading or without a change over 4 kPa, and the highest pressure in the four hours after it, at least 44 minutes on.
 * The first reading of all counts as a start only when a rest was seen before it.
 * @param readings of one wheel, in order of time
 */
export function seenRuns(readings: readonly RunReading[]): SeenRun[] {
  const runs: SeenRun[] = [];
  let quietFrom = 0;
  let i = 1;
  while (i < readings.length) {
    const r = readings[i] as RunReading;
    const before = readings[i - 1] as RunReading;
    const gap = r.timeS - before.timeS;
    const quiet = readings[quietFrom] as RunReading;
    const stirs = Math.abs(r.pressureKpa - quiet.pressureKpa) > 4;
    const rested = gap >= REST_S || (stirs && before.timeS - quiet.timeS >= REST_S);
    if (!rested) {
      if (stirs) quietFrom = i;
      i += 1;
      continue;
    }
    const start = gap >= REST_S ? r : before;
    let top = start;
    let j = i;
    while (j < readings.length && (readings[j] as RunReading).timeS - start.timeS <= 4 * 3600) {
      const at = readings[j] as RunReading;
      if (j > i && at.timeS - (readings[j - 1] as RunReading).timeS >= REST_S) break;
      if (at.timeS - start.timeS >= RUN_S && at.pressureKpa > top.pressureKpa) top = at;
      j += 1;
    }
    const rise = top.pressureKpa - start.pressureKpa;
    if (rise >= LEAST_RISE_KPA && start.pressureKpa > 0)
      runs.push({ fromS: start.timeS, startKpa: start.pressureKpa, share: rise / start.pressureKpa });
    quietFrom = j - 1;
    i = Math.max(j, i + 1);
  }
  return runs;
}

export type { LearnedRise };

/** Median and spread over the runs of an axle's wheels; null when there are none. */
export function learnedRise(runs: readonly SeenRun[]): LearnedRise | null {
  if (runs.length === 0) return null;
  const share = median(runs.map((r) => r.share));
  const sd = runs.length < 2 ? null : 1.4826 * median(runs.map((r) => Math.abs(r.share - share)));
  return { share, sd, runs: runs.length };
}
