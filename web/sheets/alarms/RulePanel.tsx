import type { UseFormReturn } from 'react-hook-form';
import { Link } from 'react-router';
import { type Card, hotHeld } from '#core/alarms/card.ts';
import { judgeHot } from '#core/alarms/judge.ts';
import type { LimitPair } from '#core/alarms/limits.ts';
import { KPA_PER_PSI } from '#core/units/units.ts';
import type { Monitor } from '#schema/monitor.ts';
import { Field, Notice } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { reasonWords } from '../../parts/words.ts';
import { shownFigure } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';
import { RangAt } from './RangAt.tsx';
import { attempt, type Read, readRule, span, type Typed, textOf } from './ruleText.ts';
import { schools, USELESS_HOT_C } from './schools.ts';

/** 15 psi either side belongs to tires of 50 psi and more (common practice, no source). */
const MARGIN_FROM_KPA = 50 * KPA_PER_PSI;

/** The rule of one axle: the schools with what each gives here, and the chosen one's figures. */
export function RulePanel({
  plan,
  form,
  typed,
  hotC,
  trial,
  pair,
  consent,
  sure,
  onSure,
  monitor,
  card,
}: {
  plan: AxlePlan;
  form: UseFormReturn<Typed, unknown, Read>;
  typed: Typed;
  hotC: number;
  trial: LimitPair | string | null;
  pair: LimitPair | null;
  /** What must be said yes to before this rule is put in force; null when nothing. */
  consent: string | null;
  sure: boolean;
  onSure: (sure: boolean) => void;
  monitor: Monitor | null;
  card: Card | null;
}) {
  const f = useFormat();
  const coldKpa = plan.setting.cold?.kpa;
  const chosen = schools.find((s) => s.school === typed.school);
  const errors = form.formState.errors as { values?: Record<string, { message?: string }>; hot?: { message?: string } };
  const kind = plan.first.wheel.sensor?.kind ?? 'cap';
  const hot = plan.day && Number.isFinite(hotC) ? judgeHot(hotC, kind, plan.day.hottestC, plan.day.runningC) : null;
  const caution =
    chosen?.school === 'margin' && coldKpa !== undefined && coldKpa >= MARGIN_FROM_KPA - 1e-6 ? undefined : chosen?.caution;
  const derived = card?.derived[plan.code];
  if (coldKpa === undefined) return null;
  return (
    <>
      <fieldset>
        <legend className="sr-only">School</legend>
        {schools.map((s) => {
          const usual = readRule({ ...typed, school: s.school }, f);
          const gives = usual.problems.some((p) => p.pointer.startsWith('/values')) ? null : attempt(usual.value.rule, coldKpa);
          return (
            <label key={s.school} className="flex cursor-pointer gap-3 border-b border-rule py-[7px]">
              <input
                type="radio"
                value={s.school}
                className="mt-1 size-[18px] shrink-0 accent-ink"
                {...form.register('school')}
              />
              <span className="grow">
                <span className="flex items-baseline justify-between gap-2">
                  <span className="font-semibold">{s.title}</span>
                  <span className="figure text-body font-semibold whitespace-nowrap">
                    {gives === null ? '' : typeof gives === 'string' ? 'not here' : span(gives, f)}
                  </span>
                </span>
                <span className="block text-note text-ink2">{s.about}</span>
              </span>
            </label>
          );
        })}
      </fieldset>
      <div className="mt-3 flex flex-col gap-3">
        {chosen && chosen.parameters.length > 0 && (
          <div className="grid grid-cols-2 gap-3">
            {chosen.parameters.map((p) => (
              <Field
                key={`${chosen.school} ${p.key}`}
                label={p.label}
                unit={p.kind === 'share' ? '%' : f.unit}
                inputMode="decimal"
                placeholder={p.usual === null ? '' : textOf(p, p.key === 'highShare' && typed.hotClimate ? 0.25 : p.usual, f)}
                error={errors.values?.[p.key]?.message}
                {...form.register(`values.${p.key}`)}
              />
            ))}
          </div>
        )}
        {typed.school === 'share' && (
          <label className="flex items-center gap-2 text-body">
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
            hotC > USELESS_HOT_C
              ? `Tires fail at about ${f.temperature(77)} to ${f.temperature(93)}: this limit would sound after that.`
              : hot?.verdict === 'sleeping-hot'
                ? `It would sound too late: by then the air inside is at about ${f.temperature(hot.gasWhenRingsC)}. ${f.temperature(Math.floor(hot.limitForFailingC))} would sound at ${f.temperature(77)} inside. Schools differ: “pressure tells, temperature does not” and “temperature is the better sign”.`
                : hot?.verdict === 'nuisance-hot'
                  ? `An ordinary run shows ${f.temperature(hot.ordinaryShownC)}: that would be a false alarm.`
                  : `${f.temperature(70)} is the usual preset. A sensor outside the tire shows about half of the gas’s rise: watch the difference between wheels too.`
          }
          {...form.register('hot')}
        />
        {monitor && Number.isFinite(hotC) && (
          <p className="text-note text-ink2">
            {monitor.presetHotC === null
              ? 'This monitor has no temperature limit: only Druckwerk watches it.'
              : `On this monitor: ${hotHeld(monitor, hotC)} °${monitor.tempUnit ?? 'C'}, one for all wheels${monitor.hotMin !== undefined && monitor.hotMax !== undefined ? ` (it takes ${monitor.hotMin} to ${monitor.hotMax})` : ''}.`}
          </p>
        )}
        {typeof trial === 'string' && <p className="error">This rule {trial}.</p>}
        {caution && <Notice>{caution}</Notice>}
        {typed.school === 'baseline' && monitor && (
          <p className="text-body">
            {monitor.groups !== 'baseline'
              ? 'The rig’s monitor takes limits of its own and derives none: pick another rule, or it stays at its presets.'
              : derived
                ? `Keyed ${shownFigure(card?.afterwards[card.groups.find((g) => g.axles.includes(plan.code))?.group ?? '']?.baseline ?? null, monitor)}, it alarms below ${derived.low.toFixed(1)}${derived.high === null ? '' : ` and over ${derived.high.toFixed(1)}`} ${monitor.unit}, by its own rule.`
                : 'What this monitor makes of its baseline is unknown. Let a little air out once and see when it alarms. Then note it here.'}
          </p>
        )}
        {typed.school === 'baseline' && monitor?.groups === 'baseline' && <RangAt monitor={monitor} />}
        {pair && (
          <p className="text-body">
            {pair.why.map((r) => (
              <span key={r.field} className="block">
                {r.field === 'low' ? 'Low' : 'High'}: {reasonWords(r, f)}
              </span>
            ))}
          </p>
        )}
        {consent && (
          <Notice tone="act">
            <b>{consent}</b> A factory monitor must warn at 25 % under cold.
            <label className="mt-2 flex items-center gap-2">
              <input
                type="checkbox"
                className="size-[18px] accent-ink"
                checked={sure}
                onChange={(e) => onSure(e.target.checked)}
              />
              I have held it against the tire maker’s load table
            </label>
          </Notice>
        )}
      </div>
    </>
  );
}

/** Said where an axle has no cold pressure. */
export function NoCold({ plan, rigId }: { plan: AxlePlan; rigId: string }) {
  return (
    <p className="mt-3">
      {plan.code} has no cold pressure yet.{' '}
      <Link className="underline underline-offset-3" to={`/rigs/${rigId}/pressures`}>
        Set it first
      </Link>
      .
    </p>
  );
}
