import type { Problem } from '#schema/problem.ts';
import { sharedValue } from './shared-value.ts';

/** Why the last thing that was sent could not be stored; null: it could. */
export const storageFault = sharedValue<string | null>(null);

/** This device isn't paired, or not any more. */
export const unpaired = sharedValue(false);

/** Look at a problem: is it one of storing? */
export function noteProblem(problem: Problem): void {
  if (problem.status === 401) unpaired.set(true);
  if ('fault' in problem) storageFault.set(problem.detail ?? problem.title);
}
