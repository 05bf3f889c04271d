import type { WheelStateName } from '#schema/alarm.ts';
import type { BranchId } from './tables.ts';

/** What is known of a rig before anybody tests anything. Left out: unknown. */
export interface FaultFacts {
  branch: BranchId;
  /** State of the wheel in question. */
  state?: WheelStateName | undefined;
  /** How much of its cell's time is over, as a share; 1: it is due. */
  cellShare?: number | undefined;
  /** Its low-cell sign is on. */
  cellSign?: boolean | undefined;
  /** Days since somebody handled its sensor: fitted, paired, a cell changed. */
  handledDays?: number | undefined;
  /** Reserve of its way to the dash, dB. */
  marginDb?: number | undefined;
  /** Its unit is said to be disconnected. */
  resting?: boolean | undefined;
  /** A whole unit is missed. */
  unitMissing?: boolean | undefined;
  /** The rig has a repeater. */
  repeater?: boolean | undefined;
  /** Some wheels are heard now, and how many aren't. */
  othersHeard?: number | undefined;
  notHeard?: number | undefined;
  /** It was driven in the last three hours. */
  warm?: boolean | undefined;
  /** The cold explains its low alarm. */
  cold?: boolean | undefined;
  /** The figure is this old, s. */
  ageS?: number | undefined;
}

/** Why a cause is likelier or less likely than usual. */
export type HintWhy =
  | 'cellOld'
  | 'cellYoung'
  | 'cellSign'
  | 'handled'
  | 'quietRig'
  | 'othersHeard'
  | 'farAway'
  | 'nearBy'
  | 'resting'
  | 'neverHeard'
  | 'unitMissing'
  | 'noRepeater'
  | 'warm'
  | 'cold'
  | 'oldFigure';

export interface Hint {
  why: HintWhy;
  /** Causes it bears on and by how much. Factors are assumed. */
  factors: Record<string, number>;
}

const MONTH_S = 30 * 86_400;

/** What is known, as hints: each says by how much it makes causes likelier. */
export function hintsOf(f: FaultFacts): Hint[] {
  const out: Hint[] = [];
  const add = (why: HintWhy, factors: Record<string, number>) => out.push({ why, factors });
  if (f.branch === 'one' || f.branch === 'many') {
    const cells = f.branch === 'one' ? 'cell' : 'cells';
    if (f.cellShare !== undefined && f.cellShare >= 1) add('cellOld', { [cells]: 2.5 });
    else if (f.cellShare !== undefined && f.cellShare < 0.5) add('cellYoung', { [cells]: 0.35 });
    if (f.cellSign) add('cellSign', { [cells]: 5 });
    if (f.handledDays !== undefined && f.handledDays <= 30) add('handled', { seat: 2.5, place: 1.5, damp: 1.5 });
    if (f.state === 'asleep') add('quietRig', { asleep: 4 });
    else if (f.state === 'silent' && (f.othersHeard ?? 0) >= 2)
      add('othersHeard', { asleep: 0.15, display: 0.6, monitorOff: 0.1 });
    if (f.state === 'notHeard') add('neverHeard', { place: 4, seat: 1.5 });
    if (f.marginDb !== undefined && f.marginDb < 0) add('farAway', { reach: 4 });
    else if (f.marginDb !== undefined && f.marginDb > 12) add('nearBy', { reach: 0.35 });
    if (f.resting) add('resting', { display: 4 });
    if (f.unitMissing) add('unitMissing', { repeater: 3, display: 2, cells: 0.3 });
    if (f.repeater === false) add('noRepeater', { repeater: 0.05 });
  }
  if (f.branch === 'wrong') {
    if (f.warm) add('warm', { warm: 2 });
    if (f.ageS !== undefined && f.ageS > 600) add('oldFigure', { stuck: 3 });
    if (f.cellShare !== undefined && f.cellShare >= 1) add('cellOld', { jumps: 2.5 });
  }
  if (f.branch === 'rings') {
    if (f.cold) add('cold', { cold: 4, low: 0.5 });
    if (f.cellSign) add('cellSign', { cellSign: 4 });
    if (f.state === 'silent') add('othersHeard', { notHeard: 5 });
  }
  if (f.branch === 'quiet') {
    if (f.state === 'asleep' || f.state === 'old' || f.state === 'silent') add('oldFigure', { asleep: 2.5 });
    if (f.resting) add('resting', { offUnit: 4 });
  }
  return out;
}

/** All hints together, by cause. */
export function factorsOf(hints: readonly Hint[]): Record<string, number> {
  const out: Record<string, number> = {};
  for (const { factors } of hints) for (const [cause, by] of Object.entries(factors)) out[cause] = (out[cause] ?? 1) * by;
  return out;
}

/** Days from a moment to another, or undefined where there is none. */
export const daysSince = (iso: string | undefined, nowMs: number): number | undefined => {
  const ms = Date.parse(iso ?? '');
  return Number.isNaN(ms) ? undefined : Math.max(0, (nowMs - ms) / 86_400_000);
};

/** How much of a cell's time is over. @param months it lasts */
export const cellShareOf = (since: string | undefined, months: number, nowMs: number): number | undefined => {
  const days = daysSince(since, nowMs);
  return days === undefined ? undefined : (days * 86_400) / (months * MONTH_S);
};
