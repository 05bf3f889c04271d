import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { limitsFor } from '#core/alarms/limits.ts';
import { unpackDays } from '#core/climate/daily.ts';
import { FieldError } from '#core/errors.ts';
import { riseForShare } from '#core/pressure/hot-run.ts';
import { crossingC, type SeasonOutlook, seasonOutlook } from '#core/season/outlook.ts';
import { bestResets } from '#core/season/resets.ts';
import { type Winter, wintersOf } from '#core/season/winters.ts';
import type { AlarmRule, Cold } from '#schema/unit.ts';
import { useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { LOCALE } from '../../parts/locale.ts';
import { Wide } from '../../parts/Wide.tsx';
import { usePlans } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';

interface Row {
  code: string;
  cold: Cold;
  /** Null: no low limit. */
  low: {
    lowKpa: number;
    outlook: SeasonOutlook;
    crossC: number;
    winters: Winter[];
    resets: ReturnType<typeof bestResets>;
  } | null;
}

/** Whose low limits are looked at. */
const RULES: readonly { value: string; text: string; rule: AlarmRule | null }[] = [
  { value: 'yours', text: 'Your limits', rule: null },
  { value: 'share', text: 'A share of normal, 10 % under', rule: { school: 'share' } },
  { value: 'margin', text: 'A fixed margin, 15 psi under', rule: { school: 'margin' } },
  { value: 'regulation', text: 'As a factory monitor, 25 % under', rule: { school: 'regulation' } },
];

const monthAndDay = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'long', timeZone: 'UTC' });
/** `15 October` of `10-15`. */
const monthDay = (md: string) => monthAndDay.format(Date.parse(`2026-${md}`));
const round = (n: number) => (n === 0 ? '0' : n < 0.95 ? n.toFixed(1) : String(Math.round(n)));

const day = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const date = (iso: string) => day.format(Date.parse(iso));

/** When each axle's cold start comes to its low limit in a year of days, and what to set it to before that. */
export function SeasonPart() {
  const whole = useRig();
  const { rig } = whole;
  const f = useFormat();
  const plans = usePlans(whole);
  const [chosen, setChosen] = useState('yours');
  const days = useMemo(() => (rig.climate?.days ? unpackDays(rig.climate.days) : []), [rig.climate]);
  const rule = RULES.find((r) => r.value === chosen)?.rule ?? null;
  const rows = useMemo(
    () =>
      days.length === 0
        ? []
        : plans.flatMap((p): Row[] => {
            const { cold, limits } = p.setting;
            if (!cold || p.first.place === 'S') return [];
            let lowKpa: number | null = limits?.lowKpa ?? null;
            let highKpa: number | null = limits?.highKpa ?? null;
            if (rule) {
              try {
                ({ lowKpa, highKpa } = limitsFor(rule, cold.kpa));
              } catch (e) {
                if (!(e instanceof FieldError)) throw e;
                lowKpa = null;
                highKpa = null;
              }
            }
            if (lowKpa === null) return [{ code: p.code, cold, low: null }];
            const at = { coldKpa: cold.kpa, coldTempC: cold.tempC, lowKpa, altitudeM: rig.climate?.altitudeSetM ?? 0 };
            const outlook = seasonOutlook({ ...at, days });
            return [
              {
                code: p.code,
                cold,
                low: {
                  lowKpa,
                  outlook,
                  crossC: crossingC(cold.kpa, cold.tempC, lowKpa, at.altitudeM),
                  winters: wintersOf(outlook.nights),
                  resets: bestResets({
                    ...at,
                    highKpa,
                    // Without a learned figure 10 % more on the move (common practice, no source).
                    riseK: riseForShare(cold.kpa, cold.tempC, p.day?.hotShare ?? 0.1),
                    days,
                  }),
                },
              },
            ];
          }),
    [days, plans, rule, rig.climate],
  );
  if (days.length === 0)
    return (
      <p className="max-w-[64ch]">
        This needs a year of days:{' '}
        <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pressures`}>
          read a weather file on Pressures, or make a typical year there
        </Link>
        .
      </p>
    );
  if (rows.length === 0) return <p>Set a cold pressure first.</p>;
  const years = days.length / 365.25;
  return (
    <section aria-label="Season">
      <div className="field mb-4 max-w-[340px]">
        <label htmlFor="season-rule">Low limits</label>
        <select id="season-rule" className="input" value={chosen} onChange={(e) => setChosen(e.target.value)}>
          {RULES.map((r) => (
            <option key={r.value} value={r.value}>
              {r.text}
            </option>
          ))}
        </select>
      </div>
      <Wide label="Cold starts by axle">
        <table className="sheet-table">
          <caption className="pb-2 text-left text-body text-ink2">
            {days.length.toLocaleString('en-GB')} days of {rig.climate?.days?.source}, each as a cold start at its minimum
          </caption>
          <HeadRow
            names={[
              'Axle',
              'Cold, set at',
              'Low limit',
              'At it from',
              'Nights a year',
              'Winters: first to last night',
              'Set before winter',
            ]}
          />
          <tbody className="narrow">
            {rows.map(({ code, cold, low }) => (
              <tr key={code}>
                <th scope="row" className="border-b-rule! font-semibold text-ink!">
                  {code}
                </th>
                <td className="whitespace-nowrap">
                  {f.exact(cold.kpa, cold.typed)}, {f.temperature(cold.tempC)}
                </td>
                {low === null ? (
                  <td colSpan={5}>no low limit</td>
                ) : (
                  <>
                    <td className="whitespace-nowrap">{f.pressure(low.lowKpa)}</td>
                    <td className="whitespace-nowrap">{f.temperature(low.crossC)} down</td>
                    <td className="figure text-body font-semibold">
                      {low.outlook.nights.length === 0 ? '0' : (low.outlook.nights.length / years).toFixed(1)}
                    </td>
                    <td>
                      {low.winters.length === 0
                        ? 'none'
                        : low.winters
                            .slice(-3)
                            .map((w) => (w.first === w.last ? date(w.first) : `${date(w.first)} to ${date(w.last)}`))
                            .join('; ')}
                    </td>
                    <td className="whitespace-nowrap">
                      {low.outlook.nights.length === 0
                        ? 'as it is'
                        : `over ${f.pressure(low.outlook.resetKpa)} at ${f.temperature(cold.tempC)}`}
                    </td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
      {rows.some((r) => r.low !== null && r.low.resets.best.resets.length > 0) ? (
        <>
          <Wide label="Best days to reset" className="mt-6">
            <table className="sheet-table">
              <caption className="pb-2 text-left text-body font-bold">Best days to reset the cold pressure</caption>
              <HeadRow names={['Axle', 'Reset on', 'To', 'Nights low, days high a year', 'As it is now']} />
              <tbody className="narrow">
                {rows.map(({ code, cold, low }) => {
                  if (low === null) return null;
                  const { asIs, best } = low.resets;
                  const count = (r: typeof best) => `${round(r.lowNights)} and ${round(r.highDays)}`;
                  return (
                    <tr key={code}>
                      <th scope="row" className="border-b-rule! font-semibold text-ink!">
                        {code}
                      </th>
                      <td>
                        {best.resets.length === 0
                          ? 'no reset needed'
                          : best.resets.map((r) => `${monthDay(r.day)}, at about ${f.temperature(r.airC)}`).join('; ')}
                      </td>
                      <td className="whitespace-nowrap">
                        {best.resets.length === 0 ? '–' : `${f.exact(cold.kpa, cold.typed)} on that morning`}
                      </td>
                      <td className="figure text-body font-semibold">{count(best)}</td>
                      <td>{count(asIs)}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </Wide>
          <p className="mt-3 max-w-[72ch] text-body">
            Set cold, before the first drive of that day, with a gauge, and the limits stay as they are. Every pair of weeks was
            tried on these days. A hot run counts as high where the afternoon’s air and an ordinary drive take it to the high
            limit.
          </p>
          <p className="mt-3 max-w-[72ch] text-body">
            To set only once, set the pressure of the upper table before the first of those nights, cold and with a gauge, and let
            it out again in spring. It must stay under the maximum on the sidewall. A monitor with fixed limits rings on these
            nights although no air is lost; Druckwerk’s watch notes them as weather.
          </p>
        </>
      ) : (
        <p className="mt-4 max-w-[72ch] text-body">
          {rows.some((r) => (r.low?.outlook.nights.length ?? 0) > 0)
            ? 'No other day to set them does better on these days.'
            : 'No reset is needed: on none of these days does a cold start come to its low limit or a run to its high one.'}
        </p>
      )}
    </section>
  );
}
