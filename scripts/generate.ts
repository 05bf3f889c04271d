// Compiles the schemas to stand-alone validators: the page's content policy forbids `new Function`, and the command starts faster.
import { mkdirSync, writeFileSync } from 'node:fs';
import type { TSchema } from '@sinclair/typebox';
import { Ajv } from 'ajv';
import standalone from 'ajv/dist/standalone/index.js';
import formats from 'ajv-formats';
import { build } from 'esbuild';
import {
  AnswerRequest,
  RepeaterRequest,
  ReplayRequest,
  RestRequest,
  SilenceRequest,
  TopUpRequest,
  TypedRound,
} from '../schema/alarm.ts';
import { BenchCommand } from '../schema/bench.ts';
import { RigExport } from '../schema/exchange.ts';
import { ColumnMappingSchema } from '../schema/files.ts';
import { formSchemas } from '../schema/forms.ts';
import { NewMonitor } from '../schema/monitor.ts';
import { operationSchemas } from '../schema/operations.ts';
import { Reading } from '../schema/reading.ts';
import { NewRig, NewUnit, Rig, Unit } from '../schema/unit.ts';

// Both are CommonJS: under Node the function sits on `default`, for the compiler it is the import itself.
const unwrap = <T>(m: T): T => (m as { default?: T }).default ?? m;
const standaloneCode = unwrap(standalone);
const addFormats = unwrap(formats);

const root = new URL('..', import.meta.url).pathname;
const out = `${root}generated`;
mkdirSync(out, { recursive: true });

const groups: Record<string, Record<string, TSchema>> = {
  calc: Object.fromEntries(Object.entries(operationSchemas).map(([name, o]) => [name, o.input])),
  records: {
    unit: Unit,
    newUnit: NewUnit,
    rig: Rig,
    newRig: NewRig,
    newMonitor: NewMonitor,
    reading: Reading,
    rigExport: RigExport,
    benchCommand: BenchCommand,
    silence: SilenceRequest,
    rest: RestRequest,
    topUp: TopUpRequest,
    answer: AnswerRequest,
    typedRound: TypedRound,
    repeater: RepeaterRequest,
    replay: ReplayRequest,
    columnMapping: ColumnMappingSchema,
  },
  forms: formSchemas,
};

for (const [group, schemas] of Object.entries(groups)) {
  const ajv = new Ajv({
    allErrors: true,
    discriminator: true,
    strict: false,
    strictNumbers: true,
    code: { source: true, esm: true, lines: false },
  });
  addFormats(ajv);
  const ids: Record<string, string> = {};
  Object.entries(schemas).forEach(([name, schema], i) => {
    ids[`v${i}`] = name;
    ajv.addSchema(schema, name);
  });
  // A document of a million wrong values makes millions of errors; nobody reads past the first hundred places.
  const code = standaloneCode(ajv, ids)
    .replaceAll(/const (err\d+) = \{/g, 'const $1 = vErrors!==null&&vErrors.length>=5000?null:{')
    .replaceAll(/vErrors\.push\((err\d+)\)/g, '($1!==null&&vErrors.push($1))');
  if (!code.includes('!==null&&vErrors.push('))
    throw new Error('The validators are not written as they were: look at this limit again.');
  const names = JSON.stringify(Object.values(ids));
  const entry = `${code}\nexport const validators = Object.fromEntries(${names}.map((n, i) => [n, [${Object.keys(ids).join(',')}][i]]));\n`;
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
  writeFileSync(
    `${out}/${group}.d.ts`,
    `import type { ValidatorError } from '../schema/explain.ts';
export interface Validator { (data: unknown): boolean; errors?: ValidatorError[] | null }
export declare const validators: Record<${Object.keys(schemas)
      .map((n) => JSON.stringify(n))
      .join(' | ')}, Validator>;
`,
  );
}
