import type { PressureUnit } from '#schema/common.ts';
import { FieldError } from '../errors.ts';
import { decimalsOf, ends, fromKpa, ON_STEP, stepDown, stepUp, tidy, toKpa } from './grid.ts';

/** How a monitor shares one pair of limits. */
export type KeyingGroups = 'axle' | 'unit' | 'rearWithTrailer' | 'wheel' | 'all';

export interface KeyingMonitor {
  groups: KeyingGroups;
  unit: PressureUnit;
  step: number;
  min: number;
  max: number;
  /** What it shows before anything is keyed; null: it has no such limit. */
  presetLow: number | null;
  presetHigh: number | null;
  /** Refuses a high at or under the low, and a low at or over the high. */
  interlock: boolean;
}

/** What an axle wants. Null: left as shown, unless the interlock needs it moved. */
export interface KeyingAxle {
  /** Axle code with its unit letter, such as B1; a spare's own code, such as BS1. */
  axle: string;
  unitKind: 'vehicle' | 'trailer';
  lowKpa: number | null;
  highKpa: number | null;
  wheels?: number | undefined;
}

/** What a group shows now, in the monitor's unit, where that is not the preset. */
export type Shown = Record<string, { low: number | null; high: number | null }>;

export interface KeyingStep {
  group: string;
  field: 'low' | 'high';
  from: number;
  to: number;
  presses: number;
}

export interface Unmet {
  axle: string;
  field: 'low' | 'high';
  wantedKpa: number;
  gotKpa: number | null;
  why: 'rounded' | 'grouped' | 'conflict' | 'range' | 'impossible';
}

export interface KeyingGroup {
  group: string;
  axles: string[];
}

export interface KeyingPlan {
  groups: KeyingGroup[];
  steps: KeyingStep[];
  presses: number;
  /** Presses from group to group, one for each that is passed on the way (assumed: the monitor steps round them in order). */
  navigationPresses: number;
  unmet: Unmet[];
  /** What every group shows in the end, in the monitor's unit. */
  ends: Shown;
}

const isSpare = (axle: string) => /^[A-H]S\d$/.test(axle);

/** Which axles share a pair of limits, in the order in which they were given. A spare always has limits of its own. */
export function keyingGroups(
  groups: KeyingGroups,
  axles: readonly Pick<KeyingAxle, 'axle' | 'unitKind' | 'wheels'>[],
): KeyingGroup[] {
  const out: KeyingGroup[] = [];
  const put = (key: string, axle: string) => {
    const found = out.find((g) => g.group === key);
    if (found) found.axles.push(axle);
    else out.push({ group: key, axles: [axle] });
  };
  let vehicleAxles = 0;
  for (const a of axles) {
    if (groups === 'all') put('all', a.axle);
    else if (isSpare(a.axle) && groups !== 'wheel') put(a.axle, a.axle);
    else if (groups === 'axle') put(a.axle, a.axle);
    else if (groups === 'unit') put(a.unitKind === 'trailer' ? (a.axle[0] as string) : a.axle, a.axle);
    else if (groups === 'rearWithTrailer') {
      const first = a.unitKind === 'vehicle' && vehicleAxles === 0;
      if (a.unitKind === 'vehicle') vehicleAxles += 1;
      put(first ? a.axle : 'rear', a.axle);
    } else {
      const n = a.wheels ?? (isSpare(a.axle) ? 1 : 2);
      if (n === 1) put(a.axle, a.axle);
      else for (let i = 1; i <= n; i += 1) put(`${a.axle} wheel ${i}`, a.axle);
    }
  }
  return out;
}

/** A wanted limit and what the monitor makes of it. */
interface Aim {
  /** In the monitor's unit; null: nobody in the group wants one. */
  value: number | null;
  clamped: boolean;
  conflict: boolean;
}

/**
 * The order of keys that brings a monitor from what it shows to what the axles want.
 *
 * A group takes the highest low and the lowest high of its axles; where those cross it keeps the low and takes the highest high. Low
 * rounds up to the step, high down, so that both ring early rather than late; both stay inside the range. With an interlock the low
 * goes first when coming down and the high first when going up (common practice, no source), so that low stays under high after
 * every step; where no order can work the group has no steps.
 */
export function planKeying(monitor: KeyingMonitor, axles: readonly KeyingAxle[], shown: Shown = {}): KeyingPlan {
  const { step, unit } = monitor;
  const { least, most } = ends(monitor);
  const groups = keyingGroups(monitor.groups, axles);
  const steps: KeyingStep[] = [];
  const unmet: Unmet[] = [];
  const result: Shown = {};
  const told = new Set<string>();
  const clamp = (v: number): { value: number; clamped: boolean } => {
    const value = Math.min(most, Math.max(least, v));
    return { value, clamped: Math.abs(value - v) > ON_STEP };
  };
  const visits: number[] = [];

  groups.forEach(({ group, axles: codes }, groupIndex) => {
    const members = codes.map((code) => axles.find((a) => a.axle === code) as KeyingAxle);
    const lows = members.flatMap((m) => (m.lowKpa === null ? [] : [fromKpa(m.lowKpa, unit)]));
    const highs = members.flatMap((m) => (m.highKpa === null ? [] : [fromKpa(m.highKpa, unit)]));
    const now = shown[group] ?? { low: monitor.presetLow, high: monitor.presetHigh };
    const low: Aim = { value: null, clamped: false, conflict: false };
    const high: Aim = { value: null, clamped: false, conflict: false };
    if (lows.length > 0 && now.low !== null) {
      const c = clamp(stepUp(Math.max(...lows), step));
      low.value = c.value;
      low.clamped = c.clamped;
    }
    if (highs.length > 0 && now.high !== null) {
      let c = clamp(stepDown(Math.min(...highs), step));
      if (low.value !== null && c.value <= low.value && highs.length > 1) {
        high.conflict = Math.max(...highs) > Math.min(...highs) + ON_STEP;
        c = clamp(stepDown(Math.max(...highs), step));
      }
      high.value = c.value;
      high.clamped = c.clamped;
    }

    // What is not wanted stays as it is shown, unless the interlock will not let the other one past it.
    let toLow = low.value ?? now.low;
    let toHigh = high.value ?? now.high;
    let impossible = false;
    if (monitor.interlock && toLow !== null && toHigh !== null && toLow >= toHigh) {
      if (low.value === null) {
        toLow = stepDown(toHigh - step, step);
        impossible = toLow < least;
      } else if (high.value === null) {
        toHigh = stepUp(toLow + step, step);
        impossible = toHigh > most;
      } else impossible = true;
    }
    const moves: { field: 'low' | 'high'; from: number; to: number }[] = [];
    if (!impossible) {
      if (toLow !== null && now.low !== null && Math.abs(toLow - now.low) > ON_STEP)
        moves.push({ field: 'low', from: now.low, to: toLow });
      if (toHigh !== null && now.high !== null && Math.abs(toHigh - now.high) > ON_STEP) {
        const move = { field: 'high' as const, from: now.high, to: toHigh };
        // Coming down the low goes first, going up the high.
        if (toLow !== null && now.low !== null && toLow > now.low) moves.unshift(move);
        else moves.push(move);
      }
      if (monitor.interlock && now.low !== null && now.high !== null) {
        const holds = (order: typeof moves) => {
          const at = { low: now.low as number, high: now.high as number };
          return order.every((m) => {
            at[m.field] = m.to;
            return at.low < at.high;
          });
        };
        if (!holds(moves)) {
          moves.reverse();
          impossible = !holds(moves);
        }
      }
    }
    if (impossible) {
      toLow = now.low;
      toHigh = now.high;
    } else {
      for (const m of moves)
        steps.push({
          group,
          ...m,
          from: tidy(m.from, step),
          presses: Math.round(Math.abs(m.to - m.from) / step - ON_STEP + 0.5),
        });
      if (moves.length > 0) visits.push(groupIndex);
    }
    result[group] = { low: toLow, high: toHigh };

    for (const m of members) {
      for (const field of ['low', 'high'] as const) {
        const wantedKpa = field === 'low' ? m.lowKpa : m.highKpa;
        if (wantedKpa === null || told.has(`${m.axle} ${field}`)) continue;
        const got = field === 'low' ? toLow : toHigh;
        const wanted = fromKpa(wantedKpa, unit);
        if (got !== null && Math.abs(got - wanted) <= ON_STEP) continue;
        told.add(`${m.axle} ${field}`);
        const aim = field === 'low' ? low : high;
        const own = field === 'low' ? stepUp(wanted, step) : stepDown(wanted, step);
        const ownClamped = clamp(own);
        const why: Unmet['why'] = impossible
          ? 'impossible'
          : got === null
            ? 'range'
            : Math.abs(ownClamped.value - got) <= ON_STEP
              ? ownClamped.clamped
                ? 'range'
                : 'rounded'
              : aim.conflict
                ? 'conflict'
                : 'grouped';
        unmet.push({ axle: m.axle, field, wantedKpa, gotKpa: got === null ? null : toKpa(got, unit), why });
      }
    }
  });
  // From the group that blinks first to the last one that is keyed.
  const navigationPresses = visits.length === 0 ? 0 : (visits.at(-1) as number);
  return { groups, steps, presses: steps.reduce((a, s) => a + s.presses, 0), navigationPresses, unmet, ends: result };
}

/**
 * Refuse a monitor that cannot be.
 * @throws FieldError at `/monitor/max` when nothing lies on a step between its least and its most
 */
export function checkMonitor(monitor: KeyingMonitor): void {
  const { least, most } = ends(monitor);
  if (least >= most) throw new FieldError('/monitor/max', 'leaves no two steps over the least');
}

/** A value as the monitor shows it, with the decimals of its step. */
export const asShown = (value: number, step: number): string => value.toFixed(decimalsOf(step));

/** Why a figure read back off the monitor is not the one that was to be keyed. */
export type MismatchReason = 'notSaved' | 'otherUnit' | 'otherGroup' | 'swapped' | 'stepsShort' | 'stepsOver' | 'unknown';

export interface Mismatch {
  reason: MismatchReason;
  /** The group whose value it is. */
  group?: string;
  /** How many presses are missing or too many. */
  presses?: number;
  /** The unit it would fit. */
  unit?: PressureUnit;
}

/**
 * Explain a figure that was read back.
 * @param read what the monitor shows, in its own unit
 * @returns null when it is what it should be
 */
export function explainMismatch(
  read: number,
  at: { group: string; field: 'low' | 'high' },
  plan: Pick<KeyingPlan, 'ends'>,
  monitor: Pick<KeyingMonitor, 'step' | 'unit' | 'presetLow' | 'presetHigh'>,
  before: Shown = {},
): Mismatch | null {
  const same = (a: number | null | undefined, b: number) =>
    a !== null && a !== undefined && Math.abs(a - b) <= Math.max(ON_STEP, monitor.step / 1000);
  const own = plan.ends[at.group];
  const wanted = own?.[at.field];
  if (wanted === null || wanted === undefined) return { reason: 'unknown' };
  if (same(wanted, read)) return null;
  const was = before[at.group]?.[at.field] ?? (at.field === 'low' ? monitor.presetLow : monitor.presetHigh);
  if (same(was, read)) return { reason: 'notSaved' };
  const other = at.field === 'low' ? own?.high : own?.low;
  if (same(other, read)) return { reason: 'swapped' };
  const group = Object.entries(plan.ends).find(([g, e]) => g !== at.group && same(e[at.field], read));
  if (group) return { reason: 'otherGroup', group: group[0] };
  for (const unit of ['kPa', 'bar', 'psi'] as const) {
    if (unit === monitor.unit) continue;
    const inUnit = fromKpa(toKpa(wanted, monitor.unit), unit);
    if (Math.abs(inUnit - read) <= Math.max(0.02 * inUnit, 1e-9)) return { reason: 'otherUnit', unit };
  }
  const presses = Math.round(Math.abs(read - wanted) / monitor.step);
  if (presses >= 1 && presses <= 10 && Math.abs(presses * monitor.step - Math.abs(read - wanted)) < monitor.step / 100) {
    const coming = was === null || was === undefined ? 0 : Math.sign(wanted - was);
    return { reason: Math.sign(wanted - read) === coming || coming === 0 ? 'stepsShort' : 'stepsOver', presses };
  }
  return { reason: 'unknown' };
}
