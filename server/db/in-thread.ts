import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';

// The work is plain text, so that it needs no file of its own in the built app.
const head = `
const { parentPort, workerData } = require('node:worker_threads');
const Database = require(workerData.driver);
const raw = new Database(workerData.file, { fileMustExist: true, readonly: workerData.readonly === true });
const answer = (what) => parentPort.postMessage(what);
`;
const asking = `${head}
try {
  raw.pragma('busy_timeout = 5000');
  answer(workerData.questions.map((sql) => raw.prepare(sql).raw().all()));
} finally {
  raw.close();
}`;
// First what takes long, while everybody else writes on; then the rest, for which others have to wait. The first write to an emptied log waits for
// the disk, so that is done here too.
const tidying = `${head}
const checkpoint = (mode) => raw.pragma('wal_checkpoint(' + mode + ')')[0];
try {
  raw.pragma('synchronous = NORMAL');
  raw.pragma('busy_timeout = 0');
  checkpoint('PASSIVE');
  checkpoint('PASSIVE');
  let done = checkpoint('TRUNCATE');
  for (let tries = 0; done.busy && tries < 50; tries += 1) {
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
    done = checkpoint('TRUNCATE');
  }
  if (!done.busy) {
    raw.pragma('busy_timeout = 1000');
    raw.prepare("insert into meta (name, value) values ('tidied', '') on conflict (name) do update set value = excluded.value").run();
  }
  answer(!done.busy);
} finally {
  raw.close();
}`;
// All pages in one step: it reads one state of the database, whatever is written meanwhile.
const copying = `${head}
(async () => {
  try {
    raw.pragma('busy_timeout = 5000');
    await raw.backup(workerData.copy, { progress: () => 2 ** 31 - 1 });
  } finally {
    raw.close();
  }
  // A copy of its own, without a log beside it: one file, whole.
  const copy = new Database(workerData.copy);
  try {
    copy.pragma('journal_mode = DELETE');
    answer(copy.prepare('select name from knex_migrations order by id desc limit 1').pluck().get() ?? '');
  } finally {
    copy.close();
  }
})().catch((error) => process.nextTick(() => { throw error; }));`;

function run<T>(work: string, data: { file: string } & Record<string, unknown>): Promise<T> {
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
export const inThread = (file: string, questions: readonly string[]): Promise<unknown[][][]> => run(asking, { file, questions });

/**
 * Moves what is in the log of a database to the database itself and empties the log, in a thread: that waits for the disk several times.
 * @returns whether the log is empty now; it isn't while somebody reads an older state
 * @throws the driver's error
 */
export const tidyLog = (file: string): Promise<boolean> => run(tidying, { file });

/**
 * Copies a database by SQLite's own online copy, in a thread, while others write. The copy is one file without a log.
 * @returns the last migration of the copy
 * @throws the driver's error
 */
export const copyDatabase = (file: string, copy: string): Promise<string> => run(copying, { file, copy, readonly: true });
