import { type Static, Type } from '@sinclair/typebox';
import {
  GaugeKpa,
  Id,
  LoadState,
  LocalPosition,
  Name,
  POSITION_PATTERN,
  Position,
  PressureUnit,
  SensorId,
  SensorKind,
  SetKpa,
  ShownId,
  strict,
  TempUnit,
  Time,
} from './common.ts';

/** What the owner keyed, kept to the letter, so that a change of unit and back shows the same figure. */
export const Typed = Type.Object({ text: Type.String({ maxLength: 20 }), unit: PressureUnit }, strict);
export type Typed = Static<typeof Typed>;
export const TypedTemp = Type.Object({ text: Type.String({ maxLength: 20 }), unit: TempUnit }, strict);

/** The cold pressure of an axle and the temperature at which it was set: one means nothing without the other. */
export const Cold = Type.Object(
  {
    kpa: SetKpa,
    tempC: Type.Number({ minimum: -60, maximum: 70 }),
    typed: Type.Optional(Typed),
    typedTemp: Type.Optional(TypedTemp),
  },
  strict,
);
export type Cold = Static<typeof Cold>;

const Share = Type.Number({ exclusiveMinimum: 0, exclusiveMaximum: 1 });
const HighShare = Type.Number({ exclusiveMinimum: 0, maximum: 2 });

/** A school of setting alarms and its parameters, without the pressure it is applied to. */
export const AlarmRule = Type.Unsafe<
  | { school: 'share'; lowShare?: number; hotClimate?: boolean; highShare?: number }
  | { school: 'margin'; marginKpa?: number }
  | { school: 'rating'; ratingKpa: number; lowShare?: number; highShare?: number }
  | { school: 'rough'; roundKpa?: number }
  | { school: 'floorCeiling'; floorKpa: number; ceilingKpa: number }
  | { school: 'lowOnly'; lowShare?: number }
  | { school: 'baseline' }
  | { school: 'regulation'; floorKpa?: number; lowShare?: number }
>({
  type: 'object',
  required: ['school'],
  discriminator: { propertyName: 'school' },
  oneOf: [
    Type.Object(
      {
        school: Type.Literal('share'),
        lowShare: Type.Optional(Share),
        hotClimate: Type.Optional(Type.Boolean()),
        highShare: Type.Optional(HighShare),
      },
      strict,
    ),
    Type.Object({ school: Type.Literal('margin'), marginKpa: Type.Optional(SetKpa) }, strict),
    Type.Object(
      {
        school: Type.Literal('rating'),
        ratingKpa: SetKpa,
        lowShare: Type.Optional(Share),
        highShare: Type.Optional(HighShare),
      },
      strict,
    ),
    Type.Object({ school: Type.Literal('rough'), roundKpa: Type.Optional(SetKpa) }, strict),
    Type.Object({ school: Type.Literal('floorCeiling'), floorKpa: SetKpa, ceilingKpa: SetKpa }, strict),
    Type.Object({ school: Type.Literal('lowOnly'), lowShare: Type.Optional(Share) }, strict),
    Type.Object({ school: Type.Literal('baseline') }, strict),
    Type.Object(
      { school: Type.Literal('regulation'), floorKpa: Type.Optional(GaugeKpa), lowShare: Type.Optional(Share) },
      strict,
    ),
  ],
});
export type AlarmRule = Static<typeof AlarmRule>;

/** The limits in force on an axle: the rule that gave them and what it gave. Null: no such limit. */
export const Limits = Type.Object(
  {
    rule: AlarmRule,
    lowKpa: Type.Union([SetKpa, Type.Null()]),
    highKpa: Type.Union([SetKpa, Type.Null()]),
    hotC: Type.Number({ minimum: 30, maximum: 150 }),
  },
  strict,
);
export type Limits = Static<typeof Limits>;

/** A pressure that stands somewhere (placard, sidewall, rim), with the text it was typed as. */
export const Stated = Type.Object({ kpa: SetKpa, typed: Type.Optional(Typed) }, strict);
export type Stated = Static<typeof Stated>;

export const MassUnit = Type.Union([Type.Literal('kg'), Type.Literal('lb')]);
export type MassUnit = Static<typeof MassUnit>;
/** A mass from a scale. 20 t on one axle end is over anything the app is for. */
export const Mass = Type.Object(
  {
    kg: Type.Number({ exclusiveMinimum: 0, maximum: 20000 }),
    typed: Type.Optional(Type.Object({ text: Type.String({ maxLength: 20 }), unit: MassUnit }, strict)),
  },
  strict,
);
export type Mass = Static<typeof Mass>;

/** What the scale said: the whole axle, or each end of it (L, C, R); a pair of duals stands on the scale together. */
export const Weighing = Type.Object(
  { axle: Type.Optional(Mass), L: Type.Optional(Mass), C: Type.Optional(Mass), R: Type.Optional(Mass) },
  strict,
);
export type Weighing = Static<typeof Weighing>;

const WeatherC = Type.Number({ minimum: -60, maximum: 60 });

/** One half of the year: the pressure is reset at its start, and the limits go with that. */
export const Season = Type.Object(
  {
    cold: Cold,
    limits: Limits,
    /** Its coldest start and its hottest afternoon: what its limits were worked out for. */
    coldestC: WeatherC,
    hottestC: WeatherC,
    /** First day of it, month and day. */
    from: Type.String({ pattern: '^(0[1-9]|1[0-2])-(0[1-9]|[12]\\d|3[01])$' }),
  },
  strict,
);
export type Season = Static<typeof Season>;
export const SeasonName = Type.Union([Type.Literal('winter'), Type.Literal('summer')]);
export type SeasonName = Static<typeof SeasonName>;

/** What is set for one load state. */
export const Setting = Type.Object(
  {
    cold: Type.Optional(Cold),
    limits: Type.Optional(Limits),
    /** The vehicle's placard (or the trailer's plate) for this load. */
    placard: Type.Optional(Stated),
    weighing: Type.Optional(Weighing),
    /** Limits by season: which of the two is in force in `cold` and `limits`, and both as they were worked out. */
    seasons: Type.Optional(Type.Object({ inForce: SeasonName, winter: Season, summer: Season }, strict)),
  },
  strict,
);
export type Setting = Static<typeof Setting>;

/** A row of the tire maker's load and inflation table: this load a tire at this cold pressure. */
export const TableRow = Type.Object(
  {
    use: Type.Union([Type.Literal('single'), Type.Literal('dual')]),
    loadKg: Type.Number({ exclusiveMinimum: 0, maximum: 20000 }),
    kpa: SetKpa,
  },
  strict,
);
export type TableRow = Static<typeof TableRow>;

/** What is known of the tires of an axle beyond their marking. */
export const TireFacts = Type.Object(
  {
    /** The pressure beside "max load at … cold" on the sidewall. */
    reference: Type.Optional(Stated),
    /** The highest cold pressure the sidewall allows, where that is another figure. */
    maxCold: Type.Optional(Stated),
    /** The highest pressure the rim or the valve is made for. */
    rimMax: Type.Optional(Stated),
    table: Type.Optional(Type.Array(TableRow, { maxItems: 60 })),
    /** Week and year it was made, the last four figures after DOT on the sidewall: 2319 is week 23 of 2019. */
    made: Type.Optional(Type.String({ pattern: '^(0[1-9]|[1-4][0-9]|5[0-3])[0-9]{2}$' })),
    /** A passenger tire under a truck, pick-up or motorhome. */
    onTruck: Type.Optional(Type.Boolean()),
  },
  strict,
);
export type TireFacts = Static<typeof TireFacts>;

export const Settings = Type.Object(
  { empty: Type.Optional(Setting), loaded: Type.Optional(Setting), towing: Type.Optional(Setting) },
  strict,
);
export type Settings = Static<typeof Settings>;

/** Ways a sensor is made known to a monitor. */
export const PairingStyle = Type.Union(
  (['heldNear', 'screwedOn', 'cellIn', 'wakeTool', 'inflateBleed', 'phoneFirst', 'carried', 'factory'] as const).map((s) =>
    Type.Literal(s),
  ),
);
export type PairingStyle = Static<typeof PairingStyle>;

/** What tells that a monitor took a sensor: its ID, its pressure, a lamp that turns from red to green, a beep. None: no sign at all. */
export const PairingSign = Type.Union((['id', 'pressure', 'lamp', 'beep'] as const).map((s) => Type.Literal(s)));
export type PairingSign = Static<typeof PairingSign>;
export const PairingSigns = Type.Array(PairingSign, { uniqueItems: true, maxItems: 4 });

/** A sensor as the monitor knows it: saved to a position. Its `id` is a key of our own while no display has shown its ID. */
export const Sensor = Type.Object(
  {
    id: SensorId,
    /** The ID of a sensor that is kept under a key, seen later. Readings that name it belong to this sensor. */
    shownId: Type.Optional(ShownId),
    kind: SensorKind,
    pairedAt: Type.Optional(Time),
    style: Type.Optional(PairingStyle),
    /** False: paired at the table and not on its valve yet, so it reads zero and raises no alarm. */
    fitted: Type.Optional(Type.Boolean()),
    /** Day its cell was put in. */
    cellSince: Type.Optional(Type.String({ format: 'date' })),
    /** The wheel that a sensor is coded for at the factory: it always reports that position. */
    factoryPosition: Type.Optional(Type.String({ minLength: 1, maxLength: 12 })),
    /** What is printed on such a sensor: letters or a figure; its place in the tray has no mark. */
    mark: Type.Optional(Type.String({ minLength: 1, maxLength: 12, pattern: '\\S' })),
  },
  strict,
);
export type Sensor = Static<typeof Sensor>;

/** What the valve stem is made of decides what may be screwed onto it. */
export const Stem = Type.Union([Type.Literal('metal'), Type.Literal('rubber')]);
export type Stem = Static<typeof Stem>;
export const StemForm = Type.Union([
  Type.Literal('short'),
  Type.Literal('standard'),
  Type.Literal('long'),
  Type.Literal('angled'),
  Type.Literal('extension'),
]);
export type StemForm = Static<typeof StemForm>;

/** What is fitted with a kind of sensor, and what is in it. */
export const LooseParts = Type.Object(
  {
    /** Dust boot, by the size of its seal. */
    boot: Type.Union([Type.Literal('none'), Type.Literal('small'), Type.Literal('large')]),
    lockNut: Type.Boolean(),
    /** A set screw in the sensor's side, of a flow-through. */
    setScrew: Type.Boolean(),
    /** The one-piece kind, which spins freely without its own tool. */
    antiTheft: Type.Boolean(),
    /** Type of its cell, as printed on it, and months it lasts. */
    cell: Type.String({ minLength: 1, maxLength: 12, pattern: '\\S' }),
    cellMonths: Type.Integer({ minimum: 1, maximum: 180 }),
    /** Where an internal sensor is: on the valve, or on a band round the rim opposite the valve. */
    mount: Type.Union([Type.Literal('valve'), Type.Literal('band')]),
  },
  strict,
);
export type LooseParts = Static<typeof LooseParts>;

/** A fitting that was judged "no" and is done all the same: the owner's own words, dated; it appears on the report. */
export const FitOverride = Type.Object(
  { words: Type.String({ minLength: 10, maxLength: 300, pattern: '\\S' }), at: Time, kind: SensorKind },
  strict,
);
export type FitOverride = Static<typeof FitOverride>;

/** What was done at a wheel when its sensor went on. */
export const Fitting = Type.Object(
  {
    done: Type.Array(Type.Object({ code: Type.String({ minLength: 1, maxLength: 30 }), at: Time }, strict), { maxItems: 40 }),
    /** What a gauge said before the sensor went on. */
    gauge: Type.Optional(Stated),
    /** Soapy water: bubbles or none. */
    leak: Type.Optional(Type.Union([Type.Literal('none'), Type.Literal('bubbles')])),
    /** Seconds it hissed. */
    hissS: Type.Optional(Type.Number({ minimum: 0, maximum: 600 })),
    note: Type.Optional(Type.String({ maxLength: 500 })),
    photos: Type.Optional(Type.Array(Id, { maxItems: 8 })),
  },
  strict,
);
export type Fitting = Static<typeof Fitting>;

export const Wheel = Type.Object(
  {
    /** Axle number and place, such as 1L, 2RO, 1C; S1 for a spare. The rig puts the unit's letter in front. */
    position: LocalPosition,
    sensor: Type.Union([Sensor, Type.Null()]),
    /** Another system that reports this wheel, such as the vehicle's own. Alarms come from `sensor`, the one that is trusted. */
    second: Type.Optional(
      Type.Object({ name: Type.String({ minLength: 1, maxLength: 40, pattern: '\\S' }), sensor: Sensor }, strict),
    ),
    /** The kind of sensor that is meant for it, where the owner said so; a sensor that is on it has a kind of its own. */
    sensorKind: Type.Optional(SensorKind),
    stem: Type.Optional(Stem),
    stemForm: Type.Optional(StemForm),
    /** Year the stem was fitted. */
    stemYear: Type.Optional(Type.Integer({ minimum: 1950, maximum: 2100 })),
    /** Which way the valve looks: outward, or inward as on some dual wheels. */
    valveFacing: Type.Optional(Type.Union([Type.Literal('out'), Type.Literal('in')])),
    /** How far the tip of the stem lies inside the rim's edge, mm; negative when it sticks out. */
    stemInsideMm: Type.Optional(Type.Number({ minimum: -100, maximum: 200 })),
    fitOverride: Type.Optional(FitOverride),
    fitting: Type.Optional(Fitting),
  },
  strict,
);
export type Wheel = Static<typeof Wheel>;

export const Axle = Type.Object(
  {
    /** A word of the owner's, such as "front" or "drive". */
    label: Type.Optional(Type.String({ maxLength: 40 })),
    wheels: Type.Array(Wheel, { minItems: 1, maxItems: 5 }),
    /** What stands on the sidewall of its tires. */
    marking: Type.Optional(Type.String({ minLength: 1, maxLength: 60 })),
    /** Behind the front axle of a vehicle, behind the coupling of a trailer, m. */
    distanceM: Type.Optional(Type.Number({ minimum: 0, maximum: 30 })),
    /** Air in one tire, litres; an estimate until it is known better. The bench needs it. */
    airLitres: Type.Optional(Type.Number({ minimum: 1, maximum: 400 })),
    tire: Type.Optional(TireFacts),
    settings: Settings,
  },
  strict,
);
export type Axle = Static<typeof Axle>;

/** A spare is watched too, with a pressure and limits of its own. */
export const Spare = Type.Object(
  {
    wheel: Wheel,
    marking: Type.Optional(Type.String({ minLength: 1, maxLength: 60 })),
    airLitres: Type.Optional(Type.Number({ minimum: 1, maximum: 400 })),
    tire: Type.Optional(TireFacts),
    settings: Settings,
  },
  strict,
);
export type Spare = Static<typeof Spare>;

export const UnitKind = Type.Union([Type.Literal('vehicle'), Type.Literal('trailer')]);
export type UnitKind = Static<typeof UnitKind>;

/** A line of the ID book's history: a sensor that is no longer on a wheel. */
export const BookEntry = Type.Object(
  {
    position: LocalPosition,
    sensorId: SensorId,
    kind: SensorKind,
    since: Type.Optional(Time),
    style: Type.Optional(PairingStyle),
    until: Time,
    why: Type.Union((['replaced', 'deleted', 'takenOff', 'moved', 'rotated'] as const).map((w) => Type.Literal(w))),
  },
  strict,
);
export type BookEntry = Static<typeof BookEntry>;

/** A set of wheels that is not fitted now: its wheels with their sensors, stems and what was done to them, and its tires axle by axle. */
export const WheelSet = Type.Object(
  {
    name: Type.String({ minLength: 1, maxLength: 40, pattern: '\\S' }),
    wheels: Type.Array(Wheel, { maxItems: 50 }),
    markings: Type.Array(Type.Union([Type.String({ minLength: 1, maxLength: 60 }), Type.Null()]), { maxItems: 9 }),
    /** Pressures, limits and tire facts that belong to this set, axle by axle. */
    axles: Type.Optional(
      Type.Array(Type.Object({ settings: Settings, tire: Type.Optional(TireFacts) }, strict), { maxItems: 9 }),
    ),
  },
  strict,
);
export type WheelSet = Static<typeof WheelSet>;

export const BodyMaterial = Type.Union([Type.Literal('steel'), Type.Literal('aluminium'), Type.Literal('wood')]);
export type BodyMaterial = Static<typeof BodyMaterial>;

const unitFields = {
  name: Name,
  kind: UnitKind,
  /** A line about it, shown behind the name. */
  note: Type.Optional(Type.String({ maxLength: 200 })),
  axles: Type.Array(Axle, { minItems: 1, maxItems: 9 }),
  spares: Type.Array(Spare, { maxItems: 4 }),
  /** What the radio has to pass: the body's material, and a metal tank behind the front axle or coupling, m. */
  body: Type.Optional(
    Type.Object({ material: BodyMaterial, tankM: Type.Optional(Type.Number({ minimum: 0, maximum: 30 })) }, strict),
  ),
  /** Sensors at hand that are on no wheel: no watch waits for them. */
  loose: Type.Optional(Type.Array(Sensor, { maxItems: 40 })),
  idBook: Type.Optional(Type.Array(BookEntry, { maxItems: 400 })),
  /** Where the coupling at its back sits: behind the front axle of a vehicle, behind its own coupling for a trailer, m. */
  hitchM: Type.Optional(Type.Number({ minimum: 0, maximum: 30 })),
  /** Several sets of wheels: the name of the fitted one, and the others. */
  wheelSets: Type.Optional(
    Type.Object(
      {
        fitted: Type.String({ minLength: 1, maxLength: 40, pattern: '\\S' }),
        stored: Type.Array(WheelSet, { maxItems: 6 }),
        /** One set of sensors for all sets of wheels: they go along. */
        oneSetOfSensors: Type.Optional(Type.Boolean()),
      },
      strict,
    ),
  ),
};

/** A vehicle or trailer before it is stored. */
export const NewUnit = Type.Object(unitFields, strict);
export type NewUnit = Static<typeof NewUnit>;

/** A vehicle or trailer: a document of its own, so that one car can pull three trailers. */
export const Unit = Type.Object({ id: Id, version: Type.Integer({ minimum: 1 }), ...unitFields }, strict);
export type Unit = Static<typeof Unit>;

/** Where on the monitor a wheel is shown: which of its unit lists, which row, which place in the row, all from 0. */
export const MonitorPlace = Type.Object(
  {
    list: Type.Integer({ minimum: 0, maximum: 7 }),
    row: Type.Integer({ minimum: 0, maximum: 20 }),
    column: Type.Integer({ minimum: 0, maximum: 9 }),
  },
  strict,
);
export type MonitorPlace = Static<typeof MonitorPlace>;

const AltitudeM = Type.Number({ minimum: -430, maximum: 6000 });

/** The air the rig lives in. */
export const Climate = Type.Object(
  {
    /** Air at the coldest start, and at the hottest afternoon. */
    coldestC: WeatherC,
    hottestC: WeatherC,
    /** Where the pressure is set, and the highest pass it is taken over. */
    altitudeSetM: Type.Optional(AltitudeM),
    passM: Type.Optional(AltitudeM),
    /** What an ordinary run adds, as a share of the cold gauge pressure: the owner's own figure instead of 10 %. */
    hotShare: Type.Optional(Type.Number({ minimum: 0, maximum: 0.6 })),
    /** Daily minimum and maximum that the two came from, °C, from the first day on; null where the file had a hole. */
    days: Type.Optional(
      Type.Object(
        {
          source: Type.String({ maxLength: 120 }),
          from: Type.String({ format: 'date' }),
          minC: Type.Array(Type.Union([WeatherC, Type.Null()]), { maxItems: 7400 }),
          maxC: Type.Array(Type.Union([WeatherC, Type.Null()]), { maxItems: 7400 }),
        },
        strict,
      ),
    ),
  },
  strict,
);
export type Climate = Static<typeof Climate>;

/** What the owner last keyed into the monitor and ticked off. */
export const Keyed = Type.Object(
  {
    at: Time,
    loadState: LoadState,
    /** By group, in the monitor's unit; null where it has no such limit or it was left. */
    groups: Type.Record(
      Type.String({ minLength: 1, maxLength: 60 }),
      Type.Object(
        {
          low: Type.Union([Type.Number(), Type.Null()]),
          high: Type.Union([Type.Number(), Type.Null()]),
          baseline: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
        },
        strict,
      ),
    ),
    hotC: Type.Union([Type.Number(), Type.Null()]),
    /** Low-temperature alert, °C. */
    coldC: Type.Optional(Type.Union([Type.Number(), Type.Null()])),
  },
  strict,
);
export type Keyed = Static<typeof Keyed>;

/** What an owner may write down. */
export const LOG_KINDS = [
  'filled',
  'checked',
  'rotated',
  'cell',
  'tire',
  'puncture',
  'repair',
  'upkeep',
  'drive',
  'stored',
  'note',
] as const;
const ToolName = Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' });
/** A gauge or pump of the owner's. What it reads wrong is learned from the log. */
export const Tool = Type.Object(
  {
    name: ToolName,
    /** Free air that a pump delivers, litres a minute. */
    flowLitresPerMin: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 5000 })),
    /** How long it may run at a stretch, minutes, and then has to rest as long as `restMin`. */
    mostRunMin: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 600 })),
    restMin: Type.Optional(Type.Number({ minimum: 0, maximum: 600 })),
  },
  strict,
);
export type Tool = Static<typeof Tool>;

/** An entry of the log. */
export const LogEntry = Type.Object(
  {
    id: Id,
    at: Time,
    kind: Type.Union(LOG_KINDS.map((k) => Type.Literal(k))),
    /** A wheel; left out: the whole rig. */
    position: Type.Optional(Type.String({ pattern: POSITION_PATTERN })),
    before: Type.Optional(Stated),
    after: Type.Optional(Stated),
    /** Gauge or pump that was used, by its name. */
    tool: Type.Optional(ToolName),
    /** What the sensor said when `after` (or else `before`) was read off that tool, at the same wheel. */
    sensorKpa: Type.Optional(GaugeKpa),
    note: Type.Optional(Type.String({ minLength: 1, maxLength: 1000, pattern: '\\S' })),
    photos: Type.Optional(Type.Array(Id, { maxItems: 8 })),
    /** The guided job that was done. */
    job: Type.Optional(Type.String({ pattern: '^[a-zA-Z0-9]{2,30}$' })),
    /** On the bench: it never happened on the road. */
    practice: Type.Optional(Type.Literal(true)),
  },
  strict,
);
export type LogEntry = Static<typeof LogEntry>;

/** What was read of one wheel in one session at the track. */
const TrackReading = Type.Object(
  {
    cold: Type.Optional(Stated),
    /** The most it showed on the lap. */
    peak: Type.Optional(Stated),
    /** In the pit, when the car came in. */
    pit: Type.Optional(Stated),
    /** What was let out after it. */
    bled: Type.Optional(Stated),
  },
  strict,
);
/** A day at the track: targets and sessions, wheel by wheel. */
export const TrackDay = Type.Object(
  {
    id: Id,
    date: Type.String({ format: 'date' }),
    place: Type.Optional(Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })),
    /** Which way round it goes. */
    direction: Type.Optional(Type.Union([Type.Literal('clockwise'), Type.Literal('counter')])),
    /** Hot pressure wanted on the lap; `targets` for wheels that have one of their own. */
    target: Type.Optional(Stated),
    targets: Type.Optional(Type.Record(Type.String({ pattern: POSITION_PATTERN }), Stated)),
    sessions: Type.Array(
      Type.Object(
        {
          airC: Type.Optional(WeatherC),
          wheels: Type.Record(Type.String({ pattern: POSITION_PATTERN }), TrackReading),
        },
        strict,
      ),
      { maxItems: 12 },
    ),
  },
  strict,
);
export type TrackDay = Static<typeof TrackDay>;

/** A trip that is kept: its way, the air at its start, and what goes. */
export const Trip = Type.Object(
  {
    id: Id,
    name: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }),
    airC: Type.Optional(WeatherC),
    /** Letters of the units that stay at home. */
    stays: Type.Optional(Type.Array(Type.String({ pattern: '^[A-H]$' }), { uniqueItems: true, maxItems: 8 })),
    /** File its heights came from. */
    file: Type.Optional(Type.String({ minLength: 1, maxLength: 120 })),
    stages: Type.Array(
      Type.Object(
        {
          name: Type.Optional(Type.String({ minLength: 1, maxLength: 40 })),
          km: Type.Number({ minimum: 0, maximum: 50000 }),
          heightM: Type.Number({ minimum: -430, maximum: 9000 }),
          lat: Type.Optional(Type.Number({ minimum: -90, maximum: 90 })),
          lon: Type.Optional(Type.Number({ minimum: -180, maximum: 180 })),
        },
        strict,
      ),
      { minItems: 2, maxItems: 500 },
    ),
  },
  strict,
);
export type Trip = Static<typeof Trip>;

export const FirstDrive = Type.Object(
  {
    startedAt: Type.Optional(Time),
    gauge: Type.Optional(
      Type.Object(
        { errorKpa: Type.Number({ minimum: 0, maximum: 200 }), stepKpa: Type.Number({ minimum: 0, maximum: 100 }) },
        strict,
      ),
    ),
    readings: Type.Optional(
      Type.Record(
        Type.String({ pattern: POSITION_PATTERN }),
        Type.Object(
          {
            gauge: Type.Array(Stated, { minItems: 1, maxItems: 5 }),
            sensorKpa: GaugeKpa,
            /** Air at rest, °C: the gas of both. */
            airC: Type.Number({ minimum: -60, maximum: 60 }),
            at: Time,
          },
          strict,
        ),
      ),
    ),
    proof: Type.Optional(
      Type.Object(
        {
          position: Type.String({ pattern: POSITION_PATTERN }),
          startedAt: Time,
          /** When Druckwerk's own low alarm came. It is no proof of the monitor's. */
          cameAt: Type.Optional(Time),
          /** What the monitor did, as its owner saw it: when it rang, or that it stayed quiet. */
          monitor: Type.Optional(
            Type.Object({ did: Type.Union([Type.Literal('rang'), Type.Literal('quiet')]), at: Time }, strict),
          ),
          practice: Type.Boolean(),
        },
        strict,
      ),
    ),
    /** Who signed the report, when, and how many points were open then. */
    signed: Type.Optional(
      Type.Object(
        { by: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }), at: Time, open: Type.Integer({ minimum: 0 }) },
        strict,
      ),
    ),
    /** Wheels whose first figure the owner saw on the monitor, and when. */
    heard: Type.Optional(Type.Record(Type.String({ pattern: POSITION_PATTERN }), Time)),
  },
  strict,
);
export type FirstDrive = Static<typeof FirstDrive>;

const Housing = Type.Union((['screws', 'twoPart', 'screwLid', 'clip'] as const).map((h) => Type.Literal(h)));

const rigFields = {
  name: Name,
  note: Type.Optional(Type.String({ maxLength: 200 })),
  /** From the front: the unit at 0 is A, the one it pulls is B, and so on. */
  unitIds: Type.Array(Id, { minItems: 1, maxItems: 8, uniqueItems: true }),
  loadState: LoadState,
  monitorId: Type.Optional(Type.Union([Id, Type.Null()])),
  /** Which school holds for light caps on rubber stems. */
  capSchool: Type.Optional(Type.Union([Type.Literal('lightCap'), Type.Literal('metalOnly')])),
  /** What is in the box: pieces by item. */
  kit: Type.Optional(Type.Record(Type.String({ pattern: '^[a-zA-Z]{2,30}$' }), Type.Integer({ minimum: 0, maximum: 999 }))),
  /** From its leaflet: the kit's serial number, and until when it is under warranty. */
  papers: Type.Optional(
    Type.Object(
      {
        serial: Type.Optional(Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' })),
        warrantyUntil: Type.Optional(Type.String({ format: 'date' })),
      },
      strict,
    ),
  ),
  /** Which place of the monitor is which wheel, where the owner changed what was proposed. */
  map: Type.Optional(Type.Record(Type.String({ pattern: POSITION_PATTERN }), MonitorPlace)),
  /** Which list of the monitor each unit is on, from 0, by its letter, where the owner chose another than the next in turn. */
  lists: Type.Optional(Type.Record(Type.String({ pattern: '^[A-H]$' }), Type.Integer({ minimum: 0, maximum: 7 }))),
  climate: Type.Optional(Climate),
  /** The repeater: where it is mounted, m behind the front axle of the first unit and to the left of the middle. */
  repeater: Type.Optional(
    Type.Object(
      {
        x: Type.Number({ minimum: -5, maximum: 60 }),
        y: Type.Number({ minimum: -3, maximum: 3 }),
        /** Its signal as measured at the seat, dB. */
        seatDb: Type.Optional(Type.Number({ minimum: -120, maximum: 0 })),
      },
      strict,
    ),
  ),
  /** Why its owner goes on although the limits that the monitor ends with have to be stopped at: which, in what words, when. */
  accepted: Type.Optional(
    Type.Object(
      {
        stops: Type.Array(Type.String({ minLength: 3, maxLength: 60 }), { minItems: 1, maxItems: 200 }),
        words: Type.String({ minLength: 10, maxLength: 300, pattern: '\\S' }),
        at: Time,
      },
      strict,
    ),
  ),
  /** Stages of the work that its owner leaves out, by sheet, and why. */
  skipped: Type.Optional(
    Type.Record(
      Type.String({ pattern: '^(kit|fitting|radio|first-drive)$' }),
      Type.Object({ why: Type.String({ minLength: 3, maxLength: 200, pattern: '\\S' }), at: Time }, strict),
    ),
  ),
  /** Units that this kit doesn't watch, by their letter: the vehicle has a system of its own. */
  unwatched: Type.Optional(Type.Array(Type.String({ pattern: '^[A-H]$' }), { uniqueItems: true, maxItems: 8 })),
  /** Of a rig that is a trailer alone: what pulls it, though no sensor of it is watched. */
  towVehicle: Type.Optional(
    Type.Object({ dashToCouplingM: Type.Number({ minimum: 0.5, maximum: 20 }), body: BodyMaterial }, strict),
  ),
  /** Loose parts by kind of sensor, and when nuts were tightened again after the first drive. */
  fitting: Type.Optional(
    Type.Object(
      {
        /** Of before each kind had its own: one answer for the whole rig. `parts` wins. */
        boots: Type.Optional(Type.Boolean()),
        lockNuts: Type.Optional(Type.Boolean()),
        antiTheft: Type.Optional(Type.Boolean()),
        parts: Type.Optional(
          Type.Object(
            { cap: Type.Optional(LooseParts), flowThrough: Type.Optional(LooseParts), internal: Type.Optional(LooseParts) },
            strict,
          ),
        ),
        retightenedAt: Type.Optional(Time),
      },
      strict,
    ),
  ),
  /** The first drive: when it began, what a gauge said, and the alarm that was provoked. */
  firstDrive: Type.Optional(FirstDrive),
  /** What its owner wrote down. The rest of the log is taken from what the app knows anyway. */
  log: Type.Optional(Type.Array(LogEntry, { maxItems: 2000 })),
  trips: Type.Optional(Type.Array(Trip, { maxItems: 20 })),
  trackDays: Type.Optional(Type.Array(TrackDay, { maxItems: 100 })),
  /** What its owner changed of the fault tables: weights of causes and minutes of tests, by what is seen. */
  faults: Type.Optional(
    Type.Record(
      Type.String({ pattern: '^(one|many|wrong|rings|quiet|lamp)$' }),
      Type.Object(
        {
          weights: Type.Optional(
            Type.Record(Type.String({ pattern: '^[a-zA-Z]{2,30}$' }), Type.Number({ minimum: 0.1, maximum: 1000 })),
          ),
          minutes: Type.Optional(
            Type.Record(Type.String({ pattern: '^[a-zA-Z]{2,30}$' }), Type.Number({ minimum: 0.5, maximum: 600 })),
          ),
        },
        strict,
      ),
    ),
  ),
  /** How its sensors open, what is on hand (types of cell, seals), the repeater's walk of keys, hours driven in a year. */
  upkeep: Type.Optional(
    Type.Object(
      {
        housing: Type.Optional(
          Type.Object(
            { cap: Type.Optional(Housing), flowThrough: Type.Optional(Housing), internal: Type.Optional(Housing) },
            strict,
          ),
        ),
        onHand: Type.Optional(
          Type.Record(Type.String({ pattern: '^[A-Za-z0-9 .-]{1,12}$' }), Type.Integer({ minimum: 0, maximum: 999 })),
        ),
        /** Jobs that come back, by how many months. */
        every: Type.Optional(
          Type.Record(Type.String({ pattern: '^[a-zA-Z0-9]{2,30}$' }), Type.Number({ minimum: 0.25, maximum: 240 })),
        ),
        keyWalk: Type.Optional(Type.String({ minLength: 1, maxLength: 300, pattern: '\\S' })),
        drivenHours: Type.Optional(Type.Number({ minimum: 0, maximum: 8766 })),
      },
      strict,
    ),
  ),
  /** Gauges and pumps. */
  tools: Type.Optional(Type.Array(Tool, { maxItems: 20 })),
  /** How its kit is being paired. */
  pairing: Type.Optional(
    Type.Object(
      {
        style: PairingStyle,
        limitsFirst: Type.Boolean(),
        kind: Type.Optional(SensorKind),
        /** What the display shows of a sensor it took, where that isn't what the monitor's description says. */
        signs: Type.Optional(PairingSigns),
        /** Units whose sensors are paired another way, by their letter: a coded car with a learned trailer. */
        byUnit: Type.Optional(Type.Record(Type.String({ pattern: '^[A-H]$' }), PairingStyle)),
      },
      strict,
    ),
  ),
  keyed: Type.Optional(Type.Union([Keyed, Type.Null()])),
  /** The final check of the pairing: when every position was seen to be right, and which sensor was on each. */
  checked: Type.Optional(Type.Object({ at: Time, sensors: Type.Record(Position, SensorId) }, strict)),
  /** Out of the way, with everything kept. */
  archived: Type.Optional(Type.Boolean()),
};
export const NewRig = Type.Object(rigFields, strict);
export type NewRig = Static<typeof NewRig>;
/** An ordered combination of units in one load state. */
export const Rig = Type.Object({ id: Id, version: Type.Integer({ minimum: 1 }), ...rigFields }, strict);
export type Rig = Static<typeof Rig>;
