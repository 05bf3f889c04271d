import { operations } from '#core/operations.ts';
import { explain } from '#schema/explain.ts';
import type { OperationName } from '#schema/operations.ts';
import { validators } from '../../generated/calc.js';
import { badInput, notFound } from '../problem.ts';

export const isOperation = (name: string): name is OperationName => Object.hasOwn(operations, name);

/** What a text says as JSON. @param what it is called in the fault @throws HttpProblem 400 */
export function parseJson(text: string, what: 'body' | 'input'): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw badInput([{ pointer: '', detail: `is not JSON: ${(error as Error).message}` }], `The ${what} is not JSON`);
  }
}

/**
 * Check the input of an operation and run it: what the route and the command both do.
 * @throws HttpProblem 404 for a name that is none, 400 at the fields that are wrong; FieldError from the arithmetic
 */
export function runOperation(name: string, input: unknown): unknown {
  if (!isOperation(name)) throw notFound(`operation as ${name}`);
  const valid = validators[name];
  if (!valid(input)) throw badInput(explain(valid.errors));
  return (operations[name] as (input: unknown) => unknown)(input);
}
