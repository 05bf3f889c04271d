import type { FieldProblem, Problem } from '#schema/problem.ts';
import type { Answer, RouteName } from '#schema/routes.ts';
import { paths } from '../../generated/paths.js';
import { type AskOf, addressOf } from './address.ts';
import { noteBuild } from './build.ts';
import { noteProblem } from './problems.ts';

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

/** On a bad line a request can hang for minutes; after this long, ms, what can be kept on this device is kept. */
const SOON_MS = 5000;
/** For what can wait on this device: gives up on an answer that doesn't come soon. What reached the server all the same is known by its version or id. */
export const soon = (): AbortSignal => AbortSignal.timeout(SOON_MS);

/**
 * Ask the server. A save outlives its page: a field left by closing the tab is saved all the same.
 * @throws ApiProblem for every answer that isn't a success, and when there is none
 */
export async function ask<N extends RouteName>(name: N, asked: AskOf<N>): Promise<Answer<N>> {
  const { body, raw, signal } = asked as { body?: unknown; raw?: Blob; signal?: AbortSignal };
  const [method] = paths[name];
  const text = body === undefined ? undefined : JSON.stringify(body);
  let res: Response;
  try {
    res = await fetch(addressOf(name, asked as never), {
      method,
      keepalive: method !== 'GET' && raw === undefined && (text === undefined || text.length * 3 <= KEPT_ALIVE_BYTES),
      ...(text === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: text }),
      ...(raw === undefined
        ? {}
        : { headers: { 'Content-Type': raw.type === 'application/json' ? raw.type : 'application/octet-stream' }, body: raw }),
      ...(signal ? { signal } : {}),
    });
  } catch {
    throw new ApiProblem({
      type: 'about:blank',
      title: 'No answer',
      status: 0,
      detail: 'The server doesn’t answer. What you typed is kept. Try again when it is running.',
    });
  }
  noteBuild(res);
  if (res.ok) return (res.status === 204 ? undefined : await res.json()) as Answer<N>;
  let problem: Problem;
  try {
    problem = await res.json();
  } catch {
    problem = { type: 'about:blank', title: `The server answered ${res.status}`, status: res.status };
  }
  noteProblem(problem);
  throw new ApiProblem(problem);
}
