import type { Knex } from 'knex';
import { drivesOf, type SensorHour } from '#core/log/drives.ts';
import { wheelsOf } from '#core/rig/positions.ts';
import type { LogEvent } from '#schema/log.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import { reading } from '../db/open.ts';
import { otherWork } from '../loop.ts';
import { hoursSince, refreshInSlices } from '../readings/rollups.ts';
import { getRecord } from '../records/store.ts';
import type { Handlers } from '../routing.ts';
import { eventsOf } from './events.ts';

const DAY_MS = 86_400_000;
/** How far back drives are looked for, days: a year and a month. */
const DAYS = 396;
const MOST = 1000;

/** What the app wrote down by itself, and the drives that the readings show. */
export function logHandlers(db: Knex, now: () => number): Pick<Handlers, 'events'> {
  return {
    async events({ params, query }) {
      const { rig, units } = await reading(db, (raw) => {
        const found = getRecord<Rig>(raw, 'rigs', params.rig);
        return { rig: found, units: found.unitIds.map((id) => getRecord<Unit>(raw, 'units', id)) };
      });
      const fromMs = query.from === undefined ? now() - DAYS * DAY_MS : Date.parse(query.from);
      const noted = await reading(db, (raw) => eventsOf(raw, rig, units, fromMs, MOST));
      const sensors = wheelsOf(units).flatMap((w) => (w.wheel.sensor && w.place !== 'S' ? [w.wheel.sensor.id] : []));
      await refreshInSlices(db, sensors, fromMs, now());
      const hours: SensorHour[][] = [];
      // One sensor at a time: between two of them whatever else is waiting is answered.
      for (const id of sensors) {
        hours.push(await reading(db, (raw) => hoursSince(raw, id, fromMs)));
        await otherWork();
      }
      const drives = drivesOf(hours).map(
        (d): LogEvent => ({
          kind: 'drive',
          id: `drive ${d.fromMs}`,
          time: new Date(d.fromMs).toISOString(),
          until: new Date(d.toMs).toISOString(),
          wheels: d.wheels,
          warmedK: d.warmedK,
        }),
      );
      return [...noted, ...drives].sort((a, b) => (a.time < b.time ? 1 : a.time > b.time ? -1 : 0)).slice(0, MOST);
    },
  };
}
