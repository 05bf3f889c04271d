import type { Setting } from '#schema/unit.ts';
import { limitsFor } from '../alarms/limits.ts';

/**
 * The low limit that is in force on a wheel, kPa gauge. A wheel without one of its own, because none was set or because the monitor works
 * out its own, is not left to go flat in silence: it rings where a factory monitor must, at 25 % under its cold target (49 CFR 571.138
 * S4.2, from memory).
 * @returns `assumed` when it is not the owner's; null when there is not even a cold target to take it from
 */
export function lowInForce({ limits, cold }: Pick<Setting, 'limits' | 'cold'>): { lowKpa: number | null; assumed: boolean } {
  if (limits?.lowKpa != null) return { lowKpa: limits.lowKpa, assumed: false };
  if (!cold) return { lowKpa: null, assumed: false };
  return { lowKpa: limitsFor({ school: 'regulation' }, cold.kpa).lowKpa, assumed: true };
}
