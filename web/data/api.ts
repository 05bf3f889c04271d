import type { FieldProblem, Problem } from '#schema/problem.ts';
import { noteBuild } from './build.ts';

/** An answer of the server that is a problem, or no answer at all (status 0). */
export class ApiProblem extends Error {
  readonly status: number;
  readonly errors: FieldProblem[];
  readonly body: Problem;

  constructor(body: Problem) {
    super(body.detail ?? body.title);
    this.status = body.status;
    this.errors = body.errors ?? [];
    this.body = body;
  }
}

/** A browser carries at most 64 KiB of requests on past the end of their page; half of it is for one. */
const KEPT_ALIVE_BYTES = 32_768;

/**
 * Ask the server. A save outlives its page: a field left by closing the tab is kept all the same.
 * @throws ApiProblem for every answer that is not one of success, and when there is none
 */
export async function api<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  const text = body === undefined ? undefined : JSON.stringify(body);
  let res: Response;
  try {
    res = await fetch(`/api${path}`, {
      method,
      keepalive: method !== 'GET' && (text === undefined || text.length * 3 <= KEPT_ALIVE_BYTES),
      ...(text === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: text }),
    });
  } catch {
    throw new ApiProblem({
      type: 'about:blank',
      title: 'The server does not answer',
      status: 0,
      detail: 'The server does not answer. What you typed is kept; try again when it runs.',
    });
  }
  noteBuild(res);
  if (res.ok) return (res.status === 204 ? undefined : await res.json()) as T;
  let problem: Problem;
  try {
    problem = await res.json();
  } catch {
    problem = { type: 'about:blank', title: `The server answered ${res.status}`, status: res.status };
  }
  throw new ApiProblem(problem);
}
