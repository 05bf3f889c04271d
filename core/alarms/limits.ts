import type { AlarmRule, Limits } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** Why one limit is what it is: a code and the figures it was made from. The words are made elsewhere. */
export interface LimitReason {
  field: 'low' | 'high';
  code:
    | 'shareUnderCold'
    | 'shareOverCold'
    | 'marginUnderCold'
    | 'marginOverCold'
    | 'shareUnderRating'
    | 'shareOverRating'
    | 'roughUnderCold'
    | 'roughOverCold'
    | 'floor'
    | 'ceiling'
    | 'noHigh'
    | 'monitorDerives'
    | 'regulationShare'
    | 'regulationFloor';
  share?: number;
  ofKpa?: number;
  marginKpa?: number;
  roundKpa?: number;
  floorKpa?: number;
}

/** What a school gives: null where it sets no such limit. */
export interface LimitPair {
  lowKpa: number | null;
  highKpa: number | null;
  why: LimitReason[];
}

/** A fixed margin of 15 psi either side (common practice, no source). */
export const DEFAULT_MARGIN_KPA = 15 * KPA_PER_PSI;
/** Rough rounding goes to the nearest 10 psi (common practice, no source). */
export const DEFAULT_ROUND_KPA = 10 * KPA_PER_PSI;

// A figure that stands on the multiple but for binary rounding must not fall to the next one.
const toNearest = (value: number, step: number) => Math.round(value / step + 1e-9) * step;

/** Which field of the rule to name when its limit is impossible. */
type Blame = { low: string; high: string };

function apply(rule: AlarmRule, coldKpa: number): LimitPair & { blame: Blame } {
  switch (rule.school) {
    case 'share': {
      const low = rule.lowShare ?? 0.1;
      const high = rule.highShare ?? (rule.hotClimate ? 0.25 : 0.2);
      return {
        lowKpa: coldKpa * (1 - low),
        highKpa: coldKpa * (1 + high),
        why: [
          { field: 'low', code: 'shareUnderCold', share: low, ofKpa: coldKpa },
          { field: 'high', code: 'shareOverCold', share: high, ofKpa: coldKpa },
        ],
        blame: { low: '/lowShare', high: '/highShare' },
      };
    }
    case 'margin': {
      const margin = rule.marginKpa ?? DEFAULT_MARGIN_KPA;
      const blame = rule.marginKpa === undefined ? '/coldKpa' : '/marginKpa';
      return {
        lowKpa: coldKpa - margin,
        highKpa: coldKpa + margin,
        why: [
          { field: 'low', code: 'marginUnderCold', marginKpa: margin, ofKpa: coldKpa },
          { field: 'high', code: 'marginOverCold', marginKpa: margin, ofKpa: coldKpa },
        ],
        blame: { low: blame, high: blame },
      };
    }
    case 'rating': {
      const low = rule.lowShare ?? 0.15;
      const high = rule.highShare ?? 0.25;
      return {
        lowKpa: rule.ratingKpa * (1 - low),
        highKpa: rule.ratingKpa * (1 + high),
        why: [
          { field: 'low', code: 'shareUnderRating', share: low, ofKpa: rule.ratingKpa },
          { field: 'high', code: 'shareOverRating', share: high, ofKpa: rule.ratingKpa },
        ],
        blame: { low: '/ratingKpa', high: '/ratingKpa' },
      };
    }
    case 'rough': {
      const round = rule.roundKpa ?? DEFAULT_ROUND_KPA;
      const blame = rule.roundKpa === undefined ? '/coldKpa' : '/roundKpa';
      return {
        lowKpa: toNearest(coldKpa * 0.9, round),
        highKpa: toNearest(coldKpa * 1.25, round),
        why: [
          { field: 'low', code: 'roughUnderCold', share: 0.1, ofKpa: coldKpa, roundKpa: round },
          { field: 'high', code: 'roughOverCold', share: 0.25, ofKpa: coldKpa, roundKpa: round },
        ],
        blame: { low: blame, high: blame },
      };
    }
    case 'floorCeiling':
      return {
        lowKpa: rule.floorKpa,
        highKpa: rule.ceilingKpa,
        why: [
          { field: 'low', code: 'floor', floorKpa: rule.floorKpa },
          { field: 'high', code: 'ceiling', ofKpa: rule.ceilingKpa },
        ],
        blame: { low: '/floorKpa', high: '/ceilingKpa' },
      };
    case 'lowOnly': {
      const low = rule.lowShare ?? 0.1;
      return {
        lowKpa: coldKpa * (1 - low),
        highKpa: null,
        why: [
          { field: 'low', code: 'shareUnderCold', share: low, ofKpa: coldKpa },
          { field: 'high', code: 'noHigh' },
        ],
        blame: { low: '/lowShare', high: '' },
      };
    }
    case 'baseline':
      return {
        lowKpa: null,
        highKpa: null,
        why: [
          { field: 'low', code: 'monitorDerives', ofKpa: coldKpa },
          { field: 'high', code: 'monitorDerives', ofKpa: coldKpa },
        ],
        blame: { low: '', high: '' },
      };
    case 'regulation': {
      const share = rule.lowShare ?? 0.25;
      const byShare = coldKpa * (1 - share);
      const floor = rule.floorKpa ?? 0;
      const byFloor = floor > byShare;
      return {
        lowKpa: byFloor ? floor : byShare,
        highKpa: null,
        why: [
          byFloor
            ? { field: 'low', code: 'regulationFloor', floorKpa: floor }
            : { field: 'low', code: 'regulationShare', share, ofKpa: coldKpa },
          { field: 'high', code: 'noHigh' },
        ],
        blame: { low: byFloor ? '/floorKpa' : '/lowShare', high: '' },
      };
    }
  }
}

/**
 * Alarm limits that a school gives for a cold pressure, exact, before any monitor's step.
 * The shares and margins are the trade's (common practice, no source); `regulation` after 49 CFR 571.138 S4.2 (from memory).
 * @param rule the school with its own parameters
 * @param coldKpa cold gauge pressure, kPa, over 0
 * @throws FieldError at the field at fault when the low is at or under 0 or at or over cold, or the high at or under cold
 */
export function limitsFor(rule: AlarmRule, coldKpa: number): LimitPair {
  if (!(coldKpa > 0)) throw new FieldError('/coldKpa', 'must be over 0');
  const { lowKpa, highKpa, why, blame } = apply(rule, coldKpa);
  if (lowKpa !== null && lowKpa <= 0) throw new FieldError(blame.low, 'puts the low alarm at or under 0');
  if (lowKpa !== null && lowKpa >= coldKpa) throw new FieldError(blame.low, 'puts the low alarm at or over the cold pressure');
  if (highKpa !== null && highKpa <= coldKpa)
    throw new FieldError(blame.high, 'puts the high alarm at or under the cold pressure');
  return { lowKpa, highKpa, why };
}

/** The usual preset for hot, °C; most owners leave it (common practice, no source). */
export const DEFAULT_HOT_C = 70;

/**
 * Limits that were read off a monitor somebody else set up, with a rule that gives just these.
 * @param lowKpa,highKpa as shown; null where it has no such limit
 * @param coldKpa null while it is unknown
 * @param hotC temperature limit that stays with them, °C
 * @returns null where the plan can't have them: no low, or the cold pressure isn't between them
 */
export function limitsAsRead(lowKpa: number | null, highKpa: number | null, coldKpa: number | null, hotC: number): Limits | null {
  if (lowKpa === null || (highKpa !== null && highKpa <= lowKpa)) return null;
  if (coldKpa !== null && (lowKpa >= coldKpa || (highKpa !== null && highKpa <= coldKpa))) return null;
  const rule: AlarmRule =
    highKpa !== null
      ? { school: 'floorCeiling', floorKpa: lowKpa, ceilingKpa: highKpa }
      : coldKpa !== null
        ? { school: 'lowOnly', lowShare: 1 - lowKpa / coldKpa }
        : { school: 'regulation', floorKpa: lowKpa };
  return { rule, lowKpa, highKpa, hotC };
}
