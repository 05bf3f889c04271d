import type { FieldProblem, Problem } from '#schema/problem.ts';

/** An answer that is a problem (RFC 9457). Thrown anywhere under a route, sent by `problemHandler`. */
export class HttpProblem extends Error {
  readonly status: number;
  readonly title: string;
  readonly errors: FieldProblem[] | undefined;
  readonly extra: Record<string, unknown>;

  constructor(
    status: number,
    title: string,
    options: { detail?: string; errors?: FieldProblem[]; extra?: Record<string, unknown> } = {},
  ) {
    super(options.detail ?? title);
    this.status = status;
    this.title = title;
    this.errors = options.errors;
    this.extra = options.extra ?? {};
  }

  body(): Problem {
    return {
      type: 'about:blank',
      title: this.title,
      status: this.status,
      ...(this.message === this.title ? {} : { detail: this.message }),
      ...(this.errors ? { errors: this.errors } : {}),
      ...this.extra,
    };
  }
}

/** Input that is wrong at one or more fields. */
export const badInput = (errors: FieldProblem[], title = 'The input is not right'): HttpProblem =>
  new HttpProblem(400, title, { errors, ...(errors[0] ? { detail: told(errors[0]) } : {}) });

const told = (e: FieldProblem) => (e.pointer ? `${e.pointer}: ${e.detail}` : e.detail);

export const notFound = (what: string): HttpProblem => new HttpProblem(404, `There is no such ${what}`);
