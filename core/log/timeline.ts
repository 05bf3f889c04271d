import type { Alarm } from '#schema/alarm.ts';
import type { LogEvent } from '#schema/log.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { BookEntry, LogEntry, Rig, TrackDay, Unit } from '#schema/unit.ts';
import { rigKeyed } from '../alarms/keyed.ts';
import type { FoundFill, WheelLeak } from '../leak/history.ts';
import { unitLetter, wheelsOf } from '../rig/positions.ts';

/** A fill that was written down is found in the cold starts of these days too, ms. */
const WRITTEN_WITHIN_MS = 2.5 * 86_400_000;

/** One line of the log. */
export type LogLine = {
  key: string;
  /** Event time, ms since the epoch. */
  ms: number;
  /** A wheel, the letter of a unit, or null for the rig. */
  position: string | null;
} & (
  | { what: 'entry'; entry: LogEntry }
  | { what: 'alarm'; alarm: Alarm }
  | { what: 'paired'; sensorId: string }
  | { what: 'left'; sensorId: string; why: BookEntry['why'] }
  | { what: 'fitted' }
  | { what: 'keyed' }
  | { what: 'track'; day: TrackDay }
  | { what: 'event'; event: LogEvent }
  | { what: 'found'; fill: FoundFill }
  | { what: 'retightened' }
  | { what: 'proof'; rang: boolean }
  | { what: 'gauge'; gaugeKpa: number; sensorKpa: number }
);

/**
 * All that is known of a rig in one time line, the latest first: what its owner wrote down, alarms, sensors that came and went, what was fitted,
 * keyed, gauged and proved.
 */
export function timelineOf(
  rig: Rig,
  units: readonly Unit[],
  monitor: Monitor | null,
  alarms: readonly Alarm[],
  more: { events?: readonly LogEvent[]; leaks?: readonly Pick<WheelLeak, 'position' | 'fills'>[] } = {},
): LogLine[] {
  const out: LogLine[] = [];
  const at = (time: string | undefined, line: (ms: number) => LogLine) => {
    const ms = Date.parse(time ?? '');
    if (!Number.isNaN(ms)) out.push(line(ms));
  };
  for (const entry of rig.log ?? [])
    at(entry.at, (ms) => ({ key: entry.id, ms, position: entry.position ?? null, what: 'entry', entry }));
  // Noon of its date: nobody wrote down when.
  for (const day of rig.trackDays ?? [])
    at(`${day.date}T12:00:00Z`, (ms) => ({ key: day.id, ms, position: null, what: 'track', day }));
  for (const event of more.events ?? []) {
    const position = event.kind === 'settings' ? event.axle : event.kind === 'wheelSet' ? event.unit : null;
    at(event.time, (ms) => ({ key: event.id, ms, position, what: 'event', event }));
  }
  // Air that was put in and that nobody wrote down.
  const written = (rig.log ?? []).filter((e) => e.kind === 'filled' || e.kind === 'tire' || e.kind === 'puncture');
  for (const { position, fills } of more.leaks ?? [])
    for (const fill of fills) {
      const known = written.some(
        (e) => (e.position === undefined || e.position === position) && Math.abs(Date.parse(e.at) - fill.ms) <= WRITTEN_WITHIN_MS,
      );
      if (!known) out.push({ key: `${position} found ${fill.ms}`, ms: fill.ms, position, what: 'found', fill });
    }
  // What was tried on the bench never happened on the road.
  for (const alarm of alarms)
    if (!alarm.practice) at(alarm.fromTime, (ms) => ({ key: alarm.id, ms, position: alarm.position, what: 'alarm', alarm }));
  for (const { position, wheel } of wheelsOf(units)) {
    const { sensor, fitting } = wheel;
    if (sensor)
      at(sensor.pairedAt, (ms) => ({
        key: `${position} paired ${ms}`,
        ms,
        position,
        what: 'paired',
        sensorId: sensor.shownId ?? sensor.id,
      }));
    const on = fitting?.done.find((d) => d.code === 'sensorOn' || d.code === 'shop');
    at(on?.at, (ms) => ({ key: `${position} fitted`, ms, position, what: 'fitted' }));
  }
  units.forEach((unit, i) => {
    for (const b of unit.idBook ?? [])
      at(b.until, (ms) => ({
        key: `${unit.id} ${b.sensorId} ${b.until} ${b.position}`,
        ms,
        position: unitLetter(i) + b.position,
        what: 'left',
        sensorId: b.sensorId,
        why: b.why,
      }));
  });
  const keyed = monitor ? rigKeyed(rig, units, monitor) : rig.keyed;
  at(keyed?.at, (ms) => ({ key: 'keyed', ms, position: null, what: 'keyed' }));
  at(rig.fitting?.retightenedAt, (ms) => ({ key: 'retightened', ms, position: null, what: 'retightened' }));
  const { proof, readings } = rig.firstDrive ?? {};
  const monitorDid = proof?.monitor;
  if (proof && monitorDid && !proof.practice)
    at(monitorDid.at, (ms) => ({ key: 'proof', ms, position: proof.position, what: 'proof', rang: monitorDid.did === 'rang' }));
  for (const [position, r] of Object.entries(readings ?? {})) {
    const mean = r.gauge.reduce((a, g) => a + g.kpa, 0) / r.gauge.length;
    at(r.at, (ms) => ({ key: `${position} gauge`, ms, position, what: 'gauge', gaugeKpa: mean, sensorKpa: r.sensorKpa }));
  }
  return out.sort((a, b) => b.ms - a.ms || (a.key < b.key ? -1 : 1));
}
