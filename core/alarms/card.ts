import type { Monitor } from '#schema/monitor.ts';
import type { Keyed, Setting, UnitKind } from '#schema/unit.ts';
import { convert } from '../units/units.ts';
import { ends, tidy } from './grid.ts';
import { baselineFor, derivedFrom } from './held.ts';
import { type KeyingMonitor, type KeyingPlan, keyingGroups, planKeying, type Shown, type Unmet } from './keying.ts';
import {
  type MenuField,
  type MenuStep,
  type MenuWalk,
  opensAt,
  PRESS_S,
  type Press,
  secondsOf,
  shortestWalk,
  showsLimit,
  stopsOfMenu,
  unusedGroups,
  valueSeconds,
} from './menu.ts';

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
  | 'unused'
  | 'again'
  | 'coldStart'
  | 'oneForAll'
  | 'plain';

export interface CardStep {
  /** Stays the same while the card does. */
  id: string;
  group: string;
  axles: string[];
  field: MenuField;
  /** In the monitor's unit. Null: what it shows before is unknown. */
  from: number | null;
  to: number;
  /** Null where the step of the figure is unknown. */
  presses: number | null;
  /** Presses that go on (under 0: back) before it is keyed; null where the menu is unknown. */
  go: number | null;
  /** What confirms it afterwards. */
  confirm: { value: Press | null; page: Press | null };
  /** Seconds with the key held, where that is sooner; null: press by press. */
  heldS: number | null;
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
  confirmPresses: number;
  /** Seconds at the keys, without the time to look up; null where the menu is unknown. */
  seconds: number | null;
  /** Times round the menu, where the menu is known; null: unknown. */
  rounds: number | null;
  unmet: Unmet[];
  /** Axles whose own temperature limit is replaced by the one the monitor has for all. */
  hotUnmet: string[];
  /** The temperature limit that was wished, °C, where the monitor's range ends before it. */
  hotWishedC: number | null;
  groups: { group: string; axles: string[] }[];
  /** What it should show afterwards, by group. */
  afterwards: Record<string, { low: number | null; high: number | null; baseline: number | null }>;
  hotC: number | null;
  /** The low-temperature alert afterwards, °C; null: the monitor has none, or it stays. */
  coldC: number | null;
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
export function shownBy(keyed: Keyed | null): Shown {
  return Object.fromEntries(Object.entries(keyed?.groups ?? {}).map(([g, { low, high }]) => [g, { low, high }]));
}

/** The groups of a monitor's menu that a rig uses: a baseline is keyed by axle or tire by tire. */
export const cardGroups = (
  monitor: Pick<Monitor, 'groups' | 'baselineBy'>,
  axles: readonly { axle: string; unitKind: UnitKind; wheels?: number | undefined }[],
): Card['groups'] =>
  keyingGroups(monitor.groups === 'baseline' ? (monitor.baselineBy === 'wheel' ? 'wheel' : 'axle') : monitor.groups, axles);

type TempGrid = Partial<Pick<Monitor, 'tempUnit' | 'hotMin' | 'hotMax' | 'hotStep'>>;

/** Range and step of a monitor's temperatures, in its own unit. */
export const hotGrid = (m: TempGrid) => ({
  unit: m.tempUnit ?? 'C',
  step: m.hotStep ?? 1,
  min: m.hotMin ?? Number.NEGATIVE_INFINITY,
  max: m.hotMax ?? Number.POSITIVE_INFINITY,
});

/** A temperature as the monitor shows it, in its unit: the nearest step. */
export function tempShown(m: TempGrid, tempC: number): number {
  const { unit, step } = hotGrid(m);
  return tidy(Math.round(convert(tempC, 'C', unit) / step) * step, step);
}

/**
 * A temperature limit as a monitor can hold it, in its unit: the step at or under it, so that it sounds early rather than late, inside the
 * monitor's range.
 */
export function hotHeld(m: TempGrid, hotC: number): number {
  const { unit, step, min, max } = hotGrid(m);
  const down = tidy(Math.floor((convert(hotC, 'C', unit) + 1e-6) / step) * step, step);
  return Math.min(max, Math.max(min, down));
}

/** How far under the coldest start a low-temperature alert is set, K, so that it doesn't sound on a cold morning. Assumed. */
const COLD_MARGIN_K = 5;

interface Draft {
  card: Card;
  /** The limits the menu shows at its start. */
  start: Shown;
  steps: (MenuStep & { why: CardReason[] })[];
  has: (group: string, field: MenuField) => boolean;
}

/**
 * The whole card for a monitor: every key from what it shows to what the axles want, with the reason of each step. Where the menu is known it
 * is the shortest walk through it.
 * @param from what the monitor shows now; null: as it came from the factory
 * @param coldestC the coldest start of the year, °C, for a low-temperature alert
 */
export function keyingCard(monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null, coldestC?: number): Card {
  const hotWanted = axles.flatMap((a) => (a.setting.limits ? [a.setting.limits.hotC] : []));
  const wishedC = monitor.presetHotC === null || hotWanted.length === 0 ? null : Math.min(...hotWanted);
  const hotTo = wishedC === null ? null : hotHeld(monitor, wishedC);
  const hotC = hotTo === null ? null : convert(hotTo, hotGrid(monitor).unit, 'C');
  const bare = axles.filter((a) => !a.setting.limits).map((a) => a.code);
  const card: Card = {
    steps: [],
    presses: 0,
    navigationPresses: 0,
    confirmPresses: 0,
    seconds: null,
    rounds: null,
    unmet: [],
    hotUnmet: wishedC === null ? [] : axles.filter((a) => a.setting.limits && a.setting.limits.hotC > wishedC).map((a) => a.code),
    // Rounding takes less than a step; more is the end of the range.
    hotWishedC:
      wishedC !== null &&
      hotTo !== null &&
      Math.abs(convert(wishedC, 'C', hotGrid(monitor).unit) - hotTo) >= hotGrid(monitor).step
        ? wishedC
        : null,
    groups: [],
    afterwards: {},
    hotC,
    coldC: null,
    firstBlinks: null,
    derived: {},
    openPoints: [],
    bare,
  };
  const draft =
    monitor.groups === 'baseline' ? withBaselines(card, monitor, axles, from) : withLimits(card, monitor, axles, from);
  addUnused(draft, monitor, from);
  addTemperatures(draft, monitor, from, hotTo, coldestC);
  return inOrder(draft, monitor, axles);
}

/** Groups that the rig doesn't use, where the menu asks for them: as wide as the monitor goes, so that nothing odd can sound. */
function addUnused({ card, start, steps }: Draft, monitor: Monitor, from: Keyed | null): void {
  if (!monitor.menu?.setUnused || monitor.groups === 'baseline') return;
  const { least, most } = ends(monitor);
  for (const group of unusedGroups(monitor.menu, card.groups.length)) {
    const now = from?.groups[group] ?? { low: monitor.presetLow, high: monitor.presetHigh };
    const to = { low: now.low === null ? null : least, high: now.high === null ? null : most };
    card.groups.push({ group, axles: [] });
    card.afterwards[group] = { ...to, baseline: null };
    start[group] = { low: now.low, high: now.high };
    for (const field of ['low', 'high'] as const) {
      const value = now[field];
      const aim = to[field];
      if (value === null || aim === null || value === aim) continue;
      steps.push({
        group,
        field,
        from: value,
        to: aim,
        presses: Math.round(Math.abs(aim - value) / monitor.step),
        why: ['unused'],
      });
    }
  }
}

/** The temperature limit, and the low-temperature alert: one value for all wheels each. */
function addTemperatures(
  { card, steps }: Draft,
  monitor: Monitor,
  from: Keyed | null,
  hotTo: number | null,
  coldestC: number | undefined,
): void {
  const press = (a: number, b: number) => (monitor.hotStep === undefined ? null : Math.round(Math.abs(a - b) / monitor.hotStep));
  const put = (field: 'hot' | 'coldTemp', nowC: number | null | undefined, to: number, why: CardReason) => {
    const now = nowC === null || nowC === undefined ? null : tempShown(monitor, nowC);
    if (now !== to) steps.push({ group: 'all', field, from: now, to, presses: now === null ? null : press(now, to), why: [why] });
  };
  if (hotTo !== null) put('hot', from?.hotC ?? monitor.presetHotC, hotTo, 'oneForAll');
  if (monitor.presetColdC === undefined) return;
  const nowC = from?.coldC ?? monitor.presetColdC;
  // One that lies under every start is left.
  if (coldestC === undefined || nowC < coldestC) return;
  const { unit, step } = hotGrid(monitor);
  const to = tidy(Math.floor(convert(coldestC - COLD_MARGIN_K, 'C', unit) / step) * step, step);
  card.coldC = convert(to, unit, 'C');
  put('coldTemp', nowC, to, 'coldStart');
}

/** Bring the steps into the order of the menu where that is known; else they come as planned, the temperatures last. */
function inOrder({ card, start, steps, has }: Draft, monitor: Monitor, axles: readonly CardAxle[]): Card {
  const { menu } = monitor;
  const names = card.groups.map((g) => g.group);
  const unused = menu ? unusedGroups(menu, names.length) : [];
  const tail = (['hot', 'coldTemp'] as const).filter((f) =>
    f === 'hot' ? monitor.presetHotC !== null : monitor.presetColdC !== undefined,
  );
  // Groups that are only passed have the stops that every group has.
  const like = names[0];
  const stops = menu
    ? stopsOfMenu(menu, [...names, ...unused], (g, f) => has(unused.includes(g) ? (like ?? '') : g, f), tail)
    : [];
  const at = menu ? opensAt(menu, [...names, ...unused], stops) : 0;
  const walk: MenuWalk<Draft['steps'][number]> | null = menu
    ? shortestWalk(menu, steps, start, monitor.interlock, { stops, from: at })
    : null;
  const told = walk ? stepActs(walk) : [];
  card.steps = (walk?.steps ?? steps).map((s, i): CardStep => {
    const members = s.group === 'all' && (s.field === 'hot' || s.field === 'coldTemp') ? axles.map((a) => a.code) : null;
    const why = s.why.filter((r) => r !== 'plain');
    if (walk?.late.some((x) => x.group === s.group && x.field === s.field)) why.push('secondRound');
    const own = members ?? card.groups.find((g) => g.group === s.group)?.axles ?? [];
    if (own.length > 1 && !members) why.push('shared');
    const byPress = (s.presses ?? 0) * PRESS_S.short;
    const held = valueSeconds(s.presses ?? 0, menu?.repeat);
    return {
      id: `${s.group} ${s.field} ${s.from} ${s.to}`,
      group: s.group,
      axles: own,
      field: s.field,
      from: s.from,
      to: s.to,
      presses: s.presses,
      go: told[i]?.go ?? null,
      confirm: { value: told[i]?.value ?? null, page: told[i]?.page ?? null },
      heldS: held < byPress ? held : null,
      why: why.length > 0 ? why : ['plain'],
    };
  });
  card.presses = card.steps.reduce((n, s) => n + (s.presses ?? 0), 0);
  if (walk && menu) {
    card.navigationPresses = walk.navigationPresses;
    card.confirmPresses = walk.confirmPresses;
    card.seconds = secondsOf(menu, walk);
    card.rounds = walk.rounds;
  }
  card.firstBlinks = (menu ? stops[at]?.group : undefined) ?? names[0] ?? null;
  return card;
}

/** The walk as what is done before and after each step. */
function stepActs({ acts, steps }: MenuWalk<MenuStep>): { go: number; value: Press | null; page: Press | null }[] {
  const out = steps.map(() => ({ go: 0, value: null as Press | null, page: null as Press | null }));
  let at = -1;
  for (const a of acts) {
    if (a.do === 'key') at = a.step;
    else if (a.do === 'go') {
      const next = out[at + 1];
      if (next) next.go += a.presses;
    } else {
      const own = out[at];
      if (own) own[a.what] = a.press;
    }
  }
  return out;
}

function withLimits(card: Card, monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null): Draft {
  const keyed = shownBy(from);
  const again = monitor.menu?.starts === 'preset';
  const wishes = axles.map((a) => ({
    axle: a.code,
    unitKind: a.unitKind,
    wheels: a.wheels,
    lowKpa: a.setting.limits?.lowKpa ?? null,
    highKpa: a.setting.limits?.highKpa ?? null,
  }));
  const described = keyingMonitor(monitor);
  const kept = planKeying(described, wishes, keyed);
  // A menu that begins at its presets each time asks for all of it again, as soon as anything has to be changed.
  const shown = again && kept.steps.length > 0 ? {} : keyed;
  const plan: KeyingPlan = shown === keyed ? kept : planKeying(described, wishes, shown);
  const wanted = (codes: readonly string[], field: 'low' | 'high') =>
    codes.some((c) => {
      const limits = axles.find((a) => a.code === c)?.setting.limits;
      return limits && (field === 'low' ? limits.lowKpa : limits.highKpa) !== null;
    });
  card.groups = plan.groups.map((g) => ({ ...g }));
  const start: Shown = Object.fromEntries(
    plan.groups.map(({ group }) => [group, shown[group] ?? { low: monitor.presetLow, high: monitor.presetHigh }]),
  );
  const steps = plan.steps.map((s) => {
    const members = plan.groups.find((g) => g.group === s.group)?.axles ?? [];
    const other = plan.steps.find((x) => x.group === s.group && x.field !== s.field);
    // An order is claimed only where the other one would be refused.
    const low = s.field === 'low' ? s : other;
    const high = s.field === 'high' ? s : other;
    const lowFirst = monitor.interlock && low && high && high.to <= low.from;
    const highFirst = monitor.interlock && low && high && low.to >= high.from;
    const why: CardReason[] = [];
    if (!wanted(members, s.field)) why.push('makesRoom');
    else if (lowFirst) why.push(s.field === 'low' ? 'lowFirst' : 'thenHigh');
    else if (highFirst) why.push(s.field === 'high' ? 'highFirst' : 'thenLow');
    return { ...s, why };
  });
  card.navigationPresses = plan.navigationPresses;
  card.unmet = plan.unmet;
  card.afterwards = Object.fromEntries(Object.entries(plan.ends).map(([g, e]) => [g, { ...e, baseline: null }]));
  const draft: Draft = { card, start, steps, has: (g, f) => showsLimit(start)(g, f) };
  // A preset that is just right has to be confirmed all the same, over what was keyed.
  if (shown !== keyed)
    for (const { group } of plan.groups)
      for (const field of ['low', 'high'] as const) {
        const to = plan.ends[group]?.[field] ?? null;
        const had = keyed[group]?.[field];
        if (to !== null && had !== undefined && had !== to && to === start[group]?.[field])
          draft.steps.push({ group, field, from: to, to, presses: 0, why: ['again'] });
      }
  const touched = new Set(kept.steps.map((s) => s.group));
  for (const { group, axles: codes } of plan.groups) {
    if (!wanted(codes, 'low') && !wanted(codes, 'high')) continue;
    if (!keyed[group]) card.openPoints.push({ group, code: 'neverKeyed', axles: codes });
    else if (touched.has(group)) card.openPoints.push({ group, code: 'differs', axles: codes });
  }
  return draft;
}

function withBaselines(card: Card, monitor: Monitor, axles: readonly CardAxle[], from: Keyed | null): Draft {
  const asked = axles.filter((a) => a.setting.cold);
  card.groups = cardGroups(
    monitor,
    asked.map((a) => ({ axle: a.code, unitKind: a.unitKind, wheels: a.wheels })),
  );
  const aim = (group: string) => {
    const own = asked.find((a) => a.code === card.groups.find((g) => g.group === group)?.axles[0]);
    return baselineFor(monitor, own?.setting.cold?.kpa as number);
  };
  const kept = (group: string) => from?.groups[group]?.baseline ?? null;
  const differs = card.groups.some(({ group }) => kept(group) !== aim(group));
  const again = monitor.menu?.starts === 'preset' && differs;
  const steps: Draft['steps'] = [];
  for (const { group, axles: codes } of card.groups) {
    const to = aim(group);
    const had = kept(group);
    const now = again ? (monitor.presetBaseline ?? null) : (had ?? monitor.presetBaseline ?? null);
    card.afterwards[group] = { low: null, high: null, baseline: to };
    for (const code of codes) card.derived[code] = monitor.derives ? derivedFrom(to, monitor.derives) : null;
    if (had === null) card.openPoints.push({ group, code: 'neverKeyed', axles: codes });
    else if (had !== to) card.openPoints.push({ group, code: 'differs', axles: codes });
    // The factory's figure may be just right: then it is read, and nothing is keyed.
    if (now === to && !(again && had !== null && had !== to)) continue;
    steps.push({
      group,
      field: 'baseline',
      from: now,
      to,
      presses: now === null ? null : Math.round(Math.abs(to - now) / monitor.step),
      why: now === to ? ['again'] : ['baseline'],
    });
  }
  return { card, start: {}, steps, has: (_, field) => field === 'baseline' };
}

/** What is stored when the card was keyed and read back. */
export function asKeyed(card: Card, at: string, loadState: Keyed['loadState'], keyed: Keyed | null): Keyed {
  const groups: Keyed['groups'] = { ...keyed?.groups };
  for (const [group, a] of Object.entries(card.afterwards))
    groups[group] = { low: a.low, high: a.high, ...(a.baseline === null ? {} : { baseline: a.baseline }) };
  const coldC = card.coldC ?? keyed?.coldC;
  return { at, loadState, groups, hotC: card.hotC ?? keyed?.hotC ?? null, ...(coldC === undefined ? {} : { coldC }) };
}
