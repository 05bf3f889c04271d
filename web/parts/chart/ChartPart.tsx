import {
  type ChartEvent,
  Chart as ChartJs,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  type Plugin,
  PointElement,
  TimeScale,
} from 'chart.js';
import { LOCALE } from '../locale.ts';
import 'chartjs-adapter-date-fns';
import annotation from 'chartjs-plugin-annotation';
import { memo, type RefObject, useEffect, useMemo, useRef } from 'react';
import { Chart } from 'react-chartjs-2';
import { usePreferences } from '../../state/preferences.ts';
import { FAMILY, inkNow } from './inks.ts';
import { breakMs, spreadNames, styleOf } from './lines.ts';
import { axisStep, isOnStep } from './time-axis.ts';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, TimeScale, Filler, annotation);

/** One line of a chart: the figure at each moment, and the lowest and highest around it where they differ. */
export interface ChartLine {
  label: string;
  points: { x: number; y: number | null; low?: number; high?: number }[];
  /** Drawn to be seen: it is in alarm, it was picked, or it is the one that is. */
  strong: 'act' | 'picked' | 'one' | null;
  /** Its place in the plan: ink and dashes go by it. */
  order: number;
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

const clock = new Intl.DateTimeFormat(LOCALE, { hour: '2-digit', minute: '2-digit' });
const second = new Intl.DateTimeFormat(LOCALE, { hour: '2-digit', minute: '2-digit', second: '2-digit' });
const day = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short' });
const month = new Intl.DateTimeFormat(LOCALE, { month: 'short', year: '2-digit' });
function tickText(ms: number, span: number): string {
  if (span < 300_000) return second.format(ms);
  if (span <= 2 * 86_400_000) {
    const at = new Date(ms);
    return at.getHours() === 0 && at.getMinutes() === 0 ? day.format(ms) : clock.format(ms);
  }
  return span < 200 * 86_400_000 ? day.format(ms) : month.format(ms);
}

const NAME_WIDTH = 48;
const NAME_GAP = 14;

interface Drawn {
  lines: readonly ChartLine[];
  cursor: number | null;
  onCursor: ((ms: number) => void) | undefined;
}

/** Draws each line's name at its end, and the moment that is looked at. */
const namesPlugin = (drawn: { current: Drawn }): Plugin<'line'> => ({
  id: 'names',
  afterDatasetsDraw(chart) {
    const { ctx, chartArea: a, scales } = chart;
    const { lines, cursor } = drawn.current;
    const ends = lines.flatMap((line) => {
      const end = line.points.findLast((p) => p.y !== null);
      return end
        ? [{ line, x: scales.x?.getPixelForValue(end.x) ?? a.right, y: scales.y?.getPixelForValue(end.y as number) ?? 0 }]
        : [];
    });
    const heights = spreadNames(
      ends.map((e) => e.y),
      NAME_GAP,
      a.top + 4,
      a.bottom - 4,
    );
    ctx.save();
    ctx.textBaseline = 'middle';
    ends.forEach(({ line, x, y }, i) => {
      const height = heights[i] as number;
      const color = line.strong === 'act' ? inkNow('--magenta') : inkNow(styleOf(line.order).ink);
      ctx.strokeStyle = color;
      ctx.globalAlpha = 0.6;
      ctx.lineWidth = 1;
      ctx.beginPath();
      ctx.moveTo(Math.min(x, a.right), y);
      ctx.lineTo(a.right + 8, height);
      ctx.stroke();
      ctx.globalAlpha = 1;
      ctx.fillStyle = line.strong === 'act' ? color : inkNow('--ink');
      ctx.font = `${line.strong ? 'bold ' : ''}13px ${FAMILY}`;
      ctx.fillText(line.label, a.right + 10, height);
    });
    const at = cursor === null ? undefined : scales.x?.getPixelForValue(cursor);
    if (at !== undefined && at >= a.left && at <= a.right) {
      ctx.strokeStyle = inkNow('--ink');
      ctx.lineWidth = 1;
      ctx.beginPath();
      ctx.moveTo(at, a.top);
      ctx.lineTo(at, a.bottom);
      ctx.stroke();
    }
    ctx.restore();
  },
  afterEvent(chart, { event }) {
    const { onCursor } = drawn.current;
    if (!onCursor || event.type !== 'mousemove' || !isInside(chart, event)) return;
    onCursor(Math.round(chart.scales.x?.getValueForPixel(event.x ?? 0) ?? 0));
  },
});
const isInside = ({ chartArea: a }: ChartJs, e: ChartEvent) =>
  e.x !== null && e.y !== null && e.x >= a.left && e.x <= a.right && e.y >= a.top && e.y <= a.bottom;

/** A chart over time in the inks of the shop. */
export const ChartPart = memo(function ChartPart({
  lines,
  marks,
  from,
  to,
  stepS,
  title,
  height,
  zero = false,
  chartRef,
  cursor = null,
  onCursor,
}: {
  lines: readonly ChartLine[];
  marks: readonly ChartMark[];
  from: number;
  to: number;
  stepS: number;
  /** What is drawn, and its unit: the name of the picture. */
  title: string;
  height: number;
  /** A line at zero. */
  zero?: boolean;
  chartRef?: RefObject<ChartJs<'line'> | null>;
  /** The moment that is looked at, ms since the epoch, and who hears when the pointer moves to another. */
  cursor?: number | null;
  onCursor?: (ms: number) => void;
}) {
  const { theme } = usePreferences();
  const own = useRef<ChartJs<'line'> | null>(null);
  const ref = chartRef ?? own;
  // The chart keeps the plugin it began with, so that reads what is drawn now.
  const drawn = useRef<Drawn>({ lines, cursor, onCursor });
  drawn.current = { lines, cursor, onCursor };
  const plugins = useMemo(() => [namesPlugin(drawn)], []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn again when the moment moves
  useEffect(() => {
    ref.current?.draw();
  }, [cursor]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme changes the inks that are read from the page
  const { data, options } = useMemo(() => {
    const ink = inkNow;
    const longest = breakMs(stepS);
    const broken = (points: ChartLine['points'], value: (p: ChartLine['points'][number]) => number | null | undefined) => {
      const out: { x: number; y: number | null }[] = [];
      let last = Number.NaN;
      for (const p of points) {
        if (p.x - last > longest) out.push({ x: (p.x + last) / 2, y: null });
        out.push({ x: p.x, y: value(p) ?? null });
        last = p.x;
      }
      return out;
    };
    const datasets = lines.flatMap((line) => {
      const style = styleOf(line.order);
      const color = ink(line.strong === 'act' ? '--magenta' : style.ink);
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
        borderWidth: line.strong ? 3.5 : 1.25,
        // Thick dashes among thin ones are hard to follow; where several are picked, their dashes tell them apart.
        borderDash: line.strong === 'act' || line.strong === 'one' ? [] : [...style.dash],
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
    const font = { family: FAMILY, size: 13 };
    return {
      data: { datasets },
      options: {
        animation: false as const,
        maintainAspectRatio: false,
        responsive: true,
        layout: { padding: { right: NAME_WIDTH } },
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
          tooltip: { enabled: false },
          annotation: {
            annotations: Object.fromEntries([
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
  }, [lines, marks, from, to, stepS, zero, theme]);
  return (
    <div style={{ height }}>
      <Chart ref={ref} type="line" data={data} options={options} plugins={plugins} role="img" aria-label={title} />
    </div>
  );
});
