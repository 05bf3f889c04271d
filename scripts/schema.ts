// Writes docs/rig.schema.json from the schema the server checks with. Run it when the format changes; a test compares the two.
import { writeFileSync } from 'node:fs';
import { rigJsonSchema } from '../schema/rig-schema.ts';

writeFileSync(new URL('../docs/rig.schema.json', import.meta.url), `${JSON.stringify(rigJsonSchema(), null, 2)}\n`);
