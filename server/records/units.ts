import type { Database } from 'better-sqlite3';
import { sensorsOf } from '#core/rig/exchange.ts';
import { faultsOf } from '#core/rig/positions.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { NewUnit, Rig, Unit } from '#schema/unit.ts';
import { noteUnitChange } from '../log/events.ts';
import { badInput, HttpProblem } from '../problem.ts';
import { createRecord, deleteRecord, getRecord, listRecords, replaceRecord, restoreRecord } from './store.ts';

const upperIds = <T extends NewUnit>(unit: T): T => {
  const copy = structuredClone(unit);
  for (const { wheel } of sensorsOf(copy)) {
    if (!wheel.sensor) continue;
    wheel.sensor.id = wheel.sensor.id.toUpperCase();
    if (wheel.sensor.shownId !== undefined) wheel.sensor.shownId = wheel.sensor.shownId.toUpperCase();
  }
  return copy;
};

/** @throws HttpProblem 400 at every field that does not fit the others */
function check(unit: NewUnit): void {
  const faults = faultsOf(unit);
  if (faults.length > 0) throw badInput(faults.map(({ pointer, text }) => ({ pointer, detail: text })));
}

/** Store which sensor is on which wheel of this unit. @throws HttpProblem 400 where another unit has the sensor */
function placeSensors(raw: Database, unit: Unit): void {
  raw.prepare('delete from sensor_places where unit_id = ?').run(unit.id);
  const other = raw.prepare(
    `select p.position, json_extract(u.doc, '$.name') as name from sensor_places p join units u on u.id = p.unit_id where p.sensor_id = ?`,
  );
  const insert = raw.prepare('insert into sensor_places (sensor_id, unit_id, position) values (?, ?, ?)');
  const errors: FieldProblem[] = [];
  for (const { wheel, pointer, set } of sensorsOf(unit)) {
    if (!wheel.sensor) continue;
    for (const field of ['id', 'shownId'] as const) {
      const id = wheel.sensor[field];
      if (id === undefined) continue;
      const taken = other.get(id) as { position: string; name: string } | undefined;
      if (taken) {
        errors.push({
          pointer: `${pointer}/sensor/${field}`,
          detail: `${id} is already the sensor of ${taken.name}, wheel ${taken.position}`,
        });
      } else insert.run(id, unit.id, set === undefined ? wheel.position : `${wheel.position} of the ${set} set`);
    }
  }
  if (errors.length > 0) throw badInput(errors, 'A sensor is on one wheel only');
}

export function createUnit(raw: Database, sent: NewUnit, now: string): Unit {
  const unit = upperIds(sent);
  check(unit);
  const stored = createRecord<Unit>(raw, 'units', unit, now);
  placeSensors(raw, stored);
  return stored;
}

export function replaceUnit(raw: Database, sent: Unit, now: string, what: 'changed' | 'putBack' = 'changed'): Unit {
  const unit = upperIds(sent);
  check(unit);
  const before = getRecord<Unit>(raw, 'units', unit.id);
  const stored = replaceRecord<Unit>(raw, 'units', unit, now, what);
  noteUnitChange(raw, before, stored, Date.parse(now));
  placeSensors(raw, stored);
  return stored;
}

/** @throws HttpProblem 409 while a rig holds the unit */
export function deleteUnit(raw: Database, id: string, now: string): void {
  const holders = listRecords<Rig>(raw, 'rigs').filter((r) => r.unitIds.includes(id));
  if (holders.length > 0) {
    const names = holders.map((r) => r.name).join(', ');
    throw new HttpProblem(409, 'The unit is part of a rig', {
      detail: `It is part of ${names}. Take it out there first.`,
      extra: { rigs: holders.map(({ id: rigId, name }) => ({ id: rigId, name })) },
    });
  }
  deleteRecord(raw, 'units', id, now);
  raw.prepare('delete from sensor_places where unit_id = ?').run(id);
}

/** @throws HttpProblem 409 while it is the monitor of a rig: that rig couldn't be saved any more */
export function deleteMonitor(raw: Database, id: string, now: string): void {
  const holders = listRecords<Rig>(raw, 'rigs').filter((r) => r.monitorId === id);
  if (holders.length > 0) {
    throw new HttpProblem(409, 'The monitor belongs to a rig', {
      detail: `It is the monitor of ${holders.map((r) => r.name).join(', ')}. Choose another one there first.`,
      extra: { rigs: holders.map(({ id: rigId, name }) => ({ id: rigId, name })) },
    });
  }
  deleteRecord(raw, 'monitors', id, now);
}

export function restoreUnit(raw: Database, id: string, now: string): Unit {
  const unit = restoreRecord<Unit>(raw, 'units', id, now);
  placeSensors(raw, unit);
  return unit;
}

/** @throws HttpProblem 400 at the unit or monitor that is not there */
export function checkRig(raw: Database, rig: Pick<Rig, 'unitIds' | 'monitorId'>): void {
  const has = (table: string, id: string) =>
    raw.prepare(`select 1 from ${table} where id = ? and deleted_at is null`).get(id) !== undefined;
  const errors = rig.unitIds.flatMap((id, i) =>
    has('units', id) ? [] : [{ pointer: `/unitIds/${i}`, detail: 'there is no such unit' }],
  );
  if (rig.monitorId && !has('monitors', rig.monitorId))
    errors.push({ pointer: '/monitorId', detail: 'there is no such monitor' });
  if (errors.length > 0) throw badInput(errors);
}
