import { type Static, Type } from '@sinclair/typebox';
import { AlarmKind } from './alarm.ts';
import { Position, SensorId, strict, Time } from './common.ts';

const NumberOrNull = Type.Union([Type.Number(), Type.Null()]);
const TimeOrNull = Type.Union([Time, Type.Null()]);

/** What a stretch of readings came to. Temperatures are null when the readings have none. */
export const ChartPoint = Type.Object(
  {
    /** Start of the stretch, ms since the epoch. */
    ms: Type.Number(),
    count: Type.Integer(),
    lowKpa: Type.Number(),
    highKpa: Type.Number(),
    lastKpa: Type.Number(),
    lowC: NumberOrNull,
    highC: NumberOrNull,
    lastC: NumberOrNull,
    /** Time of the last reading in it, ms since the epoch. */
    lastMs: Type.Number(),
  },
  strict,
);
export type ChartPoint = Static<typeof ChartPoint>;

/** A chart, as the server gathers it: step in seconds, 0 where every reading is a point. */
export const ChartAnswer = Type.Object(
  {
    from: Time,
    to: Time,
    stepS: Type.Number(),
    series: Type.Array(Type.Object({ position: Position, sensorId: SensorId, points: Type.Array(ChartPoint) }, strict)),
  },
  strict,
);
export type ChartAnswer = Static<typeof ChartAnswer>;

/** First and last reading of a rig's sensors; null when there is none. */
export const Span = Type.Object({ from: TimeOrNull, to: TimeOrNull }, strict);

/** Readings of a rig, one by one or gathered in steps. */
export const ReadingsAnswer = Type.Object(
  {
    from: Time,
    to: Time,
    readings: Type.Array(
      Type.Object(
        {
          position: Position,
          sensorId: SensorId,
          time: Time,
          pressureKpa: Type.Number(),
          tempC: NumberOrNull,
          batteryV: Type.Optional(Type.Number()),
          rssiDbm: Type.Optional(Type.Number()),
          /** Where it came from; only when every reading is listed. */
          source: Type.Optional(Type.String()),
          /** Lowest and highest of the step and how many readings it has; only with a step. */
          lowestKpa: Type.Optional(Type.Number()),
          highestKpa: Type.Optional(Type.Number()),
          count: Type.Optional(Type.Integer()),
        },
        strict,
      ),
    ),
    /** Readings dated ahead of the clock: kept apart and never judged. The first hundred of each wheel. */
    aheadOfClock: Type.Optional(
      Type.Array(
        Type.Object(
          { position: Position, sensorId: SensorId, time: Time, pressureKpa: Type.Number(), tempC: NumberOrNull },
          strict,
        ),
      ),
    ),
  },
  strict,
);
export type ReadingsAnswer = Static<typeof ReadingsAnswer>;

/** What an ordinary run adds to an axle's cold pressure, from the rig's own readings. */
export const LearnedRise = Type.Object(
  {
    /** Median over the runs: one hot hub or one leaking tire doesn't move it. */
    share: Type.Number(),
    /** Spread as a standard deviation, from the median distance to the median (times 1.4826, normal law); null with one run. */
    sd: NumberOrNull,
    runs: Type.Integer(),
  },
  strict,
);
export type LearnedRise = Static<typeof LearnedRise>;

/** What a stretch of history would have raised with other limits. */
export const ReplayAnswer = Type.Object(
  {
    readings: Type.Integer(),
    alarms: Type.Array(
      Type.Object(
        {
          position: Type.String(),
          kind: AlarmKind,
          fromTime: Time,
          toTime: TimeOrNull,
          limit: Type.Number(),
          value: Type.Number(),
          worst: Type.Number(),
        },
        strict,
      ),
    ),
  },
  strict,
);
export type ReplayAnswer = Static<typeof ReplayAnswer>;

/** What has become of an import of a file so far. */
export const ImportAnswer = Type.Object(
  {
    bytes: Type.Integer(),
    lines: Type.Integer(),
    accepted: Type.Integer(),
    repeated: Type.Integer(),
    /** Lines of wheels that were to be left out. */
    passedOver: Type.Integer(),
    /** Lines that could not be taken; `refused` names the first thousand. */
    refusedCount: Type.Integer(),
    refused: Type.Array(Type.Object({ line: Type.Integer(), column: Type.String(), detail: Type.String() }, strict)),
    /** Event time of the first and last reading taken. */
    from: TimeOrNull,
    to: TimeOrNull,
    cancelled: Type.Boolean(),
  },
  strict,
);
export type ImportAnswer = Static<typeof ImportAnswer>;
