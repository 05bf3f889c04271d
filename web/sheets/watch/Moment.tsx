import type { ChartLine } from '../../parts/chart/ChartPart.tsx';
import { styleOf, valueAt } from '../../parts/chart/lines.ts';
import { Swatch } from '../../parts/chart/Swatch.tsx';
import { LOCALE } from '../../parts/locale.ts';

const clock = new Intl.DateTimeFormat(LOCALE, {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
});

/** What every line shows at one moment: under the pointer, or by the slider with keys and fingers. */
export function Moment({
  lines,
  from,
  to,
  breakMs,
  moment,
  onMoment,
  figure,
  unit,
}: {
  lines: readonly ChartLine[];
  from: number;
  to: number;
  breakMs: number;
  /** Null: the end. */
  moment: number | null;
  onMoment: (ms: number) => void;
  figure: (y: number) => string;
  unit: string;
}) {
  const ms = Math.min(to, Math.max(from, moment ?? to));
  const text = clock.format(ms);
  const values = lines.map((l) => ({ line: l, y: valueAt(l.points, ms, breakMs) }));
  return (
    <section aria-label="At one moment" className="mt-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <input
          type="range"
          className="min-h-[36px] min-w-[160px] grow"
          aria-label="Moment"
          aria-valuetext={`${text}: ${values.map((v) => `${v.line.label} ${v.y === null ? 'nothing' : figure(v.y)}`).join(', ')} ${unit}`}
          min={from}
          max={to}
          step={Math.max(1000, Math.round((to - from) / 240))}
          value={ms}
          onChange={(e) => onMoment(Number(e.target.value))}
        />
        <span className="narrow min-w-[168px] text-body font-semibold">{text}</span>
      </div>
      <ul className="grid grid-cols-3 gap-x-4 gap-y-0.5 sm:grid-cols-4 lg:grid-cols-6">
        {values.map(({ line, y }) => (
          <li key={line.label} className={`narrow flex items-center gap-2 text-body ${line.strong ? 'font-bold' : ''}`}>
            <Swatch line={styleOf(line.order)} strong={line.strong !== null} />
            <span>{line.label}</span>
            <span className="figure ml-auto text-body">{y === null ? '–' : figure(y)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
