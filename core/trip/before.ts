import { ambientAtAltitude } from '../air/atmosphere.ts';
import { pressureAt } from '../gas/gas.ts';
import type { TripAxle, TripStage } from './outlook.ts';

/** What to set before leaving. */
export interface BeforeLeaving {
  /** The cold pressure as it reads at the start, at that air and height, kPa. */
  usualKpa: number;
  /** More than that, so that no cold start on the way comes to the low limit; null: the usual is enough. */
  neededKpa: number | null;
  /** Where that low would ring: index of the stage. */
  at: number | null;
  /** Why more can't be set: it would come to the high limit on the move, or is over the most the tire may have cold. */
  blocked: 'high' | 'maximum' | null;
}

/**
 * What to set an axle to at the start of a trip: the cold pressure at that place's air and height, or as much more as keeps the low limit quiet
 * at the coldest and lowest stop (constant volume, ideal gas).
 * @param altitudeSetM where the cold pressure holds, m
 * @param marginKpa over the low limit at the worst stop
 * @param maxColdKpa most the tire, rim or valve may have cold; undefined: unknown
 */
export function beforeLeaving(
  axle: TripAxle,
  altitudeSetM: number,
  stages: readonly TripStage[],
  marginKpa: number,
  maxColdKpa?: number,
): BeforeLeaving {
  const start = stages[0] as TripStage;
  const [set, here] = [ambientAtAltitude(altitudeSetM), ambientAtAltitude(start.altitudeM)];
  const usualKpa = pressureAt(axle.coldKpa, axle.coldTempC, start.airC, { ambientAbsKpa: set, toAmbientAbsKpa: here });
  /** A pressure there, brought back to the start. */
  const back = (kpa: number, stage: TripStage, overK = 0) =>
    pressureAt(kpa, stage.airC + overK, start.airC, { ambientAbsKpa: ambientAtAltitude(stage.altitudeM), toAmbientAbsKpa: here });
  const { lowKpa, highKpa } = axle;
  if (lowKpa === undefined) return { usualKpa, neededKpa: null, at: null, blocked: null };
  let most = Number.NEGATIVE_INFINITY;
  let at = 0;
  stages.forEach((s, i) => {
    const needed = back(lowKpa + marginKpa, s);
    if (needed > most) {
      most = needed;
      at = i;
    }
  });
  if (most <= usualKpa + 1e-9) return { usualKpa, neededKpa: null, at: null, blocked: null };
  const high = highKpa !== undefined && stages.some((s) => back(highKpa, s, axle.riseK) <= most);
  const max =
    maxColdKpa === undefined
      ? null
      : pressureAt(maxColdKpa, axle.coldTempC, start.airC, { ambientAbsKpa: set, toAmbientAbsKpa: here });
  return { usualKpa, neededKpa: most, at, blocked: max !== null && most > max ? 'maximum' : high ? 'high' : null };
}
