import type { WatchEvent } from '../ledger.ts';
import { end, pastLimit } from '../ledger.ts';
import { WATCH } from '../parameters.ts';
import { hasTemperature, type Judged, type Rule, type Wheel } from './rule.ts';

/**
 * How far a reading must come back before its alarm returns, kPa: 1 psi, but never more than half the way from the limit to the cold
 * pressure, so that a tire put back to its cold pressure always ends its alarm.
 */
export function hysteresis(limitKpa: number, coldKpa: number | null): number {
  if (coldKpa === null) return WATCH.pressureHysteresisKpa;
  return Math.min(WATCH.pressureHysteresisKpa, Math.abs(coldKpa - limitKpa) * WATCH.hysteresisShare);
}

/** Low, high and hot: the raw reading against its limit. */
function judge(wheel: Wheel, { ms, kpa, tempC }: Readonly<Judged>, out: WatchEvent[]): void {
  const { active } = wheel.memory;
  const { lowKpa, highKpa, hotC, coldKpa } = wheel.limits;
  if (lowKpa !== null && kpa <= lowKpa && !wheel.filling) pastLimit(wheel, 'low', ms, lowKpa, kpa, -1, out);
  else if (active.low && (wheel.filling || lowKpa === null || kpa >= lowKpa + hysteresis(lowKpa, coldKpa))) {
    end(wheel, 'low', ms, out);
  }
  if (highKpa !== null && kpa >= highKpa) pastLimit(wheel, 'high', ms, highKpa, kpa, 1, out);
  else if (active.high && (highKpa === null || kpa <= highKpa - hysteresis(highKpa, coldKpa))) {
    end(wheel, 'high', ms, out);
  }
  if (hotC !== null && tempC >= hotC) pastLimit(wheel, 'hot', ms, hotC, tempC, 1, out);
  else if (active.hot && (hotC === null || (tempC <= hotC - WATCH.hotHysteresisK && hasTemperature(tempC)))) {
    end(wheel, 'hot', ms, out);
  }
}

export const limits: Rule = {
  kinds: ['low', 'high', 'hot'],
  judge: (wheel, reading, _rig, out) => judge(wheel, reading, out),
  again: (wheel, reading, _rig, out) => judge(wheel, reading, out),
};
