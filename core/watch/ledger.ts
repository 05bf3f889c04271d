import type { AlarmKind, Severity } from '#schema/alarm.ts';
import { isMoreUrgent, severityOf } from './priority.ts';
import type { Wheel } from './rules/rule.ts';
import type { ActiveAlarm, AlarmEvidence, WheelMemory } from './wheel.ts';

/** Something that happened to an alarm. `position` is a wheel, or a unit's letter when the whole unit is meant. */
export interface WatchEvent {
  /** `corrected`, `withdrawn`: a late reading showed that the alarm that began at `oldFromMs` was different, or never was. */
  type: 'raised' | 'worse' | 'returned' | 'corrected' | 'withdrawn';
  position: string;
  kind: AlarmKind;
  /** What it asks for by now. */
  priority: Severity;
  /** Event time of the change, ms since the epoch. */
  atMs: number;
  fromMs: number;
  limit: number;
  value: number;
  worst: number;
  evidence?: AlarmEvidence | undefined;
  /** For `corrected` and `withdrawn`: when it was reported to begin before, and how it ends now. */
  oldFromMs?: number;
  toMs?: number | null;
}

/** Add an event to the list. */
export function report(
  type: WatchEvent['type'],
  position: string,
  kind: AlarmKind,
  atMs: number,
  alarm: ActiveAlarm,
  out: WatchEvent[],
): void {
  const { fromMs, limit, value, worst, evidence } = alarm;
  const priority = alarm.priority ?? severityOf(kind);
  out.push({ type, position, kind, priority, atMs, fromMs, limit, value, worst, ...(evidence ? { evidence } : {}) });
}

/** Begin an alarm on a wheel. */
export function raise(
  wheel: Wheel,
  kind: AlarmKind,
  ms: number,
  limit: number,
  value: number,
  out: WatchEvent[],
  evidence?: AlarmEvidence,
  priority?: Severity,
): void {
  const alarm: ActiveAlarm = {
    fromMs: ms,
    limit,
    value,
    worst: value,
    ...(evidence ? { evidence } : {}),
    ...(priority ? { priority } : {}),
  };
  wheel.memory.active[kind] = alarm;
  wheel.calm = false;
  report('raised', wheel.position, kind, ms, alarm, out);
}

/** End an alarm of a wheel; nothing happens when there is none. It never ends before it began. */
export function end(wheel: Wheel, kind: AlarmKind, ms: number, out: WatchEvent[]): void {
  const alarm = wheel.memory.active[kind];
  if (!alarm) return;
  // Not `delete`: that makes a slow object of what every reading looks at.
  const { [kind]: _over, ...rest } = wheel.memory.active;
  wheel.memory.active = rest;
  wheel.calm = Object.keys(rest).length === 0;
  report('returned', wheel.position, kind, Math.max(ms, alarm.fromMs), alarm, out);
}

/** A reading is past a limit: raise the alarm, or take note of how far past it is by now. @param direction 1: worse upward */
export function pastLimit(
  wheel: Wheel,
  kind: AlarmKind,
  ms: number,
  limit: number,
  value: number,
  direction: 1 | -1,
  out: WatchEvent[],
  { cause, priority }: { cause?: AlarmEvidence['cause']; priority?: Severity } = {},
): void {
  const alarm = wheel.memory.active[kind];
  const evidence = () => ({ ...coldEvidence(wheel.memory), ...(cause ? { cause } : {}) });
  if (!alarm) {
    raise(wheel, kind, ms, limit, value, out, evidence(), priority);
    return;
  }
  alarm.limit = limit;
  alarm.backMs = undefined;
  if (priority && isMoreUrgent(priority, alarm.priority ?? severityOf(kind))) {
    // What was only to be noted sounds now.
    alarm.priority = priority;
    if ((value - alarm.worst) * direction > 0) alarm.worst = value;
    alarm.evidence = evidence();
    report('worse', wheel.position, kind, ms, alarm, out);
    return;
  }
  if ((value - alarm.worst) * direction > 0) {
    alarm.worst = value;
    alarm.evidence = evidence();
    report('worse', wheel.position, kind, ms, alarm, out);
  }
}

/** Report that an alarm has grown worse, once for each `step` it has grown by. */
export function growWorse(
  wheel: Wheel,
  kind: AlarmKind,
  ms: number,
  alarm: ActiveAlarm,
  step: number,
  out: WatchEvent[],
  evidence?: () => AlarmEvidence,
): void {
  if (Math.abs(alarm.worst - (alarm.reported ?? alarm.value)) < step) return;
  alarm.reported = alarm.worst;
  if (evidence) alarm.evidence = evidence();
  report('worse', wheel.position, kind, ms, alarm, out);
}

/** The cold-equivalent pressure of a wheel, as evidence. */
export const coldEvidence = (memory: WheelMemory): AlarmEvidence => ({
  heldKpa: memory.heldKpa,
  heldLowKpa: memory.heldLowKpa,
  heldHighKpa: memory.heldHighKpa,
});
