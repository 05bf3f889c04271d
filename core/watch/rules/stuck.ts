import type { WatchEvent } from '../ledger.ts';
import { coldEvidence, end, raise } from '../ledger.ts';
import { WATCH } from '../parameters.ts';
import { type Rig, type Rule, suppressed, type Wheel } from './rule.ts';

/**
 * A sensor that goes on reporting the same figures while the rig warms up. Every wheel counts how often its temperature has moved on by
 * `WATCH.moveK`; one whose figures haven't changed at all, while the others have moved on that often on average, is stuck.
 */

/** A reading has changed, or is the wheel's first: note when, and how far the rig had moved by then. */
export function noteMove(wheel: Wheel, ms: number, tempC: number, rig: Rig): void {
  const { memory } = wheel;
  countFromHere(wheel, ms, rig);
  if (memory.lastMs === null) memory.anchorC = tempC;
  else if (Math.abs(tempC - memory.anchorC) >= WATCH.moveK) {
    memory.anchorC = tempC;
    // One that was just put on warms by itself, whatever the rig does.
    if (memory.putOnMs != null) return;
    memory.movedMs = ms;
    rig.moves += 1;
  }
}

/** Count from here how often the others move on: the wheel has said something new, or has slept and had no chance to. */
export function countFromHere({ memory }: Wheel, ms: number, rig: Rig): void {
  memory.sameSinceMs = ms;
  memory.sameMoves = rig.moves;
}

/** How often the others have moved on, on average, since this wheel last changed; 0 unless nearly all of them have. */
export function othersMoved(wheel: Wheel, ms: number, rig: Rig): number {
  let others = 0;
  let moved = 0;
  for (const w of rig.list) {
    const { lastMs } = w.memory;
    if (w === wheel || w.limits.rests || suppressed(w) || lastMs === null || ms - lastMs > WATCH.silentAfterMs) continue;
    if (w.memory.putOnMs != null) continue;
    others += 1;
    if (w.memory.movedMs > wheel.memory.sameSinceMs) moved += 1;
  }
  return others === 0 || moved < WATCH.movedShare * others ? 0 : (rig.moves - wheel.memory.sameMoves) / others;
}

/** Frozen for long enough that it says nothing about its tire any more. */
export function isFrozen(wheel: Wheel, ms: number, rig: Rig): boolean {
  const { sameSinceMs, sameMoves, active } = wheel.memory;
  // Most wheels have changed just now, or nothing has moved since: that is quickly seen.
  if (ms - sameSinceMs < WATCH.frozenMs || rig.moves - sameMoves < WATCH.frozenMoves) return active.stuck !== undefined;
  return active.stuck !== undefined || othersMoved(wheel, ms, rig) >= WATCH.frozenMoves;
}

export const stuck: Rule = {
  kinds: ['stuck'],
  arrived(wheel, { ms, kpa, tempC }, _rig, out: WatchEvent[]) {
    const { memory } = wheel;
    // It says something new.
    if (memory.active.stuck && (kpa !== memory.lastKpa || tempC !== memory.lastC)) end(wheel, 'stuck', ms, out);
  },
  scan(ms, rig, out) {
    if (!rig.sleepAware || rig.busySinceMs === null || ms % WATCH.stuckEachMs !== 0) return;
    for (const wheel of rig.list) {
      const { memory } = wheel;
      if (ms - memory.sameSinceMs < WATCH.stuckMs || rig.moves - memory.sameMoves < WATCH.stuckMoves) continue;
      if (memory.active.stuck || memory.lastMs === null || wheel.limits.rests || suppressed(wheel)) continue;
      if (ms - memory.lastMs > WATCH.busyWindowMs || memory.lastMs - memory.sameSinceMs < WATCH.stuckMs / 2) continue;
      // Parked, a sensor that says the same is one that sleeps.
      if (memory.lastKpa < WATCH.fittedFromKpa || memory.gapMs > WATCH.rollingGapMs) continue;
      if (othersMoved(wheel, ms, rig) < WATCH.stuckMoves) continue;
      raise(wheel, 'stuck', ms, WATCH.stuckMs / 1000, memory.lastKpa, out, {
        ...coldEvidence(memory),
        sinceMs: memory.sameSinceMs,
      });
    }
  },
};
