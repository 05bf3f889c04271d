import { pressureAt, temperatureFor } from '../gas/gas.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** A wheel that can be filled. */
export interface RoundWheel {
  position: string;
  /** Where it is, m: x backward from the front axle, y to the left as seen from the driver's seat. */
  x: number;
  y: number;
  /** Pressure it is short of its figure now, kPa; null while that is unknown. */
  shortKpa: number | null;
}

/** The lowest first; the shortest walk; in the order they were named. */
export type RoundOrder = 'lowest' | 'walk' | 'named';

/** Who gets out stands at the driver's door, m. */
const DOOR = { x: 0.9, y: 1 } as const;

/**
 * The shortest way past some points of a loop, open at its end.
 * @param at how far along the loop each point is from the start, one way round
 * @param loop its length
 * @returns indexes in the order they are passed
 */
function shortestRoundLoop(at: readonly number[], loop: number): number[] {
  const order = at.map((_, i) => i).sort((a, b) => (at[a] as number) - (at[b] as number) || a - b);
  const d = order.map((i) => at[i] as number);
  let best = { length: Number.POSITIVE_INFINITY, first: 0, back: false };
  // Some one way round, the rest the other way: one gap is never walked, and the shorter part is walked twice.
  for (let k = 0; k <= d.length; k += 1) {
    const one = k === 0 ? 0 : (d[k - 1] as number);
    const other = k === d.length ? 0 : loop - (d[k] as number);
    for (const back of [false, true]) {
      const length = back ? 2 * other + one : 2 * one + other;
      if (length < best.length - 1e-9) best = { length, first: k, back };
    }
  }
  const one = order.slice(0, best.first);
  const other = order.slice(best.first).reverse();
  return best.back ? [...other, ...one] : [...one, ...other];
}

/**
 * The order in which wheels are filled.
 *
 * The walk goes round the rig, never through it, and starts at the driver's door; one way round, or a part of it and back, whichever is
 * shortest. Wheels in the middle (a motorcycle's) are reached from the left.
 * @param order `lowest`: by how much each is short, the unknown ones last; `walk`; `named`: as given
 */
export function roundOrder(wheels: readonly RoundWheel[], order: RoundOrder): string[] {
  if (order === 'named' || wheels.length < 2) return wheels.map((w) => w.position);
  if (order === 'lowest')
    return [...wheels]
      .sort((a, b) => (b.shortKpa ?? Number.NEGATIVE_INFINITY) - (a.shortKpa ?? Number.NEGATIVE_INFINITY))
      .map((w) => w.position);
  const xs = [DOOR.x, ...wheels.map((w) => w.x)];
  const ys = [DOOR.y, ...wheels.map((w) => w.y)];
  const [front, back] = [Math.min(...xs) - 1, Math.max(...xs) + 1];
  const half = Math.max(...ys.map(Math.abs));
  const [long, wide] = [back - front, 2 * half];
  const loop = 2 * (long + wide);
  /** Down the left side, across the back, up the right side, across the front. */
  const along = (w: { x: number; y: number }) => (w.y >= 0 ? w.x - front : long + wide + (back - w.x));
  const door = along(DOOR);
  const at = wheels.map((w) => (along(w) - door + loop) % loop);
  return shortestRoundLoop(at, loop).map((i) => (wheels[i] as RoundWheel).position);
}

/** Within 1 psi is done: closer than that no hose and no sensor is (common practice, no source). */
export const FILLED_WITHIN_KPA = KPA_PER_PSI;

/** How a tire is, compared with the figure it is filled to. */
export interface FillJudgement {
  state: 'under' | 'done' | 'over';
  /** What is to go in, or (over) to come out, kPa, over 0. */
  byKpa: number;
}

/** Whether a tire is at its figure, within 1 psi. */
export function judgeFill(nowKpa: number, toKpa: number): FillJudgement {
  const by = nowKpa - toKpa;
  const state = Math.abs(by) <= FILLED_WITHIN_KPA + 1e-3 ? 'done' : by < 0 ? 'under' : 'over';
  return { state, byKpa: Math.abs(by) };
}

/** A display that steps through the tires shows each this long, s (common practice, no source). */
export const DISPLAY_STEP_S = 5;

/**
 * How long to wait before a figure is believed, s: one round of the display, and its sensor measures every few seconds.
 * @param wheels tires the display steps through
 * @param scanS its own round, s, where the monitor's description has it
 */
export const displayRoundS = (wheels: number, scanS?: number): number => scanS ?? DISPLAY_STEP_S * Math.max(1, wheels);

/** What is known of a tire that is to be filled. */
export interface FillQuestion {
  coldKpa: number | null;
  coldTempC: number | null;
  /** What it should read now by its sensor's temperature; null while that is unknown. */
  expectedKpa: number | null;
  /** Its cold-equivalent pressure, likely and the span, kPa. */
  heldKpa: number | null;
  heldLowKpa: number | null;
  heldHighKpa: number | null;
  /** Its reading is one of now. */
  fresh: boolean;
}

/** To what a tire is filled now. */
export interface FillFigure {
  kpa: number;
  /** By what temperature: the tire's own as its sensor tells it, the air's after three hours at rest, or none (the cold figure as it is). */
  by: 'tire' | 'air' | 'none';
  /** Temperature of the gas that this is for, °C. */
  tempC: number;
  /** How far the figure may be off because the gas is known only so well, kPa. */
  spreadKpa: number;
}

/** Air beside a tire at rest is the gas's temperature within this, K. Assumed, as in `GAS_GUESS`. */
const AIR_SPREAD_K = 2;

/**
 * The cold pressure as it reads in this tire now (ideal gas law, absolute temperatures).
 * @param airC air beside a rig that has rested three hours, °C; null: unknown
 * @returns null without a cold pressure
 */
export function fillFigure(q: FillQuestion, airC: number | null): FillFigure | null {
  if (q.coldKpa === null) return null;
  const coldTempC = q.coldTempC ?? 20;
  if (q.fresh && q.expectedKpa !== null) {
    const tempC = temperatureFor(q.coldKpa, coldTempC, q.expectedKpa);
    const { heldKpa, heldLowKpa, heldHighKpa } = q;
    const spread = heldKpa === null || heldLowKpa === null || heldHighKpa === null ? 0 : (heldHighKpa - heldLowKpa) / 2;
    return { kpa: q.expectedKpa, by: 'tire', tempC, spreadKpa: spread };
  }
  if (airC !== null) {
    const at = (c: number) => pressureAt(q.coldKpa as number, coldTempC, c);
    return { kpa: at(airC), by: 'air', tempC: airC, spreadKpa: (at(airC + AIR_SPREAD_K) - at(airC - AIR_SPREAD_K)) / 2 };
  }
  return { kpa: q.coldKpa, by: 'none', tempC: coldTempC, spreadKpa: 0 };
}

/** A wheel of a round and how long its compressor runs for it, minutes. */
export interface RoundMinutes {
  /** Of each wheel in turn: going there, cap off and on, and the compressor's running. */
  each: number[];
  /** Rests of the compressor, minutes, before the wheel at the same place. */
  restBefore: number[];
  total: number;
}

/**
 * How long a round takes. A small compressor may run only so long at a stretch and then has to cool.
 * @param running minutes the compressor runs for each wheel in turn
 * @param handlingMin minutes for going there, cap off and on; none where nothing is to be added
 * @param mostRunMin minutes it may run at a stretch; null: it needs no rest
 * @param restMin how long it rests then, minutes
 */
export function roundMinutes(
  running: readonly number[],
  handlingMin: number,
  mostRunMin: number | null,
  restMin: number,
): RoundMinutes {
  const each = running.map((r) => (r > 0 ? r + handlingMin : 0));
  let run = 0;
  const restBefore = running.map((r) => {
    const rests = mostRunMin !== null && run > 0 && run + r > mostRunMin;
    if (rests) run = 0;
    run += r;
    // One tire may take more than a stretch: it rests in between.
    const within = mostRunMin === null ? 0 : Math.max(0, Math.ceil(r / mostRunMin) - 1);
    return ((rests ? 1 : 0) + within) * restMin;
  });
  const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
  return { each, restBefore, total: sum(each) + sum(restBefore) };
}
