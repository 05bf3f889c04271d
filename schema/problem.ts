import { type Static, Type } from '@sinclair/typebox';
import { strict } from './common.ts';

/** One thing wrong with the input, at the field it is wrong at (RFC 6901 pointer, '' for the whole). */
export const FieldProblem = Type.Object({ pointer: Type.String(), detail: Type.String() }, strict);
export type FieldProblem = Static<typeof FieldProblem>;

/**
 * A problem body after RFC 9457. Its type is always `about:blank`, so its title is that of the status; what went wrong is in `detail`
 * and, field by field, in `errors`.
 */
export const Problem = Type.Object({
  type: Type.Literal('about:blank'),
  title: Type.String(),
  status: Type.Integer(),
  detail: Type.Optional(Type.String()),
  errors: Type.Optional(Type.Array(FieldProblem)),
});
export type Problem = Static<typeof Problem> & { [extra: string]: unknown };
