import { type ReactNode, useEffect, useRef } from 'react';
import { loadState } from '#core/watch/group.ts';
import type { Alarm, WatchView, WheelView } from '#schema/alarm.ts';
import { useChart } from '../../data/queries.ts';
import { Facts } from '../../parts/Facts.tsx';
import { duration, inPairs, timeOfDay, useFormat } from '../../parts/format.ts';
import { useAge } from '../../parts/useAge.ts';
import { evidenceRows } from '../../parts/words-alarms.ts';
import { kindWords } from '../../parts/words-kinds.ts';
import { Trace } from './Trace.tsx';

const LOADS = {
  carries: 'it carries its load',
  perhaps: 'it may be unable to carry its load',
  cannot: 'it cannot carry its load now',
  unknown: 'its load is unknown',
} as const;

const LIKELY = 'it likely carries its load, but not surely';

/** All that is known of one wheel: trace, limits, cold-equivalent pressure, history. */
export function WheelDetail({
  w,
  view,
  words,
  alarms,
  onClose,
  children,
}: {
  w: WheelView;
  view: WatchView;
  words: string;
  alarms: readonly Alarm[];
  onClose: () => void;
  children?: ReactNode;
}) {
  const f = useFormat();
  const place = useRef<HTMLElement>(null);
  // Where the detail lies under the plan, it comes to whoever asked for it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each wheel
  useEffect(() => {
    if (window.matchMedia('(max-width: 1279px)').matches) place.current?.scrollIntoView({ block: 'nearest', behavior: 'smooth' });
  }, [w.position]);
  const ageS = useAge(view, w);
  const toMs = Math.ceil((w.time === null ? 0 : Date.parse(w.time)) / 60_000) * 60_000;
  const chart = useChart(view.rigId, toMs - 3 * 3_600_000, toMs, [w.position], 600, w.sensorId !== null && w.time !== null);
  const points = chart.data?.series.find((s) => s.position === w.position)?.points ?? [];
  const own = alarms.filter((a) => a.position === w.position).slice(0, 6);
  const rows: [string, string][] = [
    ['Sensor', w.sensorId ? `${inPairs(w.sensorId)}, ${w.sensorKind === 'flowThrough' ? 'flow-through' : w.sensorKind}` : 'none'],
    ['Last heard', w.time ? `${timeOfDay(w.time, view.time)}, ${duration(ageS ?? 0)} before the rig’s clock` : 'not yet'],
    ['Cold target', w.coldKpa === null ? 'not set' : `${f.pressure(w.coldKpa)} at ${f.temperature(w.coldTempC ?? 20)}`],
  ];
  if (w.heldKpa !== null && w.heldLowKpa !== null && w.heldHighKpa !== null) {
    rows.push([
      'Holds, cold',
      `about ${f.pressure(w.heldKpa)}, surely ${f.figure(w.heldLowKpa)} to ${f.figure(w.heldHighKpa)} at ${f.temperature(w.coldTempC ?? 20)}`,
    ]);
  }
  if (w.loadMinimumKpa !== null) {
    const state = loadState(w);
    // Part of the span may lie under it.
    const sure = state !== 'carries' || (w.heldLowKpa ?? 0) >= w.loadMinimumKpa;
    rows.push(['Its load needs', `${f.pressure(w.loadMinimumKpa)} cold: ${sure ? LOADS[state] : LIKELY}`]);
  }
  rows.push([
    'Rings',
    `${w.lowKpa === null ? 'no low' : `low at ${f.pressure(w.lowKpa)}${w.lowAssumed ? ' (25 % under cold: none is set)' : ''}`}, ${w.highKpa === null ? 'no high' : `high at ${f.pressure(w.highKpa)}`}${w.hotC === null ? '' : `, hot at ${f.temperature(w.hotC)}`}`,
  ]);
  return (
    <section ref={place} aria-label={`Wheel ${w.position}`} className="scroll-mt-4 border-2 border-ink p-3">
      <div className="flex items-start justify-between gap-3">
        <h2>
          {w.position} <span className="block text-body font-normal text-ink2">{words}</span>
        </h2>
        <button type="button" className="btn btn-small shrink-0" onClick={onClose}>
          Close
        </button>
      </div>
      {points.length > 1 && (
        <Trace points={points} low={w.lowKpa} high={w.highKpa} label={`Pressure of ${w.position}, last three hours`} />
      )}
      <Facts rows={rows} />
      {children}
      {own
        .filter((a) => a.toTime === null)
        .map((a) => (
          <section key={a.id} className="mt-3" aria-label={`Evidence: ${kindWords[a.kind]}`}>
            <h3 className="text-body font-semibold">Why it rings: {kindWords[a.kind]}</h3>
            <Facts rows={evidenceRows(a, f, view.time)} />
          </section>
        ))}
      {own.length > 0 && (
        <ul className="mt-2 text-body" aria-label={`Alarms of ${w.position}`}>
          {own.map((a) => (
            <li key={a.id} className="flex justify-between gap-2 border-b border-rule py-1">
              <span>{kindWords[a.kind]}</span>
              <span className="narrow text-ink2">
                {timeOfDay(a.fromTime, view.time)} {a.toTime === null ? 'until now' : `to ${timeOfDay(a.toTime, view.time)}`}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
