import { type Static, Type } from '@sinclair/typebox';
import { Id, LoadState, strict, Time } from './common.ts';
import { FirstDrive } from './unit.ts';

const nullable = <T extends Parameters<typeof Type.Union>[0][number]>(schema: T) => Type.Union([schema, Type.Null()]);
const NumberOrNull = nullable(Type.Number());
const TextOrNull = nullable(Type.String());

/** A wheel in the report: what was set, fitted and measured on it. */
export const ReportWheel = Type.Object(
  {
    position: Type.String(),
    /** What the monitor's leaflet calls its place. */
    place: Type.Optional(Type.String()),
    sensorId: TextOrNull,
    kind: TextOrNull,
    stem: TextOrNull,
    /** An override of a fitting that was judged "no", in the owner's words. */
    override: TextOrNull,
    coldKpa: NumberOrNull,
    coldTempC: NumberOrNull,
    lowKpa: NumberOrNull,
    highKpa: NumberOrNull,
    hotC: NumberOrNull,
    steps: Type.Array(Type.String()),
    leak: Type.Union([Type.Literal('none'), Type.Literal('bubbles'), Type.Null()]),
    note: TextOrNull,
    photos: Type.Array(Id),
    gaugeKpa: NumberOrNull,
    sensorKpa: NumberOrNull,
    differenceKpa: NumberOrNull,
    verdict: TextOrNull,
  },
  strict,
);
export type ReportWheel = Static<typeof ReportWheel>;

/** Something the report shows as not done yet. */
export const OpenItem = Type.Object(
  {
    code: Type.Union(
      (
        [
          'noSensor',
          'noCold',
          'noLimits',
          'notFitted',
          'bubbles',
          'suspect',
          'heldStops',
          'notKeyed',
          'noProof',
          'stayedQuiet',
          'notRetightened',
          'noGauge',
        ] as const
      ).map((c) => Type.Literal(c)),
    ),
    positions: Type.Array(Type.String()),
  },
  strict,
);
export type OpenItem = Static<typeof OpenItem>;

/** The commissioning report as data: what was set, fitted, measured and proved, and what is open. */
export const Report = Type.Object(
  {
    format: Type.Literal('druckwerk-report'),
    version: Type.Literal(1),
    at: Time,
    rig: Type.Object(
      { name: Type.String(), note: Type.Optional(Type.String()), loadState: LoadState, units: Type.Array(Type.String()) },
      strict,
    ),
    monitor: TextOrNull,
    wheels: Type.Array(ReportWheel),
    gauge: nullable(
      Type.Object(
        {
          errorKpa: Type.Number(),
          blame: Type.Union((['nobody', 'gauge', 'sensors', 'both', 'cannotTell'] as const).map((b) => Type.Literal(b))),
        },
        strict,
      ),
    ),
    keyed: nullable(
      Type.Object(
        {
          at: Type.String(),
          groups: Type.Record(
            Type.String(),
            Type.Object({ low: NumberOrNull, high: NumberOrNull, baseline: Type.Optional(Type.Number()) }, strict),
          ),
          unit: TextOrNull,
        },
        strict,
      ),
    ),
    /** `seconds`: until Druckwerk's own alarm. `monitor`: what the monitor did, and after how many seconds it was seen. */
    proof: nullable(
      Type.Object(
        {
          position: Type.String(),
          seconds: NumberOrNull,
          practice: Type.Boolean(),
          monitor: Type.Optional(
            nullable(
              Type.Object({ did: Type.Union([Type.Literal('rang'), Type.Literal('quiet')]), seconds: Type.Number() }, strict),
            ),
          ),
        },
        strict,
      ),
    ),
    /** Why the owner goes on although the limits that the monitor ends with have to be stopped at. */
    accepted: Type.Optional(Type.Object({ words: Type.String(), at: Time, axles: Type.Array(Type.String()) }, strict)),
    /** Who signed it, when, and with how many points open. */
    signed: FirstDrive.properties.signed,
    open: Type.Array(OpenItem),
  },
  strict,
);
export type Report = Static<typeof Report>;

/** A dated version of a rig's report. */
export const ReportVersion = Type.Object({ id: Id, at: Time, report: Report }, strict);
export type ReportVersion = Static<typeof ReportVersion>;
