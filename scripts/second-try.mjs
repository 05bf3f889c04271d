import { appendFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';

const folder = join(import.meta.dirname, '../test-results');
/** What passed only when it was run again, a line each: a test that ran out of time once, so that somebody looks into it. */
export const secondTries = join(folder, 'second-tries.txt');

/** Reporter of the unit tests that writes them down. */
export default class SecondTry {
  onTestCaseResult(test) {
    if (!test.diagnostic()?.flaky) return;
    mkdirSync(folder, { recursive: true });
    appendFileSync(secondTries, `${test.module.relativeModuleId} › ${test.fullName}\n`);
  }
}
