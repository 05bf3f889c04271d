import { parentPort, workerData } from 'node:worker_threads';
import { migrateFile } from './migrate.ts';

await migrateFile(workerData as string);
parentPort?.postMessage(null);
