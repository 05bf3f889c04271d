import { RigExport } from './exchange.ts';
import { hoist, withEnums } from './hoist.ts';
import { namedSchemas } from './named.ts';

/** The published JSON Schema of an exported rig: `/api/schema/rig.json` and `docs/rig.schema.json`. */
export function rigJsonSchema(): Record<string, unknown> {
  const { RigExport: _whole, ...parts } = namedSchemas;
  const { document, definitions } = hoist(withEnums(RigExport), withEnums(parts) as typeof parts, '#/$defs/');
  return { $schema: 'https://json-schema.org/draft/2020-12/schema', ...(document as object), $defs: definitions };
}
