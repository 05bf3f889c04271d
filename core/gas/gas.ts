import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { FieldError } from '../errors.ts';
import { ABSOLUTE_ZERO_C } from '../units/units.ts';

/** The ambient pressures between which a gauge figure is carried over. */
export interface Ambients {
  /** Absolute ambient pressure where the gauge figure holds, kPa; sea level unless given. */
  ambientAbsKpa?: number | undefined;
  /** Absolute ambient pressure where the answer is read, kPa; the same place unless given. */
  toAmbientAbsKpa?: number | undefined;
}

const kelvin = (tempC: number, pointer: string): number => {
  const T = tempC - ABSOLUTE_ZERO_C;
  if (!(T > 0)) throw new FieldError(pointer, 'is at or under absolute zero');
  return T;
};

const absolute = (gaugeKpa: number, ambientAbsKpa: number, pointer: string): number => {
  const p = gaugeKpa + ambientAbsKpa;
  if (!(p > 0)) throw new FieldError(pointer, 'is a vacuum or less: the absolute pressure is not over zero');
  return p;
};

/**
 * Gauge pressure of a closed tire at another gas temperature (and another altitude).
 * Ideal gas at constant volume, absolute values: `p2 = p1 * T2 / T1` (Gay-Lussac; NIST SP 811 constants).
 * @param pressureKpa gauge pressure now, kPa
 * @param tempC gas temperature now, °C
 * @param toTempC gas temperature asked for, °C
 * @returns gauge pressure against the new ambient, kPa; under zero when the tire would hold less than the air around it
 * @throws FieldError where an absolute pressure or temperature is not over zero
 */
export function pressureAt(pressureKpa: number, tempC: number, toTempC: number, ambients: Ambients = {}): number {
  const ambient = ambients.ambientAbsKpa ?? STANDARD_AMBIENT_KPA;
  const toAmbient = ambients.toAmbientAbsKpa ?? ambient;
  const p1 = absolute(pressureKpa, ambient, '/pressureKpa');
  const T1 = kelvin(tempC, '/tempC');
  const T2 = kelvin(toTempC, '/toTempC');
  return (p1 * T2) / T1 - toAmbient;
}

/**
 * Gas temperature at which a closed tire shows a given gauge pressure: `pressureAt` solved for the temperature.
 * @returns gas temperature, °C
 * @throws FieldError where an absolute pressure or temperature is not over zero
 */
export function temperatureFor(pressureKpa: number, tempC: number, toPressureKpa: number, ambients: Ambients = {}): number {
  const ambient = ambients.ambientAbsKpa ?? STANDARD_AMBIENT_KPA;
  const toAmbient = ambients.toAmbientAbsKpa ?? ambient;
  const p1 = absolute(pressureKpa, ambient, '/pressureKpa');
  const p2 = absolute(toPressureKpa, toAmbient, '/toPressureKpa');
  const T1 = kelvin(tempC, '/tempC');
  return (T1 * p2) / p1 + ABSOLUTE_ZERO_C;
}
