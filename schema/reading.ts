import { type Static, Type } from '@sinclair/typebox';
import { GaugeKpa, Id, Position, RoadTempC, SensorId, strict, Time } from './common.ts';

/** One frame of a sensor, as any source delivers it. */
export const Reading = Type.Object(
  {
    /** The sensor; or name the wheel it is on. */
    sensorId: Type.Optional(SensorId),
    /** The wheel, where the sensor's ID isn't known: it belongs to the sensor that is on it. */
    wheel: Type.Optional(
      Type.Object(
        {
          rigId: Id,
          position: Position,
          /** From the wheel's second source, such as the vehicle's own system. */
          second: Type.Optional(Type.Boolean()),
        },
        {
          ...strict,
          description: 'The wheel, where the ID of its sensor isn’t known: the reading belongs to the sensor that is on it.',
        },
      ),
    ),
    time: Time,
    pressureKpa: GaugeKpa,
    tempC: RoadTempC,
    batteryV: Type.Optional(Type.Number({ minimum: 0, maximum: 5 })),
    rssiDbm: Type.Optional(Type.Number({ minimum: -150, maximum: 20 })),
  },
  strict,
);
export type Reading = Static<typeof Reading>;

/** Where a reading came from. Only `live` ones are checked against the wall clock. */
export type ReadingSource = 'live' | 'history' | 'bench' | 'typed';

/** What became of a batch. Lines count from 1. */
export const IngestAnswer = Type.Object(
  {
    accepted: Type.Integer(),
    repeated: Type.Integer(),
    unknownSensor: Type.Integer(),
    /** Of those accepted: dated over 5 minutes ahead of the clock. They are kept apart and never judged. */
    ahead: Type.Integer(),
    refused: Type.Array(Type.Object({ line: Type.Integer(), pointer: Type.String(), detail: Type.String() }, strict)),
    /** How many lines were refused; `refused` names the first thousand. */
    refusedCount: Type.Integer(),
  },
  strict,
);
export type IngestAnswer = Static<typeof IngestAnswer>;

/** What became of figures that were typed off a monitor, and the time they count for. */
export const TypedAnswer = Type.Object(
  { accepted: Type.Integer(), repeated: Type.Integer(), unknownSensor: Type.Integer(), ahead: Type.Integer(), time: Time },
  strict,
);
export type TypedAnswer = Static<typeof TypedAnswer>;
