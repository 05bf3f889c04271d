import { FieldError } from '../errors.ts';
import { ends, fromKpa, tidy, toKpa } from './grid.ts';
import { checkMonitor, type KeyingMonitor, planKeying, type Shown } from './keying.ts';

/** What is to be said of the limits that a monitor ends with; `ok` alone when nothing is. */
export const HELD_VERDICTS = ['rings-always', 'nuisance-low', 'nuisance-high', 'unprotected-low', 'unguarded'] as const;
export type HeldVerdict = (typeof HELD_VERDICTS)[number];

/** A monitor as its limits end up in it. */
export interface HeldMonitor extends Omit<KeyingMonitor, 'groups'> {
  groups: KeyingMonitor['groups'] | 'baseline';
  /** What it makes of a baseline, as shares of it. */
  derives?: { lowShare: number; highShare: number | null } | undefined;
}

/** An axle with what its owner wishes. Null: none wanted. */
export interface HeldAxle {
  axle: string;
  unitKind: 'vehicle' | 'trailer';
  coldKpa: number;
  lowKpa: number | null;
  highKpa: number | null;
  wheels?: number | undefined;
  coldestStartKpa?: number | undefined;
  hotRunKpa?: number | undefined;
  /** Cold pressure that carries the load, kPa; 0 or left out: unknown. */
  loadMinimumKpa?: number | undefined;
}

export interface Held {
  axle: string;
  heldLowKpa: number | null;
  heldHighKpa: number | null;
  verdicts: (HeldVerdict | 'ok')[];
}

/** Two pressures this close are one, kPa: no monitor shows less. */
const SAME_KPA = 1e-6;

/** A baseline as it can be keyed: the step nearest to the cold pressure, inside the range of the monitor, in its unit. */
export function baselineFor(monitor: Pick<HeldMonitor, 'unit' | 'step' | 'min' | 'max'>, coldKpa: number): number {
  const { least, most } = ends(monitor);
  const nearest = tidy(Math.round(fromKpa(coldKpa, monitor.unit) / monitor.step) * monitor.step, monitor.step);
  return Math.min(most, Math.max(least, nearest));
}

/** The limits that a monitor derives from a baseline by its shares, in the unit of the baseline; null where it derives no high. */
export function derivedFrom(baseline: number, shares: NonNullable<HeldMonitor['derives']>): { low: number; high: number | null } {
  return {
    low: baseline * (1 - shares.lowShare),
    high: shares.highShare === null ? null : baseline * (1 + shares.highShare),
  };
}

/** The limits that a baseline monitor derives, kPa. */
function derived(monitor: HeldMonitor, coldKpa: number): { low: number; high: number | null } {
  if (!monitor.derives)
    throw new FieldError('/monitor/derives', 'is needed of a monitor that derives its limits from a baseline');
  return derivedFrom(toKpa(baselineFor(monitor, coldKpa), monitor.unit), monitor.derives);
}

/** What can be said against a pair of limits that is held for an axle. */
export function judgeHeld(a: HeldAxle, low: number | null, high: number | null): Held['verdicts'] {
  const verdicts: Held['verdicts'] = [];
  if ((low !== null && low >= a.coldKpa - SAME_KPA) || (high !== null && high <= a.coldKpa + SAME_KPA))
    verdicts.push('rings-always');
  if (low !== null && a.coldestStartKpa !== undefined && a.coldestStartKpa <= low + SAME_KPA) verdicts.push('nuisance-low');
  if (high !== null && a.hotRunKpa !== undefined && a.hotRunKpa >= high - SAME_KPA) verdicts.push('nuisance-high');
  if (low !== null && a.loadMinimumKpa !== undefined && low < a.loadMinimumKpa - SAME_KPA) verdicts.push('unprotected-low');
  if (low === null) verdicts.push('unguarded');
  return verdicts.length > 0 ? verdicts : ['ok'];
}

/**
 * What a monitor will ring at for every axle when all is keyed that can be: grouped, rounded and clamped as `planKeying` does; a limit that
 * nobody wants stays as it is shown; a baseline derives both. That pair guards the tire, whatever was wished.
 * @param shown what the groups show now, in the monitor's unit, where that isn't the preset
 * @throws FieldError at `/axles/n/axle` where an axle is named twice, at `/monitor/derives` where a baseline has no shares
 */
export function heldLimits(monitor: HeldMonitor, axles: readonly HeldAxle[], shown: Shown = {}): Held[] {
  const { groups } = monitor;
  const twice = axles.findIndex((a, i) => axles.findIndex((b) => b.axle === a.axle) !== i);
  if (twice >= 0) throw new FieldError(`/axles/${twice}/axle`, `${axles[twice]?.axle} is in the list already`);
  if (groups === 'baseline') {
    return axles.map((a) => {
      const { low, high } = derived(monitor, a.coldKpa);
      return { axle: a.axle, heldLowKpa: low, heldHighKpa: high, verdicts: judgeHeld(a, low, high) };
    });
  }
  checkMonitor({ ...monitor, groups });
  const plan = planKeying({ ...monitor, groups }, axles, shown);
  return axles.map((a) => {
    const own = plan.groups.filter((g) => g.axles.includes(a.axle)).flatMap((g) => plan.ends[g.group] ?? []);
    // Wheel by wheel they may differ where they stay as shown: the one that rings first counts.
    const lows = own.flatMap((e) => (e.low === null ? [] : [e.low]));
    const highs = own.flatMap((e) => (e.high === null ? [] : [e.high]));
    const low = lows.length > 0 ? toKpa(Math.max(...lows), monitor.unit) : null;
    const high = highs.length > 0 ? toKpa(Math.min(...highs), monitor.unit) : null;
    return { axle: a.axle, heldLowKpa: low, heldHighKpa: high, verdicts: judgeHeld(a, low, high) };
  });
}
