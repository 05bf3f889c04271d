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

/** Put at the end, so that the oldest is the first to go. */
function remember<T>(map: Map<string, T>, key: string, value: T): void {
  map.delete(key);
  map.set(key, value);
  if (map.size > MOST) map.delete(map.keys().next().value as string);
}

/**
 * When messages first arrived. One that says no time of its own is dated by its arrival; sent again because its acknowledgement was lost, it
 * would count as a second reading a moment later.
 */
export class Arrivals {
  readonly #first = new Map<string, number>();
  /** Of each topic when its last message came, and how it was dated. */
  readonly #last = new Map<string, { cameMs: number; ms: number }>();

  /** @returns when this message first arrived, ms since the epoch: now, unless it is one sent again */
  timeOf({ topic, payload, messageId, dup }: Arriving, nowMs: number): number {
    if (messageId === undefined) return this.#next(topic, nowMs);
    const key = `${messageId} ${topic} ${payload}`;
    const before = this.#first.get(key);
    if (dup && before !== undefined && nowMs - before <= SAME_WITHIN_MS && nowMs >= before) return before;
    const ms = this.#next(topic, nowMs);
    remember(this.#first, key, ms);
    return ms;
  }

  /** Now, or a moment later: messages of one sensor that come in the same millisecond are two readings, and not one said twice. */
  #next(topic: string, nowMs: number): number {
    const last = this.#last.get(topic);
    const ms = last !== undefined && nowMs >= last.cameMs ? Math.max(nowMs, last.ms + 1) : nowMs;
    remember(this.#last, topic, { cameMs: nowMs, ms });
    return ms;
  }
}
