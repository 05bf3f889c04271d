import type { Monitor } from '#schema/monitor.ts';
import type { Keyed, Rig, Unit } from '#schema/unit.ts';
import { pressureAt } from '../gas/gas.ts';
import { type AxleDay, type AxleFacts, axleDay, axleFacts, dayEnds } from '../pressure/axle.ts';
import type { LearnedRise } from '../pressure/hot-run.ts';
import { axleOf, type RigWheel, settingOf, watchedWheels } from '../rig/positions.ts';
import { type CardAxle, shownBy } from './card.ts';
import { ends } from './grid.ts';
import { type Held, type HeldAxle, type HeldMonitor, heldLimits } from './held.ts';
import { planKeying } from './keying.ts';

/** An axle of a rig with what its day and its load ask for. */
export interface GuardedAxle extends CardAxle {
  coldestStartKpa?: number | undefined;
  hotRunKpa?: number | undefined;
  loadMinimumKpa?: number | undefined;
  /** A spare doesn't run. */
  spare?: boolean;
}

/** Why an owner has to stop and think before this monitor guards this rig. */
export type StopCode =
  | 'rings-always'
  | 'nuisance-low'
  | 'nuisance-high'
  | 'unprotected-low'
  | 'unguarded'
  | 'out-of-reach'
  | 'late-low';
export interface Stop {
  axle: string;
  code: StopCode;
  heldLowKpa: number | null;
  heldHighKpa: number | null;
  /** What the tire has lost, cold, by the time the low limit rings, kPa. */
  lossKpa: number | null;
  /** Axles that share the pair with it. */
  with: string[];
}

/** A factory monitor must warn at 25 % under the recommended cold pressure (49 CFR 571.138 S4.2, from memory). */
const LATE_SHARE = 0.25;

/** How bad a stop is: what rings for ever is switched off and guards nothing; a nuisance is looked at. */
const WEIGHT: Record<StopCode, number> = {
  'rings-always': 10,
  'unprotected-low': 6,
  unguarded: 6,
  'out-of-reach': 4,
  'late-low': 3,
  'nuisance-low': 1,
  'nuisance-high': 1,
};
const weightOf = (stops: readonly Stop[]): number => stops.reduce((n, s) => n + WEIGHT[s.code], 0);

/** A way out of the stops of a rig, with the stops that would still be there. */
export type WayOut =
  | { kind: 'suggestion'; axles: string[]; left: number }
  | { kind: 'appAlone'; axles: string[]; left: number }
  | { kind: 'lowestLow'; axles: string[]; lowKpa: number; unguarded: { axle: string; lossKpa: number }[]; left: number }
  | { kind: 'closerCold'; axles: { axle: string; coldKpa: number }[]; left: number }
  | { kind: 'otherGrouping'; groups: Monitor['groups']; left: number }
  | { kind: 'otherMonitor'; names: string[]; left: number };

const asHeld = (monitor: Monitor): HeldMonitor | null =>
  monitor.groups === 'baseline' && !monitor.derives
    ? null
    : {
        groups: monitor.groups,
        unit: monitor.unit,
        step: monitor.step,
        min: monitor.min,
        max: monitor.max,
        presetLow: monitor.presetLow,
        presetHigh: monitor.presetHigh,
        interlock: monitor.interlock,
        derives: monitor.derives,
      };

const wishOf =
  ({ correctsToC }: Monitor) =>
  (a: GuardedAxle): HeldAxle => ({
    axle: a.code,
    unitKind: a.unitKind,
    coldKpa: a.setting.cold?.kpa ?? 0,
    lowKpa: a.setting.limits?.lowKpa ?? null,
    highKpa: a.setting.limits?.highKpa ?? null,
    wheels: a.wheels,
    // A display that corrects for temperature shows the same on a cold start and on a hot run.
    coldestStartKpa: shownKpa(a, a.coldestStartKpa, correctsToC),
    // A spare is at rest.
    hotRunKpa: a.spare ? undefined : shownKpa(a, a.hotRunKpa, correctsToC),
    loadMinimumKpa: a.loadMinimumKpa,
  });

function shownKpa(
  { setting: { cold } }: GuardedAxle,
  kpa: number | undefined,
  correctsToC: number | undefined,
): number | undefined {
  return kpa === undefined || correctsToC === undefined || !cold ? kpa : pressureAt(cold.kpa, cold.tempC, correctsToC);
}

/**
 * What a rig's monitor will ring at for each axle that has a cold pressure and limits; empty while the monitor makes of its baseline what its
 * owner doesn't know.
 */
export function heldOn(monitor: Monitor, axles: readonly GuardedAxle[], keyed: Keyed | null = null): Held[] {
  const described = asHeld(monitor);
  const ready = axles.filter((a) => a.setting.cold && a.setting.limits);
  if (!described || ready.length === 0) return [];
  return heldLimits(described, ready.map(wishOf(monitor)), shownBy(keyed));
}

/** Everything about the limits a monitor ends with that has to be stopped at, axle by axle. */
export function stopsOf(monitor: Monitor, axles: readonly GuardedAxle[], keyed: Keyed | null = null): Stop[] {
  const held = heldOn(monitor, axles, keyed);
  const described = asHeld(monitor);
  if (!described || held.length === 0) return [];
  const { groups } = described;
  const wishes = axles.filter((a) => a.setting.cold && a.setting.limits).map(wishOf(monitor));
  const plan = groups === 'baseline' ? null : planKeying({ ...described, groups }, wishes, shownBy(keyed));
  const sharing = (code: string) => plan?.groups.find((g) => g.axles.includes(code))?.axles.filter((a) => a !== code) ?? [];
  // A limit that is clamped or can't be keyed at all: the monitor doesn't reach so far.
  const beyond = new Set(
    plan?.unmet.filter((u) => (u.why === 'range' && u.gotKpa !== null) || u.why === 'impossible').map((u) => u.axle),
  );
  return held.flatMap((h) => {
    const codes: StopCode[] = h.verdicts.flatMap((v) => (v === 'ok' ? [] : [v]));
    if (beyond.has(h.axle)) codes.push('out-of-reach');
    const wish = wishes.find((a) => a.axle === h.axle) as HeldAxle;
    // Where the load is unknown, a factory monitor's share is the yardstick.
    if (h.heldLowKpa !== null && !wish.loadMinimumKpa && h.heldLowKpa < (1 - LATE_SHARE) * wish.coldKpa - 1e-6)
      codes.push('late-low');
    // What rings always is a nuisance too: once is enough.
    const said = codes.includes('rings-always') ? codes.filter((c) => c !== 'nuisance-low' && c !== 'nuisance-high') : codes;
    return said.map(
      (code): Stop => ({
        axle: h.axle,
        code,
        heldLowKpa: h.heldLowKpa,
        heldHighKpa: h.heldHighKpa,
        lossKpa: h.heldLowKpa === null ? null : wish.coldKpa - h.heldLowKpa,
        with: sharing(h.axle),
      }),
    );
  });
}

/**
 * The axles and spares of a rig with what guards them and what their day asks for.
 * @param learned what an ordinary run adds, axle by axle, as the rig's readings showed it
 */
export function guardedAxles(
  rig: Pick<Rig, 'unwatched' | 'loadState' | 'climate'>,
  units: readonly Unit[],
  learned?: Readonly<Record<string, LearnedRise | null>>,
): GuardedAxle[] {
  const wheels = watchedWheels(rig, units);
  return [...new Set(wheels.map((w) => w.holder))].map((holder) => {
    const own = wheels.filter((w) => w.holder === holder);
    const first = own[0] as RigWheel;
    const setting = settingOf(first, rig.loadState);
    const code = axleOf(first.position);
    const facts = axleFacts(holder, first.unit.kind, setting);
    const day = rig.climate && setting.cold ? axleDay(setting.cold, rig.climate, learned?.[code], setting.seasons) : null;
    return guarded({ code, unitKind: first.unit.kind, wheels: own.length, setting, spare: first.place === 'S' }, facts, day);
  });
}

/** An axle with what its facts and its day ask for; a day that isn't known asks for nothing. */
export function guarded(
  axle: CardAxle & { spare: boolean },
  facts: Pick<AxleFacts, 'minimum'>,
  day: AxleDay | null,
): GuardedAxle {
  const { cold } = axle.setting;
  const reach = cold && day ? dayEnds(cold, day) : null;
  return {
    ...axle,
    coldestStartKpa: reach?.coldestKpa ?? undefined,
    hotRunKpa: axle.spare ? undefined : (reach?.hotKpa ?? undefined),
    loadMinimumKpa: facts.minimum?.kpa ?? undefined,
  };
}

/** Whether an owner has given a reason for every one of these stops. */
export const isAccepted = (accepted: Rig['accepted'], stops: readonly Stop[]): boolean =>
  stops.length === 0 || (accepted !== undefined && stops.every((s) => accepted.stops.includes(`${s.axle} ${s.code}`)));

const withLimits = (a: GuardedAxle, change: Partial<{ lowKpa: number | null; highKpa: number | null }>): GuardedAxle =>
  a.setting.limits ? { ...a, setting: { ...a.setting, limits: { ...a.setting.limits, ...change } } } : a;

/** So many other monitors are named. */
const MOST_NAMES = 3;

/** A step in the search for closer cold pressures, kPa. */
const COLD_STEP_KPA = 5;

/**
 * Ways out of a rig's stops, best first: those that leave the fewest stops, then in the order in which an owner gets there soonest.
 * @param maxColdKpa the highest cold pressure of an axle's tires; undefined: unknown, then its cold pressure isn't raised
 * @param others monitors that could be chosen instead
 */
export function waysOut(
  monitor: Monitor,
  axles: readonly GuardedAxle[],
  maxColdKpa: (code: string) => number | undefined,
  others: readonly Monitor[],
): WayOut[] {
  const now = stopsOf(monitor, axles);
  if (now.length === 0) return [];
  const bad = weightOf(now);
  const out: { way: WayOut; weight: number }[] = [];
  const put = (way: WayOut, stops: readonly Stop[]) => {
    const weight = weightOf(stops);
    if (weight < bad) out.push({ way: { ...way, left: stops.length }, weight });
  };
  // Nuisances that no other axle causes are the wish's own: the suggestion knows better.
  const own = now.filter((s) => s.code.startsWith('nuisance') && wishRings(monitor, axles, s));
  if (own.length > 0)
    put(
      { kind: 'suggestion', axles: [...new Set(own.map((s) => s.axle))], left: 0 },
      now.filter((s) => !own.includes(s)),
    );
  // Trailers watched by the app and by nothing else.
  const trailers = axles.filter((a) => a.unitKind === 'trailer' && a.setting.limits);
  if (trailers.length > 0 && trailers.length < axles.length)
    put(
      { kind: 'appAlone', axles: trailers.map((a) => a.code), left: 0 },
      stopsOf(
        monitor,
        axles.filter((a) => a.unitKind !== 'trailer'),
      ),
    );
  const group = now.find((s) => s.with.length > 0);
  if (group) {
    const codes = [group.axle, ...group.with];
    const members = axles.filter((a) => codes.includes(a.code));
    const lows = members.flatMap((a) => a.setting.limits?.lowKpa ?? []);
    const highs = members.flatMap((a) => a.setting.limits?.highKpa ?? []);
    if (lows.length > 1) {
      const lowKpa = Math.min(...lows);
      const highKpa = highs.length > 0 ? Math.max(...highs) : null;
      const changed = axles.map((a) => (codes.includes(a.code) ? withLimits(a, { lowKpa, highKpa }) : a));
      // How much air each tire loses before that low rings.
      const unguarded = members.flatMap((a) => {
        const wish = a.setting.limits?.lowKpa;
        const cold = a.setting.cold?.kpa;
        return wish !== null && wish !== undefined && cold !== undefined && wish > lowKpa + 1e-6
          ? [{ axle: a.code, lossKpa: cold - lowKpa }]
          : [];
      });
      put({ kind: 'lowestLow', axles: codes, lowKpa, unguarded, left: 0 }, stopsOf(monitor, changed));
    }
    const closer = closerCold(monitor, axles, codes, maxColdKpa);
    if (closer) put(closer.way, closer.stops);
  }
  // The same monitor in another of its modes.
  for (const groups of monitor.otherGroups ?? [])
    if (groups !== monitor.groups) put({ kind: 'otherGrouping', groups, left: 0 }, stopsOf({ ...monitor, groups }, axles));
  const able: { name: string; stops: Stop[] }[] = [];
  for (const other of others) {
    if (other.id === monitor.id || !asHeld(other)) continue;
    const { least, most } = ends(other);
    if (least >= most) continue;
    const stops = stopsOf(other, axles);
    // Another monitor is a way out only where it does what this one can't.
    if (!stops.some((s) => !s.code.startsWith('nuisance'))) able.push({ name: other.name, stops });
  }
  // The best of them, in one line.
  const fewest = Math.min(...able.map((a) => weightOf(a.stops)));
  const best = able.filter((a) => weightOf(a.stops) === fewest).slice(0, MOST_NAMES);
  if (best[0]) put({ kind: 'otherMonitor', names: best.map((a) => a.name), left: 0 }, best[0].stops);
  const order: WayOut['kind'][] = ['otherGrouping', 'closerCold', 'appAlone', 'otherMonitor', 'suggestion', 'lowestLow'];
  return out.sort((a, b) => a.weight - b.weight || order.indexOf(a.way.kind) - order.indexOf(b.way.kind)).map(({ way }) => way);
}

/** Whether an axle's own wish rings by the day, on a monitor that held it as it is. */
function wishRings(monitor: Monitor, axles: readonly GuardedAxle[], stop: Stop): boolean {
  const axle = axles.find((a) => a.code === stop.axle);
  return axle !== undefined && stopsOf({ ...monitor, groups: 'axle' }, [axle]).some((s) => s.code === stop.code);
}

/**
 * The cold pressures nearest to those set with which the axles of one group need no stop: the soft ones raised together, as far as their
 * tires allow. Limits keep their share of cold. Never lower: the placard and the load table set what is there.
 */
function closerCold(
  monitor: Monitor,
  axles: readonly GuardedAxle[],
  codes: readonly string[],
  maxColdKpa: (code: string) => number | undefined,
): { way: WayOut; stops: Stop[] } | null {
  const members = axles.filter((a) => codes.includes(a.code) && a.setting.cold);
  const top = Math.max(...members.map((a) => a.setting.cold?.kpa ?? 0));
  const scaled = (a: GuardedAxle, coldKpa: number): GuardedAxle => {
    const { cold, limits } = a.setting;
    if (!cold || coldKpa <= cold.kpa) return a;
    const by = coldKpa / cold.kpa;
    const scale = (v: number | undefined) => (v === undefined ? undefined : v * by);
    return {
      ...a,
      coldestStartKpa: scale(a.coldestStartKpa),
      hotRunKpa: scale(a.hotRunKpa),
      setting: {
        ...a.setting,
        cold: { ...cold, kpa: coldKpa },
        ...(limits
          ? {
              limits: {
                ...limits,
                lowKpa: limits.lowKpa === null ? null : limits.lowKpa * by,
                highKpa: limits.highKpa === null ? null : limits.highKpa * by,
              },
            }
          : {}),
      },
    };
  };
  const least = Math.min(...members.map((a) => a.setting.cold?.kpa ?? 0));
  for (let floor = least + COLD_STEP_KPA; floor <= top + COLD_STEP_KPA; floor += COLD_STEP_KPA) {
    const to = Math.min(floor, top);
    const raised = members.filter((a) => (a.setting.cold?.kpa ?? 0) < to);
    if (raised.some((a) => (maxColdKpa(a.code) ?? 0) < to)) return null;
    const next = axles.map((a) => (codes.includes(a.code) ? scaled(a, to) : a));
    const stops = stopsOf(monitor, next);
    if (stops.some((s) => codes.includes(s.axle) && !s.code.startsWith('nuisance'))) continue;
    return { way: { kind: 'closerCold', axles: raised.map((a) => ({ axle: a.code, coldKpa: to })), left: 0 }, stops };
  }
  return null;
}
