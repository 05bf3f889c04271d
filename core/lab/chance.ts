import { between, normal, type RandomState, uniform } from '../bench/random.ts';

/** A stream of random numbers from a seed: the same seed, the same numbers. */
export class Chance {
  readonly #state: RandomState;

  constructor(seed: number) {
    this.#state = { s: seed >>> 0 };
  }

  /** Evenly from 0 up to 1. */
  unit(): number {
    return uniform(this.#state);
  }

  between(least: number, most: number): number {
    return between(this.#state, least, most);
  }

  /** A whole number from least to most. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.unit() * (most - least + 1));
  }

  /** Normal, mean 0, standard deviation 1. */
  normal(): number {
    return normal(this.#state);
  }

  odds(share: number): boolean {
    return this.unit() < share;
  }

  pick<T>(list: readonly T[]): T {
    return list[this.whole(0, list.length - 1)] as T;
  }
}
