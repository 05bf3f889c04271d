import type { AlarmKind, Severity } from '#schema/alarm.ts';
import type { OperationInput, OperationOutput } from '#schema/operations.ts';
import { FieldError } from '../errors.ts';
import { Engine } from './engine.ts';
import type { WatchEvent } from './ledger.ts';
import { isMoreUrgent } from './priority.ts';
import type { WheelLimits } from './wheel.ts';

/** ISO 8601 in UTC, without a fraction of zero. */
const isoTime = (ms: number): string => new Date(ms).toISOString().replace('.000Z', 'Z');

/** What brought a reading over its limit, where that is known. */
const causeOf = ({ evidence }: WatchEvent): { cause?: 'air' | 'weather' } =>
  evidence?.cause === undefined ? {} : { cause: evidence.cause };

/**
 * Run the watch over readings in any order and list the alarms it raises, each position and kind on its own.
 * A reading repeated for the same position and time counts once. Times that a reading gave come back as it wrote them.
 * @throws FieldError at the reading whose position is not among the wheels, or at `/untilTime` before the last reading's time
 */
export function replay(input: OperationInput<'watch.replay'>): OperationOutput<'watch.replay'> {
  const limits: Record<string, WheelLimits> = {};
  for (const [position, w] of Object.entries(input.wheels)) {
    if (w.lowKpa !== null && w.highKpa !== null && w.lowKpa >= w.highKpa) {
      throw new FieldError(`/wheels/${position}/lowKpa`, 'the low alarm is at or over the high alarm');
    }
    limits[position] = {
      lowKpa: w.lowKpa,
      highKpa: w.highKpa,
      hotC: w.hotC,
      coldKpa: w.coldKpa,
      coldTempC: w.coldTempC,
      sensorKind: w.sensorKind ?? 'ideal',
      ...(w.airC === undefined ? {} : { airC: w.airC }),
      loadMinimumKpa: w.loadMinimumKpa,
    };
  }
  const written = new Map<number, string>();
  const readings = input.readings.map((r, i) => {
    if (!limits[r.position]) throw new FieldError(`/readings/${i}/position`, `${r.position} is not one of the wheels`);
    const ms = Date.parse(r.time);
    if (Number.isNaN(ms)) throw new FieldError(`/readings/${i}/time`, 'is not a time');
    if (!written.has(ms)) written.set(ms, r.time);
    return { ...r, ms };
  });
  readings.sort((a, b) => a.ms - b.ms || a.position.localeCompare(b.position));
  const lastMs = readings.at(-1)?.ms;
  const untilMs = input.untilTime === undefined ? lastMs : Date.parse(input.untilTime);
  if (untilMs !== undefined && lastMs !== undefined && untilMs < lastMs) {
    throw new FieldError('/untilTime', 'is before the last reading');
  }
  const engine = new Engine(limits, { sleepAware: false });
  const events: WatchEvent[] = [];
  for (const r of readings) engine.read(r.position, r.ms, r.pressureKpa, r.tempC, r.batteryV ?? Number.NaN, events);
  if (untilMs !== undefined) engine.scan(untilMs, events);
  const timeOf = (ms: number) => written.get(ms) ?? isoTime(ms);
  const alarms: {
    position: string;
    kind: AlarmKind;
    fromTime: string;
    toTime: string | null;
    priority: Severity;
    cause?: 'air' | 'weather';
    fromMs: number;
  }[] = [];
  const open = new Map<string, (typeof alarms)[number]>();
  for (const e of events) {
    const key = `${e.position} ${e.kind}`;
    if (e.type === 'raised') {
      const { position, kind, priority, fromMs } = e;
      const alarm = { position, kind, fromTime: timeOf(fromMs), toTime: null, priority, ...causeOf(e), fromMs };
      alarms.push(alarm);
      open.set(key, alarm);
    } else if (e.type === 'worse') {
      // What grew from a note to what sounds is what it came to.
      const alarm = open.get(key);
      if (alarm && isMoreUrgent(e.priority, alarm.priority)) Object.assign(alarm, { priority: e.priority, ...causeOf(e) });
    } else if (e.type === 'returned') {
      const alarm = open.get(key);
      if (alarm) alarm.toTime = timeOf(e.atMs);
      open.delete(key);
    }
  }
  alarms.sort((a, b) => a.fromMs - b.fromMs || a.position.localeCompare(b.position) || a.kind.localeCompare(b.kind));
  return { alarms: alarms.map(({ fromMs: _, ...alarm }) => alarm) };
}
