import type { Alarm } from '#schema/alarm.ts';
import type { LiveHub } from '../live/hub.ts';
import { type AlarmRow, type Statements, toAlarm } from './store.ts';
import { clockMs, sentOf, type Watched, wheelView } from './watched.ts';

/** What changed in a transaction, to be sent to the pages once it is committed. */
export class Changes {
  readonly #wheels = new Map<string, Set<string>>();
  readonly #alarms = new Map<string, Set<string>>();

  wheel(rigId: string, position: string): void {
    add(this.#wheels, rigId, position);
  }

  alarm(rigId: string, alarmId: string): void {
    add(this.#alarms, rigId, alarmId);
  }

  /** Wheels of a rig that changed. */
  wheelsOf(rigId: string): Iterable<string> {
    return this.#wheels.get(rigId) ?? [];
  }

  /** Send what changed to the pages that are listening. @param nowMs wall clock */
  send(hub: LiveHub, watchedRigs: ReadonlyMap<string, Watched>, statements: Statements | null, nowMs: number): void {
    for (const [rigId, positions] of this.#wheels) {
      const watched = watchedRigs.get(rigId);
      if (!watched || !hub.has(rigId)) continue;
      for (const position of positions) sendWheel(hub, watched, position, nowMs);
    }
    for (const [rigId, ids] of this.#alarms) {
      if (!hub.has(rigId)) continue;
      for (const id of ids) {
        const row = statements?.alarmById.get(id) as AlarmRow | undefined;
        if (row) hub.send(rigId, 'alarm', toAlarm(row) satisfies Alarm);
      }
    }
  }
}

function sendWheel(hub: LiveHub, watched: Watched, position: string, nowMs: number): void {
  const view = wheelView(watched, position, clockMs(watched, nowMs));
  if (!view) return;
  const rigId = watched.rig.id;
  const before = watched.sent.get(position);
  watched.sent.set(position, sentOf(view));
  if (view.time !== null && view.time !== before?.time) {
    const { sensorId, time, pressureKpa, tempC } = view;
    hub.send(rigId, 'reading', { position, sensorId, time, pressureKpa, tempC, practice: view.practice });
  }
  hub.send(rigId, 'wheel', view);
}

function add(map: Map<string, Set<string>>, key: string, value: string): void {
  const set = map.get(key);
  if (set) set.add(value);
  else map.set(key, new Set([value]));
}
