import { type Static, Type } from '@sinclair/typebox';
import { strict } from './common.ts';

/** Something that is due on a rig. */
export const DueEntry = Type.Object(
  {
    kind: Type.Union(
      (
        [
          'cells',
          'sealedCells',
          'cellSign',
          'cellMissed',
          'winter',
          'summer',
          'warranty',
          'retighten',
          'gauge',
          'tireAge',
          'job',
        ] as const
      ).map((k) => Type.Literal(k)),
    ),
    date: Type.String({ format: 'date' }),
    /** It comes back each year on that day. */
    yearly: Type.Boolean(),
    /** The guided job that is meant, where it is a job of its own rhythm. */
    job: Type.Optional(Type.String()),
    /** Wheels or axles it concerns. */
    positions: Type.Array(Type.String()),
    overdue: Type.Boolean(),
    title: Type.String(),
    text: Type.String(),
  },
  strict,
);
export type DueEntry = Static<typeof DueEntry>;
