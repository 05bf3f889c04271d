/** Why the server doesn't start, with the exit code each has. */
export const EXIT_CODES = {
  folderIsFile: 10,
  forbidden: 11,
  readOnly: 12,
  full: 13,
  damaged: 14,
  emptied: 15,
  locked: 16,
  newer: 17,
  portTaken: 18,
  portWrong: 19,
  second: 20,
  disk: 21,
  backup: 22,
  /** Said by `scripts/quick-start.mjs`: without its packages the server can say nothing. */
  packages: 23,
} as const;

export type StartFault = keyof typeof EXIT_CODES;

/** A known failure at the start: two sentences, what is wrong and what to do, and an exit code. */
export class StartFailure extends Error {
  readonly fault: StartFault;

  /** @param what is wrong @param todo what to do about it */
  constructor(fault: StartFault, what: string, todo: string) {
    super(`${what} ${todo}`);
    this.fault = fault;
  }

  get exitCode(): number {
    return EXIT_CODES[this.fault];
  }
}

const OTHER_FOLDER = 'set DRUCKWERK_DATA to another one';

/**
 * The failure that an error at the start is.
 * @param path the folder or file it is about
 * @param newest name of the newest backup; null: there is none
 * @returns null for an error nobody expected
 */
export function startFailure(error: unknown, path: string, newest: string | null): StartFailure | null {
  if (error instanceof StartFailure) return error;
  const code = String((error as { code?: unknown } | null)?.code ?? '');
  if (code === 'ENOTDIR' || code === 'EEXIST')
    return new StartFailure(
      'folderIsFile',
      `The data folder ${path} is a file, or is inside one.`,
      `Move the file away, or ${OTHER_FOLDER}.`,
    );
  if (code === 'EACCES' || code === 'EPERM' || /^SQLITE_(PERM|AUTH)/.test(code))
    return new StartFailure(
      'forbidden',
      `This user may not read and write ${path}.`,
      `Give it the permission, or ${OTHER_FOLDER}.`,
    );
  if (code === 'EROFS' || code.startsWith('SQLITE_READONLY'))
    return new StartFailure('readOnly', `${path} can only be read, not written.`, `Make it writable, or ${OTHER_FOLDER}.`);
  if (code === 'ENOSPC' || code === 'EDQUOT' || code === 'SQLITE_FULL')
    return new StartFailure('full', `The disk with ${path} is full.`, `Make room on it, or ${OTHER_FOLDER}.`);
  if (/^SQLITE_(BUSY|LOCKED)/.test(code))
    return new StartFailure('locked', `Another program is using ${path}.`, 'Close that program, then start the server again.');
  if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT')) return damaged(path, newest);
  if (/^SQLITE_(IOERR|CANTOPEN)/.test(code) || code === 'EIO' || code === 'EISDIR')
    return new StartFailure('disk', `${path} can’t be opened.`, 'Check that it is a file and that its disk works.');
  return null;
}

/** What to do when the file of the world is no good: the newest backup by its name, or none. */
export const restoreAdvice = (newest: string | null): string =>
  newest === null
    ? 'There is no backup in its backups folder; put back a copy of your own.'
    : `Restore the newest backup: npm run restore -- ${newest}`;

export const damaged = (path: string, newest: string | null): StartFailure =>
  new StartFailure('damaged', `The database file ${path} is damaged.`, restoreAdvice(newest));

/** @returns the port, 0 to 65535 (0: any that is free) @throws StartFailure when it is none */
export function portOf(text: string | undefined): number {
  if (text === undefined || text === '') return 4600;
  if (/^\d{1,5}$/.test(text) && Number(text) <= 65_535) return Number(text);
  throw new StartFailure(
    'portWrong',
    `PORT is “${text.slice(0, 40)}”, which is no port.`,
    'Set it to a whole number from 1 to 65535, such as PORT=4700.',
  );
}

/** The failure of a server that can't listen; null for one nobody expected. */
export function listenFailure(error: NodeJS.ErrnoException, host: string, port: number): StartFailure | null {
  if (error.code === 'EADDRINUSE')
    return new StartFailure(
      'portTaken',
      `Port ${port} is taken.`,
      'Stop what uses it, or choose another one, such as PORT=4700 npm start.',
    );
  if (error.code === 'EACCES')
    return new StartFailure('forbidden', `This user may not use port ${port}.`, 'Choose one over 1023, such as PORT=4700.');
  if (error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND')
    return new StartFailure('portWrong', `This machine has no address ${host}.`, 'Set HOST to one it has, or leave it out.');
  return null;
}
