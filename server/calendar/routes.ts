import type { Database } from 'better-sqlite3';
import type { Knex } from 'knex';
import type { CellSigns } from '#core/calendar/due.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { reading } from '../db/open.ts';
import { getRecord } from '../records/store.ts';
import { type Handlers, WRITTEN } from '../routing.ts';
import { calendarOf, dueEntries } from './calendar.ts';

/** A sensor that went silent so often in so many days is one that drops out. Assumed. */
const MISSED_TIMES = 3;
const MISSED_DAYS = 30;

/** @throws HttpProblem 404 */
function rigAndUnits(raw: Database, rigId: string, nowMs: number): { rig: Rig; units: Unit[]; signs: CellSigns } {
  const rig = getRecord<Rig>(raw, 'rigs', rigId);
  const low = raw
    .prepare(
      "select position from alarms where rig_id = ? and kind = 'battery' and to_ms is null and practice = 0 order by position",
    )
    .pluck()
    .all(rigId) as string[];
  const missed = raw
    .prepare(
      `select position from alarms where rig_id = ? and kind = 'silent' and practice = 0 and withdrawn = 0 and from_ms >= ?
       group by position having count(*) >= ? order by position`,
    )
    .pluck()
    .all(rigId, nowMs - MISSED_DAYS * 86_400_000, MISSED_TIMES) as string[];
  // A unit's letter is its repeater, or all of it.
  const wheels = (list: string[]) => list.filter((p) => p.length > 1);
  return {
    rig,
    units: rig.unitIds.map((id) => getRecord<Unit>(raw, 'units', id)),
    signs: { low: wheels(low), missed: wheels(missed) },
  };
}

/** What is due, as a list and as a calendar to subscribe to. */
export function calendarHandlers(db: Knex, now: () => number): Pick<Handlers, 'due' | 'calendar'> {
  return {
    async due({ params }) {
      const { rig, units, signs } = await reading(db, (raw) => rigAndUnits(raw, params.rig, now()));
      return dueEntries(rig, units, now(), signs);
    },
    async calendar({ params, res }) {
      const { rig, units, signs } = await reading(db, (raw) => rigAndUnits(raw, params.rig, now()));
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
