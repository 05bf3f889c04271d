import { badInput } from '../problem.ts';

/** A time of a query as ms; null when it is not there. @throws HttpProblem 400 */
export function timeParam(value: unknown, name: string): number | null {
  if (value === undefined) return null;
  const ms = typeof value === 'string' ? Date.parse(value) : Number.NaN;
  if (Number.isNaN(ms)) throw badInput([{ pointer: `/${name}`, detail: 'must be a time such as 2026-05-01T08:00:00Z' }]);
  return ms;
}
