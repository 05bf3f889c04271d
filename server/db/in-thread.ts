import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';

/** What the work of a thread begins with: the database as `raw`, and `answer`. It is plain text, so that it needs no file of its own in the built app. */
export const THREAD_HEAD = `
const { parentPort, workerData } = require('node:worker_threads');
const Database = require(workerData.driver);
const raw = new Database(workerData.file, { fileMustExist: true, readonly: workerData.readonly === true });
const answer = (what) => parentPort.postMessage(what);
`;
const asking = `${THREAD_HEAD}
try {
  raw.pragma('busy_timeout = 5000');
  answer(workerData.questions.map((sql) => raw.prepare(sql).raw().all()));
} finally {
  raw.close();
}`;
// Whoever writes first to a log that was emptied, or is in the database as a whole and so starts over, waits for the disk: that has to be done here.
// So first what takes long, while everybody else writes on: up to a state that somebody still reads, and so never the whole log. Then the rest, while
// the gate keeps off whoever wants to write. What is written must be new: SQLite leaves alone a row that stays as it was.
const tidying = `${THREAD_HEAD}
const checkpoint = (mode) => {
  const [done] = raw.pragma('wal_checkpoint(' + mode + ')');
  if (workerData.restMs > 0) sleep(workerData.restMs);
  return done;
};
const write = () => {
  raw.pragma('busy_timeout = 1000');
  raw.prepare("insert into meta (name, value) values ('tidied', hex(randomblob(8))) on conflict (name) do update set value = excluded.value").run();
  raw.pragma('busy_timeout = 0');
};
const gate = new Int32Array(workerData.gate);
const sleep = (ms) => Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, ms);
const reader = new Database(workerData.file, { fileMustExist: true, readonly: true });
try {
  raw.pragma('synchronous = NORMAL');
  for (let round = 0; round < 2; round += 1) {
    reader.exec('begin');
    reader.prepare('select count(*) from meta').get();
    write();
    checkpoint('PASSIVE');
    reader.exec('commit');
  }
  let emptied = false;
  for (let tries = 0; !emptied && tries < 50; tries += 1) {
    if (tries > 0) sleep(20);
    Atomics.store(gate, 0, 1);
    const { busy, log, checkpointed } = checkpoint('TRUNCATE');
    emptied = busy === 0;
    // Not where somebody writes just now (-1), or reads an older state: then a part of it stays, and whoever writes adds to that.
    if (log >= 0 && log === checkpointed) write();
    Atomics.store(gate, 0, 0);
  }
  answer(emptied);
} finally {
  Atomics.store(gate, 0, 0);
  reader.close();
  raw.close();
}`;
// As it is to be opened next, without a log beside it: to change that waits for the disk eight times in the thread that does.
const readying = `${THREAD_HEAD}
try {
  raw.pragma('synchronous = OFF');
  for (const sql of workerData.statements) raw.exec(sql);
  raw.pragma('journal_mode = WAL');
  answer(null);
} finally {
  raw.close();
}`;

/**
 * Does work in a thread with a connection of its own.
 * @param work after `THREAD_HEAD`
 * @param data what it finds in `workerData`; `readonly: true` for a connection that only reads
 * @returns its answer, when it has let go of the file
 * @throws what it throws
 */
export function runInThread<T>(work: string, data: { file: string } & Record<string, unknown>): Promise<T> {
  const driver = createRequire(import.meta.url).resolve('better-sqlite3');
  return new Promise((resolve, reject) => {
    const worker = new Worker(work, { eval: true, workerData: { ...data, driver } });
    let answer: { is: T } | null = null;
    worker.once('message', (is: T) => {
      answer = { is };
    });
    worker.once('error', reject);
    // Only now has it let go of the file.
    worker.once('exit', () =>
      answer === null ? reject(new Error('The database was left before the end.')) : resolve(answer.is),
    );
  });
}

/**
 * Rows that answer questions (SQL) to a database file, each a list of its columns. They are worked out in a thread with a connection of its own: to
 * look at every row of years takes seconds, in which the server would answer nobody.
 * @throws the driver's error, as for a file that isn't a database
 */
export const inThread = (file: string, questions: readonly string[]): Promise<unknown[][][]> =>
  runInThread(asking, { file, questions });

/**
 * Moves what is in the log of a database to the database itself and empties the log, in a thread: that waits for the disk several times.
 * @param gate 4 bytes; nobody may write while they aren't 0
 * @param restMs how long it rests after each step, ms, so that a test can come in between
 * @returns whether the log is empty now; it isn't while somebody reads an older state
 * @throws the driver's error
 */
export const tidyLog = (file: string, gate: SharedArrayBuffer, restMs = 0): Promise<boolean> =>
  runInThread(tidying, { file, gate, restMs });

/**
 * Changes a database that nobody has open yet, in a thread, and leaves it as one file that is opened without a change of its journal. Nothing of it is
 * on the disk yet.
 * @throws the driver's error
 */
export const readyDatabase = (file: string, statements: readonly string[]): Promise<null> =>
  runInThread(readying, { file, statements });
