import {
  type KeyboardEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { type Place, type RigWheel, unitLetter } from '#core/rig/positions.ts';
import type { Unit } from '#schema/unit.ts';
import { type Standing, usePreferences } from '../state/preferences.ts';

/**
 * Which way the rig lies. `across`: seen from above, the road to the left. `up`: as one stands behind it (and on a phone), the road up.
 * `fromLeft`, `fromRight`: as one stands beside it, the near wheels at the bottom.
 */
export type Lie = 'across' | 'up' | 'fromLeft' | 'fromRight';

/** How the rig lies for where the owner stands, on a window that is narrow or not. */
export const lieFor = (standing: Standing, narrow: boolean): Lie =>
  standing === 'behind' ? 'up' : standing === 'left' ? 'fromLeft' : standing === 'right' ? 'fromRight' : narrow ? 'up' : 'across';

/** The lie that is chosen now. */
export function useLie(): Lie {
  return lieFor(usePreferences().standing, useNarrow());
}

/** True while the window is too narrow for a rig lying across. */
export function useNarrow(query = '(max-width: 760px)'): boolean {
  const [narrow, setNarrow] = useState(() => matchMedia(query).matches);
  useEffect(() => {
    const media = matchMedia(query);
    const change = () => setNarrow(media.matches);
    media.addEventListener('change', change);
    return () => media.removeEventListener('change', change);
  }, [query]);
  return narrow;
}

/** Lanes across the spine, from the left side of the rig to its right. */
const LANES: Record<Place | 'S', number> = { LO: 1, L: 2, LI: 2, S: 2, C: 3, RI: 4, R: 4, RO: 5 };
const SPINE = 3;

interface Slot {
  /** Order along the rig, from the front. */
  along: number;
  unitIndex: number;
  axleIndex: number | null;
  wheels: RigWheel[];
}

/** Columns along the rig: axles and spares, with a gap for each coupling. */
function slotsOf(units: readonly Unit[], wheels: readonly RigWheel[]): { slots: Slot[]; couplings: number[]; count: number } {
  const slots: Slot[] = [];
  const couplings: number[] = [];
  let along = 1;
  units.forEach((unit, unitIndex) => {
    if (unitIndex > 0) {
      couplings.push(along);
      along += 1;
    }
    unit.axles.forEach((_, axleIndex) => {
      slots.push({
        along,
        unitIndex,
        axleIndex,
        wheels: wheels.filter((w) => w.unitIndex === unitIndex && w.axleIndex === axleIndex),
      });
      along += 1;
    });
    for (const spare of wheels.filter((w) => w.unitIndex === unitIndex && w.place === 'S')) {
      slots.push({ along, unitIndex, axleIndex: null, wheels: [spare] });
      along += 1;
    }
  });
  return { slots, couplings, count: along - 1 };
}

export interface RigPlanProps {
  units: readonly Unit[];
  wheels: readonly RigWheel[];
  /** Draws one wheel. */
  wheel: (wheel: RigWheel) => ReactNode;
  lie: Lie;
  /** Smallest width of a wheel when the rig lies across, px. */
  size?: number;
  /** Smallest height of a wheel, px. */
  tallness?: number;
  /** Below each axle (across) or beside it (up): an editor's handles. */
  underAxle?: (unitIndex: number, axleIndex: number) => ReactNode;
  /** Shows unit letters and names. */
  names?: boolean;
  label: string;
}

const STEPS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
const wheelsIn = (plan: HTMLElement | null) => [...(plan?.querySelectorAll<HTMLElement>('[data-position]') ?? [])];

/**
 * The plan is one stop of the Tab key: arrow keys walk its wheels in plan order, Home and End go to the first and the last. Left and right
 * begin to walk also while nothing has the focus.
 */
function useWalk(plan: RefObject<HTMLElement | null>): {
  onKeyDown: (e: KeyboardEvent<HTMLElement>) => void;
  onFocus: () => void;
} {
  const last = useRef<string | undefined>(undefined);
  const settle = useCallback(() => {
    const buttons = wheelsIn(plan.current);
    const here =
      buttons.find((b) => b === document.activeElement) ??
      buttons.find((b) => b.dataset.position === last.current) ??
      buttons.find((b) => b.getAttribute('aria-pressed') === 'true') ??
      buttons[0];
    last.current = here?.dataset.position;
    for (const b of buttons) b.tabIndex = b === here ? 0 : -1;
    return here;
  }, [plan]);
  // A wheel that has just been drawn would be a stop of its own.
  useLayoutEffect(() => void settle());
  // Before it is painted: who sees the plan may press at once.
  useLayoutEffect(() => {
    const begin = (e: globalThis.KeyboardEvent) => {
      const idle = e.target === document.body || (e.target instanceof HTMLElement && e.target.id === 'sheet');
      if (!idle || e.defaultPrevented || e.altKey || e.ctrlKey || e.metaKey || !['ArrowLeft', 'ArrowRight'].includes(e.key))
        return;
      // One plan of a page answers: the first.
      if (document.querySelector('[data-plan]') !== plan.current) return;
      const here = settle();
      if (!here) return;
      e.preventDefault();
      here.focus();
    };
    window.addEventListener('keydown', begin);
    return () => window.removeEventListener('keydown', begin);
  }, [plan, settle]);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const { key, target } = event;
    if (!(target instanceof HTMLElement) || target.matches('input, select')) return;
    const buttons = wheelsIn(plan.current);
    const at = buttons.indexOf(target.closest('[data-position]') as HTMLElement);
    const step = STEPS[key];
    const to =
      key === 'Home'
        ? 0
        : key === 'End'
          ? buttons.length - 1
          : step === undefined
            ? -1
            : (at + step + buttons.length) % buttons.length;
    if (at < 0 || to < 0) return;
    event.preventDefault();
    buttons[to]?.focus();
  };
  return { onKeyDown, onFocus: () => void settle() };
}

/** The rig as wheels and a spine, joined at its couplings. Left is the driver's-seat left. */
export function RigPlan({ units, wheels, wheel, lie, size = 100, tallness = 88, underAxle, names = true, label }: RigPlanProps) {
  const plan = useRef<HTMLElement>(null);
  const walk = useWalk(plan);
  const { slots, couplings, count } = slotsOf(units, wheels);
  const across = lie !== 'up';
  // From the right the road lies to the right; from the left the near wheels, the left ones, lie below.
  const reversed = lie === 'fromRight';
  const flipped = lie === 'fromLeft';
  const has = (places: string[]) => wheels.some((w) => places.includes(w.place));
  const tall = has(['C']);
  const span = (from: number, end: number) => (reversed ? `${count + 2 - end} / ${count + 2 - from}` : `${from} / ${end}`);
  /** Grid lines of lanes: one line stands before them for names, one after them for handles. */
  const lanesOf = (from: number, end: number) => (flipped ? `${8 - end} / ${8 - from}` : `${from + 1} / ${end + 1}`);
  const cell = (alongRange: string, laneRange: string) =>
    across ? { gridColumn: alongRange, gridRow: laneRange } : { gridRow: alongRange, gridColumn: laneRange };
  const alongTracks = Array.from({ length: count }, (_, i) =>
    couplings.includes(i + 1)
      ? across
        ? 'minmax(26px, 60px)'
        : '34px'
      : across
        ? `minmax(${size}px, 150px)`
        : `minmax(${tallness}px, auto)`,
  );
  if (reversed) alongTracks.reverse();
  const wing = (places: string[]) => (has(places) ? (across ? `minmax(${tallness}px, auto)` : 'minmax(0, 1fr)') : '0px');
  const spine = across ? (tall ? `minmax(${tallness + 8}px, auto)` : '28px') : tall ? 'minmax(70px, 1fr)' : '22px';
  const lanes = [wing(['LO']), wing(['L', 'LI', 'S']), spine, wing(['R', 'RI']), wing(['RO'])];
  if (flipped) lanes.reverse();
  const acrossTracks = [across ? (names ? 'auto' : '0px') : names ? '18px' : '0px', ...lanes, 'auto'].join(' ');
  return (
    <section
      aria-label={label}
      ref={plan}
      data-plan
      {...walk}
      className={`relative grid gap-y-1 ${across ? 'gap-x-2' : 'gap-x-1'} ${across ? `w-max max-w-full overflow-x-auto pb-1 ${reversed ? 'pr-9' : 'pl-9'}` : 'w-full max-w-[640px] pt-8'}`}
      style={
        across
          ? { gridTemplateColumns: alongTracks.join(' '), gridTemplateRows: acrossTracks }
          : { gridTemplateRows: alongTracks.join(' '), gridTemplateColumns: acrossTracks }
      }
    >
      <div aria-hidden className="pointer-events-none relative" style={cell(span(1, count + 1), lanesOf(SPINE, SPINE + 1))}>
        <div
          className={
            across
              ? `absolute top-1/2 -mt-px h-[3px] bg-ink ${reversed ? '-right-9 left-0' : 'right-0 -left-9'}`
              : 'absolute -top-8 bottom-0 left-1/2 -ml-px w-[3px] bg-ink'
          }
        />
        <svg
          viewBox="0 0 20 20"
          className={
            across
              ? `absolute top-1/2 -mt-[10px] size-5 ${reversed ? '-right-9 rotate-180' : '-left-9'}`
              : 'absolute -top-8 left-1/2 -ml-[9px] size-5 rotate-90'
          }
          fill="currentColor"
          aria-hidden="true"
        >
          <path d="M0 10 18 1v18z" />
        </svg>
      </div>
      {couplings.map((along) => (
        <div
          key={along}
          aria-hidden
          className="pointer-events-none relative grid place-items-center"
          style={cell(span(along, along + 1), lanesOf(SPINE, SPINE + 1))}
        >
          <div className="size-4 rounded-full border-[3px] border-ink bg-paper" />
        </div>
      ))}
      {names &&
        units.map((unit, i) => {
          const own = slots.filter((s) => s.unitIndex === i);
          const first = own[0]?.along ?? 1;
          return (
            <div
              key={unit.id}
              className={
                across ? 'pb-1 text-head whitespace-nowrap' : 'pt-1 text-body [writing-mode:vertical-rl] rotate-180 text-right'
              }
              style={{ ...cell(span(first, (own.at(-1)?.along ?? first) + 1), '1 / 2'), fontFamily: 'var(--font-display)' }}
            >
              <span className={across ? 'mr-1' : 'mb-1'}>{unitLetter(i)}</span> {unit.name}
            </div>
          );
        })}
      {slots.map((slot) => {
        const places = slot.wheels.map((w) => LANES[w.place]);
        const from = Math.min(SPINE, ...places);
        const to = Math.max(SPINE, ...places);
        return slot.axleIndex === null ? null : (
          <div
            key={`axle ${slot.along}`}
            aria-hidden
            className="pointer-events-none relative"
            style={cell(span(slot.along, slot.along + 1), lanesOf(from, to + 1))}
          >
            <div
              className={
                across ? 'absolute inset-y-0 left-1/2 -ml-px w-[3px] bg-ink' : 'absolute inset-x-0 top-1/2 -mt-px h-[3px] bg-ink'
              }
            />
          </div>
        );
      })}
      {slots.flatMap((slot) =>
        slot.wheels.map((w) => (
          <div
            key={w.position}
            className="relative"
            style={cell(span(slot.along, slot.along + 1), lanesOf(LANES[w.place], LANES[w.place] + 1))}
          >
            {wheel(w)}
          </div>
        )),
      )}
      {underAxle &&
        slots.map((slot) =>
          slot.axleIndex === null ? null : (
            <div key={`under ${slot.along}`} className="relative pt-2" style={cell(span(slot.along, slot.along + 1), '7 / 8')}>
              {underAxle(slot.unitIndex, slot.axleIndex)}
            </div>
          ),
        )}
    </section>
  );
}

/** A rig as a small drawing: how it looks in a list. */
export function SmallPlan({
  units,
  wheels,
  ink,
  print,
}: {
  units: readonly Unit[];
  wheels: readonly RigWheel[];
  ink: (wheel: RigWheel) => string;
  /** For a drawing that leaves the app: pure black and white, inside a box of a larger drawing. */
  print?: { x: number; y: number; width: number; height: number };
}) {
  const black = print ? '#000' : 'var(--ink)';
  const white = print ? '#fff' : 'var(--paper)';
  const { slots, couplings, count } = slotsOf(units, wheels);
  const w = 26;
  const h = 11;
  const x = (along: number) => 22 + (along - 1) * (w + 8);
  const y: Record<number, number> = { 1: 2, 2: 15, 3: 30, 4: 45, 5: 58 };
  const width = x(count + 1) + 4;
  return (
    <svg
      viewBox={`0 0 ${width} 72`}
      width={width}
      height={72}
      aria-hidden="true"
      className={print ? undefined : 'max-w-full'}
      {...print}
    >
      <path d={`M4 35.5H${width - 6}`} stroke={black} strokeWidth="2" />
      <path d="M0 35.5 10 30v11z" fill={black} />
      {couplings.map((c) => (
        <circle key={c} cx={x(c) + w / 2} cy={35.5} r={5} fill={white} stroke={black} strokeWidth="2" />
      ))}
      {slots.map((s) => {
        if (s.axleIndex === null) return null;
        const lanes = s.wheels.map((v) => LANES[v.place]);
        const top = Math.min(35.5, ...lanes.map((l) => (y[l] ?? 30) + 5));
        const bottom = Math.max(35.5, ...lanes.map((l) => (y[l] ?? 30) + 5));
        return <path key={s.along} d={`M${x(s.along) + w / 2} ${top}V${bottom}`} stroke={black} strokeWidth="2" />;
      })}
      {slots.flatMap((s) =>
        s.wheels.map((v) => {
          const kind = ink(v);
          return (
            <rect
              key={v.position}
              x={x(s.along)}
              y={y[LANES[v.place]]}
              width={w}
              height={h}
              fill={
                kind === 'act' || kind === 'print'
                  ? black
                  : kind === 'look'
                    ? 'var(--yellow)'
                    : kind === 'steady'
                      ? 'var(--cyan)'
                      : white
              }
              stroke={kind === 'act' ? 'var(--magenta)' : black}
              strokeWidth={kind === 'act' ? 2.5 : 1.2}
              strokeDasharray={kind === 'bare' || kind === 'silent' ? '3 2' : undefined}
            />
          );
        }),
      )}
    </svg>
  );
}
