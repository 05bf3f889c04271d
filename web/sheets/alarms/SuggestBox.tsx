import { useEffect, useMemo, useState } from 'react';
import type { Grid } from '#core/alarms/grid.ts';
import { type Compromise, type Pair, suggest } from '#core/alarms/suggest.ts';
import { unpackDays } from '#core/climate/daily.ts';
import { seasonAir } from '#core/climate/year.ts';
import type { AlarmRule, Climate } from '#schema/unit.ts';
import { Notice } from '../../parts/controls.tsx';
import { useFormat } from '../../parts/format.ts';
import { compromiseWords, suggestionWords } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';

const WINTER = [10, 11, 0, 1, 2];

/** A value once it has stood still for a moment: a search need not run for every step of a drag. */
function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), 120);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/** Limits that meet the most requirements, and the trade-offs where none meets all. */
export function SuggestBox({
  plan,
  rule,
  grid,
  climate,
  onTake,
  onSeasons,
  onRule,
}: {
  plan: AxlePlan;
  rule: AlarmRule;
  grid: Grid;
  climate: Climate;
  onTake: (pair: Pair) => void;
  onSeasons: (c: Extract<Compromise, { kind: 'seasonal' }>) => void;
  onRule: (rule: AlarmRule) => void;
}) {
  const f = useFormat();
  const now = useSettled(useMemo(() => ({ plan, rule, grid, climate }), [plan, rule, grid, climate]));
  const { days } = climate;
  const seasons = useMemo(() => {
    if (!days) return undefined;
    const own = unpackDays(days);
    const winter = seasonAir(own, 'winter', WINTER);
    const summer = seasonAir(
      own,
      'summer',
      [3, 4, 5, 6, 7, 8, 9].filter((m) => !WINTER.includes(m)),
    );
    return winter && summer ? [winter, summer] : undefined;
  }, [days]);
  const suggestion = useMemo(() => {
    const { cold } = now.plan.setting;
    const { day } = now.plan;
    if (!cold || !day) return null;
    return suggest(
      {
        coldKpa: cold.kpa,
        coldTempC: cold.tempC,
        loadMinimumKpa: now.plan.facts.minimum?.kpa ?? 0,
        coldestC: day.coldestC,
        runningC: day.runningC,
        altitudeSetM: day.altitudeSetM,
        passM: day.passM,
      },
      now.grid,
      now.rule,
      { hottestC: day.hottestC, hotShare: day.hotShare, seasons },
    );
  }, [now, seasons]);
  if (!suggestion) return null;
  const take = (pair: Pair, label: string) => (
    <button type="button" className="btn btn-small" onClick={() => onTake(pair)}>
      {label}
    </button>
  );
  const figures = (p: Pair) => `${f.figure(p.lowKpa)}${p.highKpa === null ? '' : ` to ${f.figure(p.highKpa)}`}`;
  if (suggestion.satisfied) {
    return (
      <div className="text-body">
        <p>
          <b>Suggested.</b> {suggestionWords(suggestion, f)}
        </p>
        <p className="mt-2">{take(suggestion.best, `Take ${figures(suggestion.best)}`)}</p>
      </div>
    );
  }
  return (
    <Notice>
      <p>
        <b>A trade-off is needed.</b> {suggestionWords(suggestion, f)}
      </p>
      <p className="mt-2">{take(suggestion.best, `Take ${figures(suggestion.best)}`)}</p>
      <ul className="mt-2">
        {suggestion.compromises.map((c) => {
          const { title, text } = compromiseWords(c, f);
          return (
            <li key={c.kind} className="border-t border-rule py-2">
              <b>{title}.</b> {text}
              <span className="mt-1 block">
                {c.kind === 'seasonal' && (
                  <button type="button" className="btn btn-small" onClick={() => onSeasons(c)}>
                    Use limits by season
                  </button>
                )}
                {c.kind === 'otherSchool' && (
                  <button type="button" className="btn btn-small" onClick={() => onRule(c.rule)}>
                    Try this rule
                  </button>
                )}
                {c.kind === 'otherTradeOff' && take(c.found, `Take ${figures(c.found)}`)}
              </span>
            </li>
          );
        })}
      </ul>
    </Notice>
  );
}
