import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';

// Plain text, so that it needs no file of its own in the built app.
const WORK = `
const { parentPort, workerData } = require('node:worker_threads');
const Database = require(workerData.driver);
const raw = new Database(workerData.file, { fileMustExist: true });
try {
  raw.pragma('busy_timeout = 5000');
  parentPort.postMessage(workerData.questions.map((sql) => raw.prepare(sql).raw().all()));
} finally {
  raw.close();
}`;

/**
 * Rows that answer questions (SQL) to a database file, each a list of its columns. They are worked out in a thread with a connection of its own: to
 * look at every row of years takes seconds, in which the server would answer nobody.
 * @throws the driver's error, as for a file that isn't a database
 */
export function inThread(file: string, questions: readonly string[]): Promise<unknown[][][]> {
  const driver = createRequire(import.meta.url).resolve('better-sqlite3');
  return new Promise((resolve, reject) => {
    const worker = new Worker(WORK, { eval: true, workerData: { file, driver, questions } });
    let answers: unknown[][][] | null = null;
    worker.once('message', (rows) => {
      answers = rows;
    });
    worker.once('error', reject);
    // Only now has it let go of the file.
    worker.once('exit', () => (answers === null ? reject(new Error('The database was not read to its end.')) : resolve(answers)));
  });
}
