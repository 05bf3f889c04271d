import { median } from 'simple-statistics';
import { type Ambients, pressureAt } from '../gas/gas.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** A gauge, as its owner knows it. */
export interface Gauge {
  /** How far it may be off, kPa: its class times its span (EN 837-1, from memory), or 2 to 3 psi for a stick gauge. */
  errorKpa: number;
  /** Its finest mark, kPa. */
  stepKpa: number;
}

/** One wheel measured both ways, at rest. */
export interface GaugePair {
  position: string;
  /** What the gauge read, one or more times, kPa. */
  gaugeKpa: readonly number[];
  /** Temperature of the gas when the gauge was used and when the sensor spoke, °C; the same while at rest. */
  gaugeTempC: number;
  sensorKpa: number;
  sensorTempC: number;
  /** Step of the sensor's figure, kPa. */
  sensorStepKpa: number;
  coldKpa: number;
  lowKpa: number | null;
}

export type GaugeVerdict = 'fine' | 'offset' | 'suspect';

export interface GaugeJudgement {
  position: string;
  /** Sensor less gauge, both at one temperature, kPa. */
  differenceKpa: number;
  /** The same after taking out what the gauge is off, where it is the gauge. */
  ownKpa: number;
  verdict: GaugeVerdict;
  /** It reads high: a loss is hidden, and the low limit of its group must go up by as much, kPa. */
  raiseLowKpa: number;
}

export interface SetJudgement {
  wheels: GaugeJudgement[];
  /** What all have in common, kPa; null with fewer than three wheels. */
  commonKpa: number | null;
  /** Largest less smallest difference, kPa. */
  spreadKpa: number;
  /**
   * Which one is off. `cannotTell`: gauge or sensor; a second gauge would show which.
   */
  blame: 'nobody' | 'gauge' | 'sensors' | 'both' | 'cannotTell';
  sensors: string[];
}

/** Within 1 psi is good, up to 4 psi is tolerated (common practice, no source). */
export const GOOD_KPA = KPA_PER_PSI;
export const MOST_OFFSET_KPA = 4 * KPA_PER_PSI;
/** A sensor's fixed error, one sigma, kPa (trade: 1 psi). */
const SENSOR_SIGMA_KPA = KPA_PER_PSI;

/**
 * Hold sensors against a gauge, like against like: the gauge's figure is brought to the temperature at which the sensor spoke. A common
 * offset points at the gauge, a single one at the sensor; the single wheel is judged after the set's median is taken out where that
 * points at the gauge and four or more wheels are there to agree on it.
 * @param ambients ambient pressures, where the two were read at different altitudes
 */
export function judgeGauge(pairs: readonly GaugePair[], gauge: Gauge, ambients: Ambients = {}): SetJudgement {
  const differences = pairs.map((p) => p.sensorKpa - pressureAt(median(p.gaugeKpa), p.gaugeTempC, p.sensorTempC, ambients));
  const rounding = pairs.map((p) => (p.sensorStepKpa + gauge.stepKpa) / 2);
  const n = pairs.length;
  const spreadKpa = n === 0 ? 0 : Math.max(...differences) - Math.min(...differences);
  const common = n >= 3 ? median(differences) : null;
  // Wheels that agree with the middle of the set: two sigma of two sensors, and their rounding.
  const agree =
    common === null ? [] : differences.filter((d, i) => Math.abs(d - common) <= 2.5 * SENSOR_SIGMA_KPA + (rounding[i] as number));
  const trusted = common !== null && agree.length >= Math.max(2, Math.ceil(n * 0.6));
  // The middle of a set strays by what its sensors do, over the square root of their number; three times that is no chance any more.
  const stray = (3 * 1.25 * SENSOR_SIGMA_KPA) / Math.sqrt(Math.max(1, agree.length));
  const gaugeOff =
    trusted && Math.abs(common) > Math.max(stray, GOOD_KPA) + Math.min(gauge.errorKpa, 2 * KPA_PER_PSI) + gauge.stepKpa / 2;
  // Only a gauge that is off shifts the wheels: a middle that its sensors alone explain moves nobody, and what reads exactly is exact.
  const taken = gaugeOff && n >= 4 ? common : 0;
  const sensors: string[] = [];
  const wheels = pairs.map((p, i): GaugeJudgement => {
    const differenceKpa = differences[i] as number;
    const ownKpa = differenceKpa - (gaugeOff ? common : 0);
    const fromMiddle = differenceKpa - (trusted ? common : 0);
    const judged = differenceKpa - taken;
    const half = p.lowKpa === null ? Number.POSITIVE_INFINITY : (p.coldKpa - p.lowKpa) / 2;
    const round = rounding[i] as number;
    const verdict: GaugeVerdict =
      Math.abs(judged) <= GOOD_KPA + round
        ? 'fine'
        : Math.abs(judged) <= Math.min(MOST_OFFSET_KPA, half) + round
          ? 'offset'
          : 'suspect';
    if (trusted && Math.abs(fromMiddle) > MOST_OFFSET_KPA + round) sensors.push(p.position);
    const raiseLowKpa = verdict === 'offset' && judged > GOOD_KPA ? judged : 0;
    return { position: p.position, differenceKpa, ownKpa, verdict, raiseLowKpa };
  });
  let blame: SetJudgement['blame'] = 'nobody';
  if (gaugeOff && sensors.length > 0) blame = 'both';
  else if (gaugeOff) blame = 'gauge';
  else if (sensors.length > 0) blame = 'sensors';
  else if (!trusted && differences.some((d, i) => Math.abs(d) > MOST_OFFSET_KPA + (rounding[i] as number))) blame = 'cannotTell';
  return { wheels, commonKpa: trusted ? common : null, spreadKpa, blame, sensors };
}
