import { threadBeside } from '../beside.ts';
import { closeDatabase, openDatabase } from './open.ts';

/** Brings a file up to date that nobody has open. Nothing of it is on the disk yet. */
export const migrateFile = async (file: string): Promise<void> => closeDatabase(await openDatabase(file, { lasting: false }));

/** The same beside everything else, in the built app: years of readings take seconds. */
export const migrateBeside = threadBeside<string, null>('./migrate-worker.js') ?? migrateFile;
