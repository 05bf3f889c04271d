import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';

/** A wheel after its run. */
export interface HotWheel {
  position: string;
  coldKpa: number;
  hotKpa: number;
  targetHotKpa: number;
}

export interface Bleed {
  position: string;
  /** To let out of the hot tire, kPa; negative: to add. */
  bleedHotKpa: number;
  /** What to start with cold next time, for the same warmth. */
  nextColdKpa: number;
}

/**
 * What brings a hot tire to its target, and the cold pressure that would have: the same gas, scaled in absolute terms, since at one volume
 * hot and cold pressures stand in one ratio (ideal gas law).
 */
export function bleedHot({ position, coldKpa, hotKpa, targetHotKpa }: HotWheel): Bleed {
  const ratio = (targetHotKpa + STANDARD_AMBIENT_KPA) / (hotKpa + STANDARD_AMBIENT_KPA);
  return {
    position,
    bleedHotKpa: hotKpa - targetHotKpa,
    nextColdKpa: ratio * (coldKpa + STANDARD_AMBIENT_KPA) - STANDARD_AMBIENT_KPA,
  };
}
