import express, { type Request, type RequestHandler } from 'express';
import { threadBeside } from '../beside.ts';
import { type Answer, type Asked, answerTo } from './answer.ts';
import { runOperation } from './run.ts';

const BODY_LIMIT = 10_000_000;
/** Longer than this a body is worked out in a thread of its own, bytes: it would hold up everybody for longer than the thread takes to start. */
const SMALL = 250_000;
/** Null where the server runs from its sources: it works everything out itself. */
const inThread = threadBeside<Asked, Answer>('./calc-worker.js');

/** One at a time: there are other uses for the cores. */
let last: Promise<unknown> = Promise.resolve();
function oneByOne(asked: Asked, work: (asked: Asked) => Promise<Answer>): Promise<Answer> {
  const answer = last.then(() => work(asked));
  last = answer.catch(() => undefined);
  return answer;
}

const json = express.json({ limit: BODY_LIMIT, strict: false, type: () => true });
const text = express.text({ limit: BODY_LIMIT, type: () => true });

/** A body without a length may be long. */
const isSmall = (req: Request): boolean => Number(req.headers['content-length'] ?? SMALL) < SMALL;

/** Answers a calculation: a small one at once, a large one in a thread, so that nobody waits for it. */
export const calcRoute = (): RequestHandler[] => [
  (req, res, next) => (isSmall(req) ? json : text)(req, res, next),
  async (req, res) => {
    const operation = req.params.operation as string;
    if (isSmall(req) || typeof req.body !== 'string') {
      res.json(runOperation(operation, req.body));
      return;
    }
    const asked = { operation, text: req.body };
    const { status, type, body } = req.body.length < SMALL || !inThread ? answerTo(asked) : await oneByOne(asked, inThread);
    res.status(status).type(type).setHeader('Content-Length', body.byteLength);
    res.end(body);
  },
];
