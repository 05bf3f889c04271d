import { randomUUID } from 'node:crypto';
import { WATCH } from '#core/watch/parameters.ts';
import { isMoreUrgent } from '#core/watch/priority.ts';
import type { WatchEvent } from '#core/watch/watch.ts';
import type { AlarmKind, Severity, Shelf } from '#schema/alarm.ts';
import type { Changes } from './changes.ts';
import type { Statements } from './store.ts';
import type { Watched } from './watched.ts';

/** How much worse an alarm that was acknowledged must get before it sounds again; null: it doesn't. */
const worseBy = (kind: AlarmKind): number | null =>
  kind === 'hot' || kind === 'apart' ? WATCH.worseK : kind === 'silent' || kind === 'battery' ? null : WATCH.worseKpa;

/** What ends the shelving of an alarm. */
export type ShelfEnd = NonNullable<Shelf['ended']>['by'];
/** End the shelving of an alarm, if it is shelved. @param ms the rig's clock */
export function endShelf(s: Statements, alarmId: string, ms: number, by: ShelfEnd): boolean {
  if (s.unshelve.run(alarmId).changes === 0) return false;
  s.endShelf.run(ms, by, alarmId);
  return true;
}

/** End what was shelved until now. @returns alarms that may sound again */
export function endShelves(s: Statements, watched: Watched, nowMs: number): string[] {
  if (!watched.shelved) return [];
  const over = s.shelvesOver.all(watched.rig.id, nowMs, nowMs + 60_000) as { id: string }[];
  return over.map((r) => r.id).filter((id) => endShelf(s, id, nowMs, 'time'));
}

/**
 * Write what the watch reported into the list of alarms.
 * @param sensorsFrom the rig as it was when the alarms were raised, where its documents have just changed
 */
export function writeEvents(
  s: Statements,
  watched: Watched,
  events: readonly WatchEvent[],
  changes: Changes,
  sensorsFrom: Watched = watched,
): void {
  const rigId = watched.rig.id;
  events.forEach((e, i) => {
    const open = s.openAlarm.get(rigId, e.position, e.kind) as { id: string; from_ms: number; severity: Severity } | undefined;
    const evidence = e.evidence ? JSON.stringify(e.evidence) : null;
    let id: string | undefined;
    if (e.type === 'raised') {
      // A late reading may tell of one that is over already, beside one that is open.
      const end =
        open && events.slice(i + 1).find((x) => x.type === 'returned' && x.kind === e.kind && x.position === e.position);
      if (!open || end) {
        id = randomUUID();
        const sensorId = (sensorsFrom.byPosition.get(e.position) ?? watched.byPosition.get(e.position))?.wheel.sensor?.id ?? '';
        const practice = watched.sources.get(e.position) === 'bench' || watched.bench !== null ? 1 : 0;
        const toMs = open && end ? end.atMs : null;
        s.insertAlarm.run(
          id,
          rigId,
          e.position,
          sensorId,
          e.kind,
          e.priority,
          e.fromMs,
          toMs,
          e.limit,
          e.value,
          e.worst,
          practice,
          evidence,
        );
      }
    } else if (e.type === 'worse' && open) {
      id = open.id;
      // What was seen as a note asks for more now.
      const grown = isMoreUrgent(e.priority, open.severity);
      if (grown) s.unacknowledge.run(id);
      s.worseAlarm.run(e.worst, e.limit, e.priority, evidence, id);
      const by = worseBy(e.kind);
      if (by !== null) s.ringAgain.run(id, by);
      if (grown || (by !== null && s.shelvedWorse.get(id, by))) endShelf(s, id, e.atMs, 'worse');
    } else if (e.type === 'returned' && open?.from_ms === e.fromMs) {
      id = open.id;
      s.closeAlarm.run(e.atMs, id);
      endShelf(s, id, e.atMs, 'gone');
    } else if (e.type === 'corrected' || e.type === 'withdrawn') {
      const row = s.alarmFrom.get(rigId, e.position, e.kind, e.oldFromMs as number) as { id: string } | undefined;
      id = row?.id;
      if (id && e.type === 'withdrawn') {
        s.withdrawAlarm.run(e.oldFromMs as number, id);
        endShelf(s, id, e.atMs, 'gone');
      } else if (id && (e.toMs != null || !open || open.id === id)) {
        s.correctAlarm.run(e.fromMs, e.toMs ?? null, e.limit, e.value, e.worst, e.priority, evidence, id);
      }
    }
    if (id) changes.alarm(rigId, id);
    changes.wheel(rigId, e.position);
  });
}

/** Keep what the watch remembers of a wheel. */
export function saveMemory(s: Statements, watched: Watched, position: string): void {
  const memory = watched.watch.memory(position);
  const sensorId = watched.byPosition.get(position)?.wheel.sensor?.id;
  if (memory && sensorId && (memory.lastMs !== null || memory.aheadMs != null)) {
    s.saveMemory.run(watched.rig.id, position, sensorId, JSON.stringify(memory));
  }
}

/** Keep what the watch remembers of the rig as a whole. */
export function saveState(s: Statements, watched: Watched): void {
  const { watch, rig, silence, resting } = watched;
  const state = JSON.stringify(watch.rigState());
  const until = silence && new Date(silence.untilMs).toISOString();
  s.saveState.run(rig.id, until, silence && silence.durationMs / 60_000, state, JSON.stringify([...resting]));
  // The bench tells its rig of another air many times a minute, and none of its readings is late.
  const checkpoint = watched.bench ? null : watch.checkpoint;
  if (checkpoint === watched.keptCheckpoint) return;
  watched.keptCheckpoint = checkpoint;
  s.saveCheckpoint.run(checkpoint && JSON.stringify(checkpoint), rig.id);
}
