import { LOCAL_POSITION_PATTERN, POSITION_PATTERN, SENSOR_ID_PATTERN, SENSOR_KEY_PATTERN } from './common.ts';
import type { FieldProblem } from './problem.ts';

/** The part of an Ajv error that is read here. */
export interface ValidatorError {
  keyword: string;
  instancePath: string;
  message?: string;
  params: Record<string, unknown>;
}

const sixDigits = 'must be six hexadecimal digits (0 to 9, A to F); FFFFFF means an open position, not a sensor';

const patterns: Record<string, string> = {
  [SENSOR_ID_PATTERN]: sixDigits,
  [SENSOR_KEY_PATTERN]: sixDigits,
  [POSITION_PATTERN]: 'must be a position code such as A1L, A2RO, B1C or BS1',
  [LOCAL_POSITION_PATTERN]: 'must be a position code of the unit such as 1L, 2RO, 1C or S1',
  '\\S': 'must not be blank',
};

const constants: Record<string, string> = {
  'druckwerk-rig': 'must be "druckwerk-rig": this is another kind of file',
};

const escapePointer = (name: string) => name.replaceAll('~', '~0').replaceAll('/', '~1');

/** Turn one Ajv error into a pointer at the field in question and a plain sentence. */
function explainOne(error: ValidatorError): FieldProblem {
  const at = error.instancePath;
  const p = error.params;
  switch (error.keyword) {
    case 'additionalProperties':
      return { pointer: `${at}/${escapePointer(String(p.additionalProperty))}`, detail: 'is not a field of this record' };
    case 'required':
      return { pointer: `${at}/${escapePointer(String(p.missingProperty))}`, detail: 'is missing' };
    case 'discriminator':
      return { pointer: `${at}/${escapePointer(String(p.tag))}`, detail: 'is missing or not one of the known kinds' };
    case 'type':
      return { pointer: at, detail: `must be ${articled(String(p.type))}` };
    case 'pattern':
      return { pointer: at, detail: patterns[String(p.pattern)] ?? 'is not in the form it needs' };
    case 'format':
      return {
        pointer: at,
        detail:
          p.format === 'date-time'
            ? 'must be a time such as 2026-05-01T08:00:00Z'
            : p.format === 'date'
              ? 'must be a day such as 2026-05-01'
              : `must be a ${String(p.format)}`,
      };
    case 'const':
      return {
        pointer: at,
        detail:
          constants[String(p.allowedValue)] ??
          (at === '/version' ? `this program reads version ${p.allowedValue}` : `must be ${JSON.stringify(p.allowedValue)}`),
      };
    case 'minimum':
      return { pointer: at, detail: Number(p.limit) === 0 ? 'must not be negative' : `must be at least ${p.limit}` };
    case 'maximum':
      return { pointer: at, detail: `must be at most ${p.limit}` };
    case 'exclusiveMinimum':
      return { pointer: at, detail: `must be over ${p.limit}` };
    case 'exclusiveMaximum':
      return { pointer: at, detail: `must be under ${p.limit}` };
    case 'minItems':
      return { pointer: at, detail: Number(p.limit) === 1 ? 'must hold at least one' : `must hold at least ${p.limit}` };
    case 'maxItems':
      return { pointer: at, detail: `must hold at most ${p.limit}` };
    case 'uniqueItems':
      return {
        pointer: `${at}/${String(p.i)}`,
        detail: `is the same as number ${Number(p.j) + 1}: each may appear only once`,
      };
    case 'minLength':
      return { pointer: at, detail: 'must not be empty' };
    case 'maxLength':
      return { pointer: at, detail: `must be at most ${p.limit} characters` };
    default:
      return { pointer: at, detail: error.message ?? 'is not right' };
  }
}

const articled = (type: string) =>
  type === 'object' ? 'an object' : type === 'array' ? 'a list' : type === 'integer' ? 'a whole number' : `a ${type}`;

/** So many faults are named; whoever sent more gets the first. */
export const MOST_FAULTS = 100;

/** Every place that has an error below it. */
function placesWithErrorsBelow(list: readonly ValidatorError[]): Set<string> {
  const places = new Set<string>();
  for (const { instancePath } of list) {
    for (let at = instancePath.lastIndexOf('/'); at >= 0; at = instancePath.lastIndexOf('/', at - 1)) {
      const place = instancePath.slice(0, at);
      if (places.has(place)) break;
      places.add(place);
      if (at === 0) break;
    }
  }
  return places;
}

/** What a choice (`anyOf`) may be, from the errors at its place. */
function choiceDetail(inside: readonly ValidatorError[]): string {
  const literals = inside.filter((e) => e.keyword === 'const').map((e) => String(e.params.allowedValue));
  if (literals.length > 0) return `must be one of ${literals.join(', ')}`;
  const other = inside.find((e) => !(e.keyword === 'type' && e.params.type === 'null'));
  return other ? explainOne(other).detail : 'is not right';
}

/**
 * Field problems from a validator's errors: one for each field, at most `MOST_FAULTS`. A choice (`anyOf`) is explained as the list of
 * what is allowed there. One pass over the errors, however many there are.
 */
export function explain(errors: readonly (ValidatorError | undefined)[] | null | undefined): FieldProblem[] {
  const list = (errors ?? []).filter((e) => e !== undefined);
  const below = placesWithErrorsBelow(list);
  const atChoice = new Map<string, ValidatorError[]>();
  for (const e of list) if (e.keyword === 'anyOf' && !below.has(e.instancePath)) atChoice.set(e.instancePath, []);
  for (const e of list) if (e.keyword !== 'anyOf') atChoice.get(e.instancePath)?.push(e);
  const byPointer = new Map<string, FieldProblem>();
  for (const [pointer, inside] of atChoice) {
    if (byPointer.size >= MOST_FAULTS) break;
    byPointer.set(pointer, { pointer, detail: choiceDetail(inside) });
  }
  for (const error of list) {
    if (byPointer.size >= MOST_FAULTS) break;
    if (error.keyword === 'anyOf' || error.keyword === 'oneOf') continue;
    const problem = explainOne(error);
    if (byPointer.has(problem.pointer)) continue;
    // An error about null in a choice of a value or null says nothing to whoever sent it.
    if (error.keyword === 'type' && error.params.type === 'null') continue;
    byPointer.set(problem.pointer, problem);
  }
  return [...byPointer.values()];
}
