import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { Rig, Unit } from '#schema/unit.ts';
import { inTransaction } from '../db/open.ts';
import { getRecord } from '../records/store.ts';
import { type Handlers, WRITTEN } from '../routing.ts';
import { calendarOf, dueEntries } from './calendar.ts';

/** @throws HttpProblem 404 */
function rigAndUnits(raw: Database, rigId: string): { rig: Rig; units: Unit[]; signs: string[] } {
  const rig = getRecord<Rig>(raw, 'rigs', rigId);
  const signs = raw
    .prepare(
      "select position from alarms where rig_id = ? and kind = 'battery' and to_ms is null and practice = 0 order by position",
    )
    .pluck()
    .all(rigId) as string[];
  // A unit's letter is its repeater's supply.
  return { rig, units: rig.unitIds.map((id) => getRecord<Unit>(raw, 'units', id)), signs: signs.filter((p) => p.length > 1) };
}

/** What is due, as a list and as a calendar to subscribe to. */
export function calendarHandlers(db: Knex, now: () => number): Pick<Handlers, 'due' | 'calendar'> {
  return {
    async due({ params }) {
      const { rig, units, signs } = await inTransaction(db, (raw) => rigAndUnits(raw, params.rig));
      return dueEntries(rig, units, now(), signs);
    },
    async calendar({ params, res }) {
      const { rig, units, signs } = await inTransaction(db, (raw) => rigAndUnits(raw, params.rig));
      res.setHeader('Cache-Control', 'no-cache');
      res.setHeader(
        'Content-Disposition',
        `inline; filename="${encodeURIComponent(rig.name)}.ics"; filename*=UTF-8''${encodeURIComponent(rig.name)}.ics`,
      );
      res.type('text/calendar; charset=utf-8').send(calendarOf(rig, units, now(), signs));
      return WRITTEN;
    },
  };
}
