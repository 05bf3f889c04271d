import { FieldError } from '../errors.ts';

/** Speed of light in vacuum, m/s, by definition of the metre. */
export const LIGHT_MPS = 299_792_458;

/**
 * Free-space loss between two points, dB: `20 log10(4 pi d f / c)` (Recommendation ITU-R P.525).
 * @param frequencyMhz over 0
 * @param distanceM over 0; the far field is taken for granted
 */
export function pathLossDb(frequencyMhz: number, distanceM: number): number {
  return 20 * Math.log10((4 * Math.PI * distanceM * frequencyMhz * 1e6) / LIGHT_MPS);
}

/** A way from a sender to a receiver. */
export interface Link {
  frequencyMhz: number;
  distanceM: number;
  /** Effective radiated power of the sender, dBm. */
  transmitDbm: number;
  /** Weakest signal the receiver hears, dBm. */
  sensitivityDbm: number;
  /** What stands in the way, dB each, 0 or more. */
  lossesDb?: readonly number[] | undefined;
}

export interface LinkBudget {
  pathLossDb: number;
  receivedDbm: number;
  marginDb: number;
}

/**
 * What arrives and how far it is over the receiver's limit: `received = sent - free-space loss - losses`.
 * @throws FieldError at a loss under 0: nothing on the way strengthens a signal
 */
export function linkBudget({ frequencyMhz, distanceM, transmitDbm, sensitivityDbm, lossesDb = [] }: Link): LinkBudget {
  const negative = lossesDb.findIndex((l) => l < 0);
  if (negative >= 0) throw new FieldError(`/lossesDb/${negative}`, 'is under 0: nothing on the way strengthens a signal');
  const free = pathLossDb(frequencyMhz, distanceM);
  const receivedDbm = lossesDb.reduce((a, l) => a - l, transmitDbm - free);
  return { pathLossDb: free, receivedDbm, marginDb: receivedDbm - sensitivityDbm };
}

/**
 * Distribution function of the standard normal law (Abramowitz and Stegun 7.1.26 by the error function, error under 1.5e-7).
 */
export function normalShare(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const erf = 1 - poly * Math.exp(-x * x);
  return z >= 0 ? 0.5 * (1 + erf) : 0.5 * (1 - erf);
}

/** How a frame fades on its way from a turning wheel. */
export interface Fading {
  /** Standard deviation, dB. */
  sigmaDb: number;
  /** Copies of each frame. */
  copies: number;
  /** Share of the variance that copies of one frame have in common: half (assumed). */
  common: number;
}

const STEPS = 200;

/**
 * Chance that at least one copy of a frame is heard: margin plus fading over 0, copies fading partly together. The common part is
 * integrated over its normal law, the rest is independent. Falls with every decibel of margin lost.
 */
export function chanceHeard(marginDb: number, { sigmaDb, copies, common }: Fading): number {
  if (sigmaDb <= 0) return marginDb > 0 ? 1 : 0;
  const own = sigmaDb * Math.sqrt(1 - common);
  const shared = sigmaDb * Math.sqrt(common);
  // Copies that fade all together are heard or lost as one.
  if (own < 1e-9) return normalShare(marginDb / shared);
  let sum = 0;
  let weight = 0;
  for (let i = 0; i <= STEPS; i += 1) {
    const u = -5 + (10 * i) / STEPS;
    const w = Math.exp((-u * u) / 2) * (i === 0 || i === STEPS ? 0.5 : 1);
    const missed = 1 - normalShare((marginDb + shared * u) / own);
    sum += w * (1 - missed ** copies);
    weight += w;
  }
  return sum / weight;
}
