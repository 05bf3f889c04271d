import { type Static, Type } from '@sinclair/typebox';
import { strict } from './common.ts';

const oneOf = <T extends string>(values: readonly T[]) => Type.Union(values.map((v) => Type.Literal(v)));
const column = Type.String({ maxLength: 200 });
const optionalColumn = Type.Union([column, Type.Null()]);

/** How a file of readings is to be read; see `ColumnMapping` in core/files. */
export const ColumnMappingSchema = Type.Object(
  {
    kind: oneOf(['csv', 'ndjson'] as const),
    delimiter: Type.String({ minLength: 1, maxLength: 1 }),
    header: Type.Boolean(),
    decimal: oneOf(['.', ','] as const),
    time: column,
    clock: optionalColumn,
    timeFormat: oneOf(['iso', 'local', 'localDayFirst', 'epochS', 'epochMs'] as const),
    zone: Type.String({ maxLength: 60 }),
    wheel: column,
    wheels: Type.Record(Type.String({ maxLength: 80 }), Type.String({ maxLength: 10 })),
    pressure: column,
    pressureUnit: oneOf(['kPa', 'bar', 'psi'] as const),
    temp: optionalColumn,
    tempUnit: oneOf(['C', 'F', 'K'] as const),
    battery: optionalColumn,
    rssi: optionalColumn,
  },
  strict,
);
export type ColumnMappingInput = Static<typeof ColumnMappingSchema>;
