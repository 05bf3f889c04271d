import { type Static, Type } from '@sinclair/typebox';
import { Id, Position, SensorId, SensorKind, strict, Time } from './common.ts';

/** What an alarm says. */
export const AlarmKind = Type.Union([Type.Literal('low'), Type.Literal('high'), Type.Literal('hot'), Type.Literal('silent')]);
export type AlarmKind = Static<typeof AlarmKind>;

/** What it asks of the driver: stop where it is safe, look at the next halt, or merely know. */
export const Severity = Type.Union([Type.Literal('stop'), Type.Literal('look'), Type.Literal('know')]);
export type Severity = Static<typeof Severity>;

export const Alarm = Type.Object(
  {
    id: Id,
    rigId: Id,
    position: Position,
    sensorId: SensorId,
    kind: AlarmKind,
    severity: Severity,
    /** Event time of the reading that raised it. */
    fromTime: Time,
    /** Event time at which the cause was gone; null while it lasts. */
    toTime: Type.Union([Time, Type.Null()]),
    acknowledgedAt: Type.Union([Time, Type.Null()]),
    /** The limit crossed, in kPa for low and high, in °C for hot, in seconds for silent. */
    limit: Type.Number(),
    /** The reading that raised it, in the same unit as the limit; for silent the last pressure in kPa. */
    value: Type.Number(),
    /** The worst since. */
    worst: Type.Number(),
    /** Bench air, not the road. */
    practice: Type.Boolean(),
  },
  strict,
);
export type Alarm = Static<typeof Alarm>;

/**
 * What is known of a wheel now. `notPaired`: no sensor saved to it. `notHeard`: paired, nothing received yet. `notFitted`:
 * heard, but it lies loose still and reads no pressure. `live`: a reading
 * young enough to act on. `old`: a reading that is no longer young. `asleep`: the whole rig has gone quiet, as after a stop.
 * `silent`: this one has gone quiet while others are heard.
 */
export const WheelStateName = Type.Union([
  Type.Literal('notPaired'),
  Type.Literal('notHeard'),
  Type.Literal('notFitted'),
  Type.Literal('live'),
  Type.Literal('old'),
  Type.Literal('asleep'),
  Type.Literal('silent'),
]);
export type WheelStateName = Static<typeof WheelStateName>;

const nullable = <T extends Parameters<typeof Type.Union>[0][number]>(schema: T) => Type.Union([schema, Type.Null()]);

export const WheelView = Type.Object(
  {
    position: Position,
    sensorId: nullable(SensorId),
    sensorKind: nullable(SensorKind),
    state: WheelStateName,
    /** Last reading and its event time. */
    pressureKpa: nullable(Type.Number()),
    tempC: nullable(Type.Number()),
    time: nullable(Time),
    /** Seconds between the last reading and the rig's clock. */
    ageS: nullable(Type.Number()),
    /** From the bench, so never a value of the road. */
    practice: Type.Boolean(),
    coldKpa: nullable(Type.Number()),
    coldTempC: nullable(Type.Number()),
    lowKpa: nullable(Type.Number()),
    highKpa: nullable(Type.Number()),
    hotC: nullable(Type.Number()),
    /** What this tire should read now with no air lost; null while the gas temperature cannot be told. */
    expectedKpa: nullable(Type.Number()),
    /** Kinds of alarm that are active on it. */
    active: Type.Array(AlarmKind),
  },
  strict,
);
export type WheelView = Static<typeof WheelView>;

export const WatchView = Type.Object(
  {
    rigId: Id,
    /** The rig's clock: the wall clock, or the bench's while the bench drives it. */
    time: Time,
    clock: Type.Union([Type.Literal('wall'), Type.Literal('bench')]),
    wheels: Type.Array(WheelView),
    /** Sound is off until then (wall clock); null when on. */
    silencedUntil: nullable(Time),
    airC: nullable(Type.Number()),
    moving: nullable(Type.Boolean()),
  },
  strict,
);
export type WatchView = Static<typeof WatchView>;

export const SilenceRequest = Type.Object({ minutes: Type.Number({ minimum: 0, maximum: 240 }) }, strict);
