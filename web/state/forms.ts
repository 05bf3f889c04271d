import type { FieldError, FieldErrors, FieldValues, Resolver } from 'react-hook-form';
import { explain } from '#schema/explain.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { Validator } from '../../generated/forms.js';

/** Put field problems where React Hook Form looks for them: `/rows/0/cold` becomes `rows[0].cold`. */
export function nestErrors(problems: readonly FieldProblem[]): Record<string, unknown> {
  const errors: Record<string, unknown> = {};
  for (const { pointer, detail } of problems) {
    const path = pointer.split('/').slice(1);
    if (path.length === 0) path.push('root');
    let at = errors;
    path.forEach((part, i) => {
      if (i === path.length - 1) at[part] ??= { type: 'invalid', message: detail } satisfies FieldError;
      else {
        at[part] ??= {};
        at = at[part] as Record<string, unknown>;
      }
    });
  }
  return errors;
}

/**
 * A form checked by a validator that was compiled from the schemas.
 * @param read turns what was typed into the value the schema describes, with the problems found on the way
 */
export function checkedBy<F extends FieldValues, V>(
  validator: Validator,
  read: (typed: F) => { value: V; problems?: FieldProblem[] },
): Resolver<F, unknown, V & FieldValues> {
  return (typed) => {
    const { value, problems = [] } = read(typed);
    const found = [...problems, ...(validator(value) ? [] : explain(validator.errors))];
    if (found.length > 0) return { values: {}, errors: nestErrors(found) as FieldErrors<F> };
    return { values: value as V & FieldValues, errors: {} };
  };
}
