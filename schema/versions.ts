import { type Static, Type } from '@sinclair/typebox';
import { strict, Time } from './common.ts';

export const KindSchema = Type.Union([Type.Literal('units'), Type.Literal('rigs'), Type.Literal('monitors')]);
export type Kind = Static<typeof KindSchema>;

const VersionChangeSchema = Type.Object(
  { pointer: Type.String(), from: Type.Optional(Type.Unknown()), to: Type.Optional(Type.Unknown()) },
  strict,
);
/** One field that changed: without `from` it was added, without `to` it was removed. */
export type VersionChange = Static<typeof VersionChangeSchema>;

export const PastVersion = Type.Object(
  {
    version: Type.Integer(),
    at: Time,
    /** The device it came from; null: the machine the server runs on. */
    device: Type.Union([Type.String(), Type.Null()]),
    what: Type.Union(
      ['made', 'changed', 'deleted', 'restored', 'putBack'].map((w) =>
        Type.Literal(w as 'made' | 'changed' | 'deleted' | 'restored' | 'putBack'),
      ),
    ),
    changes: Type.Array(VersionChangeSchema),
  },
  strict,
);
export type PastVersion = Static<typeof PastVersion>;
