import { randomUUID } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import { HttpProblem, notFound } from '../problem.ts';
import { noteVersion } from './versions.ts';

/** Tables that hold versioned documents. */
export type RecordTable = 'units' | 'rigs' | 'monitors';

/** What every stored document carries. */
export interface Stored {
  id: string;
  version: number;
}

interface Row {
  id: string;
  version: number;
  doc: string;
}

const noun: Record<RecordTable, string> = { units: 'unit', rigs: 'rig', monitors: 'monitor' };

const toDocument = <T extends Stored>(row: Row): T => ({ ...JSON.parse(row.doc), id: row.id, version: row.version });

/** All documents that are not deleted, in the order they were made. */
export function listRecords<T extends Stored>(raw: Database, table: RecordTable): T[] {
  const rows = raw.prepare(`select id, version, doc from ${table} where deleted_at is null order by created_at, rowid`).all();
  return (rows as Row[]).map((r) => toDocument<T>(r));
}

/** @throws HttpProblem 404 when there is none, or it is deleted */
export function getRecord<T extends Stored>(raw: Database, table: RecordTable, id: string): T {
  const row = raw.prepare(`select id, version, doc from ${table} where id = ? and deleted_at is null`).get(id);
  if (!row) throw notFound(noun[table]);
  return toDocument<T>(row as Row);
}

export function createRecord<T extends Stored>(
  raw: Database,
  table: RecordTable,
  content: Omit<T, 'id' | 'version'>,
  now: string,
): T {
  const id = randomUUID();
  raw
    .prepare(`insert into ${table} (id, version, doc, created_at, updated_at) values (?, 1, ?, ?, ?)`)
    .run(id, JSON.stringify(content), now, now);
  const made = { ...content, id, version: 1 } as T;
  noteVersion(raw, table, 'made', made, null, now);
  return made;
}

/**
 * Replace a document.
 * @throws HttpProblem 409 with both versions when the one sent was not made from the one stored
 */
export function replaceRecord<T extends Stored>(
  raw: Database,
  table: RecordTable,
  sent: T,
  now: string,
  what: 'changed' | 'putBack' = 'changed',
): T {
  const stored = getRecord<T>(raw, table, sent.id);
  if (stored.version !== sent.version) {
    throw new HttpProblem(409, `This ${noun[table]} was changed elsewhere in the meantime`, {
      detail: `You sent version ${sent.version}, version ${stored.version} is stored.`,
      extra: { sentVersion: sent.version, storedVersion: stored.version, sent, stored },
    });
  }
  const { id, version, ...content } = sent;
  raw
    .prepare(`update ${table} set version = ?, doc = ?, updated_at = ? where id = ?`)
    .run(version + 1, JSON.stringify(content), now, id);
  const made = { ...sent, version: version + 1 };
  noteVersion(raw, table, what, made, stored, now);
  return made;
}

/** Mark as deleted; `restoreRecord` takes it back. */
export function deleteRecord(raw: Database, table: RecordTable, id: string, now: string): void {
  const stored = getRecord(raw, table, id);
  raw.prepare(`update ${table} set deleted_at = ? where id = ?`).run(now, id);
  noteVersion(raw, table, 'deleted', stored, null, now);
}

export function restoreRecord<T extends Stored>(raw: Database, table: RecordTable, id: string, now: string): T {
  const row = raw.prepare(`select id, version, doc from ${table} where id = ?`).get(id) as Row | undefined;
  if (!row) throw notFound(noun[table]);
  raw.prepare(`update ${table} set deleted_at = null where id = ?`).run(id);
  const back = toDocument<T>(row);
  noteVersion(raw, table, 'restored', back, null, now);
  return back;
}
