/** Resistivity of annealed copper at 20 °C, ohm metre (IEC 60028, from memory), and its rise per kelvin. */
export const COPPER_OHM_M = 1.724e-8;
export const COPPER_PER_K = 0.00393;

/** Cross sections of wire by American gauge, mm2 (ASTM B258: diameter 0.127 mm * 92^((36 - n) / 39)). */
export const gaugeMm2 = (awg: number): number => (Math.PI / 4) * (0.127 * 92 ** ((36 - awg) / 39)) ** 2;

/**
 * Voltage lost in a supply cable, V: `I * rho * length / area`, out and back.
 * @param lengthM length of wire the current runs through, out and back, m
 * @param areaMm2 cross section of copper, mm2
 * @param currentA current, A
 * @param tempC temperature of the wire, °C
 */
export function voltageDrop(lengthM: number, areaMm2: number, currentA: number, tempC = 20): number {
  const rho = COPPER_OHM_M * (1 + COPPER_PER_K * (tempC - 20));
  return (currentA * rho * lengthM) / (areaMm2 * 1e-6);
}

/** Days a battery of its own lasts. */
export const batteryDays = (capacityMah: number, drawMa: number, awakeHoursADay: number): number =>
  capacityMah / (drawMa * awakeHoursADay);
