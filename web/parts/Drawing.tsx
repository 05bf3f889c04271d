import { useId } from 'react';
import type { FittingStep } from '#core/fitting/cards.ts';
import type { SensorKind } from '#schema/common.ts';
import type { LooseParts, StemForm } from '#schema/unit.ts';
import { spread } from './spread.ts';

/** What is seen in the drawing of a step. */
interface Parts {
  cap?: boolean;
  boot?: 'down' | 'over' | 'arriving';
  nut?: 'down' | 'up';
  sensor?: 'arriving' | 'on';
  own?: 'off' | 'on';
  screw?: 'out' | 'in';
  cloth?: boolean;
  wrench?: boolean;
  bubbles?: boolean;
  tape?: boolean;
  film?: boolean;
  wheel?: boolean;
  mark?: boolean;
}

const drawings: Record<FittingStep, Parts> = {
  mark: { sensor: 'arriving', mark: true },
  lookAtStem: { cap: true },
  film: { sensor: 'arriving', film: true },
  capOff: { cap: true },
  valveClean: { cloth: true },
  boot: { boot: 'arriving' },
  lockNut: { boot: 'down', nut: 'down' },
  ownCapOff: { boot: 'down', nut: 'down', sensor: 'arriving', own: 'off' },
  setScrewOut: { boot: 'down', nut: 'down', sensor: 'arriving', screw: 'out' },
  sensorOn: { boot: 'down', nut: 'down', sensor: 'on' },
  nutBack: { boot: 'down', nut: 'up', sensor: 'on', wrench: true },
  lockTool: { boot: 'down', sensor: 'on', wrench: true },
  setScrewIn: { boot: 'down', nut: 'up', sensor: 'on', screw: 'in' },
  soap: { boot: 'down', nut: 'up', sensor: 'on', bubbles: true },
  ownCapOn: { boot: 'down', nut: 'up', sensor: 'on', own: 'on' },
  bootOver: { boot: 'over', nut: 'up', sensor: 'on' },
  tape: { boot: 'over', nut: 'up', sensor: 'on', tape: true },
  shop: { wheel: true },
  shopBalance: { wheel: true, tape: true },
  shopWake: { wheel: true },
};

/**
 * What the section is drawn from, mm. Thread 8V1 of 7.7 mm (ISO 4570, from memory), valve hole 11.5 mm and cell CR1632 of 16 by 3.2 mm
 * (IEC 60086, from memory); the rest is common practice, no source.
 */
const MM = {
  middle: 35,
  /** Outer face of the rim. */
  rim: 66,
  rimThick: 3,
  hole: 11.5,
  thread: 7.7,
  bore: 3,
  nut: { across: 13, high: 5 },
  boot: { wide: 19, high: 13 },
  sensor: { wide: 20, over: 8 },
  cell: { wide: 16, high: 3.2 },
} as const;
/** How far the stem stands out of the rim, mm (common practice, no source). */
const STEM_OUT: Record<StemForm, number> = { short: 20, standard: 33, long: 44, angled: 33, extension: 44 };

/** A part named beside the section, at its height. */
interface Name {
  y: number;
  x: number;
  text: string;
}

/** A stem with its boot, nut and sensor, cut through and to scale: metal hatched, rubber in halftone. */
function Cut({
  kind,
  parts: p,
  stem = 'standard',
  names = false,
}: {
  kind: SensorKind;
  parts: Parts;
  stem?: StemForm;
  names?: boolean;
}) {
  const id = useId();
  const { middle: m, rim } = MM;
  const tip = rim - STEM_OUT[stem];
  const metal = `url(#${id}-metal)`;
  const rubber = `url(#${id}-rubber)`;
  const line = { stroke: 'var(--ink)', strokeWidth: 0.5 } as const;
  const half = MM.thread / 2;
  /** The two cut walls of something hollow, mirrored about the axis. */
  const walls = (outer: number, inner: number, top: number, high: number, fill: string) =>
    [-1, 1].map((side) => (
      <rect
        key={side}
        x={side < 0 ? m - outer / 2 : m + inner / 2}
        y={top}
        width={(outer - inner) / 2}
        height={high}
        fill={fill}
        {...line}
      />
    ));
  const lift = p.sensor === 'arriving' ? -14 : 0;
  const external = kind !== 'internal';
  const flow = kind === 'flowThrough';
  const bodyHigh = flow ? 30 : 23;
  const bodyTop = tip + MM.sensor.over - bodyHigh + lift;
  const bootTop = p.boot === 'arriving' ? tip - 20 : p.boot === 'over' ? tip + 2 : rim - MM.boot.high;
  const nutTop = p.nut === 'up' ? tip + MM.sensor.over + 0.6 : rim - MM.boot.high - MM.nut.high - 1;
  const named: Name[] = [
    ...(external && p.sensor ? [{ y: bodyTop + 5, x: m + 9, text: 'battery' }] : []),
    ...(external && p.sensor ? [{ y: tip + lift - 0.5, x: m + 5, text: 'O-ring, on the valve' }] : []),
    ...(p.nut ? [{ y: nutTop + 2.5, x: m + 6.5, text: 'lock nut' }] : []),
    ...(p.boot ? [{ y: bootTop + 9, x: m + 9, text: 'dust boot' }] : []),
    { y: rim + 1.5, x: m + 22, text: 'rim' },
    ...(external ? [] : [{ y: rim + 12, x: m + 15, text: 'sensor, inside the tire' }]),
  ];
  return (
    <>
      <defs>
        <pattern id={`${id}-metal`} width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="1.6" height="1.6" fill="var(--paper)" />
          <path d="M0 0V1.6" stroke="var(--ink)" strokeWidth="0.45" />
        </pattern>
        <pattern id={`${id}-rubber`} width="1.8" height="1.8" patternUnits="userSpaceOnUse">
          <rect width="1.8" height="1.8" fill="var(--paper)" />
          <circle cx="0.45" cy="0.45" r="0.42" fill="var(--ink)" />
          <circle cx="1.35" cy="1.35" r="0.42" fill="var(--ink)" />
        </pattern>
      </defs>
      {/* The rim, cut, with the hole for the valve. */}
      <rect x="4" y={rim} width={m - MM.hole / 2 - 4} height={MM.rimThick} fill={metal} {...line} />
      <rect x={m + MM.hole / 2} y={rim} width={m - MM.hole / 2 - 4} height={MM.rimThick} fill={metal} {...line} />
      {/* Seal and foot of the stem. */}
      {walls(17, MM.thread, rim + MM.rimThick, 3, rubber)}
      {walls(MM.hole, MM.thread, rim, MM.rimThick, rubber)}
      {walls(15, MM.bore, rim + MM.rimThick + 3, 3, metal)}
      {walls(MM.thread, MM.bore, tip, rim + MM.rimThick + 3 - tip, metal)}
      {Array.from({ length: 8 }, (_, i) => tip + 1 + i * 1.6).map((y) => (
        <path key={y} d={`M${m - half} ${y}h-0.5M${m + half} ${y}h0.5`} {...line} />
      ))}
      {/* The core, a pin and its seat. */}
      <path d={`M${m} ${tip + 1}v10`} stroke="var(--ink)" strokeWidth="0.9" />
      <rect x={m - 1.5} y={tip + 9} width="3" height="4" fill="var(--ink)" />
      {p.boot && (
        <path
          d={
            p.boot === 'over'
              ? `M${m - 11} ${bootTop}C${m - 12} ${bootTop + 14} ${m - 9} ${rim - 4} ${m - 9.5} ${rim}h19C${m + 9} ${rim - 4} ${m + 12} ${bootTop + 14} ${m + 11} ${bootTop}l-1.6 0C${m + 10} ${bootTop + 14} ${m + 5} ${rim - 8} ${m + half} ${rim - 3}h-${MM.thread}C${m - 5} ${rim - 8} ${m - 10} ${bootTop + 14} ${m - 9.4} ${bootTop}z`
              : `M${m - half} ${bootTop}h-2L${m - MM.boot.wide / 2} ${bootTop + MM.boot.high}h3L${m - half} ${bootTop + 4}zM${m + half} ${bootTop}h2L${m + MM.boot.wide / 2} ${bootTop + MM.boot.high}h-3L${m + half} ${bootTop + 4}z`
          }
          fill={rubber}
          {...line}
        />
      )}
      {p.nut && walls(MM.nut.across, MM.thread, nutTop, MM.nut.high, metal)}
      {p.cap && walls(10, MM.thread, tip - (p.boot ? 0 : 2), 9, 'var(--ink)')}
      {p.cap && <rect x={m - 5} y={tip - 3} width="10" height="1.6" fill="var(--ink)" />}
      {external && p.sensor && (
        <g>
          {/* Housing: a lid, walls, and the thread that takes the valve. */}
          {walls(MM.sensor.wide, MM.sensor.wide - 3, bodyTop, bodyHigh, 'var(--paper)')}
          {walls(MM.sensor.wide - 3, MM.thread, bodyTop + bodyHigh - MM.sensor.over, MM.sensor.over, metal)}
          {flow ? (
            walls(MM.sensor.wide - 3, MM.bore, bodyTop, 1.6, 'var(--paper)')
          ) : (
            <rect x={m - MM.sensor.wide / 2} y={bodyTop} width={MM.sensor.wide} height="1.6" fill="var(--paper)" {...line} />
          )}
          {flow ? (
            <>
              {/* The cell stands beside the way of the air. */}
              <rect x={m + 4} y={bodyTop + 3} width={MM.cell.high} height={MM.cell.wide} fill="var(--cyan)" {...line} />
              {walls(6, MM.bore, bodyTop - 7, bodyHigh - 1, metal)}
              {walls(MM.thread, MM.bore, bodyTop - 9, 9, metal)}
              <rect x={m - 9} y={bodyTop + 3} width="1.2" height="15" fill="var(--ink)" />
            </>
          ) : (
            <>
              <rect
                x={m - MM.cell.wide / 2}
                y={bodyTop + 3}
                width={MM.cell.wide}
                height={MM.cell.high}
                fill="var(--cyan)"
                {...line}
              />
              <rect x={m - 8.5} y={bodyTop + 8} width="17" height="1" fill="var(--ink)" />
              <path d={`M${m} ${bodyTop + 9}V${tip + lift + 1.2}`} stroke="var(--ink)" strokeWidth="1" />
            </>
          )}
          {/* The O-ring that seals on the tip of the valve. */}
          {[-1, 1].map((side) => (
            <circle key={side} cx={m + side * 2.9} cy={tip + lift - 0.6} r="0.95" fill="var(--ink)" />
          ))}
          {flow && p.own !== 'off' && walls(10, MM.thread, bodyTop - 11, 9, 'var(--ink)')}
          {flow && p.screw && (
            <path
              d={p.screw === 'out' ? `M${m + 10} ${bodyTop + bodyHigh - 4}h8` : `M${m + 6} ${bodyTop + bodyHigh - 4}h5`}
              stroke="var(--ink)"
              strokeWidth="2.2"
            />
          )}
          {p.mark && (
            <path d={`M${m - 6} ${bodyTop + 14}h12M${m - 6} ${bodyTop + 17}h8`} stroke="var(--magenta)" strokeWidth="1.2" />
          )}
          {p.film && (
            <path d={`M${m + 8} ${bodyTop + 2.6}h9l4-3`} stroke="var(--ink)" strokeWidth="0.7" strokeDasharray="1.6 1.2" />
          )}
          {p.sensor === 'arriving' && (
            <path d={`M${m - 17} ${bodyTop + 4}v16m-3-4 3 4 3-4`} stroke="var(--ink)" strokeWidth="0.9" />
          )}
        </g>
      )}
      {!external && (
        <g>
          <rect x={m - 4} y={rim + MM.rimThick + 6} width="26" height="12" fill="var(--paper)" {...line} />
          <rect x={m + 3} y={rim + MM.rimThick + 9} width={MM.cell.wide} height={MM.cell.high} fill="var(--cyan)" {...line} />
        </g>
      )}
      {p.own === 'off' &&
        walls(10, MM.thread, 12, 9, 'var(--ink)').map((w) => (
          <g key={w.key} transform="translate(22 0)">
            {w}
          </g>
        ))}
      {p.cloth && (
        <path
          d={`M${m - 20} ${tip - 3}c8-7 14 4 22-2s14 2 20-3M${m - 18} ${tip + 2}c6-5 12 4 20-1s12 2 16-2`}
          stroke="var(--ink)"
          strokeWidth="0.9"
        />
      )}
      {p.wrench && <path d={`M${m + 7} ${nutTop + 2.5}h24m0-3v6m-24-6-3 3 3 3`} stroke="var(--ink)" strokeWidth="1" />}
      {p.bubbles &&
        [
          [-13, 2, 2.4],
          [-16, -5, 1.6],
          [13, 0, 2],
          [16, 6, 1.6],
        ].map(([x, y, r]) => (
          <circle key={x} cx={m + (x as number)} cy={tip + 8 + (y as number)} r={r} stroke="var(--ink)" strokeWidth="0.7" />
        ))}
      {p.tape && <path d={`M${m + 12} ${rim - 0.9}h16`} stroke="var(--yellow)" strokeWidth="1.8" />}
      {names && (
        <g fill="var(--ink)" stroke="none" fontSize="3.4">
          {spread(
            named.map((n) => n.y),
            5,
          ).map((y, i) => {
            const n = named[i] as Name;
            return (
              <g key={n.text}>
                <path d={`M${n.x} ${n.y}L66 ${y}`} stroke="var(--ink2)" strokeWidth="0.3" />
                <text x="67" y={y + 1.2}>
                  {n.text}
                </text>
              </g>
            );
          })}
          <path d="M67 84h10M67 83v2M77 83v2" stroke="var(--ink)" strokeWidth="0.5" />
          <text x="79" y="85.2">
            10 mm
          </text>
        </g>
      )}
    </>
  );
}

/** A step as a section through stem and sensor, to scale: parts come from above. */
export function Drawing({ step, kind, text }: { step: FittingStep; kind: SensorKind; text: string }) {
  const p = drawings[step];
  return p.wheel ? (
    <svg
      viewBox="0 0 220 190"
      className="h-[190px] w-full max-w-[260px]"
      role="img"
      aria-label={text}
      fill="none"
      stroke="var(--ink)"
      strokeWidth="2.5"
    >
      <circle cx="110" cy="92" r="76" />
      <circle cx="110" cy="92" r="48" />
      <circle cx="110" cy="92" r="8" />
      <rect x="98" y="18" width="24" height="16" fill="var(--cyan)" />
      <path d="M110 34v14" />
      {p.tape && <rect x="94" y="138" width="32" height="9" fill="var(--yellow)" />}
    </svg>
  ) : (
    <svg viewBox="0 0 72 86" className="h-[230px] w-full max-w-[240px]" role="img" aria-label={text} fill="none">
      <Cut kind={kind} parts={p} />
    </svg>
  );
}

/** How a kind of sensor sits on its stem, cut through and to scale, with its parts named. */
export function Section({ kind, stem, loose }: { kind: SensorKind; stem: StemForm | undefined; loose: LooseParts }) {
  const parts: Parts =
    kind === 'internal'
      ? { cap: true }
      : {
          sensor: 'on',
          own: 'on',
          ...(loose.boot === 'none' ? {} : { boot: 'down' as const }),
          ...(loose.lockNut && !loose.antiTheft ? { nut: 'up' as const } : {}),
          ...(kind === 'flowThrough' && loose.setScrew ? { screw: 'in' as const } : {}),
        };
  // As tall as what stands on this stem.
  const top = Math.max(0, MM.rim - STEM_OUT[stem ?? 'standard'] - (kind === 'flowThrough' ? 36 : kind === 'cap' ? 19 : 8));
  const what = { cap: 'A cap sensor', flowThrough: 'A flow-through sensor', internal: 'An internal sensor' }[kind];
  return (
    <svg
      viewBox={`0 ${top} 106 ${90 - top}`}
      className="w-full max-w-[372px]"
      role="img"
      aria-label={`${what} on its stem, cut through, to scale`}
      fill="none"
    >
      <Cut kind={kind} parts={parts} stem={stem ?? 'standard'} names />
    </svg>
  );
}
