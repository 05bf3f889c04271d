import { type Static, type TSchema, Type } from '@sinclair/typebox';
import { AlarmKind, Severity } from './alarm.ts';
import { GaugeKpa, PressureUnit, RoadTempC, SetKpa, strict, Time } from './common.ts';
import { AlarmRule } from './unit.ts';

/** Units that `units.convert` knows. */
export const ConvertUnit = Type.Union(
  (['kPa', 'bar', 'psi', 'C', 'F', 'km', 'mi', 'm', 'ft', 'kg', 'lb', 'mm', 'in'] as const).map((u) => Type.Literal(u)),
);
export type ConvertUnit = Static<typeof ConvertUnit>;

const AltitudeM = Type.Number({ minimum: -500, maximum: 11000 });
const Ambient = Type.Number({ exclusiveMinimum: 0, maximum: 200 });
const GasTempC = Type.Number({ maximum: 2000 });
const Kpa = Type.Number({ maximum: 1e6 });

/** The school's own fields with the cold pressure it is applied to. */
const LimitsInput = Type.Unsafe<AlarmRule & { coldKpa: number }>({
  ...AlarmRule,
  required: ['school', 'coldKpa'],
  oneOf: (AlarmRule as unknown as { oneOf: { properties: Record<string, TSchema>; required?: string[] }[] }).oneOf.map((o) => ({
    ...o,
    properties: { ...o.properties, coldKpa: SetKpa },
    required: [...(o.required ?? []), 'coldKpa'],
  })),
});

const Reason = Type.Object(
  {
    field: Type.Union([Type.Literal('low'), Type.Literal('high')]),
    code: Type.String(),
    share: Type.Optional(Type.Number()),
    ofKpa: Type.Optional(Type.Number()),
    marginKpa: Type.Optional(Type.Number()),
    roundKpa: Type.Optional(Type.Number()),
    floorKpa: Type.Optional(Type.Number()),
  },
  strict,
);
/** Why a limit is what it is: a code and the figures it was made from. */
export type Reason = Static<typeof Reason>;

const NullableNumber = Type.Union([Type.Number(), Type.Null()]);
const PositionKey = Type.String({ minLength: 1, maxLength: 16 });

/** A monitor's limits as they are keyed; values in its unit. */
const keyingMonitor = {
  unit: PressureUnit,
  step: Type.Number({ exclusiveMinimum: 0, maximum: 1000 }),
  min: Type.Number({ minimum: 0, maximum: 10000 }),
  max: Type.Number({ exclusiveMinimum: 0, maximum: 10000 }),
  presetLow: Type.Union([Type.Number({ minimum: 0, maximum: 10000 }), Type.Null()]),
  presetHigh: Type.Union([Type.Number({ minimum: 0, maximum: 10000 }), Type.Null()]),
  interlock: Type.Boolean(),
};
const keyingGroups = (['axle', 'unit', 'rearWithTrailer', 'wheel', 'all'] as const).map((g) => Type.Literal(g));
/** What groups show now, where that isn't the preset. */
const Shown = Type.Optional(
  Type.Record(Type.String({ minLength: 1, maxLength: 60 }), Type.Object({ low: NullableNumber, high: NullableNumber }, strict)),
);

/** Every calculation another program may call: its summary, what goes in and what comes out. */
export const operationSchemas = {
  'units.convert': {
    summary: 'Convert a value between units of one kind',
    input: Type.Object({ value: Type.Number(), from: ConvertUnit, to: ConvertUnit }, strict),
    output: Type.Object({ value: Type.Number() }, strict),
  },
  'air.atAltitude': {
    summary: 'Ambient pressure of the standard atmosphere at an altitude',
    input: Type.Object({ altitudeM: AltitudeM }, strict),
    output: Type.Object({ ambientAbsKpa: Type.Number() }, strict),
  },
  'gas.pressureAt': {
    summary: 'Gauge pressure of a closed tire at another temperature and altitude',
    input: Type.Object(
      {
        pressureKpa: Kpa,
        tempC: GasTempC,
        toTempC: GasTempC,
        ambientAbsKpa: Type.Optional(Ambient),
        toAmbientAbsKpa: Type.Optional(Ambient),
      },
      strict,
    ),
    output: Type.Object({ pressureKpa: Type.Number() }, strict),
  },
  'gas.temperatureFor': {
    summary: 'Temperature at which a closed tire shows a given gauge pressure',
    input: Type.Object(
      {
        pressureKpa: Kpa,
        tempC: GasTempC,
        toPressureKpa: Kpa,
        ambientAbsKpa: Type.Optional(Ambient),
        toAmbientAbsKpa: Type.Optional(Ambient),
      },
      strict,
    ),
    output: Type.Object({ tempC: Type.Number() }, strict),
  },
  'tire.read': {
    summary: 'Read what stands on a tire’s sidewall',
    input: Type.Object({ marking: Type.String({ minLength: 1, maxLength: 100 }) }, strict),
    output: Type.Object(
      {
        kind: Type.Union(
          (['passenger', 'lightTruck', 'specialTrailer', 'commercial', 'motorcycle', 'inch', 'flotation'] as const).map((k) =>
            Type.Literal(k),
          ),
        ),
        widthMm: Type.Number(),
        aspectPercent: Type.Number(),
        rimIn: Type.Number(),
        construction: Type.Union([Type.Literal('radial'), Type.Literal('bias'), Type.Literal('beltedBias')]),
        loadIndex: Type.Optional(Type.Integer()),
        loadIndexDual: Type.Optional(Type.Integer()),
        speedSymbol: Type.Optional(Type.String()),
        speedKmh: Type.Optional(Type.Number()),
        loadKg: Type.Optional(Type.Number()),
        loadDualKg: Type.Optional(Type.Number()),
        diameterMm: Type.Number(),
        airLitres: Type.Number(),
        loadRange: Type.Optional(Type.String()),
        plies: Type.Optional(Type.Integer()),
        marks: Type.Array(
          Type.Union(
            (['extraLoad', 'tubeless', 'tubeType', 'mudAndSnow', 'winter', 'motorcycle', 'runFlat'] as const).map((m) =>
              Type.Literal(m),
            ),
          ),
        ),
        assumed: Type.Array(Type.Literal('aspectPercent')),
        unread: Type.Array(Type.String()),
      },
      strict,
    ),
  },
  'stem.load': {
    summary: 'Force on a sensor at its valve, and the weight that balances it',
    input: Type.Object(
      {
        massKg: Type.Number({ exclusiveMinimum: 0, maximum: 1 }),
        valveRadiusM: Type.Number({ exclusiveMinimum: 0, maximum: 2 }),
        speedMps: Type.Number({ minimum: 0, maximum: 150 }),
        rollingRadiusM: Type.Number({ exclusiveMinimum: 0, maximum: 2 }),
        rimRadiusM: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 2 })),
      },
      strict,
    ),
    output: Type.Object(
      { forceN: Type.Number(), accelerationG: Type.Number(), balanceMassKg: Type.Optional(Type.Number()) },
      strict,
    ),
  },
  'alarms.limits': {
    summary: 'Alarm limits that a school of setting them gives for a cold pressure',
    input: LimitsInput,
    output: Type.Object({ lowKpa: NullableNumber, highKpa: NullableNumber, why: Type.Array(Reason) }, strict),
  },
  'alarms.judge': {
    summary: 'Hold a pair of alarm limits against the load and the day of a tire',
    input: Type.Object(
      {
        coldKpa: SetKpa,
        coldTempC: RoadTempC,
        lowKpa: SetKpa,
        highKpa: Type.Union([SetKpa, Type.Null()]),
        loadMinimumKpa: GaugeKpa,
        coldestC: RoadTempC,
        runningC: RoadTempC,
        altitudeSetM: Type.Optional(AltitudeM),
        altitudeReadM: Type.Optional(AltitudeM),
      },
      strict,
    ),
    output: Type.Object(
      {
        coldestStartKpa: Type.Number(),
        hotRunKpa: Type.Number(),
        lowAlarmHotColdKpa: Type.Number(),
        verdicts: Type.Array(
          Type.Union(
            (['ok', 'nuisance-low', 'nuisance-high', 'unprotected-low', 'unprotected-hot', 'sleeping-high'] as const).map((v) =>
              Type.Literal(v),
            ),
          ),
        ),
      },
      strict,
    ),
  },
  'alarms.keying': {
    summary: 'The order of keys that brings a monitor to the limits the axles want',
    input: Type.Object(
      {
        monitor: Type.Object({ groups: Type.Union(keyingGroups), ...keyingMonitor }, strict),
        axles: Type.Array(
          Type.Object(
            {
              axle: Type.String({ minLength: 1, maxLength: 16 }),
              unitKind: Type.Union([Type.Literal('vehicle'), Type.Literal('trailer')]),
              lowKpa: Type.Union([SetKpa, Type.Null()]),
              highKpa: Type.Union([SetKpa, Type.Null()]),
              wheels: Type.Optional(Type.Integer({ minimum: 1, maximum: 8 })),
            },
            strict,
          ),
          { minItems: 1, maxItems: 80 },
        ),
        shown: Shown,
      },
      strict,
    ),
    output: Type.Object(
      {
        groups: Type.Array(Type.Object({ group: Type.String(), axles: Type.Array(Type.String()) }, strict)),
        steps: Type.Array(
          Type.Object(
            {
              group: Type.String(),
              field: Type.Union([Type.Literal('low'), Type.Literal('high')]),
              from: Type.Number(),
              to: Type.Number(),
              presses: Type.Integer(),
            },
            strict,
          ),
        ),
        presses: Type.Integer(),
        navigationPresses: Type.Integer(),
        unmet: Type.Array(
          Type.Object(
            {
              axle: Type.String(),
              field: Type.Union([Type.Literal('low'), Type.Literal('high')]),
              wantedKpa: Type.Number(),
              gotKpa: NullableNumber,
              why: Type.Union((['rounded', 'grouped', 'conflict', 'range', 'impossible'] as const).map((w) => Type.Literal(w))),
            },
            strict,
          ),
        ),
        ends: Type.Record(Type.String(), Type.Object({ low: NullableNumber, high: NullableNumber }, strict)),
      },
      strict,
    ),
  },
  'alarms.held': {
    summary: 'What a monitor will ring at for every axle when all is keyed that can be, and what is to be said of that',
    input: Type.Object(
      {
        monitor: Type.Object(
          {
            groups: Type.Union([...keyingGroups, Type.Literal('baseline')]),
            ...keyingMonitor,
            /** What it makes of a baseline, as shares of it. */
            derives: Type.Optional(
              Type.Object(
                {
                  lowShare: Type.Number({ exclusiveMinimum: 0, exclusiveMaximum: 1 }),
                  highShare: Type.Union([Type.Number({ exclusiveMinimum: 0, maximum: 2 }), Type.Null()]),
                },
                strict,
              ),
            ),
          },
          strict,
        ),
        axles: Type.Array(
          Type.Object(
            {
              axle: Type.String({ minLength: 1, maxLength: 16 }),
              unitKind: Type.Union([Type.Literal('vehicle'), Type.Literal('trailer')]),
              coldKpa: SetKpa,
              lowKpa: Type.Union([SetKpa, Type.Null()]),
              highKpa: Type.Union([SetKpa, Type.Null()]),
              wheels: Type.Optional(Type.Integer({ minimum: 1, maximum: 8 })),
              coldestStartKpa: Type.Optional(Type.Number()),
              hotRunKpa: Type.Optional(Type.Number()),
              loadMinimumKpa: Type.Optional(Type.Number({ minimum: 0 })),
            },
            strict,
          ),
          { minItems: 1, maxItems: 80 },
        ),
        shown: Shown,
      },
      strict,
    ),
    output: Type.Object(
      {
        axles: Type.Array(
          Type.Object(
            {
              axle: Type.String(),
              heldLowKpa: NullableNumber,
              heldHighKpa: NullableNumber,
              verdicts: Type.Array(
                Type.Union(
                  (['rings-always', 'nuisance-low', 'nuisance-high', 'unprotected-low', 'unguarded', 'ok'] as const).map((v) =>
                    Type.Literal(v),
                  ),
                ),
              ),
            },
            strict,
          ),
        ),
      },
      strict,
    ),
  },
  'pairing.exchanges': {
    summary: 'The fewest pairwise exchanges that bring sensors to the wanted positions',
    input: Type.Object(
      {
        now: Type.Record(PositionKey, Type.String({ minLength: 1, maxLength: 40 })),
        wanted: Type.Record(PositionKey, Type.String({ minLength: 1, maxLength: 40 })),
      },
      strict,
    ),
    output: Type.Object({ exchanges: Type.Array(Type.Tuple([Type.String(), Type.String()])) }, strict),
  },
  'leak.estimate': {
    summary: 'Rate of loss of a resting tire from its readings, temperature taken out, with its 95 % interval',
    input: Type.Object(
      {
        readings: Type.Array(Type.Object({ time: Time, pressureKpa: GaugeKpa, tempC: RoadTempC }, strict), {
          minItems: 1,
          maxItems: 200_000,
        }),
        referenceTempC: Type.Optional(RoadTempC),
        floorKpa: Type.Optional(GaugeKpa),
      },
      strict,
    ),
    output: Type.Object(
      {
        rateKpaPerDay: NullableNumber,
        lowKpaPerDay: NullableNumber,
        highKpaPerDay: NullableNumber,
        daysToFloor: NullableNumber,
        verdict: Type.Union((['leaking', 'holding', 'unclear'] as const).map((v) => Type.Literal(v))),
      },
      strict,
    ),
  },
  'topup.plan': {
    summary: 'To what each tire is filled now, and how long it takes',
    input: Type.Object(
      {
        tires: Type.Array(
          Type.Object(
            {
              position: PositionKey,
              pressureKpa: GaugeKpa,
              tempC: RoadTempC,
              targetColdKpa: SetKpa,
              targetTempC: RoadTempC,
              airLitres: Type.Number({ exclusiveMinimum: 0, maximum: 2000 }),
            },
            strict,
          ),
          { minItems: 1, maxItems: 200 },
        ),
        flowLitresPerMin: Type.Number({ exclusiveMinimum: 0, maximum: 10_000 }),
        handlingMin: Type.Optional(Type.Number({ minimum: 0, maximum: 60 })),
      },
      strict,
    ),
    output: Type.Object(
      {
        steps: Type.Array(
          Type.Object({ position: Type.String(), toKpa: Type.Number(), addKpa: Type.Number(), minutes: Type.Number() }, strict),
        ),
        totalMinutes: Type.Number(),
      },
      strict,
    ),
  },
  'track.bleed': {
    summary: 'What to let out of hot tires, and what to start with cold next time',
    input: Type.Object(
      {
        wheels: Type.Array(
          Type.Object({ position: PositionKey, coldKpa: SetKpa, hotKpa: SetKpa, targetHotKpa: SetKpa }, strict),
          { minItems: 1, maxItems: 100 },
        ),
      },
      strict,
    ),
    output: Type.Object(
      {
        wheels: Type.Array(
          Type.Object({ position: Type.String(), bleedHotKpa: Type.Number(), nextColdKpa: Type.Number() }, strict),
        ),
      },
      strict,
    ),
  },
  'trip.outlook': {
    summary: 'Pressures of each axle at places of a trip, at rest and on the move, and what would ring there for physics alone',
    input: Type.Object(
      {
        axles: Type.Array(
          Type.Object(
            {
              axle: Type.String({ minLength: 1, maxLength: 20 }),
              coldKpa: SetKpa,
              coldTempC: RoadTempC,
              riseK: Type.Number({ minimum: 0, maximum: 150 }),
              lowKpa: Type.Optional(GaugeKpa),
              highKpa: Type.Optional(GaugeKpa),
            },
            strict,
          ),
          { minItems: 1, maxItems: 100 },
        ),
        altitudeSetM: AltitudeM,
        stages: Type.Array(Type.Object({ altitudeM: AltitudeM, airC: RoadTempC }, strict), { minItems: 1, maxItems: 100_000 }),
      },
      strict,
    ),
    output: Type.Object(
      {
        stages: Type.Array(
          Type.Object(
            {
              axles: Type.Array(
                Type.Object(
                  {
                    axle: Type.String(),
                    restKpa: Type.Number(),
                    runningKpa: Type.Number(),
                    rings: Type.Array(Type.Union([Type.Literal('low'), Type.Literal('high')])),
                  },
                  strict,
                ),
              ),
            },
            strict,
          ),
        ),
      },
      strict,
    ),
  },
  'season.outlook': {
    summary: 'Nights of a season whose cold start is at or under a low limit, and the cold pressure that would keep it over',
    input: Type.Object(
      {
        coldKpa: SetKpa,
        coldTempC: RoadTempC,
        lowKpa: GaugeKpa,
        days: Type.Array(Type.Object({ date: Type.String({ format: 'date' }), minC: RoadTempC }, strict), {
          minItems: 1,
          maxItems: 100_000,
        }),
        altitudeM: Type.Optional(AltitudeM),
      },
      strict,
    ),
    output: Type.Object(
      {
        nights: Type.Array(Type.String()),
        first: Type.Union([Type.String(), Type.Null()]),
        last: Type.Union([Type.String(), Type.Null()]),
        resetKpa: Type.Number(),
      },
      strict,
    ),
  },
  'faults.next': {
    summary: 'Odds of what may be wrong after some tests (Bayes), and the test that tells the most a minute',
    input: Type.Object(
      {
        causes: Type.Record(Type.String({ minLength: 1, maxLength: 100 }), Type.Number({ exclusiveMinimum: 0, maximum: 1e12 })),
        tests: Type.Array(
          Type.Object(
            {
              test: Type.String({ minLength: 1, maxLength: 100 }),
              minutes: Type.Number({ exclusiveMinimum: 0, maximum: 1e6 }),
              outcomes: Type.Record(
                Type.String({ minLength: 1, maxLength: 100 }),
                Type.Record(Type.String({ minLength: 1, maxLength: 100 }), Type.Number({ minimum: 0, maximum: 1 })),
              ),
            },
            strict,
          ),
          { maxItems: 1000 },
        ),
        answers: Type.Optional(
          Type.Array(Type.Object({ test: Type.String(), outcome: Type.String() }, strict), { maxItems: 1000 }),
        ),
      },
      strict,
    ),
    output: Type.Object(
      {
        odds: Type.Record(Type.String(), Type.Number()),
        next: Type.Union([Type.String(), Type.Null()]),
        bits: Type.Number(),
        bitsPerMinute: Type.Number(),
        ranking: Type.Array(Type.Object({ test: Type.String(), bits: Type.Number(), bitsPerMinute: Type.Number() }, strict)),
      },
      strict,
    ),
  },
  'radio.link': {
    summary: 'Link budget between a sender and a receiver: free-space loss and what stands in the way',
    input: Type.Object(
      {
        frequencyMhz: Type.Number({ exclusiveMinimum: 0, maximum: 100000 }),
        distanceM: Type.Number({ exclusiveMinimum: 0, maximum: 1e6 }),
        transmitDbm: Type.Number({ minimum: -200, maximum: 100 }),
        sensitivityDbm: Type.Number({ minimum: -200, maximum: 100 }),
        lossesDb: Type.Optional(Type.Array(Type.Number({ minimum: 0, maximum: 200 }), { maxItems: 50 })),
      },
      strict,
    ),
    output: Type.Object({ pathLossDb: Type.Number(), receivedDbm: Type.Number(), marginDb: Type.Number() }, strict),
  },
  'watch.replay': {
    summary: 'Run the watch over readings and list the alarms it raises',
    input: Type.Object(
      {
        wheels: Type.Record(
          PositionKey,
          Type.Object(
            {
              coldKpa: SetKpa,
              coldTempC: RoadTempC,
              lowKpa: Type.Union([Type.Number({ exclusiveMinimum: 0, maximum: 2500 }), Type.Null()]),
              highKpa: Type.Union([Type.Number({ exclusiveMinimum: 0, maximum: 2500 }), Type.Null()]),
              hotC: Type.Union([RoadTempC, Type.Null()]),
              sensorKind: Type.Optional(
                Type.Union([Type.Literal('ideal'), Type.Literal('cap'), Type.Literal('flowThrough'), Type.Literal('internal')]),
              ),
              airC: Type.Optional(RoadTempC),
              loadMinimumKpa: Type.Optional(SetKpa),
            },
            strict,
          ),
        ),
        readings: Type.Array(
          Type.Object(
            {
              position: PositionKey,
              time: Time,
              pressureKpa: Type.Number({ minimum: 0, maximum: 2500 }),
              tempC: RoadTempC,
              batteryV: Type.Optional(Type.Number({ minimum: 0, maximum: 5 })),
            },
            strict,
          ),
        ),
        untilTime: Type.Optional(Time),
      },
      strict,
    ),
    output: Type.Object(
      {
        alarms: Type.Array(
          Type.Object(
            {
              position: Type.String(),
              kind: AlarmKind,
              fromTime: Type.String(),
              toTime: Type.Union([Type.String(), Type.Null()]),
              /** The most it came to. */
              priority: Severity,
              /** Of low and high: air, or temperature and height alone. */
              cause: Type.Optional(Type.Union([Type.Literal('air'), Type.Literal('weather')])),
            },
            strict,
          ),
        ),
      },
      strict,
    ),
  },
} as const satisfies Record<string, { summary: string; input: TSchema; output: TSchema }>;

export type OperationName = keyof typeof operationSchemas;
export type OperationInput<N extends OperationName> = Static<(typeof operationSchemas)[N]['input']>;
export type OperationOutput<N extends OperationName> = Static<(typeof operationSchemas)[N]['output']>;
