import { AsyncLocalStorage } from 'node:async_hooks';
import type { Database } from 'better-sqlite3';
import diff from 'microdiff';
import type { Kind, PastVersion, VersionChange } from '#schema/versions.ts';
import { notFound } from '../problem.ts';

/** Versions of one document that are kept. */
const KEPT = 200;
/** Changes of one version that are listed. */
const LISTED = 200;

/** The device whose request is being answered; none: this machine. */
export const asking = new AsyncLocalStorage<{ device: string }>();

/** What changed from one document to another, by pointer. */
export function changesOf(before: object | null, after: object): VersionChange[] {
  return diff((before ?? {}) as Record<string, unknown>, after as Record<string, unknown>)
    .slice(0, LISTED)
    .map((d) => ({
      pointer: `/${d.path.map((p) => String(p).replaceAll('~', '~0').replaceAll('/', '~1')).join('/')}`,
      ...('oldValue' in d ? { from: d.oldValue } : {}),
      ...('value' in d ? { to: d.value } : {}),
    }));
}

/** Note a change of a document in the transaction that makes it. */
export function noteVersion(
  raw: Database,
  kind: Kind,
  what: PastVersion['what'],
  doc: { id: string; version: number },
  before: object | null,
  now: string,
): void {
  const { id, version, ...content } = doc;
  const old = before === null ? null : { ...before, id: undefined, version: undefined };
  const changes =
    what === 'changed' || what === 'putBack' ? changesOf(old, { ...content, id: undefined, version: undefined }) : [];
  raw
    .prepare('insert into versions (kind, id, version, at, device, what, diff, doc) values (?, ?, ?, ?, ?, ?, ?, ?)')
    .run(kind, id, version, now, asking.getStore()?.device ?? null, what, JSON.stringify(changes), JSON.stringify(content));
  raw
    .prepare(
      'delete from versions where kind = ? and id = ? and seq <= (select seq from versions where kind = ? and id = ? order by seq desc limit 1 offset ?)',
    )
    .run(kind, id, kind, id, KEPT);
}

interface Row {
  version: number;
  at: string;
  device: string | null;
  what: PastVersion['what'];
  diff: string;
}

/** What was changed of a document, the latest first. */
export const versionsOf = (raw: Database, kind: Kind, id: string): PastVersion[] =>
  (
    raw
      .prepare('select version, at, device, what, diff from versions where kind = ? and id = ? order by seq desc')
      .all(kind, id) as Row[]
  ).map((r) => ({ version: r.version, at: r.at, device: r.device, what: r.what, changes: JSON.parse(r.diff) }));

/** A document as it was. @throws HttpProblem 404 when that version isn't kept */
export function versionOf(raw: Database, kind: Kind, id: string, version: number): Record<string, unknown> {
  const doc = raw
    .prepare('select doc from versions where kind = ? and id = ? and version = ? order by seq desc limit 1')
    .pluck()
    .get(kind, id, version) as string | undefined;
  if (doc === undefined) throw notFound('version');
  return { ...JSON.parse(doc), id, version };
}
