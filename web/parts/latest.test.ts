import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Latest } from './latest.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Workers that answer when the test says so. */
function stage() {
  const workers: {
    asked: string[];
    answer: (text: string) => void;
    fail: (e: Error) => void;
    gone: () => void;
    ended: boolean;
  }[] = [];
  const told: string[] = [];
  const failures: unknown[] = [];
  const latest = new Latest<string, string>(
    (gone) => {
      let answer: (text: string) => void = () => undefined;
      let fail: (e: Error) => void = () => undefined;
      const worker = {
        asked: [] as string[],
        answer: (text: string) => answer(text),
        fail: (e: Error) => fail(e),
        gone,
        ended: false,
      };
      workers.push(worker);
      return {
        ask: (question) => {
          worker.asked.push(question);
          return new Promise((resolve, reject) => {
            answer = resolve;
            fail = reject;
          });
        },
        end: () => {
          worker.ended = true;
        },
      };
    },
    ({ of, found }) => told.push(`${of}: ${found}`),
    (e) => failures.push(e),
  );
  return { latest, workers, told, failures, worker: (i: number) => workers[i] as (typeof workers)[number] };
}

/** Promises that are settled have told so. */
const settle = () => vi.advanceTimersByTimeAsync(0);

describe('the latest question', () => {
  it('is answered; of those that come meanwhile the last is next', async () => {
    const { latest, told, worker } = stage();
    latest.ask('a');
    latest.ask('b');
    latest.ask('c');
    expect(worker(0).asked).toEqual(['a']);
    worker(0).answer('1');
    await settle();
    expect(worker(0).asked).toEqual(['a', 'c']);
    worker(0).answer('3');
    await settle();
    expect(told).toEqual(['a: 1', 'c: 3']);
  });

  it('is asked again of the next worker when the first one’s file didn’t come', async () => {
    const { latest, told, workers, worker } = stage();
    latest.ask('a');
    worker(0).gone();
    expect(worker(0).ended).toBe(true);
    await vi.advanceTimersByTimeAsync(499);
    expect(workers).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(1);
    expect(worker(1).asked).toEqual(['a']);
    worker(1).answer('1');
    await settle();
    expect(told).toEqual(['a: 1']);
  });

  it('is not given to a worker that is gone: asked in the pause, it waits for the next', async () => {
    const { latest, told, worker } = stage();
    worker(0).gone();
    latest.ask('a');
    latest.ask('b');
    expect(worker(0).asked).toEqual([]);
    await vi.advanceTimersByTimeAsync(500);
    expect(worker(1).asked).toEqual(['b']);
    worker(1).answer('2');
    await settle();
    expect(told).toEqual(['b: 2']);
  });

  it('a newer question takes the place of the one that a lost worker had', async () => {
    const { latest, worker } = stage();
    latest.ask('a');
    latest.ask('b');
    worker(0).gone();
    await vi.advanceTimersByTimeAsync(500);
    expect(worker(1).asked).toEqual(['b']);
  });

  it('waits twice as long each time, at most 10 s', async () => {
    const { workers } = stage();
    for (const wait of [500, 1000, 2000, 4000, 8000, 10_000, 10_000]) {
      const before = workers.length;
      workers.at(-1)?.gone();
      await vi.advanceTimersByTimeAsync(wait - 1);
      expect(workers).toHaveLength(before);
      await vi.advanceTimersByTimeAsync(1);
      expect(workers).toHaveLength(before + 1);
    }
  });

  it('a worker that says twice that it is gone is replaced once', async () => {
    const { workers, worker } = stage();
    worker(0).gone();
    worker(0).gone();
    await vi.advanceTimersByTimeAsync(5000);
    expect(workers).toHaveLength(2);
  });

  it('one that can’t be answered is reported, and the next is asked', async () => {
    const { latest, failures, told, worker } = stage();
    latest.ask('a');
    latest.ask('b');
    worker(0).fail(new Error('no'));
    await settle();
    expect(failures).toEqual([new Error('no')]);
    worker(0).answer('2');
    await settle();
    expect(told).toEqual(['b: 2']);
  });

  it('what waits can be taken back, and after the end nothing is asked or answered', async () => {
    const { latest, told, workers, worker } = stage();
    latest.ask('a');
    latest.ask('b');
    latest.ask(null);
    worker(0).answer('1');
    await settle();
    expect(worker(0).asked).toEqual(['a']);
    latest.ask('c');
    latest.end();
    worker(0).answer('3');
    worker(0).gone();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(told).toEqual(['a: 1']);
    expect(worker(0).ended).toBe(true);
    expect(workers).toHaveLength(1);
  });
});
