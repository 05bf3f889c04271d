import type { AlarmRule } from '#schema/unit.ts';
import { FieldError } from '../errors.ts';
import { pressureAt } from '../gas/gas.ts';
import { riseForShare } from '../pressure/hot-run.ts';
import { fromKpa, type Grid, stepDown, stepUp, toKpa, valuesOf } from './grid.ts';
import { judgeTrip, VERDICTS, type Verdict } from './judge.ts';
import { limitsFor } from './limits.ts';

/** What limits are sought for. */
export interface SuggestQuestion {
  coldKpa: number;
  coldTempC: number;
  /** 0 when it is unknown. */
  loadMinimumKpa: number;
  coldestC: number;
  runningC: number;
  altitudeSetM?: number | undefined;
  passM?: number | undefined;
}

/**
 * How much each requirement weighs when not all can be had: protecting the load goes before quiet mornings, and a sleeping high alarm is
 * the least harm. Ours; the first concern is how many requirements hold.
 */
export const WEIGHT: Record<Verdict, number> = {
  'unprotected-low': 8,
  'unprotected-hot': 4,
  'nuisance-low': 2,
  'nuisance-high': 2,
  'sleeping-high': 1,
};

/** How good a pair is: fewer broken requirements, then lighter ones, then nearer to what the school gives, kPa. Smaller is better. */
export interface Cost {
  count: number;
  weight: number;
  distanceKpa: number;
}

export interface Pair {
  lowKpa: number;
  highKpa: number | null;
}

export interface Found extends Pair {
  /** In the grid's unit. */
  low: number;
  high: number | null;
  verdicts: Verdict[];
  cost: Cost;
}

const real = (verdicts: readonly (Verdict | 'ok')[]): Verdict[] => verdicts.filter((v): v is Verdict => v !== 'ok');

export function compareCost(a: Cost, b: Cost): number {
  return (
    a.count - b.count ||
    a.weight - b.weight ||
    (Math.abs(a.distanceKpa - b.distanceKpa) < 1e-9 ? 0 : a.distanceKpa - b.distanceKpa)
  );
}

export function costOf(verdicts: readonly (Verdict | 'ok')[], pair: Pair, spirit: Pair): Cost {
  const broken = real(verdicts);
  return {
    count: broken.length,
    weight: broken.reduce((a, v) => a + WEIGHT[v], 0),
    distanceKpa:
      Math.abs(pair.lowKpa - spirit.lowKpa) +
      (pair.highKpa === null || spirit.highKpa === null ? 0 : Math.abs(pair.highKpa - spirit.highKpa)),
  };
}

/**
 * How near to the cold pressure a suggested low may come, kPa: two steps of the monitor over and above what 10 K of cold take off, or as near
 * as the rule itself. Nearer than that every cool morning rings, and the owner no longer listens.
 */
export function leastRoomKpa(q: Pick<SuggestQuestion, 'coldKpa' | 'coldTempC'>, grid: Grid, spirit: Pair): number {
  const fall = q.coldKpa - pressureAt(q.coldKpa, q.coldTempC, q.coldTempC - ROOM_K);
  return Math.min(2 * toKpa(grid.step, grid.unit) + fall, q.coldKpa - spirit.lowKpa);
}

/**
 * The lows of a grid that a suggestion may take: with that room, and nearer to cold than the rule's own by one step at the most, unless the rule's
 * own can't carry the load: then up to the load minimum. All under the cold pressure where the grid has none of these.
 */
function lowsOf(q: SuggestQuestion, grid: Grid, spirit: Pair, within: 'rule' | 'room' = 'rule'): (kpa: number) => boolean {
  const under = (kpa: number) => kpa > 0 && kpa < q.coldKpa - 1e-9;
  const up = (kpa: number) => toKpa(stepUp(fromKpa(kpa, grid.unit), grid.step), grid.unit);
  const room = q.coldKpa - leastRoomKpa(q, grid, spirit);
  const top =
    (within === 'room' ? room : Math.min(room, Math.max(up(spirit.lowKpa) + toKpa(grid.step, grid.unit), up(q.loadMinimumKpa)))) +
    1e-9;
  const some = valuesOf(grid).some((v) => under(toKpa(v, grid.unit)) && toKpa(v, grid.unit) <= top);
  return some ? (kpa) => under(kpa) && kpa <= top : under;
}

/** A cool morning after the pressures were set, K. Assumed. */
const ROOM_K = 10;

const LOW_TRUTHS: readonly Verdict[] = ['nuisance-low', 'unprotected-low', 'unprotected-hot'];

/**
 * The pair on a monitor's grid that breaks the fewest requirements, lightest first, nearest to the school's own limits. A low alarm decides
 * three of the requirements and a high alarm the other two, so each is sought on its own; the answer equals a search over every pair.
 * @param spirit what the school gives; without a high alarm none is sought
 * @returns null when the grid has no low under the cold pressure (or no high over it where one is wanted)
 */
export function bestPair(q: SuggestQuestion, grid: Grid, spirit: Pair): Found | null {
  const values = valuesOf(grid);
  const better = (a: { cost: Cost; value: number } | null, cost: Cost, value: number, higher: boolean) =>
    a === null || compareCost(cost, a.cost) < 0 || (compareCost(cost, a.cost) === 0 && higher === value > a.value)
      ? { cost, value }
      : a;
  const mayBeLow = lowsOf(q, grid, spirit);
  let low: { cost: Cost; value: number } | null = null;
  let high: { cost: Cost; value: number } | null = null;
  for (const value of values) {
    const kpa = toKpa(value, grid.unit);
    if (mayBeLow(kpa)) {
      const verdicts = real(judgeTrip({ ...q, lowKpa: kpa, highKpa: null }).verdicts);
      low = better(low, costOf(verdicts, { lowKpa: kpa, highKpa: null }, spirit), value, true);
    } else if (spirit.highKpa !== null && kpa > q.coldKpa + 1e-9) {
      const verdicts = real(judgeTrip({ ...q, lowKpa: q.coldKpa / 2, highKpa: kpa }).verdicts).filter(
        (v) => !LOW_TRUTHS.includes(v),
      );
      high = better(high, costOf(verdicts, { lowKpa: spirit.lowKpa, highKpa: kpa }, spirit), value, false);
    }
  }
  if (low === null || (spirit.highKpa !== null && high === null)) return null;
  return found(q, grid, spirit, low.value, high?.value ?? null);
}

function found(q: SuggestQuestion, grid: Grid, spirit: Pair, low: number, high: number | null): Found {
  const pair: Pair = { lowKpa: toKpa(low, grid.unit), highKpa: high === null ? null : toKpa(high, grid.unit) };
  const verdicts = real(judgeTrip({ ...q, ...pair }).verdicts);
  return { ...pair, low, high, verdicts, cost: costOf(verdicts, pair, spirit) };
}

/** A half of the year. */
export interface SeasonAir {
  name: 'winter' | 'summer';
  coldestC: number;
  hottestC: number;
  /** Air at which the pressure is reset at its start, °C. */
  setTempC: number;
  /** First day of it, month and day. */
  from: string;
}

/** A season with the limits found for it. */
export interface SeasonLimits extends SeasonAir {
  found: Found;
}

export type Compromise =
  | { kind: 'seasonal'; seasons: SeasonLimits[]; verdicts: Verdict[]; weight: number }
  | { kind: 'settingDay'; coldTempC: number; colder: boolean; found: Found; verdicts: Verdict[]; weight: number }
  | { kind: 'otherSchool'; rule: AlarmRule; found: Found; verdicts: Verdict[]; weight: number }
  | { kind: 'otherTradeOff'; found: Found; verdicts: Verdict[]; weight: number };

export interface Suggestion {
  best: Found;
  satisfied: boolean;
  /** What the best pair breaks: the requirements it gives up. */
  givesWay: Verdict[];
  /** With a conflict: the two best ways out. */
  compromises: Compromise[];
  /** Its low is nearer to the cold pressure than the rule's own: what that low would give up and this one doesn't. Null: it isn't nearer. */
  nearer: { ownLowKpa: number; spares: Verdict[] } | null;
}

/** Why a low is nearer to cold than the rule has it. */
function nearerThan(q: SuggestQuestion, grid: Grid, spirit: Pair, best: Found): Suggestion['nearer'] {
  const own = toKpa(stepUp(fromKpa(spirit.lowKpa, grid.unit), grid.step), grid.unit);
  if (best.lowKpa <= own + 1e-9) return null;
  const broken = real(judgeTrip({ ...q, lowKpa: own, highKpa: null }).verdicts);
  return { ownLowKpa: own, spares: broken.filter((v) => !best.verdicts.includes(v)) };
}

/** The schools that can be tried without a figure of the owner's. */
const OTHER_SCHOOLS: readonly AlarmRule[] = [
  { school: 'share' },
  { school: 'share', hotClimate: true },
  { school: 'margin' },
  { school: 'rough' },
  { school: 'lowOnly' },
  { school: 'regulation' },
];

const weigh = (verdicts: readonly Verdict[]) => verdicts.reduce((a, v) => a + WEIGHT[v], 0);

/** Halves of the year when only its two ends are known: split at the middle of the span. Assumed; a file of daily figures knows better. */
export function halvesOf(coldestC: number, hottestC: number): SeasonAir[] {
  const mid = (coldestC + hottestC) / 2;
  // Spring and autumn nights are colder than the middle of the span and their afternoons warmer: an eighth of it either way.
  const swing = (hottestC - coldestC) / 8;
  const winter = { coldestC, hottestC: mid + swing };
  const summer = { coldestC: mid - swing, hottestC };
  const set = (s: { coldestC: number; hottestC: number }) => Math.round((s.coldestC + s.hottestC) / 2);
  return [
    { name: 'winter', ...winter, setTempC: set(winter), from: '11-01' },
    { name: 'summer', ...summer, setTempC: set(summer), from: '04-01' },
  ];
}

/**
 * Limits that satisfy the most requirements in a school's spirit, and, where none satisfies all, the requirements it gives up and the two best
 * compromises: limits by season with the pressure reset, another setting day, another school, or another requirement.
 * @param rule the school
 * @param seasons the halves of the year; made from the coldest start and the hottest afternoon when not given
 * @param hottestC air of the hottest afternoon, °C
 * @param hotShare what a run adds, as a share of the cold pressure
 * @returns null when the monitor's grid has no limits around the cold pressure, or the school leaves them to the monitor
 */
export function suggest(
  q: SuggestQuestion,
  grid: Grid,
  rule: AlarmRule,
  extra: { hottestC: number; hotShare: number; seasons?: readonly SeasonAir[] | undefined },
): Suggestion | null {
  const spirit = spiritOf(rule, q.coldKpa);
  if (!spirit) return null;
  const best = bestPair(q, grid, spirit);
  if (!best) return null;
  const nearer = nearerThan(q, grid, spirit, best);
  if (best.verdicts.length === 0) return { best, satisfied: true, givesWay: [], compromises: [], nearer };

  const compromises: Compromise[] = [];
  const at = (coldTempC: number, coldestC: number, hottestC: number): SuggestQuestion => ({
    ...q,
    coldTempC,
    coldestC,
    runningC: hottestC + riseForShare(q.coldKpa, coldTempC, extra.hotShare),
  });
  const seasons = extra.seasons ?? halvesOf(q.coldestC, extra.hottestC);
  const parts = seasons.map((s): SeasonLimits | null => {
    const f = bestPair(at(s.setTempC, s.coldestC, s.hottestC), grid, spirit);
    return f && { ...s, found: f };
  });
  if (parts.length > 0 && parts.every((p) => p !== null)) {
    const verdicts = VERDICTS.filter((v) => parts.some((p) => p.found.verdicts.includes(v)));
    compromises.push({ kind: 'seasonal', seasons: parts, verdicts, weight: weigh(verdicts) });
  }
  // Another setting day: the nearest temperature at which a pair does better.
  let day: Extract<Compromise, { kind: 'settingDay' }> | null = null;
  for (let t = Math.ceil(q.coldestC); t <= extra.hottestC; t += 1) {
    const f = bestPair(at(t, q.coldestC, extra.hottestC), grid, spirit);
    if (!f || f.cost.count > best.cost.count || (f.cost.count === best.cost.count && f.cost.weight >= best.cost.weight)) continue;
    const nearer = day && Math.abs(t - q.coldTempC) < Math.abs(day.coldTempC - q.coldTempC);
    const better =
      !day ||
      f.verdicts.length < day.verdicts.length ||
      (f.verdicts.length === day.verdicts.length &&
        (weigh(f.verdicts) < day.weight || (weigh(f.verdicts) === day.weight && nearer)));
    if (better)
      day = {
        kind: 'settingDay',
        coldTempC: t,
        colder: t < q.coldTempC,
        found: f,
        verdicts: f.verdicts,
        weight: weigh(f.verdicts),
      };
  }
  if (day) compromises.push(day);
  // Another school, keyed as it is, where it breaks less or something else than the best pair of this one.
  let other: Extract<Compromise, { kind: 'otherSchool' }> | null = null;
  for (const r of OTHER_SCHOOLS) {
    if (r.school === rule.school) continue;
    const s = spiritOf(r, q.coldKpa);
    const f = s && asKeyed(q, grid, s);
    if (!f || (f.verdicts.join() === best.verdicts.join() && s.highKpa === spirit.highKpa)) continue;
    if (f.verdicts.length > best.verdicts.length) continue;
    if (!other || compareCost(f.cost, other.found.cost) < 0)
      other = { kind: 'otherSchool', rule: r, found: f, verdicts: f.verdicts, weight: weigh(f.verdicts) };
  }
  if (other) compromises.push(other);
  // The same number of requirements, but another one is given up.
  const turned = otherTradeOff(q, grid, spirit, best);
  if (turned)
    compromises.push({ kind: 'otherTradeOff', found: turned, verdicts: turned.verdicts, weight: weigh(turned.verdicts) });
  compromises.sort((a, b) => a.verdicts.length - b.verdicts.length || a.weight - b.weight);
  return { best, satisfied: false, givesWay: best.verdicts, compromises: compromises.slice(0, 2), nearer };
}

/** What a school gives, or null where it leaves the low limit to the monitor or cannot be applied. */
export function spiritOf(rule: AlarmRule, coldKpa: number): Pair | null {
  try {
    const { lowKpa, highKpa } = limitsFor(rule, coldKpa);
    return lowKpa === null ? null : { lowKpa, highKpa };
  } catch (error) {
    if (error instanceof FieldError) return null;
    throw error;
  }
}

/** A school's own pair, on the grid: low up, high down. */
function asKeyed(q: SuggestQuestion, grid: Grid, s: Pair): Found | null {
  const low = stepUp(fromKpa(s.lowKpa, grid.unit), grid.step);
  const high = s.highKpa === null ? null : stepDown(fromKpa(s.highKpa, grid.unit), grid.step);
  const cold = fromKpa(q.coldKpa, grid.unit);
  if (low < grid.min || low >= cold || (high !== null && (high > grid.max || high <= cold))) return null;
  return found(q, grid, s, low, high);
}

/** The best pair among those that break as many requirements but not the same ones. */
function otherTradeOff(q: SuggestQuestion, grid: Grid, spirit: Pair, best: Found): Found | null {
  let turned: Found | null = null;
  // What gives up something else may be nearer to cold than the rule: it is offered, not proposed.
  const mayBeLow = lowsOf(q, grid, spirit, 'room');
  for (const value of valuesOf(grid)) {
    const kpa = toKpa(value, grid.unit);
    if (!mayBeLow(kpa)) continue;
    const f = found(q, grid, spirit, value, best.high);
    if (f.verdicts.join() === best.verdicts.join() || f.cost.count > best.cost.count) continue;
    if (!turned || compareCost(f.cost, turned.cost) < 0) turned = f;
  }
  return turned;
}
