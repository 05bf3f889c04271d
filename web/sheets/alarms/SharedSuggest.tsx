import { useMemo } from 'react';
import { bestShared, type GroupMember, type SharedPair } from '#core/alarms/group-suggest.ts';
import { keyingGroups } from '#core/alarms/keying.ts';
import { limitsFor } from '#core/alarms/limits.ts';
import { FieldError } from '#core/errors.ts';
import type { Monitor } from '#schema/monitor.ts';
import { type Format, useFormat } from '../../parts/format.ts';
import { verdictNames } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';
import { gridOf } from './gridOf.ts';

/** What an axle's own rule gives, as far as it gives a low. */
function memberOf(h: AxlePlan): GroupMember | null {
  const { cold, limits } = h.setting;
  if (!cold || !h.day || !limits) return null;
  try {
    const { lowKpa, highKpa } = limitsFor(limits.rule, cold.kpa);
    if (lowKpa === null) return null;
    return {
      axle: h.code,
      spirit: { lowKpa, highKpa },
      question: {
        coldKpa: cold.kpa,
        coldTempC: cold.tempC,
        loadMinimumKpa: h.facts.minimum?.kpa ?? 0,
        coldestC: h.day.coldestC,
        runningC: h.day.runningC,
        altitudeSetM: h.day.altitudeSetM,
        passM: h.day.passM,
      },
    };
  } catch (error) {
    if (!(error instanceof FieldError)) throw error;
    return null;
  }
}

/** Said of a low far under cold where the load is unknown: then no verdict does. */
function lateWords(h: AxlePlan, lowKpa: number, f: Format): string[] {
  const cold = h.setting.cold?.kpa;
  return cold !== undefined && !h.facts.minimum && lowKpa < cold * 0.75
    ? [`${h.code} rings only after losing ${f.pressure(cold - lowKpa)}, and its load is unknown`]
    : [];
}

/** Where axles share one pair on the monitor: the pair that is best for all of them at once, and what it gives up. */
export function SharedSuggest({
  monitor,
  plans,
  onTake,
}: {
  monitor: Monitor;
  plans: readonly AxlePlan[];
  onTake: (axles: readonly string[], pair: SharedPair) => void;
}) {
  const f = useFormat();
  const found = useMemo(() => {
    if (monitor.groups === 'baseline') return [];
    const groups = keyingGroups(
      monitor.groups,
      plans.map((h) => ({ axle: h.code, unitKind: h.first.unit.kind, wheels: h.wheels })),
    );
    return groups.flatMap((g) => {
      const members = g.axles.flatMap((code) => memberOf(plans.find((h) => h.code === code) as AxlePlan) ?? []);
      if (members.length < 2) return [];
      const pair = bestShared(members, gridOf(monitor, f.unit));
      return pair ? [{ axles: members.map((m) => m.axle), pair }] : [];
    });
  }, [monitor, plans, f.unit]);
  if (found.length === 0) return null;
  return (
    <section aria-label="Shared pairs" className="mt-4 max-w-[80ch] text-body">
      {found.map(({ axles, pair }) => {
        const given = pair.broken.flatMap((b) => [
          ...(b.ringsAlways ? [`${b.axle} rings for ever`] : []),
          ...b.verdicts.map((v) => `${b.axle}: ${verdictNames[v]}`),
          ...lateWords(plans.find((h) => h.code === b.axle) as AxlePlan, pair.lowKpa, f),
        ]);
        const now = plans.find((h) => h.code === axles[0])?.setting.limits;
        const same = axles.every((code) => {
          const own = plans.find((h) => h.code === code)?.setting.limits;
          return own && own.lowKpa === now?.lowKpa && own.highKpa === now?.highKpa;
        });
        const inForce = same && now?.lowKpa === pair.lowKpa && now?.highKpa === pair.highKpa;
        return (
          <div key={axles.join()} className="border-t border-ink py-2">
            <p>
              <b>
                Best shared pair for {axles.join(' and ')}: low {f.pressure(pair.lowKpa)}
                {pair.highKpa === null ? '' : `, high ${f.pressure(pair.highKpa)}`}.
              </b>{' '}
              {given.length === 0 ? 'It meets every requirement.' : `It gives up: ${given.join('; ')}.`}
            </p>
            {inForce ? (
              <p className="text-ink2">These are the limits in force.</p>
            ) : (
              <button type="button" className="btn btn-small mt-1" onClick={() => onTake(axles, pair)}>
                Use it for {axles.join(' and ')}
              </button>
            )}
          </div>
        );
      })}
    </section>
  );
}
