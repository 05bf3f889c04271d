import { proxy, wrap } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Grid } from '#core/alarms/grid.ts';
import { rigKeyed } from '#core/alarms/keyed.ts';
import { heldOn } from '#core/alarms/rig-held.ts';
import { unpackDays } from '#core/climate/daily.ts';
import type { YearAnswer, YearAxle, YearCount } from '#core/climate/year.ts';
import type { Monitor } from '#schema/monitor.ts';
import { useFormat } from '../../parts/format.ts';
import { useHeldStops } from '../../parts/HeldStops.tsx';
import { Wide } from '../../parts/Wide.tsx';
import { dayOfYear } from '../../parts/words-limits.ts';
import type { AxlePlan } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';
import type { YearWork } from './year.worker.ts';

type State = { at: 'idle' } | { at: 'running'; share: number } | { at: 'done'; answer: YearAnswer } | { at: 'failed' };

const times = (n: number) => (n < 0.05 ? '0' : n < 10 ? n.toFixed(1) : String(Math.round(n)));

/** The limits compared with every day of the weather file: how often they raise a false alarm or protect too late. */
export function YearPart({ plans, grid, monitor }: { plans: readonly AxlePlan[]; grid: Grid; monitor: Monitor | null }) {
  const { rig, units } = useRig();
  const { axles: guardedAxles } = useHeldStops(monitor);
  // Counted are the limits that the monitor ends with, where there is one.
  const held = useMemo(
    () =>
      new Map(
        (monitor ? heldOn(monitor, guardedAxles, rigKeyed(rig, units, monitor)) : []).map((h) => [
          h.axle,
          { lowKpa: h.heldLowKpa, highKpa: h.heldHighKpa },
        ]),
      ),
    [monitor, guardedAxles, rig, units],
  );
  const f = useFormat();
  const [state, setState] = useState<State>({ at: 'idle' });
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const days = useMemo(() => (rig.climate?.days ? unpackDays(rig.climate.days) : []), [rig.climate]);
  const axles = plans.flatMap((p): YearAxle[] => {
    const { cold, limits } = p.setting;
    const pair = held.get(p.code) ?? limits;
    if (!cold || !limits || !pair || pair.lowKpa === null || !p.day) return [];
    return [
      {
        code: p.code,
        coldKpa: cold.kpa,
        coldTempC: cold.tempC,
        loadMinimumKpa: p.facts.minimum?.kpa ?? 0,
        rule: limits.rule,
        limits: { lowKpa: pair.lowKpa, highKpa: pair.highKpa },
        hotShare: p.day.hotShare,
      },
    ];
  });
  if (days.length === 0) {
    return (
      <p className="max-w-[64ch]">
        This needs a minimum and a maximum for each day:{' '}
        <Link className="underline underline-offset-3" to={`/rigs/${rig.id}/pressures`}>
          read a weather file on Pressures, or make a typical year there
        </Link>
        . Then your limits are compared with every morning and afternoon in it.
      </p>
    );
  }
  if (monitor?.correctsToC !== undefined)
    return (
      <p className="max-w-[64ch]">
        This monitor corrects its pressures to {f.temperature(monitor.correctsToC)} by itself: the weather raises no alarm on it.
        There is nothing to count.
      </p>
    );
  if (axles.length === 0) return <p>Set a cold pressure and a rule for an axle first.</p>;
  const run = async () => {
    worker.current?.terminate();
    const own = new Worker(new URL('./year.worker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    setState({ at: 'running', share: 0 });
    own.onerror = () => setState({ at: 'failed' });
    const api = wrap<YearWork>(own);
    const answer = await api.sweep(
      { days, axles, grid, altitudeSetM: rig.climate?.altitudeSetM, passM: rig.climate?.passM },
      proxy((share: number) => {
        if (worker.current === own) setState((s) => (s.at === 'running' ? { at: 'running', share } : s));
      }),
    );
    if (worker.current !== own) return;
    setState({ at: 'done', answer });
    own.terminate();
    worker.current = null;
  };
  const cancel = () => {
    worker.current?.terminate();
    worker.current = null;
    setState({ at: 'idle' });
  };
  const cells = (c: YearCount | null | undefined) =>
    c ? [times(c.ringingMornings), times(c.ringingRuns), times(c.lateDays)] : (['–', '–', '–'] as const);
  return (
    <section aria-label="The year">
      <p className="max-w-[72ch] text-body">
        {days.length} days of {rig.climate?.days?.source}: each compared with the current limits
        {monitor ? `, as ${monitor.name} ends with them` : ''}, with the best fixed pair close to each rule, and with two seasons
        with the pressure reset between them, for every split of the year.
      </p>
      <div className="mt-3 flex items-center gap-3">
        {state.at === 'running' ? (
          <>
            <progress className="ink-progress" value={state.share} max={1} aria-label="Sweep over the years" />
            <span className="figure text-body">{Math.round(state.share * 100)} %</span>
            <button type="button" className="btn" onClick={cancel}>
              Stop
            </button>
          </>
        ) : (
          <button type="button" className="btn btn-solid" onClick={() => void run()}>
            {state.at === 'done' ? 'Work it out again' : 'Work it out'}
          </button>
        )}
      </div>
      {state.at === 'failed' && <p className="error mt-2">The calculation stopped. Try it again.</p>}
      {state.at === 'done' && (
        <>
          <Wide label="The year in figures" className="mt-4">
            <table className="sheet-table">
              <caption className="pb-2 text-left text-body font-bold">
                In an ordinary year, from {state.answer.years.toFixed(1)} years of days
              </caption>
              <thead>
                <tr>
                  <th scope="col">Axle</th>
                  <th scope="col">Limits</th>
                  <th scope="col">False alarms in the morning</th>
                  <th scope="col">False alarms on a run</th>
                  <th scope="col">Days it would protect too late</th>
                </tr>
              </thead>
              <tbody>
                {state.answer.axles.flatMap((a) => {
                  const shown = axles.find((x) => x.code === a.code)?.limits;
                  const pair = (p: { lowKpa: number; highKpa: number | null }) =>
                    `${f.figure(p.lowKpa)}${p.highKpa === null ? ' and up' : ` to ${f.figure(p.highKpa)}`}`;
                  const rows: [string, string, YearCount | null | undefined][] = [
                    ['in force', shown ? pair(shown) : '', a.now],
                    ['best fixed', a.fixed ? pair(a.fixed.found) : 'none', a.fixed?.count],
                    [
                      'by season',
                      a.seasonal
                        ? a.seasonal.seasons
                            .map((s) => `from ${dayOfYear(s.from)} ${pair(s.found)}, set at ${f.temperature(s.setTempC)}`)
                            .join('; ')
                        : 'none',
                      a.seasonal?.count,
                    ],
                  ];
                  return rows.map(([name, text, c], i) => (
                    <tr key={`${a.code} ${name}`}>
                      <td className="font-semibold">{i === 0 ? a.code : ''}</td>
                      <td>
                        {name}: <span className="narrow">{text}</span>
                      </td>
                      {cells(c).map((n, k) => (
                        // biome-ignore lint/suspicious/noArrayIndexKey: three fixed columns
                        <td key={k} className="figure text-body font-semibold">
                          {n}
                        </td>
                      ))}
                    </tr>
                  ));
                })}
              </tbody>
            </table>
          </Wide>
          <p className="mt-2 max-w-[72ch] text-note text-ink2">
            Each day’s minimum is taken as a cold start and its maximum as the air of a run; a run adds what Pressures says. A
            morning on which you don’t drive doesn’t alarm.
          </p>
        </>
      )}
    </section>
  );
}
