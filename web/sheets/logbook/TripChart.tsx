import { Chart as ChartJs, Filler, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import annotation from 'chartjs-plugin-annotation';
import { useMemo } from 'react';
import { Chart } from 'react-chartjs-2';
import { FAMILY, inkNow } from '../../parts/chart/inks.ts';
import { usePreferences } from '../../state/preferences.ts';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, Filler, annotation);

/** Pressures of one axle over the way, above the height of the way. All figures in the owner's units. */
export function TripChart({
  points,
  low,
  high,
  unit,
  label,
}: {
  points: readonly { km: number; heightM: number; rest: number; running: number }[];
  low: number | null;
  high: number | null;
  unit: string;
  label: string;
}) {
  const { theme } = usePreferences();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme changes the inks that are read from the page
  const { data, options } = useMemo(() => {
    const ink = inkNow;
    const font = { family: FAMILY, size: 13 };
    const last = points.at(-1);
    const line = (y: number, content: string) => ({
      type: 'line' as const,
      yScaleID: 'y',
      yMin: y,
      yMax: y,
      borderColor: ink('--magenta'),
      borderWidth: 2,
      label: {
        display: true,
        content,
        position: 'start' as const,
        backgroundColor: ink('--paper'),
        color: ink('--ink'),
        font,
        padding: 2,
        borderRadius: 0,
      },
    });
    const name = (y: number, content: string, side: 'start' | 'end') => ({
      type: 'label' as const,
      yScaleID: 'y',
      xValue: last?.km ?? 0,
      yValue: y,
      content,
      color: ink('--ink'),
      font: { ...font, weight: 'bold' as const },
      position: { x: 'end' as const, y: side },
      padding: 3,
    });
    const set = (key: 'rest' | 'running', borderWidth: number, borderDash: number[]) => ({
      data: points.map((p) => ({ x: p.km, y: p[key] })),
      yAxisID: 'y',
      borderColor: ink('--cyan'),
      borderWidth,
      borderDash,
      pointRadius: 0,
      order: 1,
    });
    return {
      data: {
        datasets: [
          set('running', 3, []),
          set('rest', 2, [6, 3]),
          {
            data: points.map((p) => ({ x: p.km, y: p.heightM })),
            yAxisID: 'height',
            borderColor: ink('--ink2'),
            backgroundColor: ink('--rule'),
            borderWidth: 1,
            pointRadius: 0,
            fill: true,
            order: 2,
          },
        ],
      },
      options: {
        animation: false as const,
        maintainAspectRatio: false,
        responsive: true,
        events: [],
        scales: {
          x: {
            type: 'linear' as const,
            min: 0,
            max: last?.km ?? 1,
            title: { display: true, text: 'km', color: ink('--ink'), font },
            grid: { display: false },
            border: { color: ink('--ink') },
            ticks: { color: ink('--ink'), font, maxTicksLimit: 8 },
          },
          y: {
            title: { display: true, text: unit, color: ink('--ink'), font },
            grid: { color: ink('--rule') },
            border: { display: false },
            grace: '15%',
            ticks: { color: ink('--ink'), font, maxTicksLimit: 7 },
          },
          height: {
            position: 'right' as const,
            title: { display: true, text: 'height, m', color: ink('--ink2'), font },
            grid: { display: false },
            beginAtZero: true,
            // The heights stay in the lower half, under the pressures.
            max: Math.ceil((2.4 * Math.max(100, ...points.map((p) => p.heightM))) / 500) * 500,
            ticks: { color: ink('--ink2'), font, maxTicksLimit: 6 },
          },
        },
        plugins: {
          legend: { display: false },
          tooltip: { enabled: false },
          annotation: {
            annotations: {
              ...(low === null ? {} : { low: line(low, `low ${low.toFixed(1)}`) }),
              ...(high === null ? {} : { high: line(high, `high ${high.toFixed(1)}`) }),
              ...(last ? { running: name(last.running, 'running', 'end'), rest: name(last.rest, 'at rest', 'start') } : {}),
            },
          },
        },
      },
    };
  }, [points, low, high, unit, theme]);
  return (
    <div style={{ height: 340 }}>
      <Chart type="line" data={data} options={options} role="img" aria-label={label} />
    </div>
  );
}
