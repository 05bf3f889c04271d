import { createHash, randomUUID } from 'node:crypto';
import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { LearnedRise } from '#core/pressure/hot-run.ts';
import { buildReport, type Report } from '#core/report/report.ts';
import { watchedWheels } from '#core/rig/positions.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { inTransaction, reading } from '../db/open.ts';
import { learnedHotRun } from '../readings/hot-run.ts';
import { type Handlers, Reply } from '../routing.ts';
import { zoneHere } from '../time-zone.ts';
import { getRecord, listRecords } from './store.ts';

interface Row {
  id: string;
  at: string;
  hash: string;
  doc: string;
}

function rigAndUnits(raw: Database, rigId: string): { rig: Rig; units: Unit[] } {
  const rig = getRecord<Rig>(raw, 'rigs', rigId);
  return { rig, units: rig.unitIds.map((id) => getRecord<Unit>(raw, 'units', id)) };
}

type Learned = Readonly<Record<string, LearnedRise>>;

/** What a rig's readings of weeks show is worked out before its report, so that the report itself holds up nobody. @throws HttpProblem 404 */
async function learnedOf(db: Knex, rigId: string): Promise<Learned> {
  const { rig, units } = await reading(db, (raw) => rigAndUnits(raw, rigId));
  return learnedHotRun(db, watchedWheels(rig, units));
}

/** The report of a rig as of now. @throws HttpProblem 404 */
function reportNow(raw: Database, rigId: string, at: string, learned: Learned): Report {
  const { rig, units } = rigAndUnits(raw, rigId);
  const monitor = listRecords<Monitor>(raw, 'monitors').find((m) => m.id === rig.monitorId) ?? null;
  return buildReport(rig, units, monitor, at, learned, zoneHere());
}

/** What is in a report but for its date. */
const hashOf = ({ at: _at, ...rest }: Report): string => createHash('sha256').update(JSON.stringify(rest)).digest('hex');

/** Keep the report of a rig as of now; one that says the same as the last is not kept twice. @throws HttpProblem 404 */
export function keepReport(raw: Database, rigId: string, at: string, learned: Learned): { row: Row; fresh: boolean } {
  const report = reportNow(raw, rigId, at, learned);
  const hash = hashOf(report);
  const last = raw.prepare('select * from reports where rig_id = ? order by at desc limit 1').get(rigId) as Row | undefined;
  if (last?.hash === hash) return { row: last, fresh: false };
  const made: Row = { id: randomUUID(), at: report.at, hash, doc: JSON.stringify(report) };
  raw
    .prepare('insert into reports (id, rig_id, at, hash, doc) values (?, ?, ?, ?, ?)')
    .run(made.id, rigId, made.at, hash, made.doc);
  return { row: made, fresh: true };
}

/** Commissioning reports: the one of now, and dated versions; a version that says the same as the last is not kept twice. */
export function reportHandlers(db: Knex, now: () => number): Pick<Handlers, 'report' | 'reports' | 'keepReport'> {
  const iso = () => new Date(now()).toISOString();
  return {
    async report({ params }) {
      const learned = await learnedOf(db, params.rig);
      return reading(db, (raw) => reportNow(raw, params.rig, iso(), learned));
    },
    async reports({ params }) {
      const rows = await reading(db, (raw) => {
        getRecord<Rig>(raw, 'rigs', params.rig);
        return raw.prepare('select id, at, doc from reports where rig_id = ? order by at desc').all(params.rig) as Row[];
      });
      return rows.map((r) => ({ id: r.id, at: r.at, report: JSON.parse(r.doc) as Report }));
    },
    async keepReport({ params }) {
      const learned = await learnedOf(db, params.rig);
      const { row, fresh } = await inTransaction(db, (raw) => keepReport(raw, params.rig, iso(), learned));
      return new Reply({ id: row.id, at: row.at, report: JSON.parse(row.doc) as Report }, { status: fresh ? 201 : 200 });
    },
  };
}
