import { pressureAt } from '../gas/gas.ts';

/** One reading of a resting tire. */
export interface RestReading {
  /** ISO 8601. */
  time: string;
  pressureKpa: number;
  /** Temperature of the gas, °C: at rest that of the air. */
  tempC: number;
}

export interface LeakEstimate {
  /** Change of the compensated pressure, kPa a day; a loss is negative. Null with one reading. */
  rateKpaPerDay: number | null;
  /** Its 95 % interval; null with fewer than three readings. */
  lowKpaPerDay: number | null;
  highKpaPerDay: number | null;
  /** Days from the last reading to the floor, only while leaking and with a floor. */
  daysToFloor: number | null;
  verdict: 'leaking' | 'holding' | 'unclear';
}

/** Rubber itself loses 1 to 3 % a month (from memory): over that it is a leak. */
export const RUBBER_SHARE_PER_MONTH = 0.03;
const MONTH_DAYS = 30;
const DAY_MS = 86_400_000;

/** Logarithm of the gamma function (Lanczos). */
function lnGamma(x: number): number {
  const c = [76.180091729471, -86.505320329417, 24.014098240831, -1.2317395724502, 0.0012086509738662, -0.000005395239385];
  let y = x;
  const t = x + 5.5 - (x + 0.5) * Math.log(x + 5.5);
  let sum = 1.00000000019;
  for (const k of c) {
    y += 1;
    sum += k / y;
  }
  return -t + Math.log((2.506628274631 * sum) / x);
}

/**
 * Regularised incomplete beta function by its continued fraction (Lentz). It converges for x under (a + 1) / (a + b + 2), and the
 * quantile below never asks beyond that: there 1 - x is over 3.8 / df.
 */
function betaShare(x: number, a: number, b: number): number {
  const front = Math.exp(lnGamma(a + b) - lnGamma(a) - lnGamma(b) + a * Math.log(x) + b * Math.log(1 - x));
  let c = 1;
  let d = 1 / (1 - ((a + b) * x) / (a + 1));
  let h = d;
  let step = 0;
  for (let m = 1; Math.abs(step - 1) > 1e-12; m += 1) {
    const m2 = 2 * m;
    const even = (m * (b - m) * x) / ((a + m2 - 1) * (a + m2));
    d = 1 / (1 + even * d);
    c = 1 + even / c;
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + m2) * (a + m2 + 1));
    d = 1 / (1 + odd * d);
    c = 1 + odd / c;
    step = d * c;
    h *= step;
  }
  return (front * h) / a;
}

/** Quantile of Student's t at 97.5 %, for a two-sided 95 % interval. */
export function studentT975(df: number): number {
  let low = 0;
  let high = 1000;
  for (let i = 0; i < 100; i += 1) {
    const t = (low + high) / 2;
    const upper = 0.5 * betaShare(df / (df + t * t), df / 2, 0.5);
    if (upper > 0.025) low = t;
    else high = t;
  }
  return (low + high) / 2;
}

/**
 * Trend of a resting tire's pressure with the temperature taken out (ideal gas law), by least squares over days, with Student's 95 %
 * interval. Leaking when the whole interval loses more than 3 % of the pressure a month, holding when the whole of it loses less; else,
 * or with under five readings or under a day, unclear.
 */
export function estimateLeak(
  readings: readonly RestReading[],
  { referenceTempC = 20, floorKpa }: { referenceTempC?: number | undefined; floorKpa?: number | undefined } = {},
): LeakEstimate {
  const points = readings
    .map((r) => ({ day: Date.parse(r.time) / DAY_MS, kpa: pressureAt(r.pressureKpa, r.tempC, referenceTempC) }))
    .sort((a, b) => a.day - b.day);
  const n = points.length;
  const nothing: LeakEstimate = {
    rateKpaPerDay: null,
    lowKpaPerDay: null,
    highKpaPerDay: null,
    daysToFloor: null,
    verdict: 'unclear',
  };
  const [first] = points;
  const last = points.at(-1);
  if (first === undefined || last === undefined) return nothing;
  const meanX = points.reduce((a, p) => a + (p.day - first.day), 0) / n;
  const meanY = points.reduce((a, p) => a + p.kpa, 0) / n;
  const sxx = points.reduce((a, p) => a + (p.day - first.day - meanX) ** 2, 0);
  if (sxx <= 0) return nothing;
  const rate = points.reduce((a, p) => a + (p.day - first.day - meanX) * (p.kpa - meanY), 0) / sxx;
  if (n < 3) return { ...nothing, rateKpaPerDay: rate };
  const rest = points.reduce((a, p) => a + (p.kpa - meanY - rate * (p.day - first.day - meanX)) ** 2, 0);
  const half = studentT975(n - 2) * Math.sqrt(rest / (n - 2) / sxx);
  const low = rate - half;
  const high = rate + half;
  const limit = -(RUBBER_SHARE_PER_MONTH * meanY) / MONTH_DAYS;
  const enough = n >= 5 && last.day - first.day >= 1;
  const verdict = !enough ? 'unclear' : high < limit ? 'leaking' : low > limit ? 'holding' : 'unclear';
  const now = meanY + rate * (last.day - first.day - meanX);
  const daysToFloor = verdict === 'leaking' && floorKpa !== undefined ? Math.max(0, (now - floorKpa) / -rate) : null;
  return { rateKpaPerDay: rate, lowKpaPerDay: low, highKpaPerDay: high, daysToFloor, verdict };
}
