import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { pressureAt } from '../gas/gas.ts';

/** A tire to fill. */
export interface TopUpTire {
  position: string;
  pressureKpa: number;
  /** Temperature of the gas now, °C. */
  tempC: number;
  targetColdKpa: number;
  targetTempC: number;
  airLitres: number;
}

export interface TopUpStep {
  position: string;
  /** The target as it reads at this tire's temperature now. */
  toKpa: number;
  addKpa: number;
  minutes: number;
}

/** How long a compressor runs to add so much, minutes: the free air it needs over the flow. */
export const runMinutes = (addKpa: number, airLitres: number, flowLitresPerMin: number): number =>
  ((addKpa / STANDARD_AMBIENT_KPA) * airLitres) / flowLitresPerMin;

/**
 * To what each tire is filled now and how long that takes: the target brought to the gas's temperature (ideal gas law), the air it needs
 * as free air, `addKpa / 101.325 * litres`, at the compressor's flow. A tire that has enough takes no time.
 * @param flowLitresPerMin free air a minute, over 0
 * @param handlingMin minutes for going there, cap off and on
 */
export function topUpPlan(
  tires: readonly TopUpTire[],
  flowLitresPerMin: number,
  handlingMin = 1,
): { steps: TopUpStep[]; totalMinutes: number } {
  const steps = tires.map((t): TopUpStep => {
    const toKpa = pressureAt(t.targetColdKpa, t.targetTempC, t.tempC);
    const addKpa = Math.max(0, toKpa - t.pressureKpa);
    const minutes = addKpa === 0 ? 0 : handlingMin + runMinutes(addKpa, t.airLitres, flowLitresPerMin);
    return { position: t.position, toKpa, addKpa, minutes };
  });
  return { steps, totalMinutes: steps.reduce((a, s) => a + s.minutes, 0) };
}
