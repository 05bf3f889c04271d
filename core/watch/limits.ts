import type { Setting } from '#schema/unit.ts';

/**
 * Share of the cold target under which low rings while the owner has set no low limit: a factory monitor must warn at 25 % under the
 * recommended cold pressure (United States safety standard 138; from memory).
 */
export const UNSET_LOW_SHARE = 0.75;

/**
 * The low limit that is in force on a wheel, kPa gauge. A wheel without one of its own is not left to go flat in silence.
 * @returns `assumed` when it is not the owner's; null when there is not even a cold target to take it from
 */
export function lowInForce({ limits, cold }: Pick<Setting, 'limits' | 'cold'>): { lowKpa: number | null; assumed: boolean } {
  if (limits?.lowKpa != null) return { lowKpa: limits.lowKpa, assumed: false };
  return cold ? { lowKpa: UNSET_LOW_SHARE * cold.kpa, assumed: true } : { lowKpa: null, assumed: false };
}
