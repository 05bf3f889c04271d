import { FieldError } from '#core/errors.ts';
import { operations } from '#core/operations.ts';
import { badInput, HttpProblem } from '../problem.ts';
import { runOperation } from './run.ts';

/** What a call of the command came to. */
interface Outcome {
  exit: 0 | 2;
  out: string;
  err: string;
}

const usage = `Usage: npm run -s calc -- <operation> '<json>'   (- reads standard input)
       npm run -s calc -- --list`;

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput([{ pointer: '', detail: `is not JSON: ${(error as Error).message}` }], 'The input is not JSON');
  }
}

/** Run the command for its arguments. */
export function calc(args: readonly string[], readInput: () => string): Outcome {
  const [name, input] = args;
  if (name === '--list') return { exit: 0, out: Object.keys(operations).join('\n'), err: '' };
  if (name === undefined || input === undefined) return { exit: 2, out: '', err: usage };
  try {
    return { exit: 0, out: JSON.stringify(runOperation(name, parse(input === '-' ? readInput() : input))), err: '' };
  } catch (error) {
    const problem = error instanceof FieldError ? badInput([{ pointer: error.pointer, detail: error.message }]) : error;
    if (problem instanceof HttpProblem) return { exit: 2, out: '', err: JSON.stringify(problem.body()) };
    throw error;
  }
}
