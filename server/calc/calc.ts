import { operations } from '#core/operations.ts';
import { problemOf } from '../problem.ts';
import { parseJson, runOperation } from './run.ts';

/** What a call of the command came to. */
interface Outcome {
  exit: 0 | 2;
  out: string;
  err: string;
}

const usage = `Usage: npm run -s calc -- <operation> '<json>'   (- reads standard input)
       npm run -s calc -- --list`;

/** Run the command for its arguments. */
export function calc(args: readonly string[], readInput: () => string): Outcome {
  const [name, input] = args;
  if (name === '--list') return { exit: 0, out: Object.keys(operations).join('\n'), err: '' };
  if (name === undefined || input === undefined) return { exit: 2, out: '', err: usage };
  try {
    return { exit: 0, out: JSON.stringify(runOperation(name, parseJson(input === '-' ? readInput() : input, 'input'))), err: '' };
  } catch (error) {
    const problem = problemOf(error);
    if (problem) return { exit: 2, out: '', err: JSON.stringify(problem.body()) };
    throw error;
  }
}
