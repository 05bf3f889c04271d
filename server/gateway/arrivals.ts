/** What is looked at of a message. */
export interface Arriving {
  topic: string;
  payload: string;
  /** The broker's number of it; numbers are used again after a while. */
  messageId?: number | undefined;
  /** It was sent before, and not acknowledged in time. */
  dup?: boolean | undefined;
}

const MOST = 1000;
/** A broker that sends again does so when the line is back; after this it is another message under the same number. */
const SAME_WITHIN_MS = 600_000;

/**
 * When messages first arrived. One that says no time of its own is dated by its arrival; sent again because its acknowledgement was lost, it
 * would count as a second reading a moment later.
 */
export class Arrivals {
  readonly #first = new Map<string, number>();

  /** @returns when this message first arrived, ms since the epoch: now, unless it is one sent again */
  timeOf({ topic, payload, messageId, dup }: Arriving, nowMs: number): number {
    if (messageId === undefined) return nowMs;
    const key = `${messageId} ${topic} ${payload}`;
    const before = this.#first.get(key);
    if (dup && before !== undefined && nowMs - before <= SAME_WITHIN_MS && nowMs >= before) return before;
    // Put at the end again, so that the oldest is the first to go.
    this.#first.delete(key);
    this.#first.set(key, nowMs);
    if (this.#first.size > MOST) this.#first.delete(this.#first.keys().next().value as string);
    return nowMs;
  }
}
