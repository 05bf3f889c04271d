/** Sea-level pressure of the standard atmosphere, kPa. */
export const STANDARD_AMBIENT_KPA = 101.325;
/** Specific gas constant of dry air, J/(kg K) (U.S. Standard Atmosphere 1976: 8314.32 / 28.9644). */
export const AIR_GAS_CONSTANT = 287.05287;

/**
 * Ambient pressure of the standard atmosphere.
 * @param altitudeM geopotential altitude, -500 to 11,000 m (the troposphere)
 * @returns absolute pressure in kPa
 * Source: U.S. Standard Atmosphere 1976 / ISO 2533: `p = p0 * (1 - L h / T0)^(g0 / (R L))` with L = 6.5 K/km, T0 = 288.15 K.
 */
export function ambientAtAltitude(altitudeM: number): number {
  const L = 0.0065;
  const T0 = 288.15;
  const g0 = 9.80665;
  return STANDARD_AMBIENT_KPA * (1 - (L * altitudeM) / T0) ** (g0 / (AIR_GAS_CONSTANT * L));
}
