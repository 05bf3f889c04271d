import type { AlarmKind } from '#schema/alarm.ts';
import type { Day } from '../climate/daily.ts';
import { Watch, type WatchEvent, type WheelLimits } from '../watch/watch.ts';
import { type LabFault, type LabRig, live } from './world.ts';

/** Limits of a rig's wheels, by position. */
export type LabLimits = (rig: LabRig) => Record<string, WheelLimits>;

/** An alarm that sounded. */
export interface Sounded {
  position: string;
  kind: AlarmKind;
  atMs: number;
  event: WatchEvent;
}

/** What the watch said over some days of a rig. */
export interface Lived {
  sounded: Sounded[];
  /** Alarms of one wheel and kind that were raised again within ten minutes of their end. */
  chatter: number;
  raised: number;
  readings: number;
  events: WatchEvent[];
}

/** Whether an event sounds: it is raised as, or grows to, what asks for a stop or a look. */
export const sounds = (e: WatchEvent): boolean => (e.type === 'raised' || e.type === 'worse') && e.priority !== 'note';

/** Live days of a rig under the watch, as the server runs it: it knows no weather and no height. */
export function watchLived(
  rig: LabRig,
  days: readonly Day[],
  startMs: number,
  faults: readonly LabFault[],
  limits: Record<string, WheelLimits>,
  really?: (ms: number, coldKpa: ReadonlyMap<string, number>, driving: boolean) => void,
): Lived {
  const watch = new Watch(limits, { sleepAware: true });
  const events: WatchEvent[] = [];
  let readings = 0;
  live(rig, days, startMs, faults, {
    reading: (r) => {
      readings += 1;
      watch.read(r.position, r.ms, r.kpa, r.tempC, events);
    },
    time: (ms) => watch.tick(ms, events),
    ...(really ? { really } : {}),
  });
  const open = new Set<string>();
  const loud = new Set<string>();
  const endedMs = new Map<string, number>();
  const sounded: Sounded[] = [];
  let chatter = 0;
  let raised = 0;
  for (const e of events) {
    const key = `${e.position} ${e.kind}`;
    if (e.type === 'raised') {
      open.add(key);
      raised += 1;
      if (e.fromMs - (endedMs.get(key) ?? Number.NEGATIVE_INFINITY) < 600_000) chatter += 1;
    }
    if (sounds(e) && open.has(key) && !loud.has(key)) {
      loud.add(key);
      sounded.push({ position: e.position, kind: e.kind, atMs: e.atMs, event: e });
    }
    if (e.type === 'returned' || e.type === 'withdrawn') {
      open.delete(key);
      loud.delete(key);
      endedMs.set(key, e.atMs);
    }
  }
  return { sounded, chatter, raised, readings, events };
}
