import type { Chart as ChartJs } from 'chart.js';
import { Suspense, useEffect, useMemo, useRef, useState, useTransition } from 'react';
import { axleOf } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import { useAlarmsBetween, useChart, useSpan, useWatch } from '../../data/queries.ts';
import { afterPaint } from '../../parts/after-paint.ts';
import { breakMs, styleOf } from '../../parts/chart/lines.ts';
import { Swatch } from '../../parts/chart/Swatch.tsx';
import { linesOf, marksOf, type Quantity } from '../../parts/chart/series.ts';
import { SheetHead, Switch } from '../../parts/controls.tsx';
import { dayAndTime, duration, minus, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { lazyPart } from '../../parts/lazy-part.ts';
import { RigPlan } from '../../parts/RigPlan.tsx';
import { save } from '../../parts/save.ts';
import { useRig } from '../../state/useRig.ts';
import { Moment } from './Moment.tsx';
import { type Stretch, StretchFields } from './StretchFields.tsx';
import { WatchTabs } from './Tabs.tsx';

const ChartPart = lazyPart(async () => ({ default: (await import('../../parts/chart/ChartPart.tsx')).ChartPart }));

const DAY = 86_400_000;
const spans = [
  ['10 min', 600_000],
  ['1 h', 3_600_000],
  ['6 h', 6 * 3_600_000],
  ['1 day', DAY],
  ['1 week', 7 * DAY],
  ['1 month', 30 * DAY],
  ['1 year', 365 * DAY],
] as const;
const quantities = [
  { value: 'pressure', text: 'Pressure' },
  { value: 'held', text: 'Cold-equivalent' },
  { value: 'gap', text: 'Gap' },
  { value: 'temperature', text: 'Temperature' },
] as const;
const TITLES: Record<Quantity, string> = {
  pressure: 'Pressure as read',
  held: 'Pressure with the temperature taken out',
  gap: 'Gap to the cold target, temperature taken out',
  temperature: 'Temperature as read',
};

/** The last six hours, or as much of them as there is, at least ten minutes. */
const latest = (firstMs: number, lastMs: number): Stretch => ({
  from: Math.min(Math.max(lastMs - 6 * 3_600_000, firstMs - 60_000), lastMs - 600_000),
  to: lastMs,
});

/** The ranges. The one that is pressed shows as pressed before anything is drawn, which takes longer the longer it is. */
function RangeSwitch({ value, onPick }: { value: string; onPick: (text: string) => void }) {
  const [pressed, setPressed] = useState(value);
  useEffect(() => setPressed(value), [value]);
  return (
    <Switch
      label="How long a stretch"
      value={pressed}
      options={[...spans.map(([text]) => ({ value: text as string, text: text as string })), { value: 'All', text: 'All' }]}
      onChange={(text) => {
        setPressed(text);
        afterPaint(() => onPick(text));
      }}
    />
  );
}

/** Charts of any stretch, from a minute to years. */
export default function Charts() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const watch = useWatch(rig.id);
  const span = useSpan(rig.id);
  const paired = useMemo(() => wheels.filter((w) => w.wheel.sensor).map((w) => w.position), [wheels]);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const [only, setOnly] = useState(false);
  const [split, setSplit] = useState<'one' | 'axles'>('one');
  const [cursor, setCursor] = useState<number | null>(null);
  const [quantity, setQuantity] = useState<Quantity>('pressure');
  const [stretch, setStretchNow] = useState<Stretch | null>(null);
  // The range that was pressed; none once the stretch is moved.
  const [range, setRange] = useState('6 h');
  const [, startDrawing] = useTransition();
  // What was pressed shows at once; the chart is drawn after that.
  const setStretch = (next: Stretch | null) => {
    setRange(next === null ? '6 h' : '');
    startDrawing(() => setStretchNow(next));
  };
  const [table, setTable] = useState(false);
  const chartRef = useRef<ChartJs<'line'> | null>(null);
  const shown = only && picked.length > 0 ? picked : paired;
  const lastMs = span.data?.to ? Math.ceil(Date.parse(span.data.to) / 60_000) * 60_000 : null;
  const firstMs = span.data?.from ? Date.parse(span.data.from) : 0;
  const { from, to } = stretch ?? latest(firstMs, lastMs ?? 0);
  const chart = useChart(rig.id, from, to, paired, 600, lastMs !== null && to > from);
  const alarms = useAlarmsBetween(rig.id, from, to, lastMs !== null && to > from);
  const view = watch.data;
  const temperature = quantity === 'temperature';
  const unit = temperature ? `°${f.temp}` : f.unit;
  const decimals = temperature ? 0 : f.unit === 'bar' ? 2 : f.unit === 'psi' ? 1 : 0;
  // What a line takes of a wheel is its settings: a new reading changes nothing of a line that is drawn.
  const settings = view?.wheels.map((w) => [w.position, w.sensorKind, w.coldKpa, w.coldTempC, w.correctedToC]).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: wheels that are the same by their settings
  const all = useMemo(
    () =>
      chart.data && view
        ? linesOf(
            chart.data,
            quantity,
            view.wheels,
            null,
            { kpa: (v) => convert(v, 'kPa', f.unit), c: (v) => convert(v, 'C', f.temp) },
            new Map(picked.map((p) => [p, 'picked'])),
          )
        : [],
    [chart.data, settings, quantity, f.unit, f.temp, picked],
  );
  const lines = useMemo(() => all.filter((l) => shown.includes(l.label)), [all, shown]);
  const marks = useMemo(() => marksOf(alarms.data ?? [], shown, from, to), [alarms.data, shown, from, to]);
  const orderOf = new Map(view?.wheels.map((w, i) => [w.position, i]));
  const charts =
    split === 'one'
      ? [{ name: '', lines, marks }]
      : [...new Set(lines.map((l) => axleOf(l.label)))].map((axle) => ({
          name: axle,
          lines: lines.filter((l) => axleOf(l.label) === axle),
          marks: marks.filter((m) => m.label.startsWith(axle)),
        }));
  const stepS = chart.data?.stepS ?? 0;
  const pick = (text: string) => {
    const ms = spans.find(([t]) => t === text)?.[1];
    setStretch(ms === undefined ? { from: firstMs, to: lastMs ?? to } : { from: Math.max(to, from + 1) - ms, to });
    setRange(text);
  };
  const move = (by: number) => setStretch({ from: from + by * (to - from), to: to + by * (to - from) });
  const zoom = (by: number) => {
    const middle = (from + to) / 2;
    const half = Math.max(30_000, ((to - from) * by) / 2);
    setStretch({ from: Math.round(middle - half), to: Math.round(middle + half) });
  };
  const title = `${TITLES[quantity]}, ${unit}, ${dayAndTime(from)} to ${dayAndTime(to)}`;

  const csv = () => {
    const rows = lines.flatMap((l) =>
      l.points.flatMap((p) =>
        p.y === null ? [] : [`${new Date(p.x).toISOString()},${l.label},${p.y},${p.low ?? p.y},${p.high ?? p.y}`],
      ),
    );
    save(
      new Blob([`time,wheel,${quantity}_${unit},lowest,highest\r\n${rows.join('\r\n')}\r\n`], { type: 'text/csv' }),
      `${rig.name} ${quantity}.csv`,
    );
  };
  const png = () => {
    const canvas = chartRef.current?.canvas;
    if (!canvas) return;
    // On paper: a canvas is transparent where nothing is drawn.
    const out = document.createElement('canvas');
    out.width = canvas.width;
    out.height = canvas.height;
    const pen = out.getContext('2d') as CanvasRenderingContext2D;
    pen.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--paper');
    pen.fillRect(0, 0, out.width, out.height);
    pen.drawImage(canvas, 0, 0);
    out.toBlob((blob) => blob && save(blob, `${rig.name} ${quantity}.png`));
  };

  return (
    <>
      <SheetHead title="Watch">Everything the sensors reported, from a minute to years.</SheetHead>
      <WatchTabs rigId={rig.id} />
      {lastMs === null ? (
        <p>
          {span.isPending
            ? 'One moment…'
            : 'Nothing has been heard yet, so there is nothing to draw. Pair the sensors, bring in a file, or open the bench.'}
        </p>
      ) : (
        <div className="grid gap-x-8 gap-y-5 xl:grid-cols-[minmax(0,1fr)_300px]">
          <div className="min-w-0">
            <div className="mb-3 flex flex-wrap items-center gap-2">
              <Switch label="What is drawn" value={quantity} options={quantities} onChange={(q) => setQuantity(q)} />
              <Switch
                label="In how many charts"
                value={split}
                options={[
                  { value: 'one', text: 'One chart' },
                  { value: 'axles', text: 'By axle' },
                ]}
                onChange={setSplit}
              />
            </div>
            <div className="mb-3 flex flex-wrap items-center gap-2">
              <RangeSwitch value={range} onPick={pick} />
            </div>
            <h2 className="text-body">
              {TITLES[quantity]} <span className="font-normal text-ink2">{unit}</span>
            </h2>
            <Suspense fallback={<div className="h-[360px]" />}>
              {lines.length > 0 ? (
                <>
                  <div className={split === 'one' ? '' : 'grid gap-x-5 gap-y-3 md:grid-cols-2'}>
                    {charts.map((c) => (
                      <div key={c.name} className="min-w-0">
                        {c.name && <h3 className="text-body">{c.name}</h3>}
                        <ChartPart
                          lines={c.lines}
                          marks={c.marks}
                          from={from}
                          to={to}
                          stepS={stepS}
                          title={c.name ? `${c.name}: ${title}` : title}
                          height={split === 'one' ? 360 : 180}
                          zero={quantity === 'gap'}
                          cursor={cursor}
                          onCursor={setCursor}
                          {...(split === 'one' ? { chartRef } : {})}
                        />
                      </div>
                    ))}
                  </div>
                  <Moment
                    lines={lines}
                    from={from}
                    to={to}
                    breakMs={breakMs(stepS)}
                    moment={cursor}
                    onMoment={setCursor}
                    figure={(y) => minus(y.toFixed(decimals))}
                    unit={unit}
                  />
                </>
              ) : (
                <p className="flex h-[200px] items-center text-ink2">
                  {chart.isFetching ? 'One moment…' : 'Nothing was heard in that stretch. Move on, or take all.'}
                </p>
              )}
            </Suspense>
            <div className="mt-3 flex flex-wrap items-end gap-2">
              <button type="button" className="btn btn-small" aria-label="Earlier" onClick={() => move(-0.5)}>
                ←
              </button>
              <button type="button" className="btn btn-small" aria-label="Later" onClick={() => move(0.5)}>
                →
              </button>
              <button type="button" className="btn btn-small" onClick={() => zoom(0.5)}>
                Closer
              </button>
              <button type="button" className="btn btn-small" onClick={() => zoom(2)}>
                Wider
              </button>
              <button type="button" className="btn btn-small" onClick={() => setStretch(null)}>
                Latest
              </button>
              <span className="grow" />
              <button type="button" className="btn btn-small" aria-pressed={table} onClick={() => setTable(!table)}>
                Table
              </button>
              {split === 'one' && (
                <button type="button" className="btn btn-small" onClick={png}>
                  PNG
                </button>
              )}
              <button type="button" className="btn btn-small" onClick={csv}>
                CSV
              </button>
            </div>
            <div className="mt-3 flex flex-wrap gap-3">
              <StretchFields from={from} to={to} onChange={setStretch} />
            </div>
            <p className="mt-2 text-note text-ink2">
              {chart.data && chart.data.stepS > 0
                ? `Each point gathers ${duration(chart.data.stepS)}: the line is the last reading, the band runs from lowest to highest.`
                : 'Every reading is drawn.'}{' '}
              A break in a line: nothing was heard.
              {(quantity === 'held' || quantity === 'gap') &&
                ' The gas of a tire with an outside sensor is estimated; sure it is only after three hours at rest.'}
            </p>
            {table && (
              <ChartTable
                lines={lines}
                unit={unit}
                decimals={decimals}
                title={TITLES[quantity]}
                gathered={(chart.data?.stepS ?? 0) > 0}
              />
            )}
          </div>
          <aside aria-label="Wheels drawn">
            <h2 className="mb-1 text-body">Wheels drawn</h2>
            <p className="mb-2 text-body text-ink2">Press a wheel to draw it strong.</p>
            <RigPlan
              label="Wheels to draw"
              tallness={48}
              units={units}
              wheels={wheels}
              lie="up"
              wheel={(w) => {
                const on = picked.includes(w.position);
                return (
                  <button
                    type="button"
                    className={`flex h-full min-h-[44px] w-full flex-col justify-between border bg-paper p-1 text-left ${on ? 'border-[3px] border-ink' : 'border-rule'}`}
                    data-position={w.position}
                    aria-pressed={on}
                    disabled={!w.wheel.sensor}
                    onClick={() => setPicked(on ? picked.filter((p) => p !== w.position) : [...picked, w.position])}
                  >
                    <span className={`narrow text-body ${on ? 'font-bold' : 'font-semibold'}`}>{w.position}</span>
                    {w.wheel.sensor && <Swatch line={styleOf(orderOf.get(w.position) ?? 0)} strong={on} />}
                  </button>
                );
              }}
            />
            <p className="mt-3 flex flex-wrap gap-2">
              <button
                type="button"
                className="btn btn-small"
                aria-pressed={only}
                disabled={picked.length === 0}
                onClick={() => setOnly(!only)}
              >
                Only these
              </button>
              <button type="button" className="btn btn-small" disabled={picked.length === 0} onClick={() => setPicked([])}>
                Pick none
              </button>
            </p>
          </aside>
        </div>
      )}
    </>
  );
}

/** The same figures as a table: for a screen reader, and for the exact value. */
function ChartTable({
  lines,
  unit,
  decimals,
  title,
  gathered,
}: {
  lines: readonly { label: string; points: { x: number; y: number | null; low?: number; high?: number }[] }[];
  unit: string;
  decimals: number;
  title: string;
  /** Each row is many readings. */
  gathered: boolean;
}) {
  const rows = lines
    .flatMap((l) => l.points.map((p) => ({ ...p, label: l.label })))
    .filter((p) => p.y !== null)
    .sort((a, b) => b.x - a.x);
  const shown = rows.slice(0, 400);
  return (
    // A stretch that scrolls must be reached by the keyboard.
    // biome-ignore lint/a11y/noNoninteractiveTabindex: see above
    <section className="mt-4 max-h-[420px] overflow-auto" aria-label="Figures of the chart" tabIndex={0}>
      <table className="sheet-table">
        <caption className="pb-1 text-left text-body">
          {title}, {unit}, the latest first
          {rows.length > shown.length ? `; ${shown.length} of ${rows.length} rows, all are in the CSV` : ''}
        </caption>
        <HeadRow names={gathered ? ['Time', 'Wheel', 'Last', 'Lowest', 'Highest'] : ['Time', 'Wheel', 'Reading']} />
        <tbody className="narrow">
          {shown.map((r) => (
            <tr key={`${r.x} ${r.label}`}>
              <td className="whitespace-nowrap">{dayAndTime(r.x)}</td>
              <th scope="row" className="border-b-rule! font-semibold text-ink!">
                {r.label}
              </th>
              <td>{r.y?.toFixed(decimals)}</td>
              {gathered && (
                <>
                  <td>{(r.low ?? r.y)?.toFixed(decimals)}</td>
                  <td>{(r.high ?? r.y)?.toFixed(decimals)}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
