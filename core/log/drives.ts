/** What a sensor said in one hour. */
export interface SensorHour {
  /** Start of the hour, ms since the epoch. */
  ms: number;
  /** Readings. */
  count: number;
  lowC: number | null;
  highC: number | null;
}

/** A drive as the readings show it, to the hour. */
export interface FoundDrive {
  fromMs: number;
  toMs: number;
  /** Wheels that warmed. */
  wheels: number;
  /** By how much the middle one of them warmed as its sensor shows it, K. */
  warmedK: number;
}

const HOUR_MS = 3_600_000;
/** A sensor that sends this often in an hour is awake: about once a minute rolling, a few life signs parked (common practice, no source). */
const AWAKE_COUNT = 12;
/** A sensor on the valve of a tire that was driven shows at least this much more, K; a mild afternoon warms less in the same time. Assumed. */
const WARMED_K = 5;
/** A kit that sends day and night: only the hours in which its tires warm are a drive. */
const LONGEST_H = 30;

/**
 * Drives from readings by the hour: hours in which at least half of the wheels that were heard sent as they do on the move, and warmed on the
 * way. What is shorter than a quarter of an hour isn't found.
 * @param sensors hours of each sensor in the order of time
 */
export function drivesOf(sensors: readonly (readonly SensorHour[])[]): FoundDrive[] {
  const byHour = new Map<number, SensorHour[]>();
  for (const list of sensors)
    for (const h of list) {
      const there = byHour.get(h.ms);
      if (there) there.push(h);
      else byHour.set(h.ms, [h]);
    }
  const awake = [...byHour]
    .filter(([, list]) => {
      const n = list.filter((h) => h.count >= AWAKE_COUNT).length;
      return n >= Math.max(2, list.length / 2) || (sensors.length === 1 && n === 1);
    })
    .map(([ms]) => ms)
    .sort((a, b) => a - b);
  const out: FoundDrive[] = [];
  for (let i = 0; i < awake.length; ) {
    let j = i;
    while (j + 1 < awake.length && (awake[j + 1] as number) - (awake[j] as number) === HOUR_MS) j += 1;
    const run = awake.slice(i, j + 1);
    i = j + 1;
    for (const stretch of run.length > LONGEST_H ? run.map((ms) => [ms]) : [run]) {
      const drive = warmed(sensors, stretch);
      if (drive) out.push(drive);
    }
  }
  return joined(out);
}

function warmed(sensors: readonly (readonly SensorHour[])[], stretch: readonly number[]): FoundDrive | null {
  const [fromMs, lastMs] = [stretch[0] as number, stretch.at(-1) as number];
  const rises: number[] = [];
  let heard = 0;
  for (const list of sensors) {
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    for (let i = firstFrom(list, fromMs); i < list.length && (list[i] as SensorHour).ms <= lastMs; i += 1) {
      const h = list[i] as SensorHour;
      if (h.lowC === null || h.highC === null) continue;
      low = Math.min(low, h.lowC);
      high = Math.max(high, h.highC);
    }
    if (high === Number.NEGATIVE_INFINITY) continue;
    heard += 1;
    if (high - low >= WARMED_K) rises.push(high - low);
  }
  if (rises.length === 0 || rises.length < heard / 2) return null;
  rises.sort((a, b) => a - b);
  return { fromMs, toMs: lastMs + HOUR_MS, wheels: rises.length, warmedK: rises[Math.floor(rises.length / 2)] as number };
}

/** Place of the first hour from a time on. A year has thousands of hours and hundreds of drives: each looks only at its own. */
function firstFrom(list: readonly SensorHour[], fromMs: number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((list[middle] as SensorHour).ms < fromMs) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Hours one after the other are one drive. */
function joined(drives: readonly FoundDrive[]): FoundDrive[] {
  const out: FoundDrive[] = [];
  for (const d of drives) {
    const last = out.at(-1);
    if (last && last.toMs === d.fromMs)
      out[out.length - 1] = {
        ...last,
        toMs: d.toMs,
        wheels: Math.max(last.wheels, d.wheels),
        warmedK: Math.max(last.warmedK, d.warmedK),
      };
    else out.push(d);
  }
  return out;
}
