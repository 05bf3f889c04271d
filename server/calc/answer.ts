import { problemOf } from '../problem.ts';
import { parseJson, runOperation } from './run.ts';

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

/** The answer to a calculation, or what is wrong with what was asked. */
export function answerTo({ operation, text }: Asked): Answer {
  const bytes = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
  try {
    return {
      status: 200,
      type: 'application/json; charset=utf-8',
      body: bytes(runOperation(operation, parseJson(text, 'body'))),
    };
  } catch (error) {
    const problem = problemOf(error);
    if (!problem) throw error;
    return { status: problem.status, type: 'application/problem+json; charset=utf-8', body: bytes(problem.body()) };
  }
}
