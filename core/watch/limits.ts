import type { Monitor } from '#schema/monitor.ts';
import type { Setting } from '#schema/unit.ts';
import { baselineFor, derivedFrom } from '../alarms/held.ts';
import { limitsFor } from '../alarms/limits.ts';
import { convert } from '../units/units.ts';

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

/** The monitor of a rig, as far as the watch stands in for it. */
export type StandIn = Pick<Monitor, 'groups' | 'derives' | 'unit' | 'step' | 'min' | 'max'>;

/**
 * Both limits in force on a wheel. Where its rule leaves them to a monitor that derives them from a baseline, and its shares are known, they
 * are those that the monitor rings at.
 */
export function limitsInForce(
  setting: Pick<Setting, 'limits' | 'cold'>,
  monitor: StandIn | null,
): { lowKpa: number | null; highKpa: number | null; assumed: boolean } {
  const { limits, cold } = setting;
  if (limits?.rule.school === 'baseline' && limits.lowKpa === null && cold && monitor?.groups === 'baseline' && monitor.derives) {
    const { low, high } = derivedFrom(convert(baselineFor(monitor, cold.kpa), monitor.unit, 'kPa'), monitor.derives);
    return { lowKpa: low, highKpa: high, assumed: false };
  }
  return { ...lowInForce(setting), highKpa: limits?.highKpa ?? null };
}
