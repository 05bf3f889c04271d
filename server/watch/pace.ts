/** A transaction is meant to take so long, ms: nobody else is answered meanwhile. */
const AIM_MS = 50;
/** The first transaction of a run of the server has so many readings: what runs for the first time takes several times as long. Nor is there ever less. */
const FEWEST_TOGETHER = 250;
/** The most readings in one transaction, however quick they are. */
export const MOST_TOGETHER = 8000;
/**
 * The most readings in one transaction where some come late. A watch goes back once for all of them, and most of the time is the way back: with fewer
 * it would go back more often and be hardly quicker each time.
 */
export const MOST_LATE_TOGETHER = 2000;

/**
 * How many readings are stored and judged in one transaction: so many that others wait for about 50 ms. It is learned from the transaction before:
 * late readings take several times as long as others, and a slow machine longer than a quick one.
 */
export class Pace {
  #most = FEWEST_TOGETHER;

  /** Readings in the next transaction, at most: from 250 to 8,000. */
  get most(): number {
    return this.#most;
  }

  /**
   * Learn from a transaction. One with less than half of what was allowed says nothing, since most of its time isn't its readings'.
   * @param readings how many it had
   * @param ms how long they took to store and judge, without the wait for the disk: smaller transactions would wait for that more often
   */
  took(readings: number, ms: number): void {
    if (readings < this.#most / 2) return;
    const fitting = Math.round((AIM_MS * readings) / ms);
    this.#most = Math.max(FEWEST_TOGETHER, Math.min(fitting, 2 * this.#most, MOST_TOGETHER));
  }
}
