import { type Static, Type } from '@sinclair/typebox';
import { GaugeKpa, Id, POSITION_PATTERN, Position, RoadTempC, SensorId, SensorKind, strict, Time } from './common.ts';

/** What an alarm says. */
export const ALARM_KINDS = ['low', 'high', 'hot', 'rapid', 'slow', 'silent', 'apart', 'stuck', 'battery'] as const;
export const AlarmKind = Type.Union(ALARM_KINDS.map((k) => Type.Literal(k)));
export type AlarmKind = Static<typeof AlarmKind>;

/** What it asks of the driver: stop where it is safe, look at the next halt, or only take note. Stop and look sound. */
export const Severity = Type.Union([Type.Literal('stop'), Type.Literal('look'), Type.Literal('note')]);
export type Severity = Static<typeof Severity>;

const nullable = <T extends Parameters<typeof Type.Union>[0][number]>(schema: T) => Type.Union([schema, Type.Null()]);

const optionalNumber = Type.Optional(Type.Number());
/** What an alarm was raised on, as far as it bears on its kind. Pressures kPa, temperatures K or °C, rates kPa a day, times ms. */
export const AlarmEvidence = Type.Object(
  {
    how: Type.Optional(Type.Union([Type.Literal('hotter'), Type.Literal('lower'), Type.Literal('unit')])),
    /** What brought a reading over its limit: air lost or added, or temperature and height alone. */
    cause: Type.Optional(Type.Union([Type.Literal('air'), Type.Literal('weather')])),
    heldKpa: optionalNumber,
    heldLowKpa: optionalNumber,
    heldHighKpa: optionalNumber,
    lossKpa: optionalNumber,
    sinceMs: optionalNumber,
    rateKpaPerDay: optionalNumber,
    rateLowKpaPerDay: optionalNumber,
    rateHighKpaPerDay: optionalNumber,
    overTempK: optionalNumber,
    overPressureK: optionalNumber,
    overTwinK: optionalNumber,
    volts: optionalNumber,
    voltsAt20: optionalNumber,
    oldCell: Type.Optional(Type.Boolean()),
  },
  strict,
);

export const Alarm = Type.Object(
  {
    id: Id,
    rigId: Id,
    /** A wheel, or the letter of a unit that is missed as a whole. */
    position: Type.String({ pattern: '^[A-H]([1-9][A-Z]{1,2}|S[1-9])?$' }),
    /** Empty when a whole unit is meant. */
    sensorId: Type.Union([SensorId, Type.Literal('')]),
    kind: AlarmKind,
    severity: Severity,
    /** Event time of the reading that raised it. */
    fromTime: Time,
    /** Event time at which the cause was gone; null while it lasts. */
    toTime: Type.Union([Time, Type.Null()]),
    acknowledgedAt: Type.Union([Time, Type.Null()]),
    /** It makes no sound until then, by the rig's clock; left out when it isn't shelved. */
    shelvedUntil: Type.Optional(Time),
    /**
     * The limit crossed: kPa for low, high, rapid (lost in 2 min), slow (the most it surely held, cold) and apart by air; °C for hot;
     * seconds for silent and stuck; K of gas for apart by heat; volts at 20 °C for battery.
     */
    limit: Type.Number(),
    /** The value that raised it, in the same unit; for silent the last pressure in kPa, or for a unit the seconds it was away. */
    value: Type.Number(),
    /** The worst since. */
    worst: Type.Number(),
    /** What it was raised on. */
    evidence: nullable(AlarmEvidence),
    /** Bench air, not the road. */
    practice: Type.Boolean(),
    /** A late reading has shown that it was none; only the live stream tells of such. */
    withdrawn: Type.Optional(Type.Literal(true)),
  },
  strict,
);
export type Alarm = Static<typeof Alarm>;

/**
 * What is known of a wheel now. `notPaired`: no sensor saved to it. `notHeard`: paired, nothing received yet. `notFitted`:
 * heard, but it lies loose still and reads no pressure. `live`: a reading
 * young enough to act on. `old`: a reading that is no longer young. `asleep`: the whole rig has gone quiet, as after a stop.
 * `silent`: this one has gone quiet while others are heard. `resting`: its unit is disconnected, so it raises no alarm.
 */
export const WheelStateName = Type.Union([
  Type.Literal('notPaired'),
  Type.Literal('notHeard'),
  Type.Literal('notFitted'),
  Type.Literal('live'),
  Type.Literal('old'),
  Type.Literal('asleep'),
  Type.Literal('silent'),
  Type.Literal('resting'),
]);
export type WheelStateName = Static<typeof WheelStateName>;

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
    /** The low limit is not the owner's: none was set, and it rings at 25 % under the cold target. */
    lowAssumed: Type.Boolean(),
    highKpa: nullable(Type.Number()),
    hotC: nullable(Type.Number()),
    /** What this tire should read now with no air lost; null while the gas temperature is unknown. */
    expectedKpa: nullable(Type.Number()),
    /** Its display has brought the pressures to this temperature already, °C. */
    correctedToC: Type.Optional(Type.Number()),
    /** Its cold-equivalent pressure: likely, and the span it may be in, kPa at the temperature of the cold target. */
    heldKpa: nullable(Type.Number()),
    heldLowKpa: nullable(Type.Number()),
    heldHighKpa: nullable(Type.Number()),
    /** Cold pressure under which it cannot carry its load, at the temperature of the cold target. */
    loadMinimumKpa: nullable(Type.Number()),
    /** It was restarted because its last reading was dated this far ahead of the clock; null once it was heard again. */
    aheadTime: nullable(Time),
    /** It fell to nothing at one stroke: was the sensor taken off? Since when. */
    askedTime: nullable(Time),
    /** The owner says its sensor is off the valve, since when. */
    offTime: nullable(Time),
    /** It is being filled: low and loss do not ring. */
    filling: Type.Boolean(),
    source: nullable(Type.Union((['live', 'history', 'bench', 'typed'] as const).map((s) => Type.Literal(s)))),
    /** What another system says of the same wheel; null where there is none. It raises no alarm. */
    second: nullable(
      Type.Object(
        {
          name: Type.String(),
          pressureKpa: nullable(Type.Number()),
          tempC: nullable(Type.Number()),
          time: nullable(Time),
          ageS: nullable(Type.Number()),
          /** Seconds between its last two readings. */
          everyS: nullable(Type.Number()),
        },
        strict,
      ),
    ),
    /** Kinds of alarm that are active on it. */
    active: Type.Array(AlarmKind),
    /** Kinds that are only noted: the cold or the run explains them. */
    noted: Type.Optional(Type.Array(AlarmKind)),
  },
  strict,
);
export type WheelView = Static<typeof WheelView>;

export const WatchView = Type.Object(
  {
    rigId: Id,
    /** Changes with every change of the rig that is no reading; the stream's `rig` event has the same. */
    revision: Type.String(),
    /** The rig's clock: the wall clock, or the bench's while the bench drives it. */
    time: Time,
    clock: Type.Union([Type.Literal('wall'), Type.Literal('bench')]),
    wheels: Type.Array(WheelView),
    /** Sound is off until then (wall clock); null when on. */
    silencedUntil: nullable(Time),
    airC: nullable(Type.Number()),
    moving: nullable(Type.Boolean()),
    /** Letters of units that are disconnected. */
    resting: Type.Array(Type.String()),
    /** Letters of units that are missed as a whole. */
    missing: Type.Array(Type.String()),
    /** Wheels that are being filled, and until when. */
    topUp: nullable(Type.Object({ positions: Type.Array(Position), untilTime: Time }, strict)),
    /** A track day: since when, when it ends by itself, and when it ended (road pressures are to be set); null: none. */
    track: nullable(Type.Object({ sinceTime: Time, untilTime: Time, endedTime: nullable(Time) }, strict)),
  },
  strict,
);
export type WatchView = Static<typeof WatchView>;

/** The stream's `rig` event: the rig was changed, in its documents or by a command. */
export interface RigEvent {
  rigId: string;
  /** As the watch has it from then on: a run of the server, and a number that grows. */
  revision: string;
  /** Ids and versions of the rig, its units and its monitor from then on. */
  documents: string;
}

/** The sound may be off for at most this long, minutes. */
export const LONGEST_SILENCE_MINUTES = 240;
export const SilenceRequest = Type.Object({ minutes: Type.Number({ minimum: 0, maximum: LONGEST_SILENCE_MINUTES }) }, strict);

/** One alarm may be shelved for at most this long, minutes; one that asks for a stop for less. */
export const LONGEST_SHELF_MINUTES = { stop: 30, look: 1440, note: 1440 } as const;
export const ShelveRequest = Type.Object({ minutes: Type.Number({ minimum: 0, maximum: 1440 }) }, strict);
/** An alarm that was shelved. Times are the rig's clock. */
export const Shelf = Type.Object(
  {
    alarmId: Id,
    position: Type.String(),
    kind: AlarmKind,
    fromTime: Time,
    untilTime: Time,
    /** When and why it ended: `owner`, `time`, `worse` (the alarm got worse), `gone` (its cause was gone); null while it lasts. */
    ended: nullable(
      Type.Object(
        { time: Time, by: Type.Union((['owner', 'time', 'worse', 'gone'] as const).map((b) => Type.Literal(b))) },
        strict,
      ),
    ),
  },
  strict,
);
export type Shelf = Static<typeof Shelf>;

/** Disconnect a unit, or connect it again. */
export const RestRequest = Type.Object({ unit: Type.String({ pattern: '^[A-H]$' }), resting: Type.Boolean() }, strict);
/** Wheels to be filled; none ends it. */
export const TopUpRequest = Type.Object({ positions: Type.Array(Position, { maxItems: 200, uniqueItems: true }) }, strict);
/** A track day lasts at most this long, minutes. */
export const LONGEST_TRACK_MINUTES = 720;
/** A track day begins for so many minutes, is over, or its road pressures are set. */
export const TrackRequest = Type.Object(
  {
    mode: Type.Union([Type.Literal('track'), Type.Literal('over'), Type.Literal('road')]),
    minutes: Type.Optional(Type.Number({ minimum: 1, maximum: LONGEST_TRACK_MINUTES })),
  },
  strict,
);
export type TrackRequest = Static<typeof TrackRequest>;
/** What the owner says of a wheel: its sensor is off its valve or is not, or its pressure was set on purpose. */
export const AnswerRequest = Type.Object(
  { position: Position, answer: Type.Union([Type.Literal('off'), Type.Literal('on'), Type.Literal('set')]) },
  strict,
);
/** What the repeater's own supply is at, V. */
export const RepeaterRequest = Type.Object({ volts: Type.Number({ minimum: 0, maximum: 60 }) }, strict);
/** What the owner read off a monitor and typed. */
export const TypedRound = Type.Object(
  {
    time: Type.Optional(Time),
    /** How long ago it was typed, s, by the clock of the device it was typed on: whether that clock is right doesn't matter then. */
    ageS: Type.Optional(Type.Number({ minimum: 0, maximum: 31 * 86_400 })),
    /** A round of the same id is stored once, however often it is sent. */
    id: Type.Optional(Type.String({ minLength: 1, maxLength: 64 })),
    readings: Type.Array(Type.Object({ position: Position, pressureKpa: GaugeKpa, tempC: nullable(RoadTempC) }, strict), {
      minItems: 1,
      maxItems: 200,
    }),
  },
  strict,
);
export type TypedRound = Static<typeof TypedRound>;
/** Run a stretch of history through the watch again. Limits left out are those of today. */
export const ReplayRequest = Type.Object(
  {
    from: Time,
    to: Time,
    limits: Type.Optional(
      Type.Record(
        Type.String({ pattern: POSITION_PATTERN }),
        Type.Object({ lowKpa: nullable(Type.Number()), highKpa: nullable(Type.Number()), hotC: nullable(Type.Number()) }, strict),
      ),
    ),
  },
  strict,
);
export type ReplayRequest = Static<typeof ReplayRequest>;
