import type { Problem } from '#schema/problem.ts';
import { sharedValue } from './shared-value.ts';

/** Why the last thing that was sent could not be stored; null: it could. */
export const storageFault = sharedValue<string | null>(null);

/** Look at a problem: is it one of storing? */
export function noteProblem(problem: Problem): void {
  if ('fault' in problem) storageFault.set(problem.detail ?? problem.title);
}
