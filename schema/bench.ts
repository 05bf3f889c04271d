import { type Static, Type } from '@sinclair/typebox';
import { Position, SensorId, SensorKind, SetKpa, strict, Time } from './common.ts';

const action = <N extends string>(name: N) => ({ action: Type.Literal(name) });

/** What the owner may do at the bench. */
export const BenchCommand = Type.Unsafe<
  | { action: 'open' }
  | { action: 'close' }
  | { action: 'run'; factor?: 1 | 10 | 60 }
  | { action: 'pause' }
  | { action: 'drive'; kmh: number }
  | { action: 'stop' }
  | { action: 'air'; tempC: number }
  | { action: 'leak'; position: string; holeMm: number }
  | { action: 'mend'; position: string }
  | { action: 'inflate'; position: string; kpa?: number }
  | { action: 'hub'; position: string; riseK: number }
  | { action: 'quiet'; position: string; quiet: boolean }
  | { action: 'hold'; sensorId: string }
  | { action: 'fit'; sensorId: string; position: string }
  | { action: 'unfit'; sensorId: string }
>({
  type: 'object',
  required: ['action'],
  discriminator: { propertyName: 'action' },
  oneOf: [
    Type.Object(action('open'), strict),
    Type.Object(action('close'), strict),
    Type.Object(
      { ...action('run'), factor: Type.Optional(Type.Union([Type.Literal(1), Type.Literal(10), Type.Literal(60)])) },
      strict,
    ),
    Type.Object(action('pause'), strict),
    Type.Object({ ...action('drive'), kmh: Type.Number({ exclusiveMinimum: 0, maximum: 250 }) }, strict),
    Type.Object(action('stop'), strict),
    Type.Object({ ...action('air'), tempC: Type.Number({ minimum: -50, maximum: 60 }) }, strict),
    Type.Object({ ...action('leak'), position: Position, holeMm: Type.Number({ exclusiveMinimum: 0, maximum: 60 }) }, strict),
    Type.Object({ ...action('mend'), position: Position }, strict),
    Type.Object({ ...action('inflate'), position: Position, kpa: Type.Optional(SetKpa) }, strict),
    Type.Object({ ...action('hub'), position: Position, riseK: Type.Number({ minimum: 0, maximum: 200 }) }, strict),
    Type.Object({ ...action('quiet'), position: Position, quiet: Type.Boolean() }, strict),
    Type.Object({ ...action('hold'), sensorId: SensorId }, strict),
    Type.Object({ ...action('fit'), sensorId: SensorId, position: Position }, strict),
    Type.Object({ ...action('unfit'), sensorId: SensorId }, strict),
  ],
});
export type BenchCommand = Static<typeof BenchCommand>;

export const BenchWheelView = Type.Object(
  {
    position: Position,
    /** What a perfect gauge would say. */
    pressureKpa: Type.Number(),
    gasC: Type.Number(),
    holeMm: Type.Number(),
    hubRiseK: Type.Number(),
    sensorId: Type.Union([SensorId, Type.Null()]),
    quiet: Type.Boolean(),
    awake: Type.Boolean(),
  },
  strict,
);
export type BenchWheelView = Static<typeof BenchWheelView>;

export const BenchView = Type.Object(
  {
    open: Type.Boolean(),
    running: Type.Boolean(),
    factor: Type.Integer(),
    time: Type.Union([Time, Type.Null()]),
    kmh: Type.Number(),
    airC: Type.Number(),
    altitudeM: Type.Number(),
    wheels: Type.Array(BenchWheelView),
    /** Sensors lying loose on the bench. */
    tray: Type.Array(Type.Object({ id: SensorId, kind: SensorKind }, strict)),
  },
  strict,
);
export type BenchView = Static<typeof BenchView>;

/** What the monitor shows while a sensor is held near: each code with the moment it appears, counted from the key press. */
export const CaptureFrames = Type.Object(
  { frames: Type.Array(Type.Object({ afterMs: Type.Integer(), code: Type.String() }, strict)) },
  strict,
);
export type CaptureFrames = Static<typeof CaptureFrames>;
