import { useEffect, useMemo, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import { DEFAULT_HOT_C, type LimitPair, limitsFor } from '#core/alarms/limits.ts';
import { FieldError } from '#core/errors.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { AlarmRule, Limits, Unit } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { useRig } from '../../app/useRig.ts';
import { dropDraft, keepDraft, readDraft } from '../../data/drafts.ts';
import { checkedBy } from '../../data/forms.ts';
import { holders, withSettings } from '../../data/holders.ts';
import { useRecords } from '../../data/queries.ts';
import { Field, Notice, SheetHead } from '../../parts/controls.tsx';
import { type Format, parseNumber, useFormat } from '../../parts/format.ts';
import { Ladder } from '../../parts/Ladder.tsx';
import { LoadSwitch } from '../../parts/LoadSwitch.tsx';
import { toast, toastError } from '../../parts/toast.ts';
import { reasonWords } from '../../parts/words.ts';
import { LATE_SHARE, type Parameter, type School, schools, USELESS_HOT_C } from './schools.ts';

/** The rule as it is typed: every parameter as text, in the unit on the screen or in per cent. */
interface Typed {
  school: School;
  hotClimate: boolean;
  values: Partial<Record<Parameter['key'], string>>;
  hot: string;
}
interface Read {
  rule: AlarmRule;
  hotC: number;
}

const textOf = (p: Parameter, value: number, f: Format) =>
  p.kind === 'share'
    ? String(Number((value * 100).toFixed(1)))
    : String(Number(convert(value, 'kPa', f.unit).toFixed(f.unit === 'bar' ? 3 : 1)));

function toTyped(limits: Limits | undefined, f: Format): Typed {
  const rule: Record<string, unknown> = limits?.rule ?? { school: 'share' };
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
interface Draft {
  typed: Typed;
  pressure: PressureUnit;
  temp: TempUnit;
}

/** A draft in the units on the screen now. */
function inUnits({ typed, pressure, temp }: Draft, f: Format): Typed {
  if (pressure === f.unit && temp === f.temp) return typed;
  const values = { ...typed.values };
  for (const p of schools.flatMap((s) => s.parameters)) {
    const n = parseNumber(values[p.key] ?? '');
    if (p.kind === 'pressure' && n !== null) values[p.key] = textOf(p, convert(n, pressure, 'kPa'), f);
  }
  const hot = parseNumber(typed.hot);
  return { ...typed, values, hot: hot === null ? typed.hot : String(Math.round(convert(hot, temp, f.temp))) };
}

function readRule(typed: Typed, f: Format): { value: Read; problems: FieldProblem[] } {
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
function attempt(rule: AlarmRule, coldKpa: number | undefined): LimitPair | string {
  if (coldKpa === undefined) return 'set a cold pressure first';
  try {
    return limitsFor(rule, coldKpa);
  } catch (error) {
    if (error instanceof FieldError) return error.message;
    throw error;
  }
}

/** A low alarm so far under cold that the tire may be past carrying its load when it rings. */
const isLate = ({ lowKpa }: LimitPair, coldKpa: number | undefined): boolean =>
  lowKpa !== null && coldKpa !== undefined && lowKpa < coldKpa * (1 - LATE_SHARE) - 1e-6;

function span({ lowKpa, highKpa }: LimitPair, f: Format): string {
  if (lowKpa === null) return highKpa === null ? 'its own' : `to ${f.figure(highKpa)}`;
  return highKpa === null ? `${f.figure(lowKpa)} and up` : `${f.figure(lowKpa)} to ${f.figure(highKpa)}`;
}

export default function Alarms() {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const list = useMemo(() => holders(whole), [whole]);
  const { putUnit } = useRecords();
  const [code, setCode] = useState(() => list.find((h) => !h.setting.limits)?.code ?? list[0]?.code ?? '');
  const current = list.find((h) => h.code === code) ?? list[0];
  const stored = useMemo(() => toTyped(current?.setting.limits, f), [current, f]);
  const form = useForm<Typed, unknown, Read>({
    defaultValues: stored,
    resolver: checkedBy(validators.rule, (typed: Typed) => readRule(typed, f)),
    mode: 'onChange',
  });
  const draftOf = (c: string) => `alarms.${rig.id}.${rig.loadState}.${c}`;
  const draftKey = draftOf(current?.code ?? '');
  // A rule that was typed and not put in force yet is kept for its axle, whatever is looked at meanwhile.
  useEffect(() => {
    const draft = readDraft<Draft>(draftKey);
    form.reset(stored);
    if (draft)
      for (const name of ['school', 'hotClimate', 'values', 'hot'] as const)
        form.setValue(name, inUnits(draft, f)[name], { shouldDirty: true });
  }, [stored, form, draftKey, f]);
  useEffect(() => {
    const subscription = form.watch((value, { type }) => {
      if (type === 'change') keepDraft(draftKey, { typed: value, pressure: f.unit, temp: f.temp });
    });
    return () => subscription.unsubscribe();
  }, [form, draftKey, f]);
  const typed = useWatch({ control: form.control }) as Typed;
  const [sure, setSure] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a consent holds for one axle and one rule
  useEffect(() => setSure(false), [code, JSON.stringify(typed)]);

  const coldKpa = current?.setting.cold?.kpa;
  const read = useMemo(() => readRule(typed, f), [typed, f]);
  const trial = read.problems.length > 0 ? null : attempt(read.value.rule, coldKpa);
  const pair = trial !== null && typeof trial !== 'string' ? trial : null;
  const chosen = schools.find((s) => s.school === typed.school);
  const late = pair !== null && isLate(pair, coldKpa);
  const errors = form.formState.errors as { values?: Record<string, { message?: string }>; hot?: { message?: string } };

  /** What the rule would give on every axle that has a cold pressure; null as soon as one of them cannot take it. */
  const everywhere = useMemo(() => {
    const able = list.filter((h) => h.setting.cold);
    if (read.problems.length > 0 || able.length < 2) return null;
    const pairs = able.map((h) => attempt(read.value.rule, h.setting.cold?.kpa));
    const tooLate = pairs.some((p, i) => typeof p !== 'string' && isLate(p, able[i]?.setting.cold?.kpa));
    return pairs.some((p) => typeof p === 'string') || tooLate ? null : able.map((h) => h.code);
  }, [list, read]);

  /** Put the rule in force on some axles; each gets the limits of its own cold pressure. */
  const put = async ({ rule, hotC }: Read, codes: readonly string[]) => {
    const before = whole.units;
    const units = withSettings(whole, rig.loadState, (h) => {
      if (!codes.includes(h.code)) return undefined;
      const result = attempt(rule, h.setting.cold?.kpa);
      return typeof result === 'string'
        ? undefined
        : { ...h.setting, limits: { rule, hotC, lowKpa: result.lowKpa, highKpa: result.highKpa } };
    });
    const saved: Unit[] = [];
    const draft: Draft = { typed: form.getValues(), pressure: f.unit, temp: f.temp };
    for (const c of codes) dropDraft(draftOf(c));
    try {
      for (const unit of units) saved.push(await putUnit(unit));
    } catch (error) {
      keepDraft(draftKey, draft);
      toastError(error);
    }
    if (saved.length === 0) return;
    const text =
      codes.length === 1 && pair
        ? `${codes[0]} rings at ${span(pair, f)} ${f.unit}.`
        : `The rule is in force on ${codes.join(', ')}.`;
    toast(text, {
      undo: async () => {
        for (const unit of saved) {
          const old = before.find((u) => u.id === unit.id);
          if (old) await putUnit({ ...old, version: unit.version }).catch(toastError);
        }
      },
    });
    const next = list.find((h) => !codes.includes(h.code) && !h.setting.limits && h.setting.cold);
    if (next) setCode(next.code);
  };
  const use = form.handleSubmit((value) => (current ? put(value, [current.code]) : undefined));
  const putEverywhere = form.handleSubmit((value) => (everywhere ? put(value, everywhere) : undefined));

  const preview = list.map((h) => {
    const shown = h.code === current?.code && pair ? pair : h.setting.limits;
    return {
      code: h.code,
      name: h.name,
      coldKpa: h.setting.cold?.kpa ?? null,
      coldTempC: h.setting.cold?.tempC ?? null,
      coldText: h.setting.cold ? f.exact(h.setting.cold.kpa, h.setting.cold.typed).replace(` ${f.unit}`, '') : '',
      lowKpa: shown?.lowKpa ?? null,
      highKpa: shown?.highKpa ?? null,
    };
  });
  const without = list.filter((h) => !h.setting.limits);
  return (
    <>
      <SheetHead title="Alarms" aside={<LoadSwitch />}>
        Each axle as a ladder: the cold figure, where an ordinary run takes it, and where the alarm rings. Select an axle, pick a
        rule.
      </SheetHead>
      <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_352px]">
        <div className="min-w-0">
          <Ladder axles={preview} selected={current?.code ?? ''} onSelect={setCode} />
          <p className="mt-2 max-w-[80ch] text-[13px] text-ink2">
            “Hot run” is about where an ordinary highway run takes it, the gas {f.difference(25)} warmer than it was set (common
            practice, no source). How much your tires must carry and how cold your mornings get is not known here: hold the low
            alarm against the tire maker’s load table yourself.
          </p>
          <table className="sheet-table mt-4">
            <caption className="pb-2 text-left text-[16px] font-bold">Limits in force, {rig.loadState}</caption>
            <thead>
              <tr>
                <th scope="col">Axle</th>
                <th scope="col">Cold</th>
                <th scope="col">Low</th>
                <th scope="col">High</th>
                <th scope="col">Hot</th>
                <th scope="col" className="max-md:hidden">
                  Why
                </th>
              </tr>
            </thead>
            <tbody>
              {list.map((h) => {
                const { cold, limits } = h.setting;
                const why = limits && cold ? attempt(limits.rule, cold.kpa) : null;
                return (
                  <tr key={h.code}>
                    <td className="font-semibold">{h.code}</td>
                    <td className="narrow whitespace-nowrap">{cold ? f.exact(cold.kpa, cold.typed) : 'not set'}</td>
                    <td className="narrow font-semibold whitespace-nowrap">
                      {limits ? (limits.lowKpa === null ? 'none' : f.pressure(limits.lowKpa)) : 'no rule'}
                    </td>
                    <td className="narrow font-semibold whitespace-nowrap">
                      {limits ? (limits.highKpa === null ? 'none' : f.pressure(limits.highKpa)) : ''}
                    </td>
                    <td className="narrow whitespace-nowrap">{limits ? f.temperature(limits.hotC) : ''}</td>
                    <td className="text-[13px] text-ink2 max-md:hidden">
                      {why !== null && typeof why !== 'string'
                        ? [...new Set(why.why.map((r) => reasonWords(r, f)))].join('; ')
                        : ''}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {without.length === 0 && (
            <p className="mt-5">
              <Link className="btn btn-solid" to={`/rigs/${rig.id}/pairing`}>
                Next: pairing
              </Link>
            </p>
          )}
        </div>
        {current && (
          <form onSubmit={use} noValidate aria-label={`Rule for ${current.code}`}>
            <h2 className="border-b border-ink pb-2">
              Rule for {current.code}, {current.name}
            </h2>
            {coldKpa === undefined ? (
              <p className="mt-3">
                {current.code} has no cold pressure yet.{' '}
                <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pressures`}>
                  Set it first
                </Link>
                .
              </p>
            ) : (
              <fieldset>
                <legend className="sr-only">School</legend>
                {schools.map((s) => {
                  const usual = readRule({ ...typed, school: s.school }, f);
                  const gives = usual.problems.some((p) => p.pointer.startsWith('/values'))
                    ? null
                    : attempt(usual.value.rule, coldKpa);
                  return (
                    <label key={s.school} className="flex cursor-pointer gap-3 border-b border-rule py-[9px]">
                      <input
                        type="radio"
                        value={s.school}
                        className="mt-1 size-[18px] shrink-0 accent-ink"
                        {...form.register('school')}
                      />
                      <span className="grow">
                        <span className="flex items-baseline justify-between gap-2">
                          <span className="font-semibold">{s.title}</span>
                          <span className="figure text-[16px] font-semibold whitespace-nowrap">
                            {gives === null ? '' : typeof gives === 'string' ? 'not here' : span(gives, f)}
                          </span>
                        </span>
                        <span className="block text-[13.5px] text-ink2">{s.about}</span>
                      </span>
                    </label>
                  );
                })}
              </fieldset>
            )}
            {coldKpa !== undefined && (
              <div className="mt-3 flex flex-col gap-3">
                {chosen && chosen.parameters.length > 0 && (
                  <div className="grid grid-cols-2 gap-3">
                    {chosen.parameters.map((p) => (
                      <Field
                        key={`${chosen.school} ${p.key}`}
                        label={p.label}
                        unit={p.kind === 'share' ? '%' : f.unit}
                        inputMode="decimal"
                        placeholder={
                          p.usual === null ? '' : textOf(p, p.key === 'highShare' && typed.hotClimate ? 0.25 : p.usual, f)
                        }
                        error={errors.values?.[p.key]?.message}
                        {...form.register(`values.${p.key}`)}
                      />
                    ))}
                  </div>
                )}
                {typed.school === 'share' && (
                  <label className="flex items-center gap-2 text-[14px]">
                    <input type="checkbox" className="size-[18px] accent-ink" {...form.register('hotClimate')} />
                    Hot climate: 25 % over instead of 20 %
                  </label>
                )}
                <Field
                  label="Hot, on the sensor"
                  unit={`°${f.temp}`}
                  inputMode="decimal"
                  error={errors.hot?.message}
                  hint={
                    read.value.hotC > USELESS_HOT_C
                      ? `Tires fail at about ${f.temperature(77)} to ${f.temperature(93)}: this limit would ring after that.`
                      : `${f.temperature(70)} is the usual preset. A sensor outside the tire shows about half of the gas’s rise, so it hardly ever rings: watch the difference between wheels too.`
                  }
                  {...form.register('hot')}
                />
                {typeof trial === 'string' && <p className="error">This rule {trial}.</p>}
                {chosen?.caution && <Notice>{chosen.caution}</Notice>}
                {pair && (
                  <p className="text-[14px]">
                    {pair.why.map((r) => (
                      <span key={r.field} className="block">
                        {r.field === 'low' ? 'Low' : 'High'}: {reasonWords(r, f)}
                      </span>
                    ))}
                  </p>
                )}
                {late && (
                  <Notice tone="act">
                    <b>
                      Low is {Math.round((1 - (pair?.lowKpa ?? 0) / coldKpa) * 100)} % under cold: when it rings, the tire may
                      already be unable to carry its load.
                    </b>{' '}
                    A factory monitor must warn at 25 %.
                    <label className="mt-2 flex items-center gap-2">
                      <input
                        type="checkbox"
                        className="size-[18px] accent-ink"
                        checked={sure}
                        onChange={(e) => setSure(e.target.checked)}
                      />
                      I have held it against the tire maker’s load table
                    </label>
                  </Notice>
                )}
                <div className="flex flex-wrap items-center gap-2">
                  <button
                    type="submit"
                    className="btn btn-solid"
                    disabled={pair === null || (late && !sure) || form.formState.isSubmitting}
                  >
                    Use for {current.code}
                  </button>
                  {everywhere && without.length > 1 && (
                    <button type="button" className="btn" onClick={() => void putEverywhere()}>
                      Use for all {everywhere.length}
                    </button>
                  )}
                  {form.formState.isDirty && current.setting.limits && <span className="text-[14px]">Not in force yet</span>}
                </div>
              </div>
            )}
          </form>
        )}
      </div>
    </>
  );
}
