import { Worker } from 'node:worker_threads';
import express, { type RequestHandler } from 'express';
import { badInput } from './problem.ts';

/** A body of more bytes is read in a thread: one of 35 MB kept everybody waiting for a seventh of a second. */
const LONG_BYTES = 1_000_000;

// Plain text, so that it needs no file of its own in the built app.
const work = `
const { parentPort, workerData } = require('node:worker_threads');
const bytes = Buffer.from(workerData.buffer, workerData.byteOffset, workerData.byteLength);
try {
  parentPort.postMessage({ value: JSON.parse(bytes.toString()) });
} catch (error) {
  parentPort.postMessage({ fault: error.message });
}`;

/** The value of a long JSON text in UTF-8. The bytes are gone afterwards. @throws HttpProblem 400 where it isn't JSON */
function parseInThread(bytes: Buffer): Promise<unknown> {
  // Memory of its own is handed over, a part of another's copied.
  const transferList = bytes.byteLength === bytes.buffer.byteLength ? [bytes.buffer as ArrayBuffer] : [];
  return new Promise((resolve, reject) => {
    const worker = new Worker(work, { eval: true, workerData: bytes, transferList });
    worker.once('error', reject);
    worker.once('exit', () => reject(new Error('The thread ended before it had read the body.')));
    worker.once('message', (answer: { value: unknown } | { fault: string }) => {
      if ('value' in answer) resolve(answer.value);
      else reject(badInput([{ pointer: '', detail: `is not JSON: ${answer.fault}` }], 'The body is not JSON'));
    });
  });
}

/**
 * Takes a JSON body that may be long. Few objects and long texts, such as photos, are quickly handed over by the thread; for many objects that takes
 * as long as reading them.
 * @param limit the most it may weigh, bytes
 */
export function bigJson(limit: number): RequestHandler {
  const short = express.json({ limit, strict: false, type: () => true });
  const long = express.raw({ limit, type: () => true });
  return (req, res, next) => {
    if (Number(req.headers['content-length']) <= LONG_BYTES && req.headers['content-encoding'] === undefined) {
      short(req, res, next);
      return;
    }
    long(req, res, (error?: unknown) => {
      if (error || !Buffer.isBuffer(req.body)) next(error);
      else
        parseInThread(req.body).then((value) => {
          req.body = value;
          next();
        }, next);
    });
  };
}
