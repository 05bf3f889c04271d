import { type Static, Type } from '@sinclair/typebox';
import { SensorId, strict, Time } from './common.ts';

const oneOf = <T extends string>(values: readonly T[]) => Type.Union(values.map((v) => Type.Literal(v)));
const field = Type.String({ maxLength: 100 });
const optionalField = Type.Union([field, Type.Null()]);

/** Where in a message a figure is: a field, a field inside another (`a.b`), or a level of the topic (`topic:2`, the first is 1). */
export const GatewayFields = Type.Object(
  {
    sensor: Type.String({ minLength: 1, maxLength: 100 }),
    /** Null: the time at which it arrives. */
    time: optionalField,
    timeFormat: oneOf(['iso', 'epochS', 'epochMs'] as const),
    pressure: Type.String({ minLength: 1, maxLength: 100 }),
    pressureUnit: oneOf(['kPa', 'bar', 'psi'] as const),
    temp: optionalField,
    tempUnit: oneOf(['C', 'F', 'K'] as const),
    battery: optionalField,
    rssi: optionalField,
  },
  strict,
);
export type GatewayFields = Static<typeof GatewayFields>;

/** The longest name of a sensor in the messages, characters. */
export const LONGEST_NAME = 80;

/** How readings come in over MQTT, and whether alarms go out. */
export const GatewaySettings = Type.Object(
  {
    enabled: Type.Boolean(),
    /** mqtt://host:1883, mqtts:// or ws:// */
    url: Type.String({ maxLength: 200, pattern: '^(mqtts?|wss?)://[^\\s/]+' }),
    username: Type.Optional(Type.String({ maxLength: 200 })),
    /** Left out: the one that is kept is used. Never sent back. */
    password: Type.Optional(Type.String({ maxLength: 200 })),
    /** May have + and # in it. */
    topic: Type.String({ minLength: 1, maxLength: 200 }),
    fields: GatewayFields,
    /** Names of sensors in the messages that are no IDs, with what each sensor is kept under. */
    names: Type.Record(Type.String({ maxLength: LONGEST_NAME }), SensorId),
    /** Send alarms and states out under this topic; null: don't. */
    publish: Type.Union([Type.String({ minLength: 1, maxLength: 100, pattern: '^[^+#]+$' }), Type.Null()]),
  },
  strict,
);
export type GatewaySettings = Static<typeof GatewaySettings>;

/** A sensor that nobody knows, as it was heard. */
export const UnknownSensor = Type.Object(
  {
    /** Its ID, or a name of the gateway's own. */
    id: Type.String(),
    isName: Type.Boolean(),
    count: Type.Integer(),
    firstTime: Time,
    lastTime: Time,
    pressureKpa: Type.Number(),
    tempC: Type.Union([Type.Number(), Type.Null()]),
  },
  strict,
);
export type UnknownSensor = Static<typeof UnknownSensor>;

export const GatewayView = Type.Object(
  {
    /** Null: none was set up yet. */
    settings: Type.Union([Type.Omit(GatewaySettings, ['password'], strict), Type.Null()]),
    hasPassword: Type.Boolean(),
    state: oneOf(['off', 'connecting', 'connected', 'lost'] as const),
    since: Type.Union([Time, Type.Null()]),
    /** Why it is not connected, or what was wrong with the last message that could not be read. */
    fault: Type.Union([Type.String(), Type.Null()]),
    /** The broker ended several lines in a row within seconds: another server has the same name there, as one restored from a backup of this. */
    pushedOut: Type.Boolean(),
    messages: Type.Integer(),
    stored: Type.Integer(),
    refused: Type.Integer(),
    lastTime: Type.Union([Time, Type.Null()]),
    /**
     * How far the last message was dated from its arrival, s; ahead of it is over 0. Null: no message has a time, or it may have waited for us at the
     * broker.
     */
    apartS: Type.Union([Type.Number(), Type.Null()]),
    unknown: Type.Array(UnknownSensor),
  },
  strict,
);
export type GatewayView = Static<typeof GatewayView>;
