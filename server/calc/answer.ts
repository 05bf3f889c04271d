import { FieldError } from '#core/errors.ts';
import { badInput, HttpProblem } from '../problem.ts';
import { runOperation } from './run.ts';

/** A calculation as it is asked for. */
export interface Asked {
  operation: string;
  /** Its input, JSON. */
  text: string;
}

/** The answer to it, ready to be sent. */
export interface Answer {
  status: number;
  type: 'application/json; charset=utf-8' | 'application/problem+json; charset=utf-8';
  body: Uint8Array;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput([{ pointer: '', detail: `is not JSON: ${(error as Error).message}` }], 'The body is not JSON');
  }
}

/** The answer to a calculation, or what is wrong with what was asked. */
export function answerTo({ operation, text }: Asked): Answer {
  const bytes = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
  try {
    return { status: 200, type: 'application/json; charset=utf-8', body: bytes(runOperation(operation, parsed(text))) };
  } catch (error) {
    const problem = error instanceof FieldError ? badInput([{ pointer: error.pointer, detail: error.message }]) : error;
    if (!(problem instanceof HttpProblem)) throw error;
    return { status: problem.status, type: 'application/problem+json; charset=utf-8', body: bytes(problem.body()) };
  }
}
