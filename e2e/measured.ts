import { once } from 'node:events';
import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import { processorTime, stolenShare } from '../scripts/stolen.mjs';
import { test as base } from './server.ts';

/** With less than this share taken by the machine under this one a measurement begins, percent. */
const QUIET = 5;
/** How long it looks at a time, ms. */
const LOOK_MS = 400;
/** Nor does it wait longer for that, ms. */
const LONGEST_MS = 60_000;
/** With this share taken during a measurement it says nothing of us, percent. */
const DISTURBED = 2;

/** A thread that has nothing to do and is late by this much saw the machine stand still, ms. */
const STOOD_STILL_MS = 200;

/** How late an idle thread was at most, ms; asked when it is ended. */
function witness(): () => Promise<number> {
  const worker = new Worker(
    `const { parentPort } = require('node:worker_threads');
     let last = performance.now(), latest = 0;
     setInterval(() => { const now = performance.now(); latest = Math.max(latest, now - last - 20); last = now; }, 20);
     parentPort.once('message', () => { parentPort.postMessage(latest); process.exit(); });`,
    { eval: true },
  );
  return async () => {
    worker.postMessage('end');
    const [latest] = (await once(worker, 'message')) as [number];
    return latest;
  };
}

/** Resolves when the processors are ours, or after a minute. */
async function quiet(): Promise<void> {
  const until = Date.now() + LONGEST_MS;
  for (;;) {
    const from = processorTime();
    await pause(LOOK_MS);
    const taken = stolenShare(from, processorTime());
    if (taken === null || taken < QUIET || Date.now() > until) return;
  }
}

/**
 * A test with a bound of time. It waits for a quiet moment; and when it fails while the machine under this one took the processors or stood still, it is
 * run again, up to three times. The bound stays: it must be met in one of them. What fails twice while they were ours has failed.
 */
export const test = base.extend<{ ours: undefined }>({
  ours: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright wants a pattern here
    async ({}, use, info) => {
      const mark = join(info.project.outputDir, `${info.testId}.disturbed`);
      if (info.retry > 1 && !existsSync(mark)) throw new Error('It failed twice, and the last time the processors were ours.');
      rmSync(mark, { force: true });
      await quiet();
      const from = processorTime();
      const idle = witness();
      await use(undefined);
      const taken = stolenShare(from, processorTime()) ?? 0;
      const late = await idle();
      if (info.status === info.expectedStatus) return;
      console.log(
        `meanwhile others took ${taken.toFixed(1)} % of the processors, and an idle thread was ${late.toFixed(0)} ms late`,
      );
      if (taken > DISTURBED || late > STOOD_STILL_MS) writeFileSync(mark, '');
    },
    { auto: true, timeout: 2 * LONGEST_MS },
  ],
});
