/** A generator's whole state: one unsigned 32-bit number, so that it can be stored with the bench. */
export interface RandomState {
  s: number;
}

/**
 * Next number, uniform in [0, 1). Mulberry32, a 32-bit generator in the public domain: small, fast and good enough for
 * simulated sensors; not for secrets.
 */
export function uniform(state: RandomState): number {
  state.s = (state.s + 0x6d2b79f5) >>> 0;
  let t = state.s;
  t = Math.imul(t ^ (t >>> 15), t | 1);
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
}

/** Normal with mean 0 and standard deviation 1 (Box and Muller). */
export function normal(state: RandomState): number {
  const u = 1 - uniform(state);
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * uniform(state));
}

/** Uniform between two bounds. */
export const between = (state: RandomState, low: number, high: number): number => low + (high - low) * uniform(state);
