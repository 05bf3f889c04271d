/** A worker as its questions see it: it answers one after the other, or ends. */
export interface Answerer<Q, A> {
  ask: (question: Q) => Promise<A>;
  end: () => void;
}

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 10_000;

/**
 * Answers to the latest question only, one at a time, from a worker that is begun again when its file didn't come: a line may drop just then.
 * Of the questions that come while it is busy or away the last is next.
 */
export class Latest<Q, A> {
  readonly #begin: (gone: () => void) => Answerer<Q, A>;
  readonly #told: (answer: { of: Q; found: A }) => void;
  readonly #failed: (error: unknown) => void;
  /** Null while there is none to ask: what was asked of one that is gone would never be answered. */
  #worker: Answerer<Q, A> | null = null;
  #next: { question: Q } | null = null;
  #busy: { question: Q } | null = null;
  #waitMs = FIRST_WAIT_MS;
  #timer: ReturnType<typeof setTimeout> | undefined;

  /**
   * @param begin starts the worker, which calls `gone` when it can't go on
   * @param told takes each answer, with its question
   * @param failed takes the error of a question that can't be answered
   */
  constructor(
    begin: (gone: () => void) => Answerer<Q, A>,
    told: (answer: { of: Q; found: A }) => void,
    failed: (error: unknown) => void,
  ) {
    this.#begin = begin;
    this.#told = told;
    this.#failed = failed;
    this.#start();
  }

  /** Ask this next; null takes back what waits. */
  ask(question: Q | null): void {
    this.#next = question === null ? null : { question };
    this.#send();
  }

  /** Nothing more is asked or answered. */
  end(): void {
    clearTimeout(this.#timer);
    this.#worker?.end();
    this.#worker = null;
    this.#next = null;
    this.#busy = null;
  }

  #start(): void {
    const worker = this.#begin(() => {
      if (this.#worker !== worker) return;
      worker.end();
      this.#worker = null;
      this.#next ??= this.#busy;
      this.#busy = null;
      this.#timer = setTimeout(() => this.#start(), this.#waitMs);
      this.#waitMs = Math.min(2 * this.#waitMs, LONGEST_WAIT_MS);
    });
    this.#worker = worker;
    this.#send();
  }

  #send(): void {
    const [worker, asked] = [this.#worker, this.#next];
    if (worker === null || this.#busy !== null || asked === null) return;
    this.#busy = asked;
    this.#next = null;
    const done = (then: () => void) => {
      // Answered by a worker that is gone: the question is asked again of the next.
      if (this.#busy !== asked) return;
      this.#busy = null;
      then();
      this.#send();
    };
    worker.ask(asked.question).then(
      (found) => done(() => this.#told({ of: asked.question, found })),
      (error: unknown) => done(() => this.#failed(error)),
    );
  }
}
