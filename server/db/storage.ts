import { HttpProblem } from '../problem.ts';

/** Why something can't be stored. */
export type StorageFault = 'full' | 'locked' | 'readOnly' | 'gone' | 'damaged' | 'disk' | 'unsure' | 'replaced';

const WORDS: Record<StorageFault, { status: 503 | 507; what: string; todo: string }> = {
  full: {
    status: 507,
    what: 'The disk is full, so nothing more can be stored',
    todo: 'Make room on it.',
  },
  locked: {
    status: 503,
    what: 'Another program is using the database file',
    todo: 'Close it. Send it again.',
  },
  readOnly: {
    status: 503,
    what: 'The database file can’t be written',
    todo: 'Check the permissions of the data folder.',
  },
  gone: {
    status: 503,
    what: 'The database file is gone',
    todo: 'Stop the server, put the file back or restore a backup, and start it again.',
  },
  damaged: {
    status: 503,
    what: 'The database file is damaged',
    todo: 'Stop the server and restore a backup.',
  },
  disk: { status: 503, what: 'The disk can’t be written', todo: 'Check the disk.' },
  unsure: { status: 503, what: 'The disk failed while it was being written to', todo: 'Check the disk.' },
  replaced: { status: 503, what: 'A backup is being restored', todo: 'Send it again in a few seconds.' },
};

const UNSURE = 'It isn’t known whether this was kept: send it again when the disk is in order.';

/** Something that could not be stored, with the reason as a code. */
export class StorageProblem extends HttpProblem {
  readonly fault: StorageFault;
  /** What is wrong and what to do, apart from any one request. */
  readonly standing: string;

  constructor(fault: StorageFault) {
    const { status, what, todo } = WORDS[fault];
    super(status, what, {
      detail: fault === 'replaced' ? todo : `${todo} ${fault === 'unsure' ? UNSURE : 'Nothing of this was kept.'}`,
      headers: { 'Retry-After': '2' },
      extra: { fault },
    });
    this.fault = fault;
    this.standing = `${what}. ${todo}`;
  }
}

export const cannotStore = (fault: StorageFault): StorageProblem => new StorageProblem(fault);

const codeOf = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? '');

export const isBusy = (error: unknown): boolean => codeOf(error).startsWith('SQLITE_BUSY');

/** What an error of SQLite or the file system means for storing; null when it is none of that. */
export function storageFault(error: unknown): StorageProblem | null {
  if (error instanceof StorageProblem) return error;
  const code = codeOf(error);
  if (code === 'SQLITE_FULL' || code === 'ENOSPC' || code === 'EDQUOT') return cannotStore('full');
  if (/^SQLITE_(BUSY|LOCKED)/.test(code)) return cannotStore('locked');
  if (code === 'SQLITE_READONLY_DBMOVED') return cannotStore('gone');
  if (/^SQLITE_(READONLY|PERM|AUTH)/.test(code) || code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return cannotStore('readOnly');
  if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT')) return cannotStore('damaged');
  if (/^SQLITE_(IOERR|CANTOPEN)/.test(code) || code === 'EIO') return cannotStore('disk');
  return null;
}
