import { AIR_GAS_CONSTANT, STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { orificeFlow } from '../leak/orifice.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';

/** Way round an opened valve core while a sensor goes on or off, mm as a round hole. Assumed. */
export const HISS_MM = 0.8;

/**
 * Pressure lost while a valve hisses, kPa: compressible orifice flow (see `orificeFlow`) out of a closed volume, in small steps.
 * @param pressureKpa gauge pressure before
 * @param seconds how long it hissed
 * @param airLitres air in the tire
 */
export function hissLossKpa(pressureKpa: number, tempC: number, airLitres: number, seconds: number, holeMm = HISS_MM): number {
  const T = tempC - ABSOLUTE_ZERO_C;
  const volume = airLitres / 1000;
  let abs = pressureKpa + STANDARD_AMBIENT_KPA;
  let rest = seconds;
  while (rest > 0 && abs > STANDARD_AMBIENT_KPA) {
    const dt = Math.min(rest, 0.25);
    const flow = orificeFlow(holeMm, abs, STANDARD_AMBIENT_KPA, T);
    abs = Math.max(STANDARD_AMBIENT_KPA, abs - (flow * dt * AIR_GAS_CONSTANT * T) / volume / 1000);
    rest -= dt;
  }
  return pressureKpa + STANDARD_AMBIENT_KPA - abs;
}
