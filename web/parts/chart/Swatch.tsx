import type { LineStyle } from './lines.ts';

/** A short piece of a line as the chart draws it. */
export function Swatch({ line, strong = false }: { line: LineStyle; strong?: boolean }) {
  return (
    <svg viewBox="0 0 30 6" width="30" height="6" aria-hidden="true" className="max-w-full shrink-0">
      <line
        x1={0}
        x2={30}
        y1={3}
        y2={3}
        stroke={`var(${line.ink})`}
        strokeWidth={strong ? 3.5 : 1.75}
        strokeDasharray={line.dash.join(' ') || undefined}
      />
    </svg>
  );
}
