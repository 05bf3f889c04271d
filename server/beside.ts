import { existsSync } from 'node:fs';
import { Worker } from 'node:worker_threads';

/**
 * A thread of the built app that takes work off the one that answers everybody.
 * @param name of the file beside the server in the built app
 * @returns does a piece of work in a thread of its own; null where the server runs from its sources, which have no such file
 */
export function threadBeside<Work, Done>(name: string): ((work: Work) => Promise<Done>) | null {
  const file = new URL(name, import.meta.url);
  if (!existsSync(file)) return null;
  return (work) =>
    new Promise((resolve, reject) => {
      const worker = new Worker(file, { workerData: work });
      worker.once('message', resolve);
      worker.once('error', reject);
      worker.once('exit', (code) => reject(new Error(`The thread ended with ${code}.`)));
    });
}
