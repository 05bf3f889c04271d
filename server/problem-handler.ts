import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { storageFault } from './db/storage.ts';
import { badInput, HttpProblem, problemOf } from './problem.ts';

/** What body-parser and http-errors hang on their errors. */
interface LibraryError {
  status?: number;
  type?: string;
  message: string;
  limit?: number;
}

function toProblem(error: unknown): HttpProblem | null {
  const problem = problemOf(error);
  if (problem) return problem;
  const fault = storageFault(error);
  if (fault) return fault;
  const e = error as LibraryError;
  if (e.type === 'entity.too.large') {
    return new HttpProblem(413, 'The body is too large', { detail: `At most ${(e.limit ?? 0) / 1_000_000} MB are taken.` });
  }
  if (e.type === 'entity.parse.failed') {
    return badInput([{ pointer: '', detail: `is not JSON: ${e.message}` }], 'The body is not JSON');
  }
  if (typeof e.status === 'number' && e.status >= 400 && e.status < 500) return new HttpProblem(e.status, e.message);
  return null;
}

/** Sends every error as a problem body; what nobody expected is logged and told as 500 without its inside. */
export const problemHandler =
  (log: Logger): ErrorRequestHandler =>
  (error, req, res, next) => {
    if (res.headersSent) {
      // The client that went away needs no note; anything else does.
      if ((error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE')
        log.error({ err: error }, 'an answer broke off');
      res.destroy();
      next(error);
      return;
    }
    let problem = toProblem(error);
    if (!problem) {
      log.error({ err: error }, 'request failed');
      problem = new HttpProblem(500, 'Something went wrong here', {
        detail: 'Nothing was changed. The server has written down what happened.',
      });
    }
    // Drain what is still coming in: a sender that is cut off in the middle never reads the answer.
    req.unpipe();
    req.resume();
    res.set(problem.headers).status(problem.status).type('application/problem+json').send(JSON.stringify(problem.body()));
  };
