import { useId, useLayoutEffect, useRef, useState } from 'react';
import { convert } from '#core/units/units.ts';
import type { PressureUnit } from '#schema/common.ts';
import { type Format, useFormat } from './format.ts';
import { spread } from './spread.ts';

/** What is known of an axle's pressures. */
export interface LadderAxle {
  code: string;
  name: string;
  /** It doesn't run. */
  spare?: boolean;
  coldKpa: number | null;
  coldTempC: number | null;
  /** The cold figure as it was typed. */
  coldText: string;
  lowKpa: number | null;
  highKpa: number | null;
  /** What the monitor ends with, where that isn't what was wished; undefined: the same, or no monitor. */
  heldLowKpa?: number | null | undefined;
  heldHighKpa?: number | null | undefined;
  /** What is in force, where low and high are a draft; undefined: they are in force. */
  inForce?: { lowKpa: number | null; highKpa: number | null } | undefined;
  /** What carries the load, cold; an estimate or the maker's figure. */
  minimumKpa: number | null;
  /** Where the day takes it: the coldest start and the hot run. */
  coldestKpa: number | null;
  hotKpa: number | null;
  /** The sidewall's highest cold pressure. */
  maxColdKpa: number | null;
  /** Something is to be said against its limits. */
  marked: boolean;
}

export type LimitField = 'low' | 'high';

/** Move a limit on the ladder: while it is dragged, and when it is let go. */
export type MoveLimit = (code: string, field: LimitField, kpa: number, done: boolean) => void;

interface Mark {
  kpa: number;
  text: string;
  bold: boolean;
  must: boolean;
}

/** Steps of the scale that a person would choose. */
const niceStep = (span: number): number => [1, 2, 5, 10, 20, 50, 100, 200, 500].find((s) => span / s <= 8) ?? 1000;

const HEIGHT = 380;
const TOP = 34;
const BOTTOM = 14;
const AXIS = 44;
const MIN_COLUMN = 112;
/** A column narrower than this has room for short words only. */
const ROOMY = 146;
const MAX_COLUMN = 172;

/** Each axle as a ladder: what it must carry, where the day takes it, and where the alarm rings. Limits can be dragged. */
export function Ladder({
  axles,
  selected,
  onSelect,
  onMove,
  stepKpa,
}: {
  axles: readonly LadderAxle[];
  selected: string;
  onSelect: (code: string) => void;
  onMove?: MoveLimit;
  /** One press of an arrow key, kPa. */
  stepKpa: number;
}) {
  const f = useFormat();
  const id = useId();
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
  // The scale stands still while a limit is dragged over it.
  const held = useRef<{ low: number; high: number; step: number } | null>(null);
  const scale = held.current ?? scaleOf(axles, f.unit);
  if (!scale) {
    return (
      <div ref={box} className="text-ink2">
        Set cold pressures first; then the ladder has something to show.
      </div>
    );
  }
  const { low, high, step } = scale;
  const y = (value: number) => TOP + ((high - value) / (high - low)) * (HEIGHT - TOP - BOTTOM);
  const yk = (kpa: number) => y(convert(kpa, 'kPa', f.unit));
  const kpaAt = (py: number) => convert(high - ((py - TOP) / (HEIGHT - TOP - BOTTOM)) * (high - low), f.unit, 'kPa');
  const lines: number[] = [];
  for (let v = low; v <= high + step / 1000; v += step) lines.push(v);
  const width = AXIS + axles.length * column;

  const handle = (a: LadderAxle, field: LimitField, x: number, w: number) => {
    const kpa = field === 'low' ? a.lowKpa : a.highKpa;
    if (kpa === null || !onMove || a.coldKpa === null) return null;
    const at = yk(kpa);
    const drag = (e: React.PointerEvent<SVGRectElement>, done: boolean) => {
      const svg = e.currentTarget.ownerSVGElement;
      if (!svg || !held.current) return;
      const { top } = svg.getBoundingClientRect();
      onMove(a.code, field, kpaAt(e.clientY - top), done);
    };
    const letGo = (e: React.PointerEvent<SVGRectElement>) => {
      drag(e, true);
      held.current = null;
    };
    return (
      <rect
        key={field}
        role="slider"
        tabIndex={0}
        aria-label={`${a.code} ${field} alarm`}
        aria-orientation="vertical"
        aria-valuenow={Number(f.figure(kpa))}
        aria-valuetext={f.pressure(kpa)}
        aria-valuemin={field === 'low' ? 0 : Number(f.figure(a.coldKpa))}
        aria-valuemax={field === 'low' ? Number(f.figure(a.coldKpa)) : Number(f.figure(convert(high, f.unit, 'kPa')))}
        x={x - 12}
        y={at - 12}
        width={w + 24}
        height={24}
        fill="transparent"
        className="ladder-handle"
        onFocus={() => onSelect(a.code)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          held.current = scale;
          onSelect(a.code);
        }}
        onPointerMove={(e) => drag(e, false)}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        onKeyDown={(e) => {
          const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 5, PageDown: -5 }[e.key];
          if (steps === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          onMove(a.code, field, kpa + steps * stepKpa, true);
        }}
      />
    );
  };

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
        <defs>
          <pattern id={`${id}-must`} width="6" height="6" patternUnits="userSpaceOnUse">
            <circle cx="1.5" cy="1.5" r="1.45" fill="var(--magenta)" />
            <circle cx="4.5" cy="4.5" r="1.45" fill="var(--magenta)" />
          </pattern>
        </defs>
        {lines.map((v) => (
          <g key={v}>
            <path d={`M${AXIS} ${y(v)}H${width}`} stroke="var(--rule)" />
            <text x={AXIS - 8} y={y(v) + 4} textAnchor="end" fontSize="13" fill="var(--ink2)" className="narrow">
              {f.unit === 'bar' ? v.toFixed(step < 0.1 ? 2 : 1) : Math.round(v)}
            </text>
          </g>
        ))}
        <text x={AXIS - 8} y={TOP - 16} textAnchor="end" fontSize="13" fill="var(--ink2)">
          {f.unit}
        </text>
        {axles.map((a, i) => {
          const x = AXIS + i * column + 12;
          const w = column < ROOMY ? 30 : 36;
          const narrow = column < ROOMY;
          const marks = marksOf(a, f, narrow);
          const places = spread(
            marks.map((m) => yk(m.kpa)),
            15,
          );
          const told = marks.map((m) => m.text).join(', ');
          const bottom = HEIGHT - BOTTOM;
          const within = (kpa: number) => Math.min(bottom, Math.max(TOP, yk(kpa)));
          const first = a.coldestKpa ?? a.coldKpa;
          return (
            <g key={a.code}>
              {/* biome-ignore lint/a11y/useSemanticElements: an SVG group cannot be a button element */}
              <g
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
                {a.marked && <path d={`M${x - 6} ${TOP - 6}h${w + 12}`} stroke="var(--magenta)" strokeWidth="4" />}
                <path d={`M${x} ${TOP}V${bottom}M${x + w} ${TOP}V${bottom}`} stroke="var(--ink)" />
                {a.minimumKpa !== null && (
                  <>
                    <rect
                      x={x}
                      y={within(a.minimumKpa)}
                      width={w}
                      height={bottom - within(a.minimumKpa)}
                      fill={`url(#${id}-must)`}
                    />
                    <path d={`M${x} ${within(a.minimumKpa)}h${w}`} stroke="var(--magenta)" strokeWidth="1.5" />
                  </>
                )}
                {a.hotKpa !== null && first !== null && a.coldKpa !== null && (
                  <>
                    <rect
                      x={x}
                      y={yk(a.hotKpa)}
                      width={w}
                      height={Math.max(1, yk(first) - yk(a.hotKpa))}
                      fill="var(--cyan)"
                      opacity="0.28"
                    />
                    <rect
                      x={x + w / 2 - 7}
                      y={yk(a.hotKpa)}
                      width={14}
                      height={Math.max(1, yk(a.coldKpa) - yk(a.hotKpa))}
                      fill="var(--cyan)"
                    />
                  </>
                )}
                {a.maxColdKpa !== null && (
                  <path d={`M${x} ${yk(a.maxColdKpa)}h${w}`} stroke="var(--ink)" strokeWidth="2" strokeDasharray="2 3" />
                )}
                {a.coldKpa !== null && <path d={`M${x + w} ${yk(a.coldKpa)}l9 -5.5v11z`} fill="var(--ink)" />}
                {/* A draft is drawn broken, and what is in force stays as a thin line. */}
                {a.inForce &&
                  [a.inForce.lowKpa, a.inForce.highKpa].map(
                    (kpa) =>
                      kpa !== null &&
                      kpa !== a.lowKpa &&
                      kpa !== a.highKpa && (
                        <path
                          key={kpa}
                          data-ghost
                          d={`M${x - 7} ${within(kpa)}H${x + w + 7}`}
                          stroke="var(--ink2)"
                          strokeWidth="1"
                        />
                      ),
                  )}
                {/* What the monitor holds is thick; a wish that it doesn't hold is thin. */}
                {(
                  [
                    ['low', a.lowKpa, a.heldLowKpa],
                    ['high', a.highKpa, a.heldHighKpa],
                  ] as const
                ).map(([field, wish, held]) => (
                  <g key={field} stroke="var(--ink)">
                    {wish !== null && (
                      <path
                        d={`M${x - 7} ${yk(wish)}H${x + w + 7}`}
                        strokeWidth={held === undefined ? 3.5 : 1.2}
                        strokeDasharray={a.inForce && wish !== a.inForce[`${field}Kpa`] ? '5 3' : undefined}
                        data-draft={(a.inForce && wish !== a.inForce[`${field}Kpa`]) || undefined}
                      />
                    )}
                    {held !== undefined && held !== null && <path d={`M${x - 7} ${yk(held)}H${x + w + 7}`} strokeWidth="3.5" />}
                  </g>
                ))}
                {marks.map((m, k) => (
                  <text
                    key={m.text}
                    x={x + w + 12}
                    y={(places[k] ?? 0) + 4.5}
                    fontSize="13"
                    fontWeight={m.bold ? 700 : 400}
                    fill={m.must ? 'var(--magenta)' : 'var(--ink)'}
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
              {handle(a, 'high', x, w)}
              {handle(a, 'low', x, w)}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** The scale that shows all of them, in the unit on the screen; null when there is nothing to show. */
function scaleOf(axles: readonly LadderAxle[], unit: PressureUnit): { low: number; high: number; step: number } | null {
  const known = axles
    .flatMap((a) => [
      a.coldKpa,
      a.lowKpa,
      a.highKpa,
      a.heldLowKpa ?? null,
      a.heldHighKpa ?? null,
      a.hotKpa,
      a.coldestKpa,
      a.minimumKpa,
      a.maxColdKpa,
    ])
    .filter((v): v is number => v !== null)
    .map((v) => convert(v, 'kPa', unit));
  if (known.length === 0) return null;
  const min = Math.min(...known);
  const max = Math.max(...known);
  const step = unit === 'bar' ? niceStep((max - min) * 100 || 50) / 100 : niceStep(max - min || 20);
  return { low: Math.floor((min - step * 0.4) / step) * step, high: Math.ceil((max + step * 0.4) / step) * step, step };
}

/** What stands beside a column, each at its height. */
function marksOf(a: LadderAxle, f: Format, narrow: boolean): Mark[] {
  const marks: Mark[] = [];
  const put = (kpa: number | null, text: (figure: string) => string, kind: Partial<Mark> = {}) => {
    if (kpa !== null) marks.push({ kpa, text: text(f.figure(kpa)), bold: false, must: false, ...kind });
  };
  const limit = (field: 'low' | 'high', wish: number | null, held: number | null | undefined) => {
    const was = a.inForce?.[`${field}Kpa`];
    const draft = a.inForce !== undefined && wish !== was;
    put(
      wish,
      (v) =>
        `${v} ${draft && narrow ? 'draft' : field}${draft ? (narrow ? '' : ' draft') : held === undefined ? (narrow ? '' : ' alarm') : ' wished'}`,
      {
        bold: held === undefined,
      },
    );
    if (draft && was != null) put(was, (v) => `${v} in force`);
    put(held ?? null, (v) => `${v} ${field}${narrow ? '' : ' in the monitor'}`, { bold: true });
  };
  limit('high', a.highKpa, a.heldHighKpa);
  put(a.hotKpa, (v) => `${v} ${a.spare ? 'hottest' : 'hot run'}`);
  if (a.coldKpa !== null) {
    const at = a.coldTempC === null ? '' : ` at ${f.temperature(a.coldTempC)}`;
    const most = a.maxColdKpa !== null && Math.abs(a.maxColdKpa - a.coldKpa) < 0.5 ? (narrow ? ' ' : ', max') : '';
    put(a.coldKpa, () => `${a.coldText}${narrow && at ? '' : ' cold'}${at}${most}`, { bold: true });
    if (!most) put(a.maxColdKpa, (v) => `${v} sidewall${narrow ? '' : ' max'}`);
  }
  put(a.coldestKpa, (v) => `${v} coldest${narrow ? '' : ' start'}`);
  limit('low', a.lowKpa, a.heldLowKpa);
  put(a.minimumKpa, (v) => `${v} carries${narrow ? '' : ' the load'}`, { must: true });
  return marks;
}
