import type { SensorKind } from '#schema/common.ts';
import { type Ambients, pressureAt } from '../gas/gas.ts';
import { SENSOR_PHYSICS } from '../kit/physics.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** "Cold" is not driven for three hours (49 CFR 571.110/139 definitions, from memory). */
export const REST_HOURS = 3;

/** What the figures of the gas are made of. One table, each with its standing. */
export const GAS_GUESS = {
  /** Rise of the gas over the air at the end of an ordinary run, K, and how far it may be off, as shares. Assumed. */
  riseK: 25,
  riseLow: 0.3,
  riseHigh: 1.6,
  /** Lag of a parked tire, minutes. Assumed. */
  parkedTauMin: 38,
  /** Sun, shade and the thermometer itself leave this much either side when the tire is at rest, K. Assumed. */
  restSpreadK: 2,
  /** Share of the gas's rise that a sensor may show, lowest and highest. Cap: trade; the others assumed. */
  share: { cap: [0.43, 0.6], flowThrough: [0.25, 0.45], internal: [0.82, 0.98] },
} as const satisfies Record<string, unknown> & { share: Record<SensorKind, readonly [number, number]> };

/** What the owner can say of the tire's temperature now. */
export interface GasQuestion {
  /** Air around the tire, °C. */
  airC: number;
  /** Hours since it was last driven; 0 just after a run. */
  restHours: number;
  /** What a sensor of this kind shows now, °C. */
  sensor?: { kind: SensorKind; tempC: number } | undefined;
}

/** Temperature of the gas: the likely figure and the span it may lie in, °C. */
export interface GasGuess {
  tempC: number;
  lowC: number;
  highC: number;
  /** At rest for three hours: the air's temperature is the gas's. */
  rested: boolean;
}

/**
 * Temperature of the gas in a tire from what can be read outside it. Sure only after three hours at rest; before that an external
 * sensor shows a share of the gas's rise over the air that differs from sensor to sensor, and the air alone says little.
 */
export function gasNow({ airC, restHours, sensor }: GasQuestion): GasGuess {
  if (restHours >= REST_HOURS) {
    const s = GAS_GUESS.restSpreadK;
    return { tempC: airC, lowC: airC - s, highC: airC + s, rested: true };
  }
  const left = Math.exp((-restHours * 60) / GAS_GUESS.parkedTauMin);
  const most = GAS_GUESS.riseK * GAS_GUESS.riseHigh * left;
  if (sensor && sensor.tempC > airC) {
    const [least, highest] = GAS_GUESS.share[sensor.kind];
    const shown = sensor.tempC - airC;
    return {
      tempC: airC + shown / SENSOR_PHYSICS[sensor.kind].share,
      lowC: airC + shown / highest,
      highC: airC + shown / least,
      rested: false,
    };
  }
  if (sensor && sensor.kind === 'internal') {
    const s = GAS_GUESS.restSpreadK;
    return { tempC: airC, lowC: airC - s, highC: airC + s, rested: false };
  }
  const rise = GAS_GUESS.riseK * left;
  return { tempC: airC + rise, lowC: airC + rise * GAS_GUESS.riseLow, highC: airC + most, rested: false };
}

/** A pressure with the span it may lie in, kPa. */
export interface Spread {
  kpa: number;
  lowKpa: number;
  highKpa: number;
}

/** A spread wider than this is worth waiting for: 1 psi is close enough when setting (common practice, no source). */
export const SURE_WITHIN_KPA = 2 * KPA_PER_PSI;

export interface NowAnswer {
  /** What the gauge would read cold. Null while no gauge figure was given. */
  cold: Spread | null;
  /** What the gauge should read now so that the tire is at its target when cold. */
  fillTo: Spread;
  /** What is to be done. `leave`: it holds more than its target but is not cold, so nothing is let out. */
  advice: 'right' | 'add' | 'leave' | 'letOut' | 'wait' | null;
  sure: boolean;
}

/**
 * "Now is not cold": what a gauge figure means cold, and to what figure to fill now. Gas law with absolute pressures.
 * @param gas temperature of the gas now, with its span
 * @param target the cold pressure and the temperature it holds at
 * @param gaugeKpa what the gauge reads now
 * @param ambients ambient pressure where the target was set (`ambientAbsKpa`) and where the tire stands now (`toAmbientAbsKpa`)
 */
export function nowAgainstCold(
  gas: GasGuess,
  target: { kpa: number; tempC: number },
  gaugeKpa: number | null,
  ambients: Ambients = {},
): NowAnswer {
  const back: Ambients = { ambientAbsKpa: ambients.toAmbientAbsKpa, toAmbientAbsKpa: ambients.ambientAbsKpa };
  const toNow = (tempC: number) => pressureAt(target.kpa, target.tempC, tempC, ambients);
  const fillTo: Spread = { kpa: toNow(gas.tempC), lowKpa: toNow(gas.lowC), highKpa: toNow(gas.highC) };
  const sure = gas.rested || fillTo.highKpa - fillTo.lowKpa <= SURE_WITHIN_KPA;
  if (gaugeKpa === null) return { cold: null, fillTo, advice: sure ? null : 'wait', sure };
  const toCold = (tempC: number) => pressureAt(gaugeKpa, tempC, target.tempC, back);
  const cold: Spread = { kpa: toCold(gas.tempC), lowKpa: toCold(gas.highC), highKpa: toCold(gas.lowC) };
  const close = KPA_PER_PSI;
  let advice: NowAnswer['advice'];
  if (Math.abs(cold.kpa - target.kpa) <= close && sure) advice = 'right';
  // Too little whatever the gas's temperature is: air can go in now, and the rest is set cold.
  else if (cold.highKpa < target.kpa - close) advice = 'add';
  else if (cold.kpa > target.kpa) advice = gas.rested ? 'letOut' : 'leave';
  else advice = sure ? 'add' : 'wait';
  return { cold, fillTo, advice, sure };
}
