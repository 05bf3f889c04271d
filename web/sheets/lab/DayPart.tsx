import { useEffect, useState } from 'react';
import type { DayTrace, LabQuestion, RingDay } from '#core/lab/compare.ts';
import type { LabRule } from '#core/lab/fixed.ts';
import { useFormat } from '../../parts/format.ts';
import { LOCALE } from '../../parts/locale.ts';
import { DayChart } from './DayChart.tsx';
import { nameOf } from './words.ts';

const day = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', timeZone: 'UTC' });
const clock = new Intl.DateTimeFormat(LOCALE, { hour: '2-digit', minute: '2-digit', timeZone: 'UTC' });

/** The days on which a rule alarmed for nothing, one after the other. */
export function DayPart({
  question,
  rules,
  days,
  again,
}: {
  question: LabQuestion;
  rules: readonly LabRule[];
  days: readonly (readonly RingDay[])[];
  again: (rule: LabRule, day: RingDay) => Promise<DayTrace>;
}) {
  const f = useFormat();
  const [name, setName] = useState(rules[0]?.name ?? '');
  const [index, setIndex] = useState(0);
  const [shown, setShown] = useState<{ key: string; trace: DayTrace } | null>(null);
  const at = Math.max(
    0,
    rules.findIndex((r) => r.name === name),
  );
  const rule = rules[at];
  const list = days[at] ?? [];
  const one = list[Math.min(index, list.length - 1)];
  const key = one ? `${name} ${one.draw} ${one.day} ${question.seed}` : '';
  useEffect(() => {
    if (!rule || !one) return;
    let live = true;
    void again(rule, one).then((trace) => live && setShown({ key, trace }));
    return () => {
      live = false;
    };
  }, [rule, one, key, again]);
  const trace = shown?.key === key ? shown.trace : null;
  const first = trace?.rings[0];
  const position = first ? (question.rig.wheels[first.wheel]?.position ?? '') : '';
  const cold = list.filter((d) => d.minC < question.rig.setC - 10).length;
  const date = one ? question.days[one.day]?.date : undefined;
  return (
    <section aria-label="A day with a false alarm">
      <h2 className="mb-2 border-b border-ink pb-1">A day with a false alarm</h2>
      <div className="field">
        <label htmlFor="lab-day-rule">Of which rule</label>
        <select
          id="lab-day-rule"
          className="input"
          value={rule?.name}
          onChange={(e) => {
            setName(e.target.value);
            setIndex(0);
          }}
        >
          {rules.map((r) => (
            <option key={r.name} value={r.name}>
              {nameOf(r.name)}
            </option>
          ))}
        </select>
      </div>
      {!one ? (
        <p className="mt-2">On none of these days does this rule raise a false alarm.</p>
      ) : (
        <>
          <p className="mt-2 text-body">
            {list.length >= 400 ? 'Of the first 400' : `Of ${list.length}`} days with false alarms, {cold} have a night more than{' '}
            {f.difference(10)} colder than when the pressures were set.
          </p>
          <p className="mt-1 min-h-[44px] text-body">
            <span className="font-semibold">{date ? day.format(Date.parse(date)) : ''}</span>, {f.temperature(one.minC)} to{' '}
            {f.temperature(one.maxC)}, {one.rings} {one.rings === 1 ? 'alarm' : 'alarms'}.{' '}
            {first &&
              (first.kind === 'hot'
                ? `${position} reads ${f.temperature(first.value)} at ${clock.format(first.ms)}.`
                : `${position} reads ${f.pressure(first.value)} at ${clock.format(first.ms)}, in air of ${f.temperature(first.airC)}.`)}
          </p>
          {trace && first && rule ? (
            <DayChart trace={trace} rule={rule} wheel={first.wheel} position={position} />
          ) : (
            <div className="h-[180px]" />
          )}
          <p className="mt-2 flex items-center gap-2">
            <button type="button" className="btn btn-small" disabled={index === 0} onClick={() => setIndex(index - 1)}>
              Day before
            </button>
            <button
              type="button"
              className="btn btn-small"
              disabled={index >= list.length - 1}
              onClick={() => setIndex(index + 1)}
            >
              Next day
            </button>
            <span className="text-body text-ink2">
              {Math.min(index, list.length - 1) + 1} of {list.length}
            </span>
          </p>
        </>
      )}
    </section>
  );
}
