import { type Static, Type } from '@sinclair/typebox';
import { Id, LoadState, Name, PressureUnit, strict, Time } from './common.ts';
import { PairingSigns, PairingStyle } from './unit.ts';

/** How a monitor shares one pair of limits between wheels. */
export const LimitGroups = Type.Union([
  Type.Literal('axle'),
  Type.Literal('unit'),
  Type.Literal('rearWithTrailer'),
  Type.Literal('wheel'),
  Type.Literal('all'),
  Type.Literal('baseline'),
]);

const monitorFields = {
  name: Name,
  note: Type.Optional(Type.String({ maxLength: 300 })),
  groups: LimitGroups,
  /** Other ways it can be switched to share limits. */
  otherGroups: Type.Optional(Type.Array(LimitGroups, { maxItems: 5, uniqueItems: true })),
  /** The unit its limits are keyed in; step, min, max and presets are in it. */
  unit: PressureUnit,
  step: Type.Number({ exclusiveMinimum: 0 }),
  min: Type.Number({ minimum: 0 }),
  max: Type.Number({ exclusiveMinimum: 0 }),
  presetLow: Type.Union([Type.Number({ minimum: 0 }), Type.Null()]),
  presetHigh: Type.Union([Type.Number({ minimum: 0 }), Type.Null()]),
  presetHotC: Type.Union([Type.Number({ minimum: 30, maximum: 150 }), Type.Null()]),
  /** The unit of its temperatures; °C where it isn't said. */
  tempUnit: Type.Optional(Type.Union([Type.Literal('C'), Type.Literal('F')])),
  /** Range and step of its temperature limit, in that unit. */
  hotMin: Type.Optional(Type.Number({ minimum: 0, maximum: 400 })),
  hotMax: Type.Optional(Type.Number({ minimum: 0, maximum: 400 })),
  hotStep: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 50 })),
  /** Its low-temperature alert as it came, °C; left out: it has none. */
  presetColdC: Type.Optional(Type.Number({ minimum: -60, maximum: 60 })),
  /** What it shows is already brought to this temperature, °C: it isn't what is in the tire now. */
  correctsToC: Type.Optional(Type.Number({ minimum: -40, maximum: 60 })),
  /** How one goes through its limit menu; left out while the owner doesn't say. */
  menu: Type.Optional(
    Type.Object(
      {
        /** Low and high of a group, then the next group; or all lows, then all highs. */
        walk: Type.Union([Type.Literal('group'), Type.Literal('limit')]),
        first: Type.Union([Type.Literal('low'), Type.Literal('high')]),
        /** It only goes on (and round from its end), or back as well. */
        wrap: Type.Union([Type.Literal('forward'), Type.Literal('both')]),
        /** Stepped through in order (left out), or any value chosen directly. */
        order: Type.Optional(Type.Union([Type.Literal('fixed'), Type.Literal('free')])),
        /** The group that blinks first: the first (left out) or the last. */
        opens: Type.Optional(Type.Union([Type.Literal('first'), Type.Literal('last')])),
        /** Steps a second while a key is held; left out: one press a step. */
        repeat: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 50 })),
        /** What confirms a value, and a page, before one goes on; left out: nothing has to. */
        confirmValue: Type.Optional(Type.Union([Type.Literal('short'), Type.Literal('long')])),
        confirmPage: Type.Optional(Type.Union([Type.Literal('short'), Type.Literal('long')])),
        /** Seconds without a press after which it closes, and what isn't saved is lost. */
        timeoutS: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 600 })),
        /** What a value begins at each time the menu is opened: as keyed last (left out), or the preset. */
        starts: Type.Optional(Type.Union([Type.Literal('preset'), Type.Literal('last')])),
        /** Groups it goes through, used or not; left out: those of the rig. */
        groups: Type.Optional(Type.Integer({ minimum: 1, maximum: 40 })),
        /** Groups that aren't used have to be set too. */
        setUnused: Type.Optional(Type.Boolean()),
      },
      strict,
    ),
  ),
  /** Refuses a high at or under the low while keying. */
  interlock: Type.Boolean(),
  positionsPerUnit: Type.Integer({ minimum: 1, maximum: 30 }),
  units: Type.Integer({ minimum: 1, maximum: 6 }),
  /** How its positions stand: places across, row by row from the front. Derived from the count when it is not said. */
  rows: Type.Optional(Type.Array(Type.Integer({ minimum: 1, maximum: 6 }), { minItems: 1, maxItems: 12 })),
  /** A list for each vehicle or trailer (left out), or one long list of places for a whole rig. */
  listing: Type.Optional(Type.Union([Type.Literal('unit'), Type.Literal('long')])),
  /** What the owner's leaflet calls its places: by list, row and column from 0, such as `1.0.2`. */
  placeNames: Type.Optional(
    Type.Record(
      Type.String({ pattern: '^\\d{1,2}\\.\\d{1,2}\\.\\d{1,2}$' }),
      Type.String({ minLength: 1, maxLength: 16, pattern: '\\S' }),
    ),
  ),
  /** Numbers of wheels it can be switched between, and the keys that do it. */
  wheelModes: Type.Optional(
    Type.Array(
      Type.Object(
        {
          wheels: Type.Integer({ minimum: 1, maximum: 40 }),
          keys: Type.String({ minLength: 1, maxLength: 120, pattern: '\\S' }),
        },
        strict,
      ),
      { maxItems: 4 },
    ),
  ),
  /** Seconds for one scan of all wheels; minutes at rest until it sleeps. */
  scanS: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 3600 })),
  /** Seconds between two reports of a sensor on the move. */
  updateS: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 3600 })),
  sleepMin: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 1440 })),
  /** Alarms it knows. */
  alarms: Type.Optional(
    Type.Array(
      Type.Union([
        Type.Literal('low'),
        Type.Literal('high'),
        Type.Literal('hot'),
        Type.Literal('rapid'),
        Type.Literal('slow'),
        Type.Literal('silent'),
        Type.Literal('battery'),
      ]),
      { uniqueItems: true },
    ),
  ),
  /** How sensors reach it: by themselves, or only through a repeater, as with a phone. */
  link: Type.Optional(Type.Union([Type.Literal('direct'), Type.Literal('repeater')])),
  /** How it shows a sensor's battery. */
  batteryAs: Type.Optional(
    Type.Union([Type.Literal('volts'), Type.Literal('percent'), Type.Literal('bars'), Type.Literal('none')]),
  ),
  power: Type.Optional(
    Type.Array(Type.Union([Type.Literal('battery'), Type.Literal('sun'), Type.Literal('usb'), Type.Literal('socket')]), {
      uniqueItems: true,
    }),
  ),
  /** Hours on its own battery. */
  batteryHours: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 10000 })),
  /** How it keeps what was keyed. */
  saves: Type.Optional(
    Type.Union([Type.Literal('byItself'), Type.Literal('shortPress'), Type.Literal('longPress'), Type.Literal('extraPress')]),
  ),
  /** What it makes of a keyed baseline, as shares of it; left out while the owner does not know. */
  derives: Type.Optional(
    Type.Object(
      {
        lowShare: Type.Number({ exclusiveMinimum: 0, exclusiveMaximum: 1 }),
        highShare: Type.Union([Type.Number({ exclusiveMinimum: 0, maximum: 2 }), Type.Null()]),
      },
      strict,
    ),
  ),
  /** Whether a baseline is keyed by axle (left out) or tire by tire. */
  baselineBy: Type.Optional(Type.Union([Type.Literal('axle'), Type.Literal('wheel')])),
  /** The baseline as it came, in the monitor's unit; left out: unknown. */
  presetBaseline: Type.Optional(Type.Number({ minimum: 0 })),
  /** Its menu shows only wheels whose sensor is paired: pairing comes first. */
  learnedOnly: Type.Optional(Type.Boolean()),
  /** Ways its sensors are paired; all of them while the owner does not say. */
  styles: Type.Optional(Type.Array(PairingStyle, { uniqueItems: true })),
  /** Two positions can be exchanged without pairing again. */
  canExchange: Type.Optional(Type.Boolean()),
  /** Sets of IDs it holds at once, so that two wheel sets alternate. */
  idSets: Type.Optional(Type.Integer({ minimum: 1, maximum: 4 })),
  showsIds: Type.Boolean(),
  /** What tells that it took a sensor; left out: the ID where it shows IDs, else the pressure. */
  signs: Type.Optional(PairingSigns),
  /** What it shows at a position without a sensor; left out: all F where it shows IDs, else dashes. */
  openShows: Type.Optional(
    Type.Union([Type.Literal('allF'), Type.Literal('code'), Type.Literal('dashes'), Type.Literal('skipped')]),
  ),
  /** When what was paired is kept: after each wheel, once at the end, or by itself (then the menu must be left). */
  pairSave: Type.Optional(Type.Union([Type.Literal('each'), Type.Literal('end'), Type.Literal('none')])),
  canDisconnect: Type.Boolean(),
};
/** What was keyed last into one group of a monitor's limits, in its unit. */
export const KeyedGroup = Type.Object(
  {
    low: Type.Union([Type.Number(), Type.Null()]),
    high: Type.Union([Type.Number(), Type.Null()]),
    baseline: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
    at: Time,
    loadState: LoadState,
  },
  strict,
);
export type KeyedGroup = Static<typeof KeyedGroup>;

export const NewMonitor = Type.Object(monitorFields, strict);
export type NewMonitor = Static<typeof NewMonitor>;
/** A monitor described by what it can do. */
export const Monitor = Type.Object(
  {
    id: Id,
    version: Type.Integer({ minimum: 1 }),
    ...monitorFields,
    /** What was keyed last, by the place of a group's first wheel (list, row, column), or `all`: it belongs to the monitor's list. */
    keyed: Type.Optional(Type.Record(Type.String({ minLength: 1, maxLength: 60 }), KeyedGroup)),
    keyedHotC: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
    keyedColdC: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
  },
  strict,
);
export type Monitor = Static<typeof Monitor>;
