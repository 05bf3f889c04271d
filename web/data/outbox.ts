import type { IDBPDatabase } from 'idb';
import type { LogEntry, Rig, Unit } from '#schema/unit.ts';
import { ApiProblem, ask, soon } from './api.ts';
import { sharedValue } from './shared-value.ts';

interface Common {
  /** One for each document, one for each round. */
  key: string;
  /** In this order they are sent. */
  seq: number;
  /** When it was typed, ms. */
  atMs: number;
}
/** Documents that can be changed without a connection. */
export interface Documents {
  unit: Unit;
  rig: Rig;
}
export type DocumentKind = keyof Documents;
type AnyDocument = Documents[DocumentKind];
/** A document as it was changed without a connection. */
export interface WaitingDocument extends Common {
  kind: DocumentKind;
  /** As it was when the first of the changes was made. */
  base: AnyDocument;
  doc: AnyDocument;
  /** As it is on the server, where somebody else has changed it meanwhile. */
  theirs?: AnyDocument;
  /** As it was sent without an answer, the last times: it may be stored all the same, and then nobody else has changed it. */
  tried?: AnyDocument[];
}
/** A round that was typed without a connection. */
export interface WaitingRound extends Common {
  kind: 'round';
  rigId: string;
  body: { id: string; readings: { position: string; pressureKpa: number; tempC: number | null }[] };
}
/** An entry of a rig's log that was made without a connection. */
export interface WaitingLog extends Common {
  kind: 'log';
  rigId: string;
  entry: LogEntry;
}
export type Waiting = (WaitingDocument | WaitingRound | WaitingLog) & { refused?: string };

const STORE = 'outbox';
const NAME = 'druckwerk';

/** What waits to be sent, in order. */
const waiting = sharedValue<readonly Waiting[]>([]);
export const useOutbox = waiting.use;
const usable = typeof indexedDB !== 'undefined';

const database: Promise<IDBPDatabase> | null = usable
  ? import('idb').then(({ openDB }) => openDB(NAME, 1, { upgrade: (db) => void db.createObjectStore(STORE, { keyPath: 'key' }) }))
  : null;
const inOrder = (list: readonly Waiting[]): Waiting[] => [...list].sort((a, b) => a.seq - b.seq);

/** Resolves when what waited at the start is known. */
export const outboxRead: Promise<void> = (async () => {
  if (!database) return;
  try {
    waiting.set(inOrder((await (await database).getAll(STORE)) as Waiting[]));
  } catch {
    // A browser that keeps nothing (a private window): what is typed waits as long as the page is open.
  }
})();

/** Entries that are on their way to the device's own store. */
const keeping = sharedValue(0);
/** Whether all that waits is kept on this device: before that it is gone with its page. */
export const useKept = (): boolean => keeping.use() === 0;

async function keep(entry: Waiting): Promise<void> {
  // First here: whoever looks meanwhile must find it.
  waiting.set(inOrder([...waiting.get().filter((w) => w.key !== entry.key), entry]));
  keeping.set(keeping.get() + 1);
  try {
    await (await database)?.put(STORE, entry).catch(() => undefined);
  } finally {
    keeping.set(keeping.get() - 1);
  }
}

async function drop(key: string): Promise<void> {
  waiting.set(waiting.get().filter((w) => w.key !== key));
  await (await database)?.delete(STORE, key).catch(() => undefined);
}

const nextSeq = (): number => (waiting.get().at(-1)?.seq ?? 0) + 1;
export const isDocument = (w: Waiting): w is WaitingDocument & { refused?: string } => w.kind === 'unit' || w.kind === 'rig';
const waitingDocument = (kind: DocumentKind, id: string): (WaitingDocument & { refused?: string }) | undefined =>
  waiting
    .get()
    .filter(isDocument)
    .find((w) => w.kind === kind && w.doc.id === id);

/** Whether a document has changes that were not sent yet: a further one must come after them. */
export const waits = (kind: DocumentKind, id: string): boolean => waitingDocument(kind, id) !== undefined;

/** Whether an error says that there is no connection, and waiting can help. */
export const isOffline = (error: unknown): boolean => usable && error instanceof ApiProblem && error.status === 0;

/** So many are remembered of what was sent without an answer. */
const MOST_TRIED = 5;
const withTried = (tried: AnyDocument[] = [], doc: AnyDocument): AnyDocument[] =>
  tried.includes(doc) ? tried : [...tried.slice(1 - MOST_TRIED), doc];

/**
 * Keep a changed document until it can be sent.
 * @param base as it was before the change
 * @param tried it was sent, and no answer came
 */
export async function keepDocument<K extends DocumentKind>(
  kind: K,
  doc: Documents[K],
  base: Documents[K],
  tried: boolean,
): Promise<void> {
  const before = waitingDocument(kind, doc.id);
  await keep({
    key: `${kind} ${doc.id}`,
    kind,
    seq: before?.seq ?? nextSeq(),
    atMs: Date.now(),
    base: before?.base ?? base,
    doc: { ...doc, version: (before?.base ?? base).version },
    ...(before?.theirs ? { theirs: before.theirs } : {}),
    ...(tried ? { tried: withTried(before?.tried, doc) } : before?.tried ? { tried: before.tried } : {}),
  });
}

/** Keep a typed round until it can be sent: it has an id, so that it is stored once however often it is sent. */
export async function keepRound(rigId: string, body: WaitingRound['body']): Promise<void> {
  await keep({ key: `round ${rigId} ${body.id}`, kind: 'round', seq: nextSeq(), atMs: Date.now(), rigId, body });
}

/** Keep an entry of a rig's log until it can be sent: it is added to the log as it is then. */
export async function keepLogEntry(rigId: string, entry: LogEntry): Promise<void> {
  await keep({ key: `log ${rigId} ${entry.id}`, kind: 'log', seq: nextSeq(), atMs: Date.now(), rigId, entry });
}

/** What is asked for only where there is a connection: without one it is left out. */
export async function unlessOffline(asked: Promise<unknown>): Promise<void> {
  try {
    await asked;
  } catch (error) {
    if (!isOffline(error)) throw error;
  }
}

/** A rig with an entry in its log; one that is there already isn't added again. */
export const logged = (rig: Rig, entry: LogEntry): Rig =>
  rig.log?.some((e) => e.id === entry.id) ? rig : { ...rig, log: [...(rig.log ?? []), entry] };

/** Rigs as they were read, with what waits laid over them: changed rigs, and entries of their logs. */
export const rigsWithWaiting = (rigs: readonly Rig[]): Rig[] =>
  rigs.map((rig) =>
    waiting
      .get()
      .reduce(
        (r, w) => (w.kind === 'log' && w.rigId === rig.id ? logged(r, w.entry) : r),
        (waitingDocument('rig', rig.id)?.doc as Rig | undefined) ?? rig,
      ),
  );

/** Units as they were read, with the changes that wait laid over them. */
export const unitsWithWaiting = (units: readonly Unit[]): Unit[] =>
  units.map((u) => (waitingDocument('unit', u.id)?.doc as Unit | undefined) ?? u);

/** The same document, whatever its version. */
const alike = (a: AnyDocument, b: AnyDocument): boolean =>
  JSON.stringify(sorted({ ...a, version: 0 })) === JSON.stringify(sorted({ ...b, version: 0 }));
const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, sorted(v)]),
        )
      : value;

/** Takes a document as it was stored. */
type Take = <K extends DocumentKind>(kind: K, doc: Documents[K]) => void;
let sentDocument: Take = () => undefined;
export function onDocumentSent(take: Take): void {
  sentDocument = take;
}
const replace = {
  unit: (doc: AnyDocument): Promise<AnyDocument> =>
    ask('units.replace', { params: { id: doc.id }, body: doc as Unit, signal: soon() }),
  rig: (doc: AnyDocument): Promise<AnyDocument> =>
    ask('rigs.replace', { params: { id: doc.id }, body: doc as Rig, signal: soon() }),
};

let sending: Promise<boolean> | null = null;

/** Send what waits, in order, as far as there is a connection. @returns whether anything was sent */
export function sendWaiting(): Promise<boolean> {
  sending ??= send().finally(() => {
    sending = null;
  });
  return sending;
}

async function send(): Promise<boolean> {
  await outboxRead;
  let sent = false;
  for (const entry of waiting.get()) {
    if (entry.refused !== undefined || (isDocument(entry) && entry.theirs)) continue;
    try {
      await sendOne(entry);
      sent = true;
    } catch (error) {
      if (isOffline(error) || (error instanceof ApiProblem && [401, 429, 502, 503, 507].includes(error.status))) return sent;
      if (!(error instanceof ApiProblem)) throw error;
      const stored = (error.body as { stored?: AnyDocument }).stored;
      if (isDocument(entry) && error.status === 409 && stored) await take(entry, stored);
      else if (entry.kind === 'log' && error.status === 409) return sent;
      else await keep({ ...entry, refused: error.message });
    }
  }
  return sent;
}

async function sendOne(entry: Waiting): Promise<void> {
  if (entry.kind === 'round') {
    // How long ago, not when: the clock of a phone may be wrong.
    const ageS = Math.max(0, (Date.now() - entry.atMs) / 1000);
    await ask('typed', { params: { rig: entry.rigId }, body: { ...entry.body, ageS }, signal: soon() });
    await drop(entry.key);
    return;
  }
  if (entry.kind === 'log') {
    const rig = await ask('rigs.read', { params: { id: entry.rigId }, signal: soon() });
    const next = logged(rig, entry.entry);
    // Somebody else may change the rig in between: then it goes with the next try.
    if (next !== rig) {
      const saved = await ask('rigs.replace', { params: { id: rig.id }, body: next, signal: soon() });
      // A change of the rig that waits was made after this entry and has it: it is one of the version that is stored now.
      const later = waitingDocument('rig', rig.id);
      if (later?.base.version === rig.version) await keep(onto(later, saved));
    }
    await drop(entry.key);
    return;
  }
  // Changed again, or given up, since this round of sending began.
  const current = waitingDocument(entry.kind, entry.doc.id);
  if (!current) return;
  if (!current.tried?.includes(current.doc)) await keep({ ...current, tried: withTried(current.tried, current.doc) });
  const saved = await replace[current.kind](current.doc);
  const now = waitingDocument(current.kind, current.doc.id);
  // The page must know the new version before the next change is made, or that one is refused as stale.
  if (now?.doc === current.doc) sentDocument(current.kind, saved as never);
  // Changed again while it was on its way: the rest goes next.
  if (now && now.doc !== current.doc) await keep(onto(now, saved));
  else await drop(current.key);
}

/** The changes that wait, on top of the version that is stored now. */
const onto = ({ tried: _tried, ...entry }: WaitingDocument, stored: AnyDocument): WaitingDocument => ({
  ...entry,
  base: stored,
  doc: { ...entry.doc, version: stored.version },
});

/** The server has another version: our own, when the answer was lost on the way; else somebody else's. */
async function take(sent: WaitingDocument, stored: AnyDocument): Promise<void> {
  // It may have been changed again since it was sent, or given up.
  const entry = waitingDocument(sent.kind, sent.doc.id);
  if (!entry) return;
  if (alike(stored, entry.doc)) await drop(entry.key);
  else if (entry.tried?.some((doc) => alike(stored, doc))) await keep(onto(entry, stored));
  else await keep({ ...entry, theirs: stored });
}

/** The owner has looked at both: ours is put in the place of theirs, or theirs stays. */
export async function settle(entry: WaitingDocument, mine: boolean): Promise<void> {
  if (!mine || !entry.theirs) return drop(entry.key);
  const { theirs, ...rest } = entry;
  await keep({ ...rest, base: theirs, doc: { ...entry.doc, version: theirs.version } });
  await sendWaiting();
}

/** What was refused is given up. */
export const giveUp = (entry: Waiting): Promise<void> => drop(entry.key);
