import { existsSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import express, { type Request, type RequestHandler } from 'express';
import { type Answer, type Asked, answerTo } from './answer.ts';
import { runOperation } from './run.ts';

const BODY_LIMIT = 10_000_000;
/** Longer than this a body is worked out in a thread of its own, bytes: it would hold up everybody for longer than the thread takes to start. */
const SMALL = 250_000;
/** Beside the server in the built app; run from its sources, it works everything out itself. */
const WORKER = new URL('./calc-worker.js', import.meta.url);
const hasWorker = existsSync(WORKER);

function inThread(asked: Asked): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(WORKER, { workerData: asked });
    worker.once('message', resolve);
    worker.once('error', reject);
    worker.once('exit', (code) => reject(new Error(`The calculation ended with ${code}.`)));
  });
}

/** One at a time: there are other uses for the cores. */
let last: Promise<unknown> = Promise.resolve();
function oneByOne(asked: Asked): Promise<Answer> {
  const answer = last.then(() => inThread(asked));
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
    const { status, type, body } = req.body.length < SMALL || !hasWorker ? answerTo(asked) : await oneByOne(asked);
    res.status(status).type(type).setHeader('Content-Length', body.byteLength);
    res.end(body);
  },
];
