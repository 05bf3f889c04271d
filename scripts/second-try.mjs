import { appendFileSync } from 'node:fs';

/**
 * Reporter of the unit tests that writes down what passed only when it was run again, a line each into the file that the environment names: a test
 * that ran out of time once, so that somebody looks into it.
 */
export default class SecondTry {
  onTestCaseResult(test) {
    const file = process.env.DRUCKWERK_SECOND_TRIES;
    if (file && test.diagnostic()?.flaky) appendFileSync(file, `${test.module.relativeModuleId} › ${test.fullName}\n`);
  }
}
