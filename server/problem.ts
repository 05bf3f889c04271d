import { STATUS_CODES } from 'node:http';
import { FieldError } from '#core/errors.ts';
import type { FieldProblem, Problem } from '#schema/problem.ts';

/**
 * An answer that is a problem (RFC 9457). Thrown anywhere under a route, sent by `problemHandler`. Its type is `about:blank`, so its title
 * is the status's own; what went wrong is in the detail.
 */
export class HttpProblem extends Error {
  readonly status: number;
  readonly errors: FieldProblem[] | undefined;
  readonly extra: Record<string, unknown>;
  readonly headers: Record<string, string>;

  /** @param what went wrong, as a sentence without its full stop @param options.detail more sentences */
  constructor(
    status: number,
    what: string,
    options: { detail?: string; errors?: FieldProblem[]; extra?: Record<string, unknown>; headers?: Record<string, string> } = {},
  ) {
    super(options.detail === undefined ? what : `${what}. ${options.detail}`);
    this.status = status;
    this.errors = options.errors;
    this.extra = options.extra ?? {};
    this.headers = options.headers ?? {};
  }

  body(): Problem {
    return {
      type: 'about:blank',
      title: STATUS_CODES[this.status] ?? 'Error',
      status: this.status,
      detail: this.message,
      ...(this.errors ? { errors: this.errors } : {}),
      ...this.extra,
    };
  }
}

/** Input that is wrong at one or more fields. @param what stands before the first fault in the detail */
export const badInput = (errors: FieldProblem[], what?: string): HttpProblem => {
  const [first] = errors;
  const fault = first && (first.pointer ? `${first.pointer}: ${first.detail}` : `The input ${first.detail}`);
  return new HttpProblem(400, what ?? fault ?? 'The input is wrong', { errors, ...(what && fault ? { detail: fault } : {}) });
};

/** What an error of the arithmetic or of a route says as a problem; null for one that nobody expected. */
export const problemOf = (error: unknown): HttpProblem | null =>
  error instanceof HttpProblem
    ? error
    : error instanceof FieldError
      ? badInput([{ pointer: error.pointer, detail: error.message }])
      : null;

export const notFound = (what: string): HttpProblem => new HttpProblem(404, `There is no such ${what}`);
