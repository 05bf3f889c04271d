import type { ChartPoint } from '#schema/history.ts';
import { useFormat } from '../../parts/format.ts';

const W = 320;
const H = 84;

/** A small trace of a pressure with its limits: lowest to highest as a band, the last as a line. */
export function Trace({
  points,
  low,
  high,
  label,
}: {
  points: readonly ChartPoint[];
  low: number | null;
  high: number | null;
  label: string;
}) {
  const f = useFormat();
  const first = points[0] as ChartPoint;
  const last = points.at(-1) as ChartPoint;
  const lows = points.map((p) => p.lowKpa);
  const highs = points.map((p) => p.highKpa);
  const bottom = Math.min(...lows, low ?? Number.POSITIVE_INFINITY) - 10;
  const highest = Math.max(...highs, low ?? 0);
  const top = (high !== null && high < highest * 1.1 ? Math.max(high, highest) : highest) + 10;
  const x = (ms: number) => ((ms - first.ms) / Math.max(1, last.lastMs - first.ms)) * W;
  const y = (kpa: number) => H - ((kpa - bottom) / (top - bottom)) * H;
  const band = [
    ...points.map((p) => `${x(p.lastMs).toFixed(1)},${y(p.highKpa).toFixed(1)}`),
    ...points.map((p) => `${x(p.lastMs).toFixed(1)},${y(p.lowKpa).toFixed(1)}`).reverse(),
  ].join(' ');
  const line = points.map((p) => `${x(p.lastMs).toFixed(1)},${y(p.lastKpa).toFixed(1)}`).join(' ');
  return (
    <figure className="my-2">
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="block h-[84px] w-full border border-rule"
        preserveAspectRatio="none"
        role="img"
        aria-label={label}
      >
        {low !== null && (
          <line x1={0} x2={W} y1={y(low)} y2={y(low)} stroke="var(--magenta)" strokeWidth={3} vectorEffect="non-scaling-stroke" />
        )}
        {high !== null && high <= top && (
          <line x1={0} x2={W} y1={y(high)} y2={y(high)} stroke="var(--ink)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        )}
        <polygon points={band} fill="var(--rule)" />
        <polyline points={line} fill="none" stroke="var(--ink)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
      </svg>
      <figcaption className="narrow flex justify-between text-note text-ink2">
        <span>three hours</span>
        {low !== null && <span>thick line: low at {f.pressure(low)}</span>}
        <span>
          {f.figure(Math.min(...lows))} to {f.pressure(Math.max(...highs))}
        </span>
      </figcaption>
    </figure>
  );
}
