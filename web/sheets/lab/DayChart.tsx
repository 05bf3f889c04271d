import { Chart as ChartJs, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import annotation from 'chartjs-plugin-annotation';
import { useMemo } from 'react';
import { Chart } from 'react-chartjs-2';
import type { DayTrace } from '#core/lab/compare.ts';
import type { LabRule } from '#core/lab/fixed.ts';
import { convert } from '#core/units/units.ts';
import { FAMILY, inkNow } from '../../parts/chart/inks.ts';
import { useFormat } from '../../parts/format.ts';
import { usePreferences } from '../../state/preferences.ts';

ChartJs.register(LineController, LineElement, PointElement, LinearScale, annotation);

const HOUR = 3_600_000;

/** One wheel through a day, as its monitor showed it, with the limits that rang. */
export function DayChart({ trace, rule, wheel, position }: { trace: DayTrace; rule: LabRule; wheel: number; position: string }) {
  const f = useFormat();
  const { theme } = usePreferences();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme changes the inks that are read from the page
  const { data, options } = useMemo(() => {
    const ink = inkNow;
    const font = { family: FAMILY, size: 12 };
    const unit = (kpa: number) => convert(kpa, 'kPa', f.unit);
    const hour = (ms: number) => (ms % (24 * HOUR)) / HOUR;
    const { lowKpa, highKpa } = rule.limits[wheel] ?? { lowKpa: null, highKpa: null };
    const limit = (kpa: number, text: string) => ({
      type: 'line' as const,
      yMin: unit(kpa),
      yMax: unit(kpa),
      borderColor: ink('--ink'),
      borderWidth: 2.5,
      label: {
        display: true,
        content: text,
        position: 'end' as const,
        backgroundColor: ink('--paper'),
        color: ink('--ink'),
        font,
        padding: 2,
        borderRadius: 0,
      },
    });
    const rings = trace.rings.filter((r) => r.wheel === wheel && r.kind !== 'hot');
    return {
      data: {
        datasets: [
          {
            label: position,
            data: trace.points.map((p) => ({
              x: hour(p.ms),
              y: Number.isNaN(p.kpa[wheel]) ? null : unit(p.kpa[wheel] as number),
            })),
            borderColor: ink('--cyan'),
            borderWidth: 2.5,
            pointRadius: 2,
            pointBackgroundColor: ink('--cyan'),
            spanGaps: true,
          },
          {
            label: 'alarm',
            data: rings.map((r) => ({ x: hour(r.ms), y: unit(r.value) })),
            showLine: false,
            pointRadius: 7,
            pointStyle: 'rect' as const,
            backgroundColor: ink('--magenta'),
            borderColor: ink('--ink'),
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
            max: 24,
            grid: { display: false },
            border: { color: ink('--ink') },
            ticks: { color: ink('--ink'), font, stepSize: 6, callback: (v: number | string) => `${v} h` },
          },
          y: {
            grace: '12%',
            grid: { color: ink('--rule') },
            border: { display: false },
            ticks: { color: ink('--ink'), font, maxTicksLimit: 5 },
          },
        },
        plugins: {
          legend: { display: false },
          tooltip: { enabled: false },
          annotation: {
            annotations: {
              ...(rings.some((r) => r.kind === 'low') && lowKpa !== null
                ? { low: limit(lowKpa, `low ${f.pressure(lowKpa)}`) }
                : {}),
              ...(rings.some((r) => r.kind === 'high') && highKpa !== null
                ? { high: limit(highKpa, `high ${f.pressure(highKpa)}`) }
                : {}),
            },
          },
        },
      },
    };
  }, [trace, rule, wheel, position, f, theme]);
  return (
    <div style={{ height: 180 }}>
      <Chart
        type="line"
        data={data}
        options={options}
        role="img"
        aria-label={`Pressure of ${position} through the day, ${f.unit}, with the limit that rang`}
      />
    </div>
  );
}
