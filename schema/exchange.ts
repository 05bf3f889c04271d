import { type Static, Type } from '@sinclair/typebox';
import { Id, strict } from './common.ts';
import { NewMonitor } from './monitor.ts';
import { NewRig, NewUnit } from './unit.ts';

/** The format's name and the version this program writes and reads. */
export const RIG_FORMAT = 'druckwerk-rig';
export const RIG_FORMAT_VERSION = 1;

/**
 * The longest text of a photo, characters. It isn't in the schema: validators count characters that take two places once, and for a whole document
 * that takes a fifth of a second.
 */
export const LONGEST_PHOTO = 8_000_000;

/** A rig with its units and monitor as one document: what is exported, and what can be imported anywhere. */
export const RigExport = Type.Object(
  {
    format: Type.Literal(RIG_FORMAT),
    version: Type.Literal(RIG_FORMAT_VERSION),
    rig: Type.Omit(NewRig, ['unitIds', 'monitorId', 'archived'], strict),
    /** From the front. */
    units: Type.Array(NewUnit, { minItems: 1, maxItems: 8 }),
    monitor: Type.Union([NewMonitor, Type.Null()]),
    /** Photos of fitted wheels that the units name, by their id: JPEG, in base 64. */
    photos: Type.Optional(Type.Record(Id, Type.String())),
  },
  { ...strict, title: 'Druckwerk rig, version 1' },
);
export type RigExport = Static<typeof RigExport>;

/** What an import would do, before it does anything. */
export const ImportPreview = Type.Object(
  {
    name: Type.String(),
    units: Type.Array(Type.Object({ name: Type.String(), wheels: Type.Integer(), sensors: Type.Integer() }, strict)),
    monitor: Type.Union([Type.String(), Type.Null()]),
    /** How many photos of fitted wheels come with it. */
    photos: Type.Integer(),
    /** Sensors that are on a wheel here already. */
    taken: Type.Array(Type.Object({ pointer: Type.String(), sensorId: Type.String(), by: Type.String() }, strict)),
  },
  strict,
);
export type ImportPreview = Static<typeof ImportPreview>;
