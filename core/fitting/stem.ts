/** Standard gravity, m/s2 (NIST SP 811). */
const G0 = 9.80665;

/** What a turning wheel does to a sensor on its valve. */
export interface StemLoad {
  /** Force outward, N. */
  forceN: number;
  /** Acceleration at the sensor, in multiples of gravity. */
  accelerationG: number;
  /** Weight at the rim edge that balances it, kg; only where the rim is known. */
  balanceMassKg?: number;
}

/**
 * Moment that bends a stem: the force outward times its lever (law). It is what swings a long stem out.
 * @returns newton metres
 */
export const bendingNm = (forceN: number, leverMm: number): number => (forceN * leverMm) / 1000;

/**
 * Force on a sensor at speed: `m * (v / R)^2 * r` (centripetal force of a point mass; law).
 * @param massKg mass of the sensor, kg
 * @param valveRadiusM distance of the sensor from the axle, m
 * @param speedMps road speed, m/s
 * @param rollingRadiusM rolling radius of the tire, m
 * @param rimRadiusM radius at which a balance weight sits, m
 */
export function stemLoad(
  massKg: number,
  valveRadiusM: number,
  speedMps: number,
  rollingRadiusM: number,
  rimRadiusM?: number,
): StemLoad {
  const omega = speedMps / rollingRadiusM;
  const acceleration = omega ** 2 * valveRadiusM;
  return {
    forceN: massKg * acceleration,
    accelerationG: acceleration / G0,
    ...(rimRadiusM === undefined ? {} : { balanceMassKg: (massKg * valveRadiusM) / rimRadiusM }),
  };
}
