import type { Monitor } from '#schema/monitor.ts';
import type { Keyed, Setting, UnitKind } from '#schema/unit.ts';
import { baselineFor, derivedFrom } from './held.ts';
import { type KeyingMonitor, type KeyingPlan, keyingGroups, planKeying, type Shown, type Unmet } from './keying.ts';
import { shortestWalk } from './menu.ts';

/** An axle or spare of the rig as the card sees it. */
export interface CardAxle {
  code: string;
  unitKind: UnitKind;
  wheels: number;
  setting: Setting;
}

/** Why a step is where it is in the order. */
export type CardReason =
  | 'lowFirst'
  | 'highFirst'
  | 'makesRoom'
  | 'shared'
  | 'thenHigh'
  | 'thenLow'
  | 'baseline'
  | 'secondRound'
  | 'oneForAll'
  | 'plain';

export interface CardStep {
  /** Stays the same while the card does. */
  id: string;
  group: string;
  axles: string[];
  field: 'low' | 'high' | 'baseline' | 'hot';
  /** In the monitor's unit; °C for `hot`. Null: what it shows before is unknown. */
  from: number | null;
  to: number;
  /** Null where the step of the figure is unknown. */
  presses: number | null;
  why: CardReason[];
}

/** What is still open between the rig and its monitor. */
export interface OpenPoint {
  group: string;
  code: 'neverKeyed' | 'differs';
  axles: string[];
}

export interface Card {
  steps: CardStep[];
  presses: number;
  navigationPresses: number;
  /** Times round the menu, where the menu is known; null: unknown. */
  rounds: number | null;
  unmet: Unmet[];
  /** Axles whose own temperature limit is replaced by the one the monitor has for all. */
  hotUnmet: string[];
  groups: { group: string; axles: string[] }[];
  /** What it should show afterwards, by group. */
  afterwards: Record<string, { low: number | null; high: number | null; baseline: number | null }>;
  hotC: number | null;
  /** The group that blinks first when the monitor's menu opens. */
  firstBlinks: string | null;
  /** What a baseline monitor makes of its baselines; null where its owner does not know. */
  derived: Record<string, { low: number; high: number | null } | null>;
  openPoints: OpenPoint[];
  /** Axles without limits: the card leaves them as shown. */
  bare: string[];
}

const keyingMonitor = (m: Monitor): KeyingMonitor => ({
  groups: m.groups === 'baseline' ? 'axle' : m.groups,
  unit: m.unit,
  step: m.step,
  min: m.min,
  max: m.max,
  presetLow: m.presetLow,
  presetHigh: m.presetHigh,
  interlock: m.interlock,
});

/** What a monitor shows before the card: as keyed last, or its presets. */
function shownBy(keyed: Keyed | null): Shown {
  return Object.fromEntries(Object.entries(keyed?.groups ?? {}).map(([g, { low, high }]) => [g, { low, high }]));
}

/**
 * The whole card for a monitor: every key from what it shows to what the axles want, with the reason of each step.
 * @param from what the monitor shows now; null: as it came from the factory
 */
export function keyingCard(monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null): Card {
  const hotWanted = axles.flatMap((a) => (a.setting.limits ? [a.setting.limits.hotC] : []));
  const hotC = monitor.presetHotC === null || hotWanted.length === 0 ? null : Math.min(...hotWanted);
  const bare = axles.filter((a) => !a.setting.limits).map((a) => a.code);
  const base: Card = {
    steps: [],
    presses: 0,
    navigationPresses: 0,
    rounds: null,
    unmet: [],
    hotUnmet: hotC === null ? [] : axles.filter((a) => a.setting.limits && a.setting.limits.hotC > hotC).map((a) => a.code),
    groups: [],
    afterwards: {},
    hotC,
    firstBlinks: null,
    derived: {},
    openPoints: [],
    bare,
  };
  const card = monitor.groups === 'baseline' ? withBaselines(base, monitor, axles, from) : withLimits(base, monitor, axles, from);
  card.firstBlinks = card.groups[0]?.group ?? null;
  const hotNow = from?.hotC ?? monitor.presetHotC;
  if (hotC !== null && hotC !== hotNow) {
    card.steps.push({
      id: `all hot ${hotNow} ${hotC}`,
      group: 'all',
      axles: axles.map((a) => a.code),
      field: 'hot',
      from: hotNow,
      to: hotC,
      presses: null,
      why: ['oneForAll'],
    });
  }
  return card;
}

function withLimits(card: Card, monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null): Card {
  const shown = shownBy(from);
  const plan: KeyingPlan = planKeying(
    keyingMonitor(monitor),
    axles.map((a) => ({
      axle: a.code,
      unitKind: a.unitKind,
      wheels: a.wheels,
      lowKpa: a.setting.limits?.lowKpa ?? null,
      highKpa: a.setting.limits?.highKpa ?? null,
    })),
    shown,
  );
  const wanted = (codes: readonly string[], field: 'low' | 'high') =>
    codes.some((c) => {
      const limits = axles.find((a) => a.code === c)?.setting.limits;
      return limits && (field === 'low' ? limits.lowKpa : limits.highKpa) !== null;
    });
  card.groups = plan.groups;
  // The order of the menu where it is known; else group by group as planned.
  const start = Object.fromEntries(
    plan.groups.map(({ group }) => [group, shown[group] ?? { low: monitor.presetLow, high: monitor.presetHigh }]),
  );
  const walk = monitor.menu
    ? shortestWalk(
        monitor.menu,
        plan.groups.map((g) => g.group),
        plan.steps,
        start,
        monitor.interlock,
      )
    : null;
  const ordered = walk?.steps ?? plan.steps;
  card.steps = ordered.map((s): CardStep => {
    const members = plan.groups.find((g) => g.group === s.group)?.axles ?? [];
    const other = ordered.find((x) => x.group === s.group && x.field !== s.field);
    // An order is claimed only where the other one would be refused.
    const low = s.field === 'low' ? s : other;
    const high = s.field === 'high' ? s : other;
    const lowFirst = monitor.interlock && low && high && high.to <= low.from;
    const highFirst = monitor.interlock && low && high && low.to >= high.from;
    const why: CardReason[] = [];
    if (!wanted(members, s.field)) why.push('makesRoom');
    else if (lowFirst) why.push(s.field === 'low' ? 'lowFirst' : 'thenHigh');
    else if (highFirst) why.push(s.field === 'high' ? 'highFirst' : 'thenLow');
    if (walk?.late.some((x) => x.group === s.group && x.field === s.field)) why.push('secondRound');
    if (members.length > 1) why.push('shared');
    return { ...s, id: `${s.group} ${s.field} ${s.from} ${s.to}`, axles: members, why: why.length > 0 ? why : ['plain'] };
  });
  card.presses = plan.presses;
  card.navigationPresses = walk?.navigationPresses ?? plan.navigationPresses;
  card.rounds = walk?.rounds ?? null;
  card.unmet = plan.unmet;
  card.afterwards = Object.fromEntries(Object.entries(plan.ends).map(([g, e]) => [g, { ...e, baseline: null }]));
  const touched = new Set(plan.steps.map((s) => s.group));
  for (const { group, axles: codes } of plan.groups) {
    if (!wanted(codes, 'low') && !wanted(codes, 'high')) continue;
    if (!shown[group]) card.openPoints.push({ group, code: 'neverKeyed', axles: codes });
    else if (touched.has(group)) card.openPoints.push({ group, code: 'differs', axles: codes });
  }
  return card;
}

function withBaselines(card: Card, monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null): Card {
  const asked = axles.filter((a) => a.setting.cold);
  card.groups = keyingGroups(
    'axle',
    asked.map((a) => ({ axle: a.code, unitKind: a.unitKind })),
  );
  for (const a of asked) {
    const cold = a.setting.cold?.kpa as number;
    const to = baselineFor(monitor, cold);
    const now = from?.groups[a.code]?.baseline ?? null;
    card.afterwards[a.code] = { low: null, high: null, baseline: to };
    card.derived[a.code] = monitor.derives ? derivedFrom(to, monitor.derives) : null;
    if (now === null) card.openPoints.push({ group: a.code, code: 'neverKeyed', axles: [a.code] });
    else if (now !== to) card.openPoints.push({ group: a.code, code: 'differs', axles: [a.code] });
    if (now === to) continue;
    card.steps.push({
      id: `${a.code} baseline ${now} ${to}`,
      group: a.code,
      axles: [a.code],
      field: 'baseline',
      from: now,
      to,
      presses: now === null ? null : Math.round(Math.abs(to - now) / monitor.step),
      why: ['baseline'],
    });
  }
  card.presses = card.steps.reduce((n, s) => n + (s.presses ?? 0), 0);
  return card;
}

/** What is stored when the card was keyed and read back. */
export function asKeyed(card: Card, at: string, loadState: Keyed['loadState'], keyed: Keyed | null): Keyed {
  const groups: Keyed['groups'] = { ...keyed?.groups };
  for (const [group, a] of Object.entries(card.afterwards))
    groups[group] = { low: a.low, high: a.high, ...(a.baseline === null ? {} : { baseline: a.baseline }) };
  return { at, loadState, groups, hotC: card.hotC ?? keyed?.hotC ?? null };
}
