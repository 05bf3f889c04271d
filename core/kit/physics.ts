import type { SensorKind } from '#schema/common.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** How a kind of sensor sees the gas. */
export interface SensorPhysics {
  /** Share of the gas's rise over the air that it shows. */
  share: number;
  /** Lowest and highest share a single sensor may have. */
  shareRange: readonly [number, number];
  /** Lag behind that, s. Assumed. */
  tauS: number;
  /** Standard deviation of its fixed pressure error, kPa. Trade: 1 psi, internal 0.5. */
  errorKpa: number;
}

/** Cap: trade (44 °C shown where the gas law gives 72 to 82 °C). Others assumed. */
export const SENSOR_PHYSICS: Record<SensorKind, SensorPhysics> = {
  cap: { share: 0.5, shareRange: [0.43, 0.6], tauS: 4 * 60, errorKpa: KPA_PER_PSI },
  flowThrough: { share: 0.35, shareRange: [0.35, 0.35], tauS: 5 * 60, errorKpa: KPA_PER_PSI },
  internal: { share: 0.9, shareRange: [0.9, 0.9], tauS: 1.5 * 60, errorKpa: 0.5 * KPA_PER_PSI },
};

/**
 * What a sensor of a kind shows in the end for a gas and an air temperature: `air + share * (gas - air)`, °C.
 * @param share its own share, the kind's usual one unless given
 */
export function sensorTempC(kind: SensorKind, gasC: number, airC: number, share = SENSOR_PHYSICS[kind].share): number {
  return airC + share * (gasC - airC);
}

/** The gas temperature that a settled sensor's figure means, °C: `sensorTempC` solved for the gas. */
export function gasTempFrom(kind: SensorKind, shownC: number, airC: number, share = SENSOR_PHYSICS[kind].share): number {
  return airC + (shownC - airC) / share;
}
