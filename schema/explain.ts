import { LOCAL_POSITION_PATTERN, POSITION_PATTERN, SENSOR_ID_PATTERN } from './common.ts';
import type { FieldProblem } from './problem.ts';

/** The part of an Ajv error that is read here. */
export interface ValidatorError {
  keyword: string;
  instancePath: string;
  message?: string;
  params: Record<string, unknown>;
}

const patterns: Record<string, string> = {
  [SENSOR_ID_PATTERN]: 'must be six hexadecimal digits (0 to 9, A to F); FFFFFF means an open position, not a sensor',
  [POSITION_PATTERN]: 'must be a position code such as A1L, A2RO, B1C or BS1',
  [LOCAL_POSITION_PATTERN]: 'must be a position code of the unit such as 1L, 2RO, 1C or S1',
  '\\S': 'must not be blank',
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
      return { pointer: at, detail: `must be ${JSON.stringify(p.allowedValue)}` };
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
        detail: `is the same as number ${Number(p.j) + 1}: each may stand here once only`,
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

/**
 * Turn a validator's errors into field problems: one for each field, choices (`anyOf`) told as the list of what may stand there.
 */
export function explain(errors: readonly ValidatorError[] | null | undefined): FieldProblem[] {
  const list = errors ?? [];
  const choices = list.filter((e) => e.keyword === 'anyOf');
  const byPointer = new Map<string, FieldProblem>();
  for (const choice of choices) {
    const inside = list.filter((e) => e !== choice && e.keyword !== 'anyOf' && e.instancePath === choice.instancePath);
    const deeper = list.some((e) => e.instancePath.startsWith(`${choice.instancePath}/`));
    if (deeper) continue;
    const literals = inside.filter((e) => e.keyword === 'const').map((e) => String(e.params.allowedValue));
    const others = inside.filter((e) => e.keyword !== 'const' && !(e.keyword === 'type' && e.params.type === 'null'));
    const detail =
      literals.length > 0 ? `must be one of ${literals.join(', ')}` : others[0] ? explainOne(others[0]).detail : 'is not right';
    byPointer.set(choice.instancePath, { pointer: choice.instancePath, detail });
  }
  for (const error of list) {
    if (error.keyword === 'anyOf' || error.keyword === 'oneOf') continue;
    const told = explainOne(error);
    if (byPointer.has(told.pointer)) continue;
    // An error about null inside a "value or null" choice is not the owner's concern.
    if (error.keyword === 'type' && error.params.type === 'null') continue;
    byPointer.set(told.pointer, told);
  }
  return [...byPointer.values()];
}
