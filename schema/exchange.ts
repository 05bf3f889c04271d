import { type Static, Type } from '@sinclair/typebox';
import { LoadState, strict } from './common.ts';
import { NewMonitor } from './monitor.ts';
import { NewRig, NewUnit } from './unit.ts';

/** The format's name and the version this program writes and reads. */
export const RIG_FORMAT = 'druckwerk-rig';
export const RIG_FORMAT_VERSION = 1;

/** A rig with its units and monitor as one document: what is exported, and what can be imported anywhere. */
export const RigExport = Type.Object(
  {
    format: Type.Literal(RIG_FORMAT),
    version: Type.Literal(RIG_FORMAT_VERSION),
    rig: Type.Object(
      {
        name: NewRig.properties.name,
        note: NewRig.properties.note,
        loadState: LoadState,
        capSchool: NewRig.properties.capSchool,
        kit: NewRig.properties.kit,
        map: NewRig.properties.map,
        climate: NewRig.properties.climate,
        keyed: NewRig.properties.keyed,
        pairing: NewRig.properties.pairing,
        fitting: NewRig.properties.fitting,
        repeater: NewRig.properties.repeater,
      },
      strict,
    ),
    /** From the front. */
    units: Type.Array(NewUnit, { minItems: 1, maxItems: 8 }),
    monitor: Type.Union([NewMonitor, Type.Null()]),
  },
  { ...strict, title: 'Druckwerk rig, version 1' },
);
export type RigExport = Static<typeof RigExport>;

/** The published JSON Schema of the format: `/api/schema/rig.json` and `docs/rig.schema.json`. */
export const rigJsonSchema: Record<string, unknown> = { $schema: 'https://json-schema.org/draft/2020-12/schema', ...RigExport };

/** What an import would do, before it does anything. */
export interface ImportPreview {
  name: string;
  units: { name: string; wheels: number; sensors: number }[];
  monitor: string | null;
  /** Sensors that are on a wheel here already. */
  taken: { pointer: string; sensorId: string; by: string }[];
}
