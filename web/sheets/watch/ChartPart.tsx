import { Chart as ChartJs, Filler, LinearScale, LineController, LineElement, PointElement, TimeScale, Tooltip } from 'chart.js';
import 'chartjs-adapter-date-fns';
import annotation from 'chartjs-plugin-annotation';
import { memo, type RefObject, useMemo, useRef } from 'react';
import { Chart } from 'react-chartjs-2';
import { usePreferences } from '../../state/preferences.ts';
import { axisStep, isOnStep } from './time-axis.ts';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, TimeScale, Filler, Tooltip, annotation);

/** One line of a chart: the figure at each moment, and the lowest and highest around it where they differ. */
export interface ChartLine {
  label: string;
  points: { x: number; y: number | null; low?: number; high?: number }[];
  /** Drawn to be seen: it is in alarm or it was picked. */
  strong: boolean;
}
export interface ChartMark {
  ms: number;
  label: string;
}

/** A narrow chart has room for so many marks of its time axis. */
const MOST_TICKS = 8;

/** A name beside a mark takes this share of the width, at most. */
const NAME_SHARE = 0.14;

/** Where each mark's name stands so that no two lie on each other: at the top, at the foot, or nowhere. @param span of the axis, ms */
export function markRows(marks: readonly ChartMark[], span: number): ('end' | 'start' | null)[] {
  const last = { end: Number.NEGATIVE_INFINITY, start: Number.NEGATIVE_INFINITY };
  const out: ('end' | 'start' | null)[] = marks.map(() => null);
  const order = marks.map((_, i) => i).sort((a, b) => (marks[a] as ChartMark).ms - (marks[b] as ChartMark).ms);
  for (const i of order) {
    const { ms } = marks[i] as ChartMark;
    const row = (['end', 'start'] as const).find((r) => ms - last[r] >= NAME_SHARE * span);
    if (!row) continue;
    out[i] = row;
    last[row] = ms;
  }
  return out;
}

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const second = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
const month = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit' });
const full = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
});

function tickText(ms: number, span: number): string {
  if (span < 300_000) return second.format(ms);
  if (span <= 2 * 86_400_000) {
    const text = clock.format(ms);
    return text === '00:00' ? day.format(ms) : text;
  }
  return span < 200 * 86_400_000 ? day.format(ms) : month.format(ms);
}

/** Where there is a break in a line longer than this, it is a break: nothing was heard. */
const BREAK_MS = 20 * 60_000;

/** A chart over time in the inks of the shop. */
export const ChartPart = memo(function ChartPart({
  lines,
  marks,
  from,
  to,
  stepS,
  title,
  decimals,
  height,
  zero = false,
  chartRef,
}: {
  lines: readonly ChartLine[];
  marks: readonly ChartMark[];
  from: number;
  to: number;
  stepS: number;
  /** What is drawn, and its unit: the name of the picture. */
  title: string;
  decimals: number;
  height: number;
  /** A line at zero. */
  zero?: boolean;
  chartRef?: RefObject<ChartJs<'line'> | null>;
}) {
  const { theme } = usePreferences();
  const own = useRef<ChartJs<'line'> | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme changes the inks that are read from the page
  const { data, options } = useMemo(() => {
    const style = getComputedStyle(document.documentElement);
    const ink = (name: string) => style.getPropertyValue(name).trim();
    const calm = [ink('--ink2'), ink('--cyan'), ink('--ink')];
    const dashes = [[], [7, 3], [2, 3]];
    const breakMs = Math.max(BREAK_MS, 3 * stepS * 1000);
    const broken = (points: ChartLine['points'], value: (p: ChartLine['points'][number]) => number | null | undefined) => {
      const out: { x: number; y: number | null }[] = [];
      let last = Number.NaN;
      for (const p of points) {
        if (p.x - last > breakMs) out.push({ x: (p.x + last) / 2, y: null });
        out.push({ x: p.x, y: value(p) ?? null });
        last = p.x;
      }
      return out;
    };
    const datasets = lines.flatMap((line, i) => {
      const color = line.strong ? ink('--magenta') : (calm[i % calm.length] as string);
      const base = {
        parsing: false as const,
        pointRadius: (c: { dataIndex: number; dataset: { data: unknown[] } }) => {
          const y = (i: number) => (c.dataset.data[i] as { y: number | null } | undefined)?.y ?? null;
          return y(c.dataIndex - 1) === null && y(c.dataIndex + 1) === null ? 2 : 0;
        },
        pointHitRadius: 8,
        tension: 0,
        spanGaps: false,
      };
      const main = {
        ...base,
        label: line.label,
        data: broken(line.points, (p) => p.y),
        borderColor: color,
        backgroundColor: color,
        borderWidth: line.strong ? 3 : 1.5,
        borderDash: line.strong ? [] : (dashes[Math.floor(i / calm.length) % dashes.length] as number[]),
        order: line.strong ? 0 : 1,
      };
      if (!line.points.some((p) => p.low !== undefined && p.high !== undefined && p.high > p.low)) return [main];
      const band = {
        ...base,
        borderWidth: line.strong ? 1 : 0.5,
        borderColor: `${color}88`,
        pointRadius: 0,
        pointHitRadius: 0,
        order: 2,
      };
      return [
        main,
        {
          ...band,
          label: `${line.label} highest`,
          data: broken(line.points, (p) => p.high ?? p.y),
          fill: false,
          backgroundColor: `${color}22`,
        },
        {
          ...band,
          label: `${line.label} lowest`,
          data: broken(line.points, (p) => p.low ?? p.y),
          fill: '-1',
          backgroundColor: `${color}22`,
        },
      ];
    });
    const rows = markRows(marks, to - from);
    const step = axisStep(from, to, MOST_TICKS);
    const font = { family: 'Archivo Variable, Archivo, sans-serif', size: 13 };
    return {
      data: { datasets },
      options: {
        animation: false as const,
        maintainAspectRatio: false,
        responsive: true,
        interaction: { mode: 'nearest' as const, axis: 'x' as const, intersect: false },
        scales: {
          x: {
            type: 'time' as const,
            time: { unit: step.unit },
            min: from,
            max: to,
            grid: { display: false },
            border: { color: ink('--ink') },
            ticks: {
              color: ink('--ink'),
              font,
              maxRotation: 0,
              autoSkip: false,
              callback: (_text: unknown, i: number, all: { value: number }[]) => tickText(all[i]?.value ?? 0, to - from),
            },
            afterBuildTicks: (axis: { ticks: { value: number }[] }) => {
              axis.ticks = axis.ticks.filter(({ value }) => isOnStep(value, step));
            },
          },
          y: {
            grid: { color: ink('--rule') },
            border: { display: false },
            ticks: { color: ink('--ink'), font, maxTicksLimit: 7 },
          },
        },
        plugins: {
          legend: { display: false },
          tooltip: {
            backgroundColor: ink('--ink'),
            titleColor: ink('--paper'),
            bodyColor: ink('--paper'),
            cornerRadius: 0,
            displayColors: false,
            filter: (item: { dataset: { label?: string } }) => !/ (lowest|highest)$/.test(item.dataset.label ?? ''),
            callbacks: {
              title: (items: { parsed: { x: number | null } }[]) => (items[0] ? full.format(items[0].parsed.x ?? 0) : ''),
              label: (item: { dataset: { label?: string }; parsed: { y: number | null } }) =>
                `${item.dataset.label}: ${(item.parsed.y ?? 0).toFixed(decimals)}`,
            },
          },
          annotation: {
            annotations: Object.fromEntries([
              // The lines that matter carry their names at their ends.
              ...lines.flatMap((l) => {
                const end = l.strong && l.points.findLast((p) => p.y !== null);
                if (!end) return [];
                const label = {
                  type: 'label' as const,
                  xValue: end.x,
                  yValue: end.y as number,
                  content: l.label,
                  color: ink('--magenta'),
                  font: { ...font, size: 14, weight: 'bold' as const },
                  position: { x: 'end' as const, y: 'end' as const },
                  padding: 3,
                };
                return [[`end ${l.label}`, label]];
              }),
              ...marks.map((m, i) => [
                `m${i}`,
                {
                  type: 'line' as const,
                  xMin: m.ms,
                  xMax: m.ms,
                  borderColor: ink('--ink'),
                  borderWidth: 1.5,
                  borderDash: [2, 3],
                  label: {
                    display: rows[i] !== null,
                    content: m.label,
                    position: rows[i] ?? 'end',
                    backgroundColor: ink('--paper'),
                    color: ink('--ink'),
                    font: { ...font, size: 12 },
                    padding: 2,
                    borderRadius: 0,
                  },
                },
              ]),
              ...(zero ? [['zero', { type: 'line' as const, yMin: 0, yMax: 0, borderColor: ink('--ink'), borderWidth: 1 }]] : []),
            ]),
          },
        },
      },
    };
  }, [lines, marks, from, to, stepS, decimals, zero, theme]);
  return (
    <div style={{ height }}>
      <Chart ref={chartRef ?? own} type="line" data={data} options={options} role="img" aria-label={title} />
    </div>
  );
});
