import type { WatchEvent } from '../ledger.ts';
import { end, raise, report } from '../ledger.ts';
import { median } from '../median.ts';
import { WATCH } from '../parameters.ts';
import type { ActiveAlarm, WheelMemory } from '../wheel.ts';
import { justHandled, type Rig, type Rule, suppressed, type Wheel } from './rule.ts';

/** The wheel's usual interval between readings, ms; 0 while it is unknown. */
const usualMs = (memory: Pick<WheelMemory, 'intervals'>): number =>
  memory.intervals.length === 0 ? 0 : median(memory.intervals);

/**
 * After how long without a reading a wheel counts as not reporting, ms: over 15 min and over ten of its own median intervals.
 * Null while its habit is unknown (fewer than two readings).
 */
export function silentAfterMs(memory: Pick<WheelMemory, 'intervals'>): number | null {
  if (memory.intervals.length === 0) return null;
  return Math.max(WATCH.silentAfterMs, WATCH.silentIntervals * usualMs(memory));
}

/** Whether the rig is awake: half of a unit is heard, and at least two wheels where there are more than two. */
export function isAwake(rig: Rig, ms: number): boolean {
  let known = 0;
  let heard = 0;
  let awake = false;
  for (const wheels of rig.units.values()) {
    let k = 0;
    let h = 0;
    for (const { memory, limits } of wheels) {
      if (memory.lastMs === null || limits.rests || limits.resting) continue;
      k += 1;
      if (ms - memory.lastMs <= WATCH.busyWindowMs && isDense(memory) && !justHandled(memory, ms)) h += 1;
    }
    known += k;
    heard += h;
    if (k > 0 && h >= k / 2) awake = true;
  }
  // One sensor that was tapped doesn't wake a rig.
  return awake && heard >= (known > 2 ? 2 : 1);
}

/** Heard as often as on the move. Unknown before the second reading. */
const isDense = (m: WheelMemory): boolean =>
  m.gapMs === 0 || m.gapMs <= Math.max(WATCH.rollingGapMs, WATCH.rollingGaps * m.denseMs);

function lose(wheel: Wheel, fromMs: number, afterMs: number, out: WatchEvent[]): void {
  const { memory } = wheel;
  raise(wheel, 'silent', fromMs, afterMs / 1000, memory.lastKpa, out, { sinceMs: memory.lastMs as number });
}

/** Half of the others were heard just now, by their own habits: so the rig hasn't fallen asleep. */
function othersReport(which: (w: Wheel) => boolean, ms: number, rig: Rig): boolean {
  let known = 0;
  let heard = 0;
  for (const w of rig.list) {
    const { memory, limits } = w;
    if (!which(w) || memory.lastMs === null || limits.rests || limits.resting || memory.active.silent || suppressed(w)) continue;
    if (rig.missing.has(w.unit) || justHandled(memory, ms)) continue;
    // One that has itself been away for long says nothing about the rig.
    if (ms - memory.lastMs > WATCH.silentAfterMs) continue;
    known += 1;
    if (ms - memory.lastMs <= Math.max(WATCH.othersWithinMs, WATCH.othersIntervals * usualMs(memory))) heard += 1;
  }
  return known > 0 && heard >= known / 2;
}

/** A whole unit that stays away while others are heard: the repeater, or a trailer left behind. */
function scanUnit(unit: string, wheels: readonly Wheel[], ms: number, since: number, rig: Rig, out: WatchEvent[]): void {
  let count = 0;
  let lastMs = Number.NEGATIVE_INFINITY;
  let slowest = 0;
  for (const w of wheels) {
    if (w.memory.lastMs === null || w.limits.rests || w.limits.resting || suppressed(w)) continue;
    if (w.memory.active.silent) continue;
    if (ms - Math.max(w.memory.lastMs, since) <= WATCH.unitSilentMs) return;
    count += 1;
    lastMs = Math.max(lastMs, w.memory.lastMs);
    slowest = Math.max(slowest, usualMs(w.memory));
  }
  if (count < 2 || ms - Math.max(lastMs, since) <= WATCH.silentIntervals * slowest) return;
  if (!othersReport((w) => w.unit !== unit, ms, rig)) return;
  const seconds = (ms - lastMs) / 1000;
  const alarm: ActiveAlarm = {
    fromMs: ms,
    limit: WATCH.unitSilentMs / 1000,
    value: seconds,
    worst: seconds,
    evidence: { how: 'unit', sinceMs: lastMs },
  };
  rig.missing.set(unit, alarm);
  report('raised', unit, 'silent', ms, alarm, out);
}

/** A unit that is connected and was never heard, though the rig has been on the move for long: a repeater without power, another list. */
function scanNeverHeard(unit: string, wheels: readonly Wheel[], ms: number, since: number, rig: Rig, out: WatchEvent[]): void {
  const known = wheels.filter((w) => !w.limits.rests && !w.limits.resting && w.limits.waitsFitting !== true);
  if (known.length === 0 || known.some((w) => w.memory.lastMs !== null)) return;
  if (ms - since <= WATCH.neverHeardMs || !othersReport((w) => w.unit !== unit, ms, rig)) return;
  const seconds = (ms - since) / 1000;
  const alarm: ActiveAlarm = {
    fromMs: ms,
    limit: WATCH.neverHeardMs / 1000,
    value: seconds,
    worst: seconds,
    evidence: { how: 'unit' },
  };
  rig.missing.set(unit, alarm);
  report('raised', unit, 'silent', ms, alarm, out);
}

/** A unit that was missing as a whole is heard again, or has left. */
export function foundUnit(unit: string, ms: number, rig: Rig, out: WatchEvent[]): void {
  const alarm = rig.missing.get(unit);
  if (!alarm) return;
  rig.missing.delete(unit);
  report('returned', unit, 'silent', ms, alarm, out);
}

/** Each wheel on its own, whatever the others do. */
function scanAlone(ms: number, rig: Rig, out: WatchEvent[]): void {
  for (const wheel of rig.list) {
    const { memory } = wheel;
    if (memory.lastMs === null || ms - memory.lastMs <= WATCH.silentAfterMs || memory.active.silent) continue;
    if (wheel.limits.resting || suppressed(wheel)) continue;
    const after = silentAfterMs(memory);
    if (after !== null && ms - memory.lastMs > after) lose(wheel, memory.lastMs + after, after, out);
  }
}

/** Wheels and units that should have been heard by now, by their own habit, while the rig is awake and others are heard. */
function scanAwake(ms: number, since: number, rig: Rig, out: WatchEvent[]): void {
  for (const [unit, wheels] of rig.units) {
    if (rig.units.size === 1 || rig.missing.has(unit)) continue;
    scanUnit(unit, wheels, ms, since, rig, out);
    if (!rig.missing.has(unit)) scanNeverHeard(unit, wheels, ms, since, rig, out);
  }
  for (const wheel of rig.list) {
    const { memory, limits } = wheel;
    if (memory.lastMs === null || ms - memory.lastMs <= WATCH.silentAfterMs || memory.active.silent) continue;
    if (limits.rests || limits.resting || suppressed(wheel) || rig.missing.has(wheel.unit)) continue;
    const after = silentAfterMs(memory);
    if (after === null || ms - Math.max(memory.lastMs, since) <= after) continue;
    if (othersReport((w) => w !== wheel, ms, rig)) lose(wheel, ms, after, out);
  }
}

/** A wheel, or a whole unit, that isn't reporting. */
export const silence: Rule = {
  kinds: ['silent'],
  arrived(wheel, { ms, previousMs }, rig, out) {
    const { memory } = wheel;
    if (ms - previousMs > WATCH.silentAfterMs) {
      // A gap has just ended with a reading: was it long enough to count?
      if (!rig.sleepAware && !memory.active.silent && !wheel.limits.resting && !suppressed(wheel)) {
        const after = silentAfterMs(memory);
        if (after !== null && ms - previousMs > after) lose(wheel, previousMs + after, after, out);
      }
    }
    if (memory.active.silent) end(wheel, 'silent', ms, out);
    if (rig.missing.size > 0) foundUnit(wheel.unit, ms, rig, out);
  },
  scan(ms, rig, out) {
    if (!rig.sleepAware) scanAlone(ms, rig, out);
    // A rig that is known to be parked puts its sensors to sleep one by one.
    else if (rig.busySinceMs !== null && rig.around.moving !== false) scanAwake(ms, rig.busySinceMs, rig, out);
  },
};
