import { KPA_PER_PSI } from '../units/units.ts';

/**
 * The bench's parameters in one table. Standing of each: law (physics), memory (published, quoted from memory), trade (common
 * practice, no source), assumed (ours, open to change).
 */
export const BENCH = {
  /** Rise of the gas over the air in the end, at the reference speed, the rated load and the cold target, K. Assumed. */
  riseK: 25,
  referenceKmh: 90,
  /** Exponents of speed, load and pressure in the rise. Assumed; load and pressure follow rolling-resistance practice (memory). */
  speedExponent: 0.8,
  loadExponent: 0.9,
  pressureExponent: 0.4,
  /** A tire under this share of its target warms no further in the model. Assumed. */
  leastPressureShare: 0.1,
  /** Lag of the gas, s. Assumed. */
  tauRollingS: 22 * 60,
  /** On a track: this many times the rise, and the lag, s. Assumed (from 28 to 30 psi within half a lap). */
  trackRise: 2.7,
  tauTrackS: 2 * 60,
  tauParkedS: 38 * 60,
  /** Share of a hub's extra heat that reaches the gas, and its lag, s. Assumed. */
  hubShare: 1 / 3,
  hubTauS: 10 * 60,
  /** Pressure step that makes a sensor send at once, kPa (2 psi). Trade. */
  sendStepKpa: 2 * KPA_PER_PSI,
  /** Awake a sensor samples this often, s. Trade. */
  sampleS: [4, 6],
  /** Rolling it sends this often, s. Trade: about once a minute. */
  sendS: [55, 65],
  /** A pressure step wakes a sleeping sensor for this long, s. Assumed. */
  stepAwakeS: 60,
  /** It falls asleep this long after the last motion, s. Trade: 5 to 15 min. */
  sleepAfterS: [300, 900],
  /** Asleep two sensors in three send a life sign this often, s. Trade. */
  lifeSignS: [600, 3600],
  /** Frames begin to fail under this voltage (trade), and none is sent under that (assumed). */
  failingV: 2.5,
  deadV: 2.3,
  /** Asleep it samples this often, s. Trade. */
  asleepSampleS: 30,
  /** The ride shakes a spare's sensor awake for a moment this often, s. Assumed. */
  spareShakeS: [900, 2400],
  /** Internal sensors wake after this much rolling, m. Trade. */
  internalWakeM: 30,
  /** Copies of each frame and the chance that one is lost on the air. Copies: trade; chance: assumed, until a link budget gives it. */
  copies: 3,
  copyLoss: 0.1,
  /** Steps of a raw reading, kPa and K. Trade: 0.25 to 1 kPa. */
  stepKpa: 1,
  stepK: 1,
  /** Cell: capacity in mAh (CR1632, IEC 60086 size; capacity from memory), and what is spent. Assumed. */
  cellMah: 140,
  sleepUa: 10,
  sampleUc: 60,
  frameUc: 150,
} as const;

/**
 * Open-circuit voltage of a coin cell: 3.0 V new, near 2.8 V until 85 % is spent, then falling to 2.0 V; 0.15 V lower at -20 °C
 * (assumed; linear in temperature under 20 °C).
 * @param usedMah charge taken so far
 */
export function cellVoltage(usedMah: number, tempC: number): number {
  const spent = Math.min(1, usedMah / BENCH.cellMah);
  const rest = spent < 0.05 ? 3 - (0.2 * spent) / 0.05 : spent < 0.85 ? 2.8 : 2.8 - (0.8 * (spent - 0.85)) / 0.15;
  return rest - (0.15 * Math.min(40, Math.max(0, 20 - tempC))) / 40;
}
