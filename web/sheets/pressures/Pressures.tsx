import { useEffect, useLayoutEffect, useMemo, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { limitsFor } from '#core/alarms/limits.ts';
import { FieldError } from '#core/errors.ts';
import { faultsOfCold } from '#core/pressure/axle.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { Setting } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { useRecords } from '../../data/queries.ts';
import { Field, Notice, SheetHead } from '../../parts/controls.tsx';
import { parseNumber, plainFigure, useFormat } from '../../parts/format.ts';
import { LoadSwitch } from '../../parts/LoadSwitch.tsx';
import { coldFaultWords, dayWords } from '../../parts/words-limits.ts';
import { dropDraft, keepDraft, readDraft } from '../../state/drafts.ts';
import { checkedBy } from '../../state/forms.ts';
import { asBefore, type Holder, withSettings } from '../../state/holders.ts';
import { type AxlePlan, usePlans } from '../../state/plans.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { AxleDetail } from './AxleDetail.tsx';
import { DayAndYear } from './DayAndYear.tsx';
import { NowNotCold } from './NowNotCold.tsx';

/** A row as it is typed. */
interface Row {
  cold: string;
  tempC: string;
}
interface Typed {
  rows: Row[];
  pressureUnit: PressureUnit;
  tempUnit: TempUnit;
}
interface Read {
  rows: ({ cold: number; tempC: number } | null)[];
}

const figures = (value: number, digits: number) => String(Number(value.toFixed(digits)));

/** The stored figure as text in a unit: to the letter as it was typed in that unit, else converted. */
function toRow(setting: Setting, unit: PressureUnit, temp: TempUnit): Row {
  const { cold } = setting;
  if (!cold) return { cold: '', tempC: '' };
  const digits = { psi: 1, bar: 2, kPa: 0 }[unit];
  return {
    cold: cold.typed?.unit === unit ? plainFigure(cold.typed.text) : figures(convert(cold.kpa, 'kPa', unit), digits),
    tempC: cold.typedTemp?.unit === temp ? cold.typedTemp.text : figures(convert(cold.tempC, 'C', temp), 0),
  };
}

/** Read the typed rows into SI, with what cannot be read. */
function readRows(typed: Typed): { value: Read; problems: FieldProblem[] } {
  const problems: FieldProblem[] = [];
  const rows = typed.rows.map((row, i) => {
    if (row.cold.trim() === '' && row.tempC.trim() === '') return null;
    const cold = parseNumber(row.cold);
    const temp = parseNumber(row.tempC);
    if (cold === null)
      problems.push({
        pointer: `/rows/${i}/cold`,
        detail: row.cold.trim() === '' ? 'Type the cold pressure' : 'Type a number, such as 65 or 2.4',
      });
    else if (cold <= 0) problems.push({ pointer: `/rows/${i}/cold`, detail: 'A cold pressure is over 0' });
    if (temp === null) {
      problems.push({
        pointer: `/rows/${i}/tempC`,
        detail:
          row.tempC.trim() === '' ? 'At which temperature was it set? Without it the figure means nothing.' : 'Type a number',
      });
    }
    if (cold === null || temp === null || cold <= 0) return null;
    return { cold: convert(cold, typed.pressureUnit, 'kPa'), tempC: typed.tempUnit === 'F' ? ((temp - 32) * 5) / 9 : temp };
  });
  return { value: { rows }, problems };
}

/** Outside of these a cold pressure is more often a slip of unit or digit than meant, kPa (assumed). */
const ODD_UNDER_KPA = 120;
const ODD_OVER_KPA = 900;

/** What is to be said beside a cold figure: whether it carries the load, and where the day takes it. */
function RowState({ plan, cold }: { plan: AxlePlan; cold: { cold: number; tempC: number } | null | undefined }) {
  const f = useFormat();
  const { minimum } = plan.facts;
  const fault = cold ? faultsOfCold(cold.cold, plan.facts)[0] : undefined;
  if (fault) return <b className="text-magenta">{coldFaultWords(fault, f)}</b>;
  const carries = minimum?.kpa
    ? `Carries its load from ${f.pressure(minimum.kpa)}${minimum.method === 'estimate' ? ', an estimate' : ''}. `
    : '';
  if (!cold)
    return (
      <>
        {carries ||
          (plan.first.place === 'S'
            ? 'A spare carries nothing until it is fitted: set it for the heaviest axle it may go to.'
            : 'Set both wheels of an axle to the same pressure, duals too.')}
      </>
    );
  return (
    <>
      {carries}
      {dayWords({ kpa: cold.cold, tempC: cold.tempC }, plan.day, f)}
    </>
  );
}

export default function Pressures() {
  const shown = useRig();
  // A unit with a system of its own has pressures all the same.
  const whole = useMemo(() => ({ ...shown, wheels: shown.allWheels }), [shown]);
  const { rig } = whole;
  const f = useFormat();
  const list = usePlans(whole);
  const { putUnits } = useRecords();
  const navigate = useNavigate();
  const [open, setOpen] = useState<string | null>(null);
  const draftKey = `pressures.${rig.id}.${rig.loadState}`;
  const stored = useMemo(
    (): Typed => ({ rows: list.map((h) => toRow(h.setting, f.unit, f.temp)), pressureUnit: f.unit, tempUnit: f.temp }),
    [list, f.unit, f.temp],
  );
  const [fromDraft, setFromDraft] = useState(false);
  /** The odd figures that the owner said are meant. */
  const [sure, setSure] = useState('');
  const form = useForm<Typed, unknown, Read>({
    defaultValues: stored,
    resolver: checkedBy(validators.pressures, readRows),
    mode: 'onBlur',
  });
  useWatch({ control: form.control });
  // Asked for as it is: what was put back before the first picture came before anything listened.
  const typed = form.getValues();
  const [, draw] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn again with what was put back
  useEffect(() => draw((n) => n + 1), [stored, draftKey]);
  const { errors, isDirty, isSubmitting } = form.formState;

  // Another load state, a change from elsewhere, or a switch of units: show it, but never over something typed.
  // Before the page is painted: what is typed into the first picture of it is kept too.
  useLayoutEffect(() => {
    const draft = readDraft<Typed>(draftKey);
    if (draft && draft.rows.length === stored.rows.length && JSON.stringify(draft.rows) !== JSON.stringify(stored.rows)) {
      const convertDraft = (row: Row, i: number): Row => {
        const cold = parseNumber(row.cold);
        const temp = parseNumber(row.tempC);
        const same = stored.rows[i];
        if (draft.pressureUnit === f.unit && draft.tempUnit === f.temp) return row;
        const digits = { psi: 1, bar: 2, kPa: 0 }[f.unit];
        return {
          cold:
            draft.pressureUnit === f.unit || cold === null
              ? row.cold
              : figures(convert(cold, draft.pressureUnit, f.unit), digits),
          tempC:
            draft.tempUnit === f.temp || temp === null || same === undefined
              ? row.tempC
              : figures(convert(temp, draft.tempUnit, f.temp), 0),
        };
      };
      form.reset(stored);
      draft.rows.map(convertDraft).forEach((row, i) => {
        form.setValue(`rows.${i}`, row, { shouldDirty: true });
      });
      form.setValue('pressureUnit', f.unit);
      form.setValue('tempUnit', f.temp);
      setFromDraft(true);
    } else {
      form.reset(stored);
      setFromDraft(false);
    }
  }, [stored, draftKey, form, f.unit, f.temp]);
  useLayoutEffect(() => {
    const subscription = form.watch((value, { type }) => {
      if (type === 'change') keepDraft(draftKey, value);
    });
    return () => subscription.unsubscribe();
  }, [form, draftKey]);

  const saveRows = async ({ rows }: Read): Promise<boolean> => {
    const now = form.getValues();
    const faults: { index: number; text: string }[] = [];
    const changed = (h: Holder): Setting | undefined => {
      const i = list.findIndex((other) => other.code === h.code);
      const row = rows[i];
      const text = now.rows[i];
      if (!row || !text) return undefined;
      const { cold: old, limits } = h.setting;
      const before = stored.rows[i];
      if (old && before && before.cold === text.cold && before.tempC === text.tempC) return undefined;
      const cold = {
        // A figure that was not touched keeps its exact value.
        kpa: old && before?.cold === text.cold ? old.kpa : row.cold,
        tempC: old && before?.tempC === text.tempC ? old.tempC : row.tempC,
        typed:
          old && before?.cold === text.cold && old.typed ? old.typed : { text: plainFigure(text.cold), unit: now.pressureUnit },
        typedTemp:
          old && before?.tempC === text.tempC && old.typedTemp ? old.typedTemp : { text: text.tempC.trim(), unit: now.tempUnit },
      };
      if (!limits) return { ...h.setting, cold };
      try {
        const { lowKpa, highKpa } = limitsFor(limits.rule, cold.kpa);
        const next = { ...h.setting, cold, limits: { ...limits, lowKpa, highKpa } };
        const { seasons } = h.setting;
        if (!seasons) return next;
        const season = { ...seasons[seasons.inForce], cold, limits: next.limits };
        return { ...next, seasons: { ...seasons, [seasons.inForce]: season } };
      } catch (error) {
        if (!(error instanceof FieldError)) throw error;
        faults.push({
          index: i,
          text: `The alarm rule of ${h.code} does not go with it: ${error.message}. Change the rule first.`,
        });
        return undefined;
      }
    };
    const before = whole.units;
    const units = withSettings(whole, rig.loadState, changed);
    if (faults.length > 0) {
      for (const { index, text } of faults) form.setError(`rows.${index}.cold`, { message: text });
      return false;
    }
    try {
      dropDraft(draftKey);
      const saved = await putUnits(units);
      toast(units.length === 0 ? 'Nothing changed.' : 'Pressures saved.', {
        ...(units.length > 0
          ? {
              undo: () => putUnits(asBefore(before, saved)).then(() => undefined, toastError),
            }
          : {}),
      });
      return true;
    } catch (error) {
      // What was typed stays in the form, also where another unit was saved before this one failed.
      keepDraft(draftKey, now);
      now.rows.forEach((row, i) => {
        form.setValue(`rows.${i}`, row, { shouldDirty: true });
      });
      toastError(error);
      return false;
    }
  };
  const save = form.handleSubmit(saveRows);
  const saveAndGoOn = form.handleSubmit(async (read) => {
    if (await saveRows(read)) navigate(`/rigs/${rig.id}/alarms`);
  });

  /** Put a figure into an axle's cold field: it is saved with the others, so that it can still be changed. */
  const take = (i: number, text: string) => {
    form.setValue(`rows.${i}.cold`, text, { shouldDirty: true, shouldValidate: form.formState.isSubmitted });
    keepDraft(draftKey, form.getValues());
    form.setFocus(`rows.${i}.cold`);
  };
  // A figure that no road tire carries its load on must not be saved by a slip of the finger.
  const odd = list.flatMap((h, i) => {
    const row = typed.rows?.[i];
    const cold = row && row.cold !== stored.rows[i]?.cold ? parseNumber(row.cold ?? '') : null;
    const kpa = cold === null || cold <= 0 ? null : convert(cold, f.unit, 'kPa');
    return kpa !== null && (kpa < ODD_UNDER_KPA || kpa > ODD_OVER_KPA) ? [`${h.code} ${row?.cold?.trim()} ${f.unit}`] : [];
  });
  // Neither must one that cannot carry its load, or that tire or rim are not made for.
  const wrong = list.flatMap((h, i) => {
    const row = typed.rows?.[i];
    const cold = row && row.cold !== stored.rows[i]?.cold ? parseNumber(row.cold ?? '') : null;
    if (cold === null || cold <= 0) return [];
    return faultsOfCold(convert(cold, f.unit, 'kPa'), h.facts).map((fault) => `${h.code}: ${coldFaultWords(fault, f)}`);
  });
  const oddText = [...odd, ...wrong].join(', ');
  const missing = list.filter((h) => !h.setting.cold).length;
  /** A temperature that was said once is meant for the others too: a figure typed beside it gets it, to be seen and changed. */
  const fillAlong = () => void setTimeout(fillNow, 0);
  const fillNow = () => {
    const rows = form.getValues('rows');
    const first = rows.find((r) => r.cold.trim() !== '' && parseNumber(r.tempC) !== null)?.tempC.trim();
    if (first === undefined) return;
    const bareTemps = rows.flatMap((r, i) => (parseNumber(r.cold) !== null && r.tempC.trim() === '' ? [i] : []));
    if (bareTemps.length === 0) return;
    for (const i of bareTemps)
      form.setValue(`rows.${i}.tempC`, first, { shouldDirty: true, shouldValidate: form.formState.isSubmitted });
    // Whoever is in such a field by now types over it.
    const here = document.activeElement;
    if (here instanceof HTMLInputElement && here.name.endsWith('.tempC') && here.value === first) here.select();
    keepDraft(draftKey, form.getValues());
  };
  // Further axles of a unit and its spare mostly get what its axle before has.
  const alike = whole.units.flatMap((unit) => {
    const own = list.flatMap((h, i) => (h.first.unit.id === unit.id ? [i] : []));
    const empty = own.filter((i) => (typed.rows?.[i]?.cold ?? '').trim() === '');
    const from = own.filter((i) => i < (empty[0] ?? 0) && parseNumber(typed.rows?.[i]?.cold ?? '') !== null).at(-1);
    return from === undefined || empty.length === 0 ? [] : [{ from, to: empty.filter((i) => i > from) }];
  });
  const takeOver = ({ from, to }: { from: number; to: number[] }) => {
    const row = form.getValues(`rows.${from}`);
    for (const i of to) form.setValue(`rows.${i}`, { ...row }, { shouldDirty: true, shouldValidate: form.formState.isSubmitted });
    keepDraft(draftKey, form.getValues());
  };
  const codes = (rows: readonly number[]) => rows.map((i) => list[i]?.code).join(' and ');
  // On the way through the first time the limits come next.
  const complete = (typed.rows ?? []).every((r) => (r?.cold ?? '').trim() !== '') && list.some((h) => !h.setting.limits);
  return (
    <>
      <SheetHead title="Pressures" aside={<LoadSwitch />}>
        The cold pressure of each axle and the temperature it was set at. Cold means not driven for three hours, or less than
        about a mile. Take it from the placard, or for a loaded rig from the tire maker’s load table.
      </SheetHead>
      {fromDraft && (
        <p className="mb-3 border-l-4 border-ink pl-3 text-body">
          What you typed before and did not save is back.{' '}
          <button
            type="button"
            className="underline underline-offset-3"
            onClick={() => {
              dropDraft(draftKey);
              form.reset(stored);
              setFromDraft(false);
            }}
          >
            Show the saved figures instead
          </button>
        </p>
      )}
      <form onSubmit={save} noValidate>
        <ul className="border-t border-ink">
          {list.map((h, i) => {
            const row = typed.rows?.[i];
            const read = row
              ? readRows({ rows: [{ cold: row.cold ?? '', tempC: row.tempC ?? '' }], pressureUnit: f.unit, tempUnit: f.temp })
              : null;
            const value = read?.problems.length === 0 ? read.value.rows[0] : null;
            const error = errors.rows?.[i] as { cold?: { message?: string }; tempC?: { message?: string } } | undefined;
            return (
              <li key={h.code} className="border-b border-rule">
                <div className="grid grid-cols-2 items-start gap-x-4 gap-y-2 py-3 lg:grid-cols-[180px_170px_170px_minmax(0,1fr)_auto] lg:gap-x-6">
                  <div className="max-lg:col-span-2 lg:pt-5">
                    <span className="figure text-title leading-none font-bold">{h.code}</span>
                    <span className="ml-2 text-body text-ink2">
                      {h.name}, {h.wheels === 1 ? '1 wheel' : `${h.wheels} wheels`}
                    </span>
                  </div>
                  <Field
                    label={`${h.code} cold`}
                    inputMode="decimal"
                    unit={f.unit}
                    error={error?.cold?.message}
                    {...form.register(`rows.${i}.cold`, { onBlur: fillAlong })}
                  />
                  <Field
                    label={`${h.code} set at`}
                    inputMode="text"
                    unit={`°${f.temp}`}
                    error={error?.tempC?.message}
                    {...form.register(`rows.${i}.tempC`, { onBlur: fillAlong })}
                  />
                  <p className="text-note text-ink2 max-lg:col-span-2 lg:pt-5">
                    <RowState plan={h} cold={value} />
                  </p>
                  <button
                    type="button"
                    className="btn btn-small max-lg:col-span-2 lg:mt-5"
                    aria-expanded={open === h.code}
                    onClick={() => setOpen(open === h.code ? null : h.code)}
                  >
                    {open === h.code ? 'Close' : 'Load and tire'}
                  </button>
                </div>
                {open === h.code && <AxleDetail plan={h} loadState={rig.loadState} onTake={(text) => take(i, text)} />}
              </li>
            );
          })}
        </ul>
        {oddText !== '' && (
          <div className="mt-3 max-w-[72ch]">
            <Notice tone="act">
              {odd.length > 0 && (
                <p>
                  <b>{odd.join(', ')}: very unusual for a road tire.</b> Is the unit right, and the decimal sign? Too little air
                  cannot carry the load, too much can burst the tire.
                </p>
              )}
              {wrong.map((text) => (
                <p key={text}>
                  <b>{text}</b>
                </p>
              ))}
              <label className="mt-2 flex items-center gap-2">
                <input
                  type="checkbox"
                  className="size-[18px] accent-ink"
                  checked={sure === oddText}
                  onChange={(e) => setSure(e.target.checked ? oddText : '')}
                />
                I mean it
              </label>
            </Notice>
          </div>
        )}
        {alike.length > 0 && (
          <p className="mt-3 flex flex-wrap gap-2">
            {alike.map((a) => (
              <button key={a.from} type="button" className="btn" onClick={() => takeOver(a)}>
                {codes(a.to)} the same as {codes([a.from])}
              </button>
            ))}
          </p>
        )}
        <div className="next-step">
          <button
            type="submit"
            className={`btn ${complete ? '' : 'btn-solid'}`}
            disabled={isSubmitting || !isDirty || (oddText !== '' && sure !== oddText)}
          >
            Save pressures
          </button>
          {complete && isDirty && (
            <button
              type="button"
              className="btn btn-solid"
              disabled={isSubmitting || (oddText !== '' && sure !== oddText)}
              onClick={() => void saveAndGoOn()}
            >
              Save, next: alarms
            </button>
          )}
          {isDirty ? (
            <span className="text-body">Not saved yet</span>
          ) : missing > 0 ? (
            <span className="text-body text-ink2">
              {missing === 1 ? 'One axle has none yet' : `${missing} axles have none yet`}
            </span>
          ) : (
            <Link className="btn btn-solid" to={`/rigs/${rig.id}/alarms`}>
              Next: alarms
            </Link>
          )}
        </div>
      </form>
      <NowNotCold plans={list} />
      <DayAndYear />
      <div className="mt-6 max-w-[72ch]">
        <Notice>
          <b>Set pressures cold, and never bleed a hot road tire to the cold figure.</b> The sidewall maximum is a cold figure
          too: a hot tire above it is normal. The placard and the tire maker’s table come before anything here.
        </Notice>
      </div>
    </>
  );
}
