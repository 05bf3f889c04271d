import { normal, type RandomState, uniform } from '../bench/random.ts';
import { RADIO } from './parameters.ts';

/** A way as the simulation draws it: its margin without fading, dB. */
export interface SimulatedWheel {
  directDb: number;
  /** To the repeater, and from it to the monitor; null without one. */
  viaDb: { wheelDb: number; relayDb: number } | null;
}

/** How long a frame with its copies occupies the air, s, and how far copies lie apart. Assumed. */
const FRAME_S = 0.01;

/**
 * Time to the first reading of every wheel of one run, s: frame by frame, copy by copy, wheels turning (fading drawn again for each frame,
 * copies half together), frames that overlap in the air lost.
 * @param sigmaDb fading, dB
 */
export function simulateFirst(
  wheels: readonly SimulatedWheel[],
  random: RandomState,
  sigmaDb: number = RADIO.fadingDb,
): number[] {
  const own = sigmaDb * Math.sqrt(1 - RADIO.common);
  const shared = sigmaDb * Math.sqrt(RADIO.common);
  const heardBy = (marginDb: number): boolean => {
    const common = shared * normal(random);
    let heard = false;
    for (let c = 0; c < RADIO.copies; c += 1) if (marginDb + common + own * normal(random) > 0) heard = true;
    return heard;
  };
  const next = wheels.map(() => uniform(random) * RADIO.sendS);
  const first: (number | null)[] = wheels.map(() => null);
  for (let frames = 0; frames < 20_000 && first.some((f) => f === null); frames += 1) {
    let i = 0;
    for (let k = 1; k < next.length; k += 1) if ((next[k] as number) < (next[i] as number)) i = k;
    const t = next[i] as number;
    const w = wheels[i] as SimulatedWheel;
    const collides = next.some((other, k) => k !== i && Math.abs(other - t) < FRAME_S);
    if (!collides && first[i] === null) {
      const direct = heardBy(w.directDb);
      const relayed = w.viaDb !== null && heardBy(w.viaDb.wheelDb) && heardBy(w.viaDb.relayDb);
      if (direct || relayed) first[i] = t;
    }
    // Sensors keep no common time: each waits about a minute, a little more or less.
    next[i] = t + RADIO.sendS * (0.95 + 0.1 * uniform(random));
  }
  return first.map((f) => f ?? Number.POSITIVE_INFINITY);
}
