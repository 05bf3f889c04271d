import { type IntervalHistogram, monitorEventLoopDelay } from 'node:perf_hooks';
import { setImmediate } from 'node:timers/promises';

/** Resolves after everything else that waits had its turn: requests, timers, files. */
export const otherWork = (): Promise<void> => setImmediate();

/** How long the server kept others waiting, ms. */
export interface LoopDelay {
  p50: number;
  p99: number;
  p999: number;
  max: number;
}

/** Measures how long anything that comes in has to wait for its turn, by Node's own clockwork (perf_hooks). */
export class LoopWatch {
  readonly #delay: IntervalHistogram = monitorEventLoopDelay({ resolution: 10 });

  start(): void {
    this.#delay.enable();
  }

  stop(): void {
    this.#delay.disable();
  }

  /** What was measured since the start, without the 10 ms at which it looks. */
  read(): LoopDelay {
    const ms = (ns: number) => Math.max(0, Math.round(ns / 1e5 - 100) / 10);
    const at = (share: number) => (this.#delay.count > 0 ? ms(this.#delay.percentile(share)) : 0);
    return { p50: at(50), p99: at(99), p999: at(99.9), max: this.#delay.count > 0 ? ms(this.#delay.max) : 0 };
  }
}
