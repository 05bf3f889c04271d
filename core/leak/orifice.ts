import { AIR_GAS_CONSTANT } from '../air/atmosphere.ts';

/** Ratio of specific heats of a diatomic gas. */
const GAMMA = 1.4;
/** Discharge coefficient of a sharp-edged hole. */
export const DISCHARGE_COEFFICIENT = 0.62;

/**
 * Air lost through a hole: compressible orifice flow, choked at and under the critical ratio of 0.528 (isentropic nozzle
 * flow of an ideal diatomic gas; any gas-dynamics text).
 * @param holeMm diameter of the hole, mm
 * @param absKpa absolute pressure inside, kPa
 * @param ambientAbsKpa absolute pressure outside, kPa
 * @param tempK gas temperature inside, K
 * @returns kg/s; 0 when the inside is not over the outside
 */
export function orificeFlow(holeMm: number, absKpa: number, ambientAbsKpa: number, tempK: number): number {
  if (holeMm <= 0 || absKpa <= ambientAbsKpa) return 0;
  const A = (Math.PI / 4) * (holeMm / 1000) ** 2;
  const p = absKpa * 1000;
  const g = GAMMA;
  const ratio = ambientAbsKpa / absKpa;
  const critical = (2 / (g + 1)) ** (g / (g - 1));
  if (ratio <= critical) {
    return DISCHARGE_COEFFICIENT * A * p * Math.sqrt((g / (AIR_GAS_CONSTANT * tempK)) * (2 / (g + 1)) ** ((g + 1) / (g - 1)));
  }
  const inner = ratio ** (2 / g) - ratio ** ((g + 1) / g);
  return DISCHARGE_COEFFICIENT * A * p * Math.sqrt(((2 * g) / ((g - 1) * AIR_GAS_CONSTANT * tempK)) * inner);
}
