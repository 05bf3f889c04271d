import {
  type Chart as ChartJs,
  Chart as ChartJsClass,
  LinearScale,
  LineElement,
  LogarithmicScale,
  type Plugin,
  PointElement,
  ScatterController,
  Tooltip,
} from 'chart.js';
import { useMemo, useRef } from 'react';
import { Chart } from 'react-chartjs-2';
import type { LabFigures } from '#core/lab/compare.ts';
import { FAMILY, inkNow } from '../../parts/chart/inks.ts';
import { usePreferences } from '../../state/preferences.ts';
import { placeNames } from './names.ts';
import { nameOf, percent, perYear, spreadText } from './words.ts';

ChartJsClass.register(ScatterController, LineElement, PointElement, LinearScale, LogarithmicScale, Tooltip);

/** Less than this a year is drawn at this: a scale of powers has no zero. */
const LEAST = 0.03;
const MOST = 300;
/** An alarm a month on every wheel: more than anybody listens to (assumed). */
const TOO_MANY = 12;

export interface LabPoint {
  name: string;
  figures: LabFigures;
}

const clamp = (n: number) => Math.min(MOST, Math.max(LEAST, n));

/** How a point is drawn by what it is. */
function inkOf(name: string, ink: (n: string) => string): { fill: string; radius: number; bold: boolean } {
  if (name === 'watch') return { fill: ink('--ink'), radius: 12, bold: true };
  if (name === 'yours') return { fill: ink('--yellow'), radius: 10, bold: true };
  if (name === 'own') return { fill: ink('--cyan'), radius: 10, bold: true };
  return { fill: ink('--paper'), radius: 8, bold: false };
}

/** Dots where nobody listens any more. */
function zone(color: string, paper: string): CanvasPattern | string {
  const dot = document.createElement('canvas');
  dot.width = 6;
  dot.height = 6;
  const pen = dot.getContext('2d');
  if (!pen) return 'transparent';
  pen.fillStyle = paper;
  pen.fillRect(0, 0, 6, 6);
  pen.fillStyle = color;
  for (const at of [1.5, 4.5]) {
    pen.beginPath();
    pen.arc(at, at, 1, 0, 2 * Math.PI);
    pen.fill();
  }
  return pen.createPattern(dot, 'repeat') ?? 'transparent';
}

const pointOf = ({ figures: f }: LabPoint) => ({ x: clamp(f.nuisance.middle), y: 100 * f.leaks.inTime.middle });

/** A narrow picture has room for the name alone, without its figures. */
const written = (name: string, narrow: boolean) => (narrow ? (nameOf(name).split(',')[0] as string) : nameOf(name));

/** Draws the zone of too many alarms, and the names beside the points. */
function namesPlugin(drawn: { current: { points: readonly LabPoint[]; narrow: boolean } }): Plugin<'scatter'> {
  return {
    id: 'names',
    beforeDatasetsDraw(chart: ChartJs) {
      const { ctx, chartArea: a, scales } = chart;
      const from = scales.x?.getPixelForValue(TOO_MANY) ?? a.right;
      ctx.save();
      ctx.fillStyle = zone(inkNow('--magenta'), inkNow('--paper'));
      ctx.fillRect(from, a.top, a.right - from, a.bottom - a.top);
      ctx.font = `13px ${FAMILY}`;
      const text = drawn.current.narrow ? 'over 12' : 'over one a month on every wheel';
      const width = ctx.measureText(text).width;
      ctx.fillStyle = inkNow('--paper');
      ctx.fillRect(a.right - width - 14, a.bottom - 26, width + 12, 20);
      ctx.fillStyle = inkNow('--ink');
      ctx.textBaseline = 'middle';
      ctx.fillText(text, a.right - width - 8, a.bottom - 16);
      ctx.restore();
    },
    afterDatasetsDraw(chart: ChartJs) {
      const { points, narrow } = drawn.current;
      const at = points.map(pointOf);
      const shown = points.map((p) => inkOf(p.name, inkNow));
      const { ctx, chartArea: a, scales } = chart;
      ctx.save();
      const fonts = shown.map((s) => `${s.bold ? 'bold ' : ''}${narrow ? 12 : 14}px ${FAMILY}`);
      const widths = points.map((p, i) => {
        ctx.font = fonts[i] as string;
        return ctx.measureText(written(p.name, narrow)).width + 6;
      });
      const boxes = placeNames(
        at.map((p, i) => ({
          x: scales.x?.getPixelForValue(p.x) ?? 0,
          y: scales.y?.getPixelForValue(p.y) ?? 0,
          r: (shown[i]?.radius ?? 8) + 1,
        })),
        widths,
        20,
        { x: a.left, y: a.top - 12, width: a.right - a.left, height: a.bottom - a.top + 6 },
      );
      ctx.textBaseline = 'middle';
      boxes.forEach((b, i) => {
        ctx.font = fonts[i] as string;
        ctx.fillStyle = inkNow('--paper');
        ctx.fillRect(b.x, b.y + 1, b.width, b.height - 2);
        ctx.fillStyle = inkNow('--ink');
        ctx.fillText(written(points[i]?.name ?? '', narrow), b.x + 3, b.y + b.height / 2 + 1);
      });
      ctx.restore();
    },
  };
}

/** Every rule as a point: how often it alarms for nothing against how many leaks it reports in time. */
export function LabChart({ points, height, narrow }: { points: readonly LabPoint[]; height: number; narrow: boolean }) {
  const { theme } = usePreferences();
  // The chart keeps the plugin it began with, so that reads what is drawn now.
  const drawn = useRef<{ points: readonly LabPoint[]; narrow: boolean }>({ points, narrow });
  drawn.current = { points, narrow };
  const names = useMemo(() => namesPlugin(drawn), []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme changes the inks that are read from the page
  const { data, options } = useMemo(() => {
    const ink = inkNow;
    const font = { family: FAMILY, size: 13 };
    const at = points.map(pointOf);
    const shown = points.map((p) => inkOf(p.name, ink));
    const cross = points.flatMap(({ figures: f }, i) => {
      const { x, y } = at[i] as { x: number; y: number };
      const line = (from: { x: number; y: number }, to: { x: number; y: number }) => ({
        data: [from, to],
        showLine: true,
        pointRadius: 0,
        pointHitRadius: 0,
        borderColor: ink('--ink'),
        borderWidth: 1.5,
        order: 2,
      });
      return [
        line({ x: clamp(f.nuisance.low), y }, { x: clamp(f.nuisance.high), y }),
        line({ x, y: 100 * f.leaks.inTime.low }, { x, y: 100 * f.leaks.inTime.high }),
      ];
    });
    return {
      data: {
        datasets: [
          {
            label: 'rules',
            clip: false as const,
            data: at,
            backgroundColor: shown.map((s) => s.fill),
            borderColor: ink('--ink'),
            borderWidth: 2,
            pointRadius: shown.map((s) => s.radius),
            pointHoverRadius: shown.map((s) => s.radius),
            order: 1,
          },
          ...cross,
        ],
      },
      options: {
        animation: false as const,
        maintainAspectRatio: false,
        responsive: true,
        layout: { padding: { top: 14, right: 8 } },
        scales: {
          x: {
            type: 'logarithmic' as const,
            min: LEAST,
            max: MOST,
            title: {
              display: true,
              text: 'false alarms, a wheel a year',
              color: ink('--ink'),
              font: { ...font, weight: 'bold' as const },
            },
            grid: { color: ink('--rule') },
            border: { color: ink('--ink') },
            ticks: {
              color: ink('--ink'),
              font,
              callback: (v: number | string) => (Number(v) === LEAST ? '0' : String(v)),
            },
            afterBuildTicks: (axis: { ticks: { value: number }[] }) => {
              axis.ticks = [LEAST, 0.1, 1, 10, 100].map((value) => ({ value }));
            },
          },
          y: {
            min: 0,
            max: 100,
            title: {
              display: true,
              text: 'leaks heard in time, %',
              color: ink('--ink'),
              font: { ...font, weight: 'bold' as const },
            },
            grid: { color: ink('--rule') },
            border: { color: ink('--ink') },
            ticks: { color: ink('--ink'), font, stepSize: 20 },
          },
        },
        plugins: {
          legend: { display: false },
          tooltip: {
            backgroundColor: ink('--ink'),
            bodyColor: ink('--paper'),
            cornerRadius: 0,
            displayColors: false,
            filter: (item: { datasetIndex: number }) => item.datasetIndex === 0,
            callbacks: {
              label: (item: { dataIndex: number }) => {
                const p = points[item.dataIndex];
                if (!p) return '';
                return [
                  nameOf(p.name),
                  `${spreadText(p.figures.nuisance, perYear)} false alarms a wheel-year`,
                  `${spreadText(p.figures.leaks.inTime, percent)} of leaks in time`,
                ];
              },
            },
          },
        },
      },
    };
  }, [points, theme, narrow]);
  const told = points.map(
    (p) => `${nameOf(p.name)}: ${perYear(p.figures.nuisance.middle)} a year, ${percent(p.figures.leaks.inTime.middle)}`,
  );
  return (
    <div style={{ height }}>
      <Chart
        type="scatter"
        data={data}
        options={options}
        plugins={[names]}
        role="img"
        aria-label={`False alarms a wheel-year against leaks heard in time. ${told.join('; ')}.`}
      />
    </div>
  );
}
