import { type Static, Type } from '@sinclair/typebox';
import { POSITION_PATTERN, Position, SensorId, SensorKind, SetKpa, strict, Time } from './common.ts';
import { PairingStyle } from './unit.ts';

const action = <N extends string>(name: N) => ({ action: Type.Literal(name) });

/** Scenes that can be played. */
export const SCENE_IDS = [
  'coldNight',
  'climb',
  'nail',
  'burst',
  'brake',
  'weakCell',
  'lostRepeater',
  'healthyFortnight',
  'topUp',
  'trailerSwapped',
] as const;
/** How many times faster than the wall clock a bench may run: by day, by scene, and for those that take days. */
export const BENCH_FACTORS = [1, 10, 60, 600] as const;
export type BenchFactor = (typeof BENCH_FACTORS)[number];
/** The fastest while a sensor is waited for: no one could press anything in a wait of a sixth of a second. */
export const FASTEST_WAIT: BenchFactor = 60;
const Factor = Type.Optional(Type.Union(BENCH_FACTORS.map((f) => Type.Literal(f))));

const Scene = Type.Union(SCENE_IDS.map((s) => Type.Literal(s)));
export type SceneId = Static<typeof Scene>;

/** Keys of the limit menu. */
const KeyerKey = Type.Union(
  (['on', 'back', 'up', 'down', 'up10', 'down10', 'ok', 'okLong', 'leave'] as const).map((k) => Type.Literal(k)),
);
type KeyerKeyName = Static<typeof KeyerKey>;

/** What the owner may do at the bench. */
export const BenchCommand = Type.Unsafe<
  | {
      action: 'open';
      /** Whether this kit's display shows the sensors' IDs; left out: as it was laid out before, else yes. */
      ids?: boolean;
    }
  | { action: 'close' }
  | { action: 'run'; factor?: BenchFactor }
  | { action: 'pause' }
  | {
      action: 'drive';
      kmh: number;
      /** On a track its tires get hotter, and sooner; left out: on the road. */
      track?: boolean;
    }
  | { action: 'stop' }
  | { action: 'air'; tempC: number }
  | { action: 'leak'; position: string; holeMm: number }
  | { action: 'mend'; position: string }
  | { action: 'inflate'; position: string; kpa?: number }
  | { action: 'hub'; position: string; riseK: number }
  | { action: 'quiet'; position: string; quiet: boolean }
  | { action: 'capture'; style: PairingStyle; sensorId?: string; waitS?: number }
  | { action: 'cancelCapture' }
  | { action: 'goTo'; position: string }
  | { action: 'step'; by: 1 | -1 }
  | { action: 'saveCode'; press: 'short' | 'long'; intended?: string }
  | { action: 'leaveMenu' }
  | { action: 'clearCode'; position: string }
  | { action: 'exchange'; a: string; b: string }
  | { action: 'table'; clear: boolean }
  | { action: 'trouble'; next: 'neighbour' | 'short' | 'noAnswer' | null }
  | { action: 'fitLabelled' }
  | { action: 'rotateWheels'; moves: Record<string, string> }
  | { action: 'forgetMistakes' }
  | { action: 'openKeyer'; groups: string[] }
  | { action: 'key'; key: KeyerKeyName; intended?: string }
  | { action: 'choose'; stop: number }
  | { action: 'scene'; scene: SceneId; at?: string; factor?: BenchFactor }
  | { action: 'endScene' }
  | { action: 'fit'; sensorId: string; position: string }
  | { action: 'unfit'; sensorId: string }
>({
  type: 'object',
  required: ['action'],
  discriminator: { propertyName: 'action' },
  oneOf: [
    Type.Object({ ...action('open'), ids: Type.Optional(Type.Boolean()) }, strict),
    Type.Object(action('close'), strict),
    Type.Object({ ...action('run'), factor: Factor }, strict),
    Type.Object(action('pause'), strict),
    Type.Object(
      { ...action('drive'), kmh: Type.Number({ exclusiveMinimum: 0, maximum: 250 }), track: Type.Optional(Type.Boolean()) },
      strict,
    ),
    Type.Object(action('stop'), strict),
    Type.Object({ ...action('air'), tempC: Type.Number({ minimum: -50, maximum: 60 }) }, strict),
    Type.Object({ ...action('leak'), position: Position, holeMm: Type.Number({ exclusiveMinimum: 0, maximum: 60 }) }, strict),
    Type.Object({ ...action('mend'), position: Position }, strict),
    Type.Object({ ...action('inflate'), position: Position, kpa: Type.Optional(SetKpa) }, strict),
    Type.Object({ ...action('hub'), position: Position, riseK: Type.Number({ minimum: 0, maximum: 200 }) }, strict),
    Type.Object({ ...action('quiet'), position: Position, quiet: Type.Boolean() }, strict),
    Type.Object(
      {
        ...action('capture'),
        style: PairingStyle,
        sensorId: Type.Optional(SensorId),
        waitS: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 600 })),
      },
      strict,
    ),
    Type.Object(action('cancelCapture'), strict),
    Type.Object({ ...action('goTo'), position: Position }, strict),
    Type.Object({ ...action('step'), by: Type.Union([Type.Literal(1), Type.Literal(-1)]) }, strict),
    Type.Object(
      {
        ...action('saveCode'),
        press: Type.Union([Type.Literal('short'), Type.Literal('long')]),
        intended: Type.Optional(Position),
      },
      strict,
    ),
    Type.Object(action('leaveMenu'), strict),
    Type.Object({ ...action('clearCode'), position: Position }, strict),
    Type.Object({ ...action('exchange'), a: Position, b: Position }, strict),
    Type.Object({ ...action('table'), clear: Type.Boolean() }, strict),
    Type.Object(
      {
        ...action('trouble'),
        next: Type.Union([Type.Literal('neighbour'), Type.Literal('short'), Type.Literal('noAnswer'), Type.Null()]),
      },
      strict,
    ),
    Type.Object(action('fitLabelled'), strict),
    Type.Object({ ...action('rotateWheels'), moves: Type.Record(Type.String({ pattern: POSITION_PATTERN }), Position) }, strict),
    Type.Object(action('forgetMistakes'), strict),
    Type.Object(
      { ...action('openKeyer'), groups: Type.Array(Type.String({ minLength: 1, maxLength: 60 }), { minItems: 1, maxItems: 80 }) },
      strict,
    ),
    Type.Object({ ...action('key'), key: KeyerKey, intended: Type.Optional(Type.String({ maxLength: 60 })) }, strict),
    Type.Object({ ...action('choose'), stop: Type.Integer({ minimum: 0, maximum: 400 }) }, strict),
    Type.Object({ ...action('scene'), scene: Scene, at: Type.Optional(Type.String({ maxLength: 6 })), factor: Factor }, strict),
    Type.Object(action('endScene'), strict),
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

const Code = Type.String({ maxLength: 12 });

/** What the simulated monitor shows. */
export const BenchMonitorView = Type.Object(
  {
    /** The position that is open. */
    position: Type.String(),
    /** What is saved where. */
    saved: Type.Record(Type.String(), Code),
    capture: Type.Union([
      Type.Object(
        {
          position: Position,
          style: PairingStyle,
          handled: SensorId,
          code: Code,
          outcome: Type.Union((['waiting', 'short', 'whole', 'timedOut'] as const).map((o) => Type.Literal(o))),
          elapsedS: Type.Number(),
          waitS: Type.Number(),
        },
        strict,
      ),
      Type.Null(),
    ]),
    tableClear: Type.Boolean(),
    trouble: Type.Union([Type.Literal('neighbour'), Type.Literal('short'), Type.Literal('noAnswer'), Type.Null()]),
    mistakes: Type.Array(
      Type.Object(
        {
          code: Type.Union(
            (
              [
                'neighbourSaved',
                'shortSaved',
                'savedTwice',
                'wrongPosition',
                'wrongList',
                'leftUnsaved',
                'savedTooEarly',
                'pressTooShort',
              ] as const
            ).map((c) => Type.Literal(c)),
          ),
          position: Type.String(),
          other: Type.Optional(Type.String()),
        },
        strict,
      ),
    ),
    captures: Type.Integer(),
    /** Loose sensors that have a wheel on their label, and which. */
    labels: Type.Record(Type.String(), Type.String()),
  },
  strict,
);
export type BenchMonitorView = Static<typeof BenchMonitorView>;

/** Values of the limit menu, by group and field, such as `A1 low`. */
const KeyedValues = Type.Record(Type.String(), Type.Number());
export const BenchKeyerView = Type.Object(
  {
    stops: Type.Array(
      Type.Object(
        {
          group: Type.String(),
          field: Type.Union((['low', 'high', 'baseline', 'hot', 'coldTemp'] as const).map((f) => Type.Literal(f))),
          page: Type.Integer(),
        },
        strict,
      ),
    ),
    at: Type.Integer(),
    shown: KeyedValues,
    entered: KeyedValues,
    kept: KeyedValues,
    saved: KeyedValues,
    refusals: Type.Integer(),
    wrongAxle: Type.Array(Type.String()),
    lost: Type.Integer(),
    leftUnsaved: Type.Integer(),
    timedOut: Type.Integer(),
    pressS: Type.Union([Type.Number(), Type.Null()]),
  },
  strict,
);
export type BenchKeyerView = Static<typeof BenchKeyerView>;

export const BenchView = Type.Object(
  {
    open: Type.Boolean(),
    running: Type.Boolean(),
    factor: Type.Integer(),
    time: Type.Union([Time, Type.Null()]),
    kmh: Type.Number(),
    /** It drives on a track. */
    track: Type.Boolean(),
    airC: Type.Number(),
    altitudeM: Type.Number(),
    /** The scene that is played: to what it happens, and how much of it is over, 0 to 1. */
    scene: Type.Union([Type.Object({ id: Scene, at: Type.String(), done: Type.Number() }, strict), Type.Null()]),
    wheels: Type.Array(BenchWheelView),
    /** The simulated monitor; null while the bench is closed. */
    monitor: Type.Union([BenchMonitorView, Type.Null()]),
    /** Its limit menu, once it was opened. */
    keyer: Type.Union([BenchKeyerView, Type.Null()]),
    /** Sensors lying loose on the bench. */
    tray: Type.Array(Type.Object({ id: SensorId, kind: SensorKind }, strict)),
  },
  strict,
);
export type BenchView = Static<typeof BenchView>;

/** What became of a command. */
export const BenchAnswer = Type.Object(
  {
    bench: BenchView,
    /** How a press of a key was taken, and the code that was on the screen then. */
    saved: Type.Optional(
      Type.Union((['saved', 'nothingToSave', 'needsLongPress', 'taken', 'refused'] as const).map((a) => Type.Literal(a))),
    ),
    code: Type.Optional(Type.String()),
  },
  strict,
);
export type BenchAnswer = Static<typeof BenchAnswer>;
