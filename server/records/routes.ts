import type { Database } from 'better-sqlite3';
import type { Request } from 'express';
import type { Knex } from 'knex';
import type { ChangeStep } from '#schema/changes.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import type { Kind } from '#schema/versions.ts';
import { reading } from '../db/open.ts';
import { badInput, HttpProblem, notFound } from '../problem.ts';
import { type Handlers, Reply } from '../routing.ts';
import {
  createRecord,
  deleteRecord,
  getRecord,
  listRecords,
  type RecordTable,
  replaceRecord,
  restoreRecord,
  type Stored,
} from './store.ts';
import { checkRig, createUnit, deleteMonitor, deleteUnit, replaceUnit, restoreUnit } from './units.ts';
import { versionOf, versionsOf } from './versions.ts';

/** Changes records in a transaction, with what follows from them for the watch. */
export type ChangeRecords = <T>(work: (raw: Database) => T) => Promise<T>;

const deleteOne = (raw: Database, table: RecordTable, id: string, now: string): void =>
  table === 'units'
    ? deleteUnit(raw, id, now)
    : table === 'monitors'
      ? deleteMonitor(raw, id, now)
      : deleteRecord(raw, table, id, now);

function restoreOne(raw: Database, table: RecordTable, id: string, now: string): Stored {
  if (table === 'units') return restoreUnit(raw, id, now);
  if (table === 'monitors') return restoreRecord<Monitor>(raw, table, id, now);
  const rig = restoreRecord<Rig>(raw, table, id, now);
  checkRig(raw, rig);
  return rig;
}

function replaceRig(raw: Database, rig: Rig, now: string): Rig {
  checkRig(raw, rig);
  return replaceRecord<Rig>(raw, 'rigs', rig, now);
}

/** Make one step of a change. */
function take(raw: Database, step: ChangeStep, now: string): void {
  if (step.do === 'putUnit') replaceUnit(raw, step.doc, now);
  else if (step.do === 'putRig') replaceRig(raw, step.doc, now);
  else if (step.do === 'putMonitor') replaceRecord<Monitor>(raw, 'monitors', step.doc, now);
  else if (step.do === 'delete') deleteOne(raw, step.kind, step.id, now);
  else restoreOne(raw, step.kind, step.id, now);
}

/** A document that was sent to an address. @throws HttpProblem 400 when it carries another id */
function addressed<T extends { id?: string }>(body: T, id: string): T & { id: string } {
  if (body.id !== undefined && body.id !== id) throw badInput([{ pointer: '/id', detail: 'is not the id of the address' }]);
  return { ...body, id };
}

/** `If-Match` of a request names the version that is to be deleted. @throws HttpProblem 412 when another one is stored */
function mustMatch(req: Request, stored: Stored): void {
  const wanted = req.get('If-Match');
  if (wanted === undefined || wanted.trim() === '*') return;
  const versions = wanted.split(',').map((t) => t.trim().replace(/^"|"$/g, ''));
  if (versions.includes(String(stored.version))) return;
  throw new HttpProblem(412, 'It was changed in the meantime', {
    detail: `You meant version ${versions.join(' or ')}, version ${stored.version} is stored.`,
    extra: { storedVersion: stored.version, stored },
  });
}

/** @throws HttpProblem 404 */
function kindOf(text: string): Kind {
  if (text === 'units' || text === 'rigs' || text === 'monitors') return text;
  throw notFound('kind of record');
}

/** @throws HttpProblem 404 */
function numberOf(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw notFound('version');
  return Number(text);
}

type Verb = 'list' | 'create' | 'read' | 'replace' | 'remove' | 'restore';

/** Units, rigs and monitors. */
export function recordHandlers(
  db: Knex,
  change: ChangeRecords,
  now: () => number,
): Pick<Handlers, `${'units' | 'rigs' | 'monitors'}.${Verb}` | 'change' | 'versions' | 'version' | 'putBack'> {
  const iso = () => new Date(now()).toISOString();
  const list = <T extends Stored>(table: RecordTable) => reading(db, (raw) => listRecords<T>(raw, table));
  const read = <T extends Stored>(table: RecordTable, id: string) => reading(db, (raw) => getRecord<T>(raw, table, id));
  const made = <T extends Stored>(table: RecordTable, doc: T) =>
    new Reply(doc, { headers: { Location: `/api/${table}/${doc.id}` } });
  const remove = (table: RecordTable) => async (id: string, req: Request) => {
    await change((raw) => {
      mustMatch(req, getRecord(raw, table, id));
      deleteOne(raw, table, id, iso());
    });
    return undefined;
  };
  return {
    'units.list': () => list<Unit>('units'),
    'units.create': async ({ body }) => made('units', await change((raw) => createUnit(raw, body, iso()))),
    'units.read': ({ params }) => read<Unit>('units', params.id),
    'units.replace': ({ params, body }) => change((raw) => replaceUnit(raw, addressed(body, params.id), iso())),
    'units.remove': ({ params, req }) => remove('units')(params.id, req),
    'units.restore': ({ params }) => change((raw) => restoreUnit(raw, params.id, iso())),

    'rigs.list': () => list<Rig>('rigs'),
    'rigs.create': async ({ body }) =>
      made(
        'rigs',
        await change((raw) => {
          checkRig(raw, body);
          return createRecord<Rig>(raw, 'rigs', body, iso());
        }),
      ),
    'rigs.read': ({ params }) => read<Rig>('rigs', params.id),
    'rigs.replace': ({ params, body }) => change((raw) => replaceRig(raw, addressed(body, params.id), iso())),
    'rigs.remove': ({ params, req }) => remove('rigs')(params.id, req),
    'rigs.restore': ({ params }) => change((raw) => restoreOne(raw, 'rigs', params.id, iso()) as Rig),

    'monitors.list': () => list<Monitor>('monitors'),
    'monitors.create': async ({ body }) =>
      made('monitors', await change((raw) => createRecord<Monitor>(raw, 'monitors', body, iso()))),
    'monitors.read': ({ params }) => read<Monitor>('monitors', params.id),
    'monitors.replace': ({ params, body }) =>
      change((raw) => replaceRecord<Monitor>(raw, 'monitors', addressed(body, params.id), iso())),
    'monitors.remove': ({ params, req }) => remove('monitors')(params.id, req),
    'monitors.restore': ({ params }) => change((raw) => restoreOne(raw, 'monitors', params.id, iso()) as Monitor),

    versions: ({ params }) => reading(db, (raw) => versionsOf(raw, kindOf(params.kind), params.id)),
    version: ({ params }) => reading(db, (raw) => versionOf(raw, kindOf(params.kind), params.id, numberOf(params.number))),
    putBack: ({ params }) =>
      change((raw) => {
        const kind = kindOf(params.kind);
        const { version } = getRecord(raw, kind, params.id);
        const doc = { ...versionOf(raw, kind, params.id, numberOf(params.number)), id: params.id, version };
        if (kind === 'units') return replaceUnit(raw, doc as unknown as Unit, iso(), 'putBack');
        if (kind === 'rigs') checkRig(raw, doc as unknown as Rig);
        return replaceRecord(raw, kind, doc, iso(), 'putBack');
      }) as Promise<Record<string, unknown>>,

    change: ({ body }) =>
      change((raw) => {
        for (const step of body.steps) take(raw, step, iso());
        return {
          units: listRecords<Unit>(raw, 'units'),
          rigs: listRecords<Rig>(raw, 'rigs'),
          monitors: listRecords<Monitor>(raw, 'monitors'),
        };
      }),
  };
}
