import { useLayoutEffect, useRef, useState } from 'react';
import { BENCH } from '#core/bench/parameters.ts';
import { pressureAt } from '#core/gas/gas.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit } from '#schema/common.ts';
import { useFormat } from './format.ts';

/** What is known of an axle's pressures. */
export interface LadderAxle {
  code: string;
  name: string;
  coldKpa: number | null;
  coldTempC: number | null;
  /** The cold figure as it was typed. */
  coldText: string;
  lowKpa: number | null;
  highKpa: number | null;
}

/** The warm end of an ordinary run: the gas some 25 K over the temperature it was set at (common practice, no source). */
export const hotRunKpa = (coldKpa: number, coldTempC: number): number => pressureAt(coldKpa, coldTempC, coldTempC + BENCH.riseK);

interface Mark {
  kpa: number;
  text: string;
  bold: boolean;
}

/** Steps of the scale that a person would choose. */
const niceStep = (span: number): number => [1, 2, 5, 10, 20, 50, 100, 200, 500].find((s) => span / s <= 8) ?? 1000;

/** Spread labels so that none lies on another, as near to their marks as that allows. */
export function spread(wanted: readonly number[], gap: number): number[] {
  const order = wanted.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y);
  for (let round = 0; round < 40; round += 1) {
    let moved = false;
    for (let k = 1; k < order.length; k += 1) {
      const a = order[k - 1] as { y: number };
      const b = order[k] as { y: number };
      if (b.y - a.y < gap - 0.01) {
        const mid = (a.y + b.y) / 2;
        a.y = mid - gap / 2;
        b.y = mid + gap / 2;
        moved = true;
      }
    }
    if (!moved) break;
  }
  const out: number[] = [];
  for (const { y, i } of order) out[i] = y;
  return out;
}

const HEIGHT = 380;
const TOP = 34;
const BOTTOM = 14;
const AXIS = 44;
const MIN_COLUMN = 112;
/** A column narrower than this has room for short words only. */
const ROOMY = 146;
const MAX_COLUMN = 172;

/** Each axle as a ladder: where the day takes it, and where the alarm rings. */
export function Ladder({
  axles,
  selected,
  onSelect,
}: {
  axles: readonly LadderAxle[];
  selected: string;
  onSelect: (code: string) => void;
}) {
  const f = useFormat();
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(0);
  useLayoutEffect(() => {
    const el = box.current;
    if (!el) return;
    const watch = new ResizeObserver(() => setRoom(el.clientWidth));
    watch.observe(el);
    setRoom(el.clientWidth);
    return () => watch.disconnect();
  }, []);
  const column = Math.min(MAX_COLUMN, Math.max(MIN_COLUMN, (room - AXIS) / axles.length));
  const values = axles.flatMap((a) => [
    a.coldKpa,
    a.lowKpa,
    a.highKpa,
    a.coldKpa !== null ? hotRunKpa(a.coldKpa, a.coldTempC ?? 20) : null,
  ]);
  const known = values.filter((v): v is number => v !== null).map((v) => convert(v, 'kPa', f.unit as PressureUnit));
  if (known.length === 0) {
    return (
      <div ref={box} className="text-ink2">
        Set cold pressures first; then the ladder has something to show.
      </div>
    );
  }
  const min = Math.min(...known);
  const max = Math.max(...known);
  const step = f.unit === 'bar' ? niceStep((max - min) * 100 || 50) / 100 : niceStep(max - min || 20);
  const low = Math.floor((min - step * 0.4) / step) * step;
  const high = Math.ceil((max + step * 0.4) / step) * step;
  const y = (value: number) => TOP + ((high - value) / (high - low)) * (HEIGHT - TOP - BOTTOM);
  const yk = (kpa: number) => y(convert(kpa, 'kPa', f.unit));
  const lines: number[] = [];
  for (let v = low; v <= high + step / 1000; v += step) lines.push(v);
  const width = AXIS + axles.length * column;
  return (
    <div ref={box} className="overflow-x-auto">
      {/* biome-ignore lint/a11y/useSemanticElements: the group holds buttons and is drawn */}
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Ladder of pressures by axle"
        className="max-w-none"
      >
        {lines.map((v) => (
          <g key={v}>
            <path d={`M${AXIS} ${y(v)}H${width}`} stroke="var(--rule)" />
            <text x={AXIS - 8} y={y(v) + 4} textAnchor="end" fontSize="13" fill="var(--ink2)" className="narrow">
              {f.unit === 'bar' ? v.toFixed(step < 0.1 ? 2 : 1) : Math.round(v)}
            </text>
          </g>
        ))}
        <text x={AXIS - 8} y={TOP - 16} textAnchor="end" fontSize="12" fill="var(--ink2)">
          {f.unit}
        </text>
        {axles.map((a, i) => {
          const x = AXIS + i * column + 12;
          const w = 36;
          const hot = a.coldKpa === null ? null : hotRunKpa(a.coldKpa, a.coldTempC ?? 20);
          const marks: Mark[] = [];
          if (a.highKpa !== null)
            marks.push({ kpa: a.highKpa, text: `${f.figure(a.highKpa)} high${column < ROOMY ? '' : ' alarm'}`, bold: true });
          if (hot !== null) marks.push({ kpa: hot, text: `${f.figure(hot)} hot run`, bold: false });
          if (a.coldKpa !== null) {
            const at = a.coldTempC === null ? '' : ` at ${f.temperature(a.coldTempC)}`;
            marks.push({ kpa: a.coldKpa, text: `${a.coldText}${column < ROOMY && at ? '' : ' cold'}${at}`, bold: true });
          }
          if (a.lowKpa !== null)
            marks.push({ kpa: a.lowKpa, text: `${f.figure(a.lowKpa)} low${column < ROOMY ? '' : ' alarm'}`, bold: true });
          const places = spread(
            marks.map((m) => yk(m.kpa)),
            16,
          );
          const told = marks.map((m) => m.text).join(', ');
          return (
            // biome-ignore lint/a11y/useSemanticElements: an SVG group cannot be a button element
            <g
              key={a.code}
              role="button"
              tabIndex={0}
              aria-pressed={a.code === selected}
              aria-label={`${a.code} ${a.name}: ${told || 'nothing set'}`}
              onClick={() => onSelect(a.code)}
              onKeyDown={(e) => {
                if (e.key !== 'Enter' && e.key !== ' ') return;
                e.preventDefault();
                onSelect(a.code);
              }}
              className="cursor-pointer"
            >
              <rect
                x={x - 11}
                y={2}
                width={column - 2}
                height={HEIGHT - 4}
                fill="transparent"
                stroke={a.code === selected ? 'var(--ink)' : 'none'}
              />
              <text x={x} y={20} fontSize="15" fontWeight="700" fill="var(--ink)" className="narrow">
                {a.code} {a.name.length > 15 ? `${a.name.slice(0, 14)}…` : a.name}
              </text>
              <path d={`M${x} ${TOP}V${HEIGHT - BOTTOM}M${x + w} ${TOP}V${HEIGHT - BOTTOM}`} stroke="var(--ink)" />
              {hot !== null && a.coldKpa !== null && (
                <>
                  <rect
                    x={x}
                    y={yk(hot)}
                    width={w}
                    height={Math.max(1, yk(a.coldKpa) - yk(hot))}
                    fill="var(--cyan)"
                    opacity="0.28"
                  />
                  <rect
                    x={x + w / 2 - 7}
                    y={yk(hot)}
                    width={14}
                    height={Math.max(1, yk(a.coldKpa) - yk(hot))}
                    fill="var(--cyan)"
                  />
                </>
              )}
              {a.coldKpa !== null && <path d={`M${x + w} ${yk(a.coldKpa)}l9 -5.5v11z`} fill="var(--ink)" />}
              {[a.lowKpa, a.highKpa].map(
                (limit, k) =>
                  limit !== null && (
                    <path
                      key={k === 0 ? 'low' : 'high'}
                      d={`M${x - 7} ${yk(limit)}H${x + w + 7}`}
                      stroke="var(--ink)"
                      strokeWidth="3.5"
                    />
                  ),
              )}
              {marks.map((m, k) => (
                <text
                  key={m.text}
                  x={x + w + 12}
                  y={(places[k] ?? 0) + 4.5}
                  fontSize="12.5"
                  fontWeight={m.bold ? 700 : 400}
                  fill="var(--ink)"
                  className="narrow"
                >
                  {m.text}
                </text>
              ))}
              {marks.length === 0 && (
                <text x={x + w + 12} y={HEIGHT / 2} fontSize="13" fill="var(--ink2)">
                  nothing set
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}
