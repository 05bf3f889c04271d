import type { Severity } from '#schema/alarm.ts';
import type { WatchEvent } from '../ledger.ts';
import { end, pastLimit } from '../ledger.ts';
import { WATCH } from '../parameters.ts';
import type { ActiveAlarm, AlarmEvidence, WheelMemory } from '../wheel.ts';
import { hasTemperature, type Judged, likelyTakenOff, type Rig, type Rule, type Wheel } from './rule.ts';

/**
 * How far a reading must come back before its alarm returns, kPa: 1 psi or a step and a half of the sensor, but never more than a share of the
 * way from the limit to the cold pressure, so that a tire put back to its cold pressure always ends its alarm.
 * @param stepKpa the step of the sensor as its readings showed it; 0: unknown
 */
export function hysteresis(limitKpa: number, coldKpa: number | null, stepKpa = 0): number {
  const steps = WATCH.hysteresisSteps * stepKpa;
  if (coldKpa === null) return Math.max(WATCH.pressureHysteresisKpa, steps);
  const way = Math.abs(coldKpa - limitKpa);
  const usual = Math.min(WATCH.pressureHysteresisKpa, way * WATCH.hysteresisShare);
  return Math.max(usual, Math.min(steps, way * WATCH.hysteresisMostShare));
}

interface Why {
  cause: NonNullable<AlarmEvidence['cause']>;
  priority: Severity;
}

/**
 * Why a reading is at its low limit. The cold is the reason where the tire's cold-equivalent pressure is about what it was set to, or has lost
 * next to nothing and is over the limit: then it is a note, unless the tire as it is can't carry its load.
 */
function whyLow(wheel: Wheel, { ms, kpa, tempC }: Readonly<Judged>, rig: Rig): Why {
  const { memory, limits } = wheel;
  const { coldKpa, lowKpa, loadMinimumKpa, coldTempC } = limits;
  // A sensor that fell to nothing at a parked rig was taken off: the owner is asked.
  if (likelyTakenOff(wheel, ms, rig)) return { cause: 'air', priority: 'note' };
  if (coldKpa === null || !hasTemperature(tempC)) return { cause: 'air', priority: 'stop' };
  const full = memory.heldKpa >= (1 - WATCH.weatherLossShare) * coldKpa;
  // A sensor that is off shows less from the start: what it usually shows is the measure then.
  const cold = ms <= memory.startMs && memory.startCount >= WATCH.startFrom;
  const usualKpa = cold ? memory.startKpa : memory.usualKpa;
  const kept =
    (cold || memory.usualCount >= WATCH.usualFrom) &&
    memory.heldKpa > (lowKpa ?? 0) - WATCH.weatherBelowShare * coldKpa &&
    usualKpa - (memory.heldKpa - memory.shiftKpa) <= WATCH.weatherKeptShare * coldKpa;
  if (!full && !kept) return { cause: 'air', priority: isKnown(wheel, ms) ? 'note' : 'stop' };
  // Cold, it needs the load minimum as a figure of now; warmer it was compared at like temperatures already.
  const cannot = loadMinimumKpa !== null && memory.gasC <= coldTempC && kpa + memory.stepKpa / 2 < loadMinimumKpa;
  return { cause: 'weather', priority: cannot ? 'stop' : 'note' };
}

/**
 * Whether a low tire has sounded already and nothing is new: it carries its load with 1 psi to spare, no air was put in, and it has lost no
 * more. A limit
 * close under the cold pressure would sound every morning else, and nobody listens any more. It stays on the screen as a note.
 */
function isKnown({ memory, limits }: Wheel, ms: number): boolean {
  const toldMs = memory.lowToldMs ?? 0;
  const toldKpa = memory.lowToldKpa ?? 0;
  const carries = limits.loadMinimumKpa !== null && memory.heldKpa - WATCH.lowAgainKpa >= limits.loadMinimumKpa;
  const known =
    toldMs > 0 &&
    carries &&
    ms - toldMs <= WATCH.lowAgainMs &&
    (memory.filledMs ?? 0) <= toldMs &&
    memory.heldKpa >= toldKpa - WATCH.lowAgainKpa - WATCH.lowAgainSteps * memory.stepKpa;
  if (known) return true;
  memory.lowToldMs = ms;
  memory.lowToldKpa = memory.heldKpa;
  return false;
}

/** Far more at a cold start than when it sounded: air was put in while nobody heard it, and the next low is another one. */
function forgetTold(memory: WheelMemory, coldKpa: number | null): void {
  if (coldKpa !== null && memory.heldKpa >= (memory.lowToldKpa ?? 0) + WATCH.lowFilledShare * coldKpa) memory.lowToldMs = 0;
}

/** Why a reading is at its high limit: the run, where the tire may have no more air than it was set to. */
function whyHigh(wheel: Wheel, { kpa, tempC }: Readonly<Judged>): Why {
  const { memory, limits } = wheel;
  const { coldKpa, maxColdKpa } = limits;
  if (coldKpa === null || !hasTemperature(tempC)) return { cause: 'air', priority: 'look' };
  const explained = memory.heldLowKpa <= (1 + WATCH.weatherGainShare) * coldKpa + memory.stepKpa / 2;
  if (!explained) return { cause: 'air', priority: 'look' };
  const most = maxColdKpa === null ? Number.POSITIVE_INFINITY : maxColdKpa * (1 + WATCH.runShare);
  return { cause: 'weather', priority: kpa >= most ? 'look' : 'note' };
}

/** Whether a reading that is back over its hysteresis is back for good: clearly, or for a while. */
function isBack(alarm: ActiveAlarm, ms: number, clearly: boolean, rig: Rig): boolean {
  if (clearly || !rig.sleepAware) return true;
  if (alarm.backMs === undefined) alarm.backMs = ms;
  return ms - alarm.backMs >= WATCH.backHoldMs;
}

/** Low, high and hot: the raw reading against its limit. */
function judge(wheel: Wheel, reading: Readonly<Judged>, rig: Rig, out: WatchEvent[]): void {
  const { ms, kpa, tempC } = reading;
  const { active, stepKpa } = wheel.memory;
  const { lowKpa, highKpa, hotC, coldKpa } = wheel.limits;
  if (lowKpa !== null && kpa <= lowKpa && !wheel.filling)
    pastLimit(wheel, 'low', ms, lowKpa, kpa, -1, out, whyLow(wheel, reading, rig));
  else if (active.low) {
    const by = lowKpa === null ? 0 : hysteresis(lowKpa, coldKpa, stepKpa);
    if (wheel.filling || lowKpa === null) end(wheel, 'low', ms, out);
    else if (kpa < lowKpa + by) active.low.backMs = undefined;
    else if (isBack(active.low, ms, kpa >= Math.min(lowKpa + 2 * by, coldKpa ?? Number.POSITIVE_INFINITY), rig))
      end(wheel, 'low', ms, out);
  }
  if ((wheel.memory.lowToldMs ?? 0) > 0 && ms <= wheel.memory.startMs) forgetTold(wheel.memory, coldKpa);
  if (highKpa !== null && kpa >= highKpa) pastLimit(wheel, 'high', ms, highKpa, kpa, 1, out, whyHigh(wheel, reading));
  else if (active.high) {
    const by = highKpa === null ? 0 : hysteresis(highKpa, coldKpa, stepKpa);
    if (highKpa === null) end(wheel, 'high', ms, out);
    else if (kpa > highKpa - by) active.high.backMs = undefined;
    else if (isBack(active.high, ms, kpa <= Math.max(highKpa - 2 * by, coldKpa ?? Number.NEGATIVE_INFINITY), rig))
      end(wheel, 'high', ms, out);
  }
  if (hotC !== null && tempC >= hotC) pastLimit(wheel, 'hot', ms, hotC, tempC, 1, out);
  else if (active.hot && (hotC === null || (tempC <= hotC - WATCH.hotHysteresisK && hasTemperature(tempC)))) {
    end(wheel, 'hot', ms, out);
  }
}

export const limits: Rule = {
  kinds: ['low', 'high', 'hot'],
  judge,
  again: judge,
};
