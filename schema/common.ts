import { type Static, Type } from '@sinclair/typebox';

/** A sensor's ID as six hexadecimal digits. FFFFFF is what a monitor shows for an open position, so it is never an ID. */
export const SENSOR_ID_PATTERN = '^(?![Ff]{6}$)[0-9A-Fa-f]{6}$';
/** What a sensor is kept under: its ID, or a key of our own while its ID isn't known. */
export const SENSOR_KEY_PATTERN = '^((?![Ff]{6}$)[0-9A-Fa-f]{6}|K[0-9A-Z]{11})$';
/** A wheel inside its own unit: axle number and place, or S and a number for a spare. */
export const LOCAL_POSITION_PATTERN = '^([1-9](LO|LI|RI|RO|L|R|C)|S[1-4])$';
/** A wheel inside a rig: the unit's letter in front of the local code. */
export const POSITION_PATTERN = '^[A-H]([1-9](LO|LI|RI|RO|L|R|C)|S[1-4])$';

export const SensorId = Type.String({ pattern: SENSOR_KEY_PATTERN });
/** An ID as a monitor shows it. */
export const ShownId = Type.String({ pattern: SENSOR_ID_PATTERN });
export const LocalPosition = Type.String({ pattern: LOCAL_POSITION_PATTERN });
export const Position = Type.String({ pattern: POSITION_PATTERN });

/** A moment: ISO 8601 with its offset; answers are in UTC. */
export const Time = Type.String({ format: 'date-time' });

/** Gauge pressure at or over zero. 2,500 kPa (363 psi) is over anything a road tire holds. */
export const GaugeKpa = Type.Number({ minimum: 0, maximum: 2500 });
/** Gauge pressure that a tire is set to: it holds some air. */
export const SetKpa = Type.Number({ exclusiveMinimum: 0, maximum: 2500 });
/** Temperature of air, gas or sensor that can occur on the road, a glowing brake's sensor included. */
export const RoadTempC = Type.Number({ minimum: -60, maximum: 250 });

export const PressureUnit = Type.Union([Type.Literal('kPa'), Type.Literal('bar'), Type.Literal('psi')]);
export type PressureUnit = Static<typeof PressureUnit>;
export const TempUnit = Type.Union([Type.Literal('C'), Type.Literal('F')]);
export type TempUnit = Static<typeof TempUnit>;

/** What a rig carries: limits and pressures belong to it, not only to the rig. */
export const LoadState = Type.Union([Type.Literal('empty'), Type.Literal('loaded'), Type.Literal('towing')]);
export type LoadState = Static<typeof LoadState>;

export const SensorKind = Type.Union([Type.Literal('cap'), Type.Literal('flowThrough'), Type.Literal('internal')]);
export type SensorKind = Static<typeof SensorKind>;

export const Id = Type.String({ minLength: 1, maxLength: 64, pattern: '^[A-Za-z0-9_-]+$' });
export const Name = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' });

/** Refuses every field that is not named. */
export const strict = { additionalProperties: false } as const;
