import type { Database } from 'better-sqlite3';
import { type SettingChange, sameFigures, settingChanges } from '#core/log/changes.ts';
import { unitLetter } from '#core/rig/positions.ts';
import type { LogEvent } from '#schema/log.ts';
import type { Rig, Unit } from '#schema/unit.ts';

/** A limit that is dragged or typed figure by figure is one change: saves this close together are put together, ms. */
const TOGETHER_MS = 10 * 60_000;

interface Row {
  id: number;
  unit_id: string | null;
  at_ms: number;
  kind: 'settings' | 'wheelSet' | 'round';
  data: string;
}

/** Write down what of a unit's settings changes with a save. To be called in the transaction of that save, before it. */
export function noteUnitChange(raw: Database, before: Unit, after: Unit, nowMs: number): void {
  const insert = raw.prepare('insert into events (unit_id, at_ms, kind, data) values (?, ?, ?, ?)');
  const recent = raw.prepare(
    `select id, data from events where unit_id = ? and kind = 'settings' and at_ms > ? and json_extract(data, '$.axle') = ?
       and json_extract(data, '$.loadState') = ? order by id desc limit 1`,
  );
  for (const change of settingChanges(before, after)) {
    const last = recent.get(after.id, nowMs - TOGETHER_MS, change.axle, change.loadState) as
      | { id: number; data: string }
      | undefined;
    if (!last) {
      insert.run(after.id, nowMs, 'settings', JSON.stringify(change));
      continue;
    }
    const from = (JSON.parse(last.data) as SettingChange).from;
    // Put back to what it was: nothing has changed.
    if (sameFigures(from, change.to)) raw.prepare('delete from events where id = ?').run(last.id);
    else
      raw.prepare('update events set at_ms = ?, data = ? where id = ?').run(nowMs, JSON.stringify({ ...change, from }), last.id);
  }
  const fitted = after.wheelSets?.fitted;
  if (fitted !== undefined && before.wheelSets !== undefined && before.wheelSets.fitted !== fitted)
    insert.run(after.id, nowMs, 'wheelSet', JSON.stringify({ name: fitted }));
}

/** Write down a round of figures read off the monitor. */
export function noteRound(
  raw: Database,
  rigId: string,
  ms: number,
  readings: Readonly<Record<string, number>>,
  id: string | undefined,
): void {
  raw
    .prepare(
      `insert into events (rig_id, at_ms, kind, data) select :rigId, :ms, 'round', :data
       where not exists (select 1 from events where rig_id = :rigId and at_ms = :ms and kind = 'round' and data = :data)`,
    )
    .run({ rigId, ms, data: JSON.stringify({ readings, id }) });
}

/** When a round of this id was typed, ms; undefined: it isn't here yet. */
export const roundTime = (raw: Database, rigId: string, id: string): number | undefined =>
  raw
    .prepare("select at_ms from events where rig_id = ? and kind = 'round' and json_extract(data, '$.id') = ?")
    .pluck()
    .get(rigId, id) as number | undefined;

/** What was written down of a rig and its units, the latest first. */
export function eventsOf(raw: Database, rig: Rig, units: readonly Unit[], fromMs: number, most: number): LogEvent[] {
  const rows = raw
    .prepare(
      `select id, unit_id, at_ms, kind, data from events
       where at_ms >= ? and (rig_id = ? or unit_id in (${units.map(() => '?').join()})) order by at_ms desc, id desc limit ?`,
    )
    .all(fromMs, rig.id, ...units.map((u) => u.id), most) as Row[];
  const letters = new Map(units.map((u, i) => [u.id, unitLetter(i)]));
  return rows.map((r): LogEvent => {
    const data = JSON.parse(r.data);
    const head = { id: `event ${r.id}`, time: new Date(r.at_ms).toISOString() };
    const letter = letters.get(r.unit_id ?? '') ?? '';
    if (r.kind === 'settings') return { kind: 'settings', ...head, ...data, axle: letter + data.axle };
    if (r.kind === 'wheelSet') return { kind: 'wheelSet', ...head, unit: letter, name: data.name };
    return { kind: 'round', ...head, readings: data.readings };
  });
}
