import { parentPort, workerData } from 'node:worker_threads';
import { type Asked, answerTo } from './answer.ts';

// What answers is handed over, not copied.
const answer = answerTo(workerData as Asked);
parentPort?.postMessage(answer, [answer.body.buffer as ArrayBuffer]);
