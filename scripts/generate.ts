// Compiles the schemas to stand-alone validators: the page's content policy forbids `new Function`, and the command starts faster.
import { mkdirSync, writeFileSync } from 'node:fs';
import { type TSchema, Type } from '@sinclair/typebox';
import { Ajv } from 'ajv';
import standalone from 'ajv/dist/standalone/index.js';
import formats from 'ajv-formats';
import { build } from 'esbuild';
import { RigExport } from '../schema/exchange.ts';
import { ColumnMappingSchema } from '../schema/files.ts';
import { formSchemas } from '../schema/forms.ts';
import { hoist } from '../schema/hoist.ts';
import { NewMonitor } from '../schema/monitor.ts';
import { namedSchemas } from '../schema/named.ts';
import { openApi } from '../schema/openapi.ts';
import { operationSchemas } from '../schema/operations.ts';
import { Reading } from '../schema/reading.ts';
import { rigJsonSchema } from '../schema/rig-schema.ts';
import { type RouteDescription, routes } from '../schema/routes.ts';
import { NewRig, NewUnit, Rig, Unit } from '../schema/unit.ts';

// Both are CommonJS: under Node the function sits on `default`, for the compiler it is the import itself.
const unwrap = <T>(m: T): T => (m as { default?: T }).default ?? m;
const standaloneCode = unwrap(standalone);
const addFormats = unwrap(formats);

const root = new URL('..', import.meta.url).pathname;
const out = `${root}generated`;
mkdirSync(out, { recursive: true });

/** What begins every file of types. */
const HEAD = `import type { ValidatorError } from '../schema/explain.ts';
export interface Validator<T = unknown> { (data: unknown): data is T; errors?: (ValidatorError | undefined)[] | null }
`;
const nothing = Type.Object({}, { additionalProperties: false });
const table = Object.entries(routes) as [string, RouteDescription][];
const bodies = Object.fromEntries(table.flatMap(([name, { body }]) => (body ? [[name, body] as [string, TSchema]] : [])));
const records = {
  unit: Unit,
  newUnit: NewUnit,
  rig: Rig,
  newRig: NewRig,
  newMonitor: NewMonitor,
  reading: Reading,
  rigExport: RigExport,
  columnMapping: ColumnMappingSchema,
};
/** The files, and what each exports. Bodies consist of records: in one file they share what checks those. */
const groups: Record<string, Record<string, Record<string, TSchema>>> = {
  calc: { validators: Object.fromEntries(Object.entries(operationSchemas).map(([name, o]) => [name, o.input])) },
  // What comes with a request, route by route.
  queries: { validators: Object.fromEntries(table.map(([name, { query }]) => [name, query ?? nothing])) },
  bodies: { validators: bodies, records },
  forms: { validators: formSchemas },
};

for (const [group, exported] of Object.entries(groups)) {
  const ajv = new Ajv({
    allErrors: true,
    discriminator: true,
    // Whatever stands behind the question mark is text.
    ...(group === 'queries' ? { coerceTypes: true } : {}),
    strict: false,
    strictNumbers: true,
    // What is referred to is checked by a function of its own; written out wherever it is short, it makes half of the code.
    inlineRefs: false,
    code: { source: true, esm: true, lines: false },
  });
  addFormats(ajv);
  // Written once and referred to: written out wherever it is used, a unit alone makes megabytes of code.
  // Each is a schema of its own: a part of another is compiled again for every schema that refers to it.
  const { document, definitions } = hoist(structuredClone(exported), namedSchemas, 'shared-');
  for (const [name, schema] of Object.entries(definitions)) ajv.addSchema(schema as TSchema, `shared-${name}`);
  const ids: Record<string, string> = {};
  const lists = Object.entries(document as Record<string, Record<string, TSchema>>).map(([list, schemas]) => {
    const fields = Object.entries(schemas).map(([name, schema]) => {
      const id = `v${Object.keys(ids).length}`;
      ids[id] = `${list}-${name}`;
      ajv.addSchema(structuredClone(schema), ids[id]);
      return `${JSON.stringify(name)}: ${id}`;
    });
    return `export const ${list} = {${fields.join(', ')}};\n`;
  });
  // A document of a million wrong values makes millions of errors; nobody reads past the first hundred places.
  const code = standaloneCode(ajv, ids)
    // Nobody reads where in the schema a fault is.
    .replaceAll(/,schemaPath:"(?:[^"\\]|\\.)*"/g, '')
    .replaceAll(/const (err\d+) = \{/g, 'const $1 = vErrors!==null&&vErrors.length>=5000?null:{')
    .replaceAll(/vErrors\.push\((err\d+)\)/g, '($1!==null&&vErrors.push($1))')
    .replaceAll(/vErrors\.concat\((\w+\.errors)\)/g, '(vErrors.length>=5000?vErrors:vErrors.concat($1))')
    // A count that stood still would make a wrong branch of a choice look right.
    .replaceAll(/errors = vErrors\.length;/g, 'errors = vErrors.length>=5000?errors+1:vErrors.length;')
    // A list that has so many faults of its own is wrong already: what follows in it can't make it right.
    .replaceAll(/for\(let (i\d+)=0; \1<(len\d+); \1\+\+\)/g, 'for(let $1=0,$1e=errors; $1<$2&&errors-$1e<5000; $1++)');
  if (!code.includes('!==null&&vErrors.push(') || /for\(let i\d+=0;/.test(code))
    throw new Error('The validators are not written as they were: look at this limit again.');
  const entry = `${code}\n${lists.join('')}`;
  await build({
    stdin: { contents: entry, resolveDir: root, loader: 'js' },
    bundle: true,
    format: 'esm',
    platform: 'neutral',
    mainFields: ['main'],
    minify: true,
    outfile: `${out}/${group}.js`,
    logLevel: 'error',
  });
  const declared = Object.entries(exported).map(([list, schemas]) => declarationOf(list, group, Object.keys(schemas)));
  writeFileSync(`${out}/${group}.d.ts`, `${HEAD}${declared.join('')}`);
}
// Worked out here, not at the first request, which would hold up all others for half a second.
writeFileSync(`${out}/openapi.json`, JSON.stringify(openApi()));
writeFileSync(`${out}/rig.schema.json`, JSON.stringify(rigJsonSchema(), null, 2));
writeFileSync(
  `${out}/paths.js`,
  `export const paths = ${JSON.stringify(Object.fromEntries(table.map(([name, r]) => [name, [r.method.toUpperCase(), r.path]])))};\n`,
);
writeFileSync(
  `${out}/paths.d.ts`,
  `import type { RouteName } from '../schema/routes.ts';
/** Method and path of every route: all that the page's client needs of the table at run time. */
export declare const paths: Record<RouteName, readonly [method: string, path: string]>;
`,
);

/** Types of a list of validators: type guards where the schema's type has a name. */
function declarationOf(list: string, group: string, names: readonly string[]): string {
  const types: Record<string, string> = {
    unit: 'unit.ts Unit',
    newUnit: 'unit.ts NewUnit',
    rig: 'unit.ts Rig',
    newRig: 'unit.ts NewRig',
    newMonitor: 'monitor.ts NewMonitor',
    reading: 'reading.ts Reading',
    rigExport: 'exchange.ts RigExport',
    columnMapping: 'files.ts ColumnMappingInput',
  };
  const typeOf = (name: string): string => {
    const [file, type] = (list === 'records' ? (types[name] ?? '') : '').split(' ');
    if (type) return `import('../schema/${file}').${type}`;
    return group === 'bodies' ? `import('../schema/routes.ts').Body<${JSON.stringify(name)}>` : 'unknown';
  };
  return `export declare const ${list}: {
${names.map((n) => `  ${JSON.stringify(n)}: Validator<${typeOf(n)}>;`).join('\n')}
};
`;
}
