import { DEFAULT_HOT_C, type LimitPair, limitsFor } from '#core/alarms/limits.ts';
import { FieldError } from '#core/errors.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { AlarmRule, Limits } from '#schema/unit.ts';
import { type Format, parseNumber } from '../../parts/format.ts';
import { LATE_SHARE, type Parameter, type School, schools } from './schools.ts';

/** The rule as it is typed: every parameter as text, in the unit on the screen or in per cent. */
export interface Typed {
  school: School;
  hotClimate: boolean;
  values: Partial<Record<Parameter['key'], string>>;
  hot: string;
}
export interface Read {
  rule: AlarmRule;
  hotC: number;
}

export const textOf = (p: Parameter, value: number, f: Format) =>
  p.kind === 'share'
    ? String(Number((value * 100).toFixed(1)))
    : String(Number(convert(value, 'kPa', f.unit).toFixed(f.unit === 'bar' ? 3 : 1)));

/** @param usual the school that is proposed where there are no limits yet */
export function toTyped(limits: Limits | undefined, f: Format, usual: School = 'share'): Typed {
  const rule: Record<string, unknown> = limits?.rule ?? { school: usual };
  const values: Typed['values'] = {};
  for (const s of schools) {
    for (const p of s.parameters) {
      const stored = s.school === rule.school ? rule[p.key] : undefined;
      if (typeof stored === 'number') values[p.key] = textOf(p, stored, f);
    }
  }
  return {
    school: rule.school as School,
    hotClimate: rule.hotClimate === true,
    values,
    hot: String(Number(convert(limits?.hotC ?? DEFAULT_HOT_C, 'C', f.temp).toFixed(0))),
  };
}

/** A rule as it was typed, with the units it was typed in. */
export interface Draft {
  typed: Typed;
  pressure: PressureUnit;
  temp: TempUnit;
}

/** A draft in the units on the screen now. */
export function inUnits({ typed, pressure, temp }: Draft, f: Format): Typed {
  if (pressure === f.unit && temp === f.temp) return typed;
  const values = { ...typed.values };
  // A figure that two schools share stands in both lists and is converted once.
  const once = new Map(schools.flatMap((s) => s.parameters).map((p) => [p.key, p]));
  for (const p of once.values()) {
    const n = parseNumber(values[p.key] ?? '');
    if (p.kind === 'pressure' && n !== null) values[p.key] = textOf(p, convert(n, pressure, 'kPa'), f);
  }
  const hot = parseNumber(typed.hot);
  return { ...typed, values, hot: hot === null ? typed.hot : String(Math.round(convert(hot, temp, f.temp))) };
}

export function readRule(typed: Typed, f: Format): { value: Read; problems: FieldProblem[] } {
  const problems: FieldProblem[] = [];
  const rule: Record<string, unknown> = { school: typed.school };
  if (typed.school === 'share' && typed.hotClimate) rule.hotClimate = true;
  for (const p of schools.find((s) => s.school === typed.school)?.parameters ?? []) {
    const text = typed.values[p.key] ?? '';
    if (text.trim() === '') {
      if (p.usual === null) problems.push({ pointer: `/values/${p.key}`, detail: 'Type it: this rule needs it' });
      continue;
    }
    const n = parseNumber(text);
    if (n === null) problems.push({ pointer: `/values/${p.key}`, detail: 'Type a number' });
    else if (p.kind === 'share' && (n <= 0 || n >= (p.key === 'lowShare' ? 100 : 200)))
      problems.push({ pointer: `/values/${p.key}`, detail: `Between 0 and ${p.key === 'lowShare' ? 100 : 200} %` });
    else if (p.kind === 'pressure' && n <= 0 && p.usual !== 0) problems.push({ pointer: `/values/${p.key}`, detail: 'Over 0' });
    else if (n !== 0) rule[p.key] = p.kind === 'share' ? n / 100 : convert(n, f.unit, 'kPa');
  }
  const hot = parseNumber(typed.hot);
  const hotC = hot === null ? Number.NaN : f.temp === 'F' ? ((hot - 32) * 5) / 9 : hot;
  if (!(hotC >= 30 && hotC <= 150))
    problems.push({ pointer: '/hot', detail: `Between ${f.temperature(30)} and ${f.temperature(150)}` });
  return { value: { rule: rule as AlarmRule, hotC }, problems };
}

/** What a rule gives, or why it cannot. */
export function attempt(rule: AlarmRule, coldKpa: number | undefined): LimitPair | string {
  if (coldKpa === undefined) return 'set a cold pressure first';
  try {
    return limitsFor(rule, coldKpa);
  } catch (error) {
    if (error instanceof FieldError) return error.message;
    throw error;
  }
}

/** A low alarm so far under cold that the tire may be past carrying its load when it rings. */
export const isLate = ({ lowKpa }: LimitPair, coldKpa: number | undefined): boolean =>
  lowKpa !== null && coldKpa !== undefined && lowKpa < coldKpa * (1 - LATE_SHARE) - 1e-6;

export function span({ lowKpa, highKpa }: LimitPair, f: Format): string {
  if (lowKpa === null) return highKpa === null ? 'its own' : `to ${f.figure(highKpa)}`;
  return highKpa === null ? `${f.figure(lowKpa)} and up` : `${f.figure(lowKpa)} to ${f.figure(highKpa)}`;
}

/** A limit as a share of cold, with decimals enough to come back to the same figure. */
const shareText = (kpa: number, coldKpa: number) => String(Number((Math.abs(1 - kpa / coldKpa) * 100).toFixed(5)));
const exactText = (kpa: number, f: Format) => String(Number(convert(kpa, 'kPa', f.unit).toFixed(4)));

/**
 * Limits of the owner's own as a rule: a floor and a ceiling, or a low alone where there is no high.
 * @param before the rule they come from: its temperature limit and the figures of other schools stay
 */
export function ownFigures(before: Typed, pair: { lowKpa: number; highKpa: number | null }, coldKpa: number, f: Format): Typed {
  if (pair.highKpa === null)
    return { ...before, school: 'lowOnly', values: { ...before.values, lowShare: shareText(pair.lowKpa, coldKpa) } };
  return {
    ...before,
    school: 'floorCeiling',
    values: { ...before.values, floorKpa: exactText(pair.lowKpa, f), ceilingKpa: exactText(pair.highKpa, f) },
  };
}
