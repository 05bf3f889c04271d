import type { Monitor } from '#schema/monitor.ts';
import { hotGrid, tempShown } from '../alarms/card.ts';
import { ends, tidy } from '../alarms/grid.ts';
import { type Menu, type MenuField, type MenuStop, opensAt, stopsOfMenu, unusedGroups } from '../alarms/menu.ts';
import { FieldError } from '../errors.ts';
import type { BenchKeyer } from './state.ts';

/** Keys of the menu. `on` goes to the next value, round and round: gone one too far, one must step all the way, unless there is a `back`. */
export type KeyerKey = 'on' | 'back' | 'up' | 'down' | 'up10' | 'down10' | 'ok' | 'okLong' | 'leave';

export type KeyerSpec = Pick<Monitor, 'unit' | 'step' | 'min' | 'max' | 'presetLow' | 'presetHigh' | 'interlock'> &
  Partial<
    Pick<
      Monitor,
      'groups' | 'menu' | 'saves' | 'presetHotC' | 'presetColdC' | 'tempUnit' | 'hotMin' | 'hotMax' | 'hotStep' | 'presetBaseline'
    >
  >;

/** A menu nobody described is the plainest. */
const PLAIN: Menu = { walk: 'group', first: 'low', wrap: 'forward' };

/** How a value is named in the keyer. */
export const keyerName = (stop: { group: string; field: MenuField }): string => `${stop.group} ${stop.field}`;

/** What a value shows as it came. */
function presetOf(field: MenuField, spec: KeyerSpec): number | null {
  switch (field) {
    case 'low':
      return spec.presetLow;
    case 'high':
      return spec.presetHigh;
    case 'baseline':
      return spec.presetBaseline ?? ends(spec).least;
    case 'hot':
      return typeof spec.presetHotC === 'number' ? tempShown(spec, spec.presetHotC) : null;
    default:
      return spec.presetColdC === undefined ? null : tempShown(spec, spec.presetColdC);
  }
}

/** A monitor as it came from the factory, its limit menu just opened. */
export function freshKeyer(groups: readonly string[], spec: KeyerSpec): BenchKeyer {
  const menu = spec.menu ?? PLAIN;
  const own = [...groups, ...unusedGroups(menu, groups.length)];
  const has = (_: string, field: MenuField) =>
    (field === 'baseline') === (spec.groups === 'baseline') && presetOf(field, spec) !== null;
  const stops = stopsOfMenu(
    menu,
    own,
    has,
    (['hot', 'coldTemp'] as const).filter((f) => presetOf(f, spec) !== null),
  );
  const values = Object.fromEntries(stops.map((s) => [keyerName(s), presetOf(s.field, spec) as number]));
  return {
    stops,
    at: opensAt(menu, own, stops),
    shown: { ...values },
    entered: { ...values },
    kept: { ...values },
    saved: { ...values },
    refusals: 0,
    wrongAxle: [],
    lost: 0,
    leftUnsaved: 0,
    timedOut: 0,
    pressS: null,
  };
}

/** What became of a press. */
export type PressAnswer = 'taken' | 'refused';

const same = (a: Record<string, number>, b: Record<string, number>) => Object.keys(a).every((k) => a[k] === b[k]);

/**
 * Press a key. What the monitor's description asks for has to be done: a value that isn't confirmed is lost when one goes on, a page when one
 * leaves it, all of it without the press that saves. With an interlock a value that would bring the low to the high is refused with a beep.
 * @param intended the group the card is at, to notice a change of another one
 * @param nowS seconds of the wall clock, for a menu that closes by itself
 * @throws FieldError at `/key` when the menu has no value, or no such way
 */
export function pressKey(
  keyer: BenchKeyer,
  key: KeyerKey,
  spec: KeyerSpec,
  { intended, nowS = 0 }: { intended?: string | undefined; nowS?: number } = {},
): PressAnswer {
  const menu = spec.menu ?? PLAIN;
  const stop = keyer.stops[keyer.at];
  if (stop === undefined) throw new FieldError('/key', 'there is no value to key');
  if (menu.timeoutS !== undefined && keyer.pressS !== null && nowS - keyer.pressS > menu.timeoutS) {
    if (!same(keyer.shown, keyer.saved)) keyer.timedOut += 1;
    keyer.pressS = null;
    close(keyer, menu);
    return 'refused';
  }
  keyer.pressS = nowS;
  switch (key) {
    case 'on':
      return goTo(keyer, (keyer.at + 1) % keyer.stops.length, menu);
    case 'back':
      if (menu.wrap !== 'both') throw new FieldError('/key', 'this menu only goes on');
      return goTo(keyer, (keyer.at - 1 + keyer.stops.length) % keyer.stops.length, menu);
    case 'ok':
      return confirm(keyer, 'short', menu, spec.saves);
    case 'okLong':
      return confirm(keyer, 'long', menu, spec.saves);
    case 'leave':
      if (spec.saves === 'byItself') {
        leaveStop(keyer, menu, true);
        keyer.saved = { ...keyer.kept };
      }
      if (!same(keyer.shown, keyer.saved)) keyer.leftUnsaved += 1;
      keyer.pressS = null;
      close(keyer, menu);
      return 'taken';
    default:
      return change(keyer, stop, { up: 1, down: -1, up10: 10, down10: -10 }[key], spec, menu, intended);
  }
}

/**
 * Choose a value directly, in a menu of free order.
 * @throws FieldError at `/stop` where the menu is stepped through in order, or has no such value
 */
export function chooseStop(keyer: BenchKeyer, at: number, spec: KeyerSpec): PressAnswer {
  const menu = spec.menu ?? PLAIN;
  if (menu.order !== 'free') throw new FieldError('/stop', 'this menu is stepped through in order');
  if (keyer.stops[at] === undefined) throw new FieldError('/stop', 'the menu has no such value');
  return goTo(keyer, at, menu);
}

function change(
  keyer: BenchKeyer,
  stop: MenuStop,
  by: number,
  spec: KeyerSpec,
  menu: Menu,
  intended: string | undefined,
): PressAnswer {
  const name = keyerName(stop);
  const temperature = stop.field === 'hot' || stop.field === 'coldTemp';
  const { step, min, max } = temperature ? hotGrid(spec) : { step: spec.step, min: ends(spec).least, max: ends(spec).most };
  const next = tidy((keyer.shown[name] as number) + by * step, step);
  const beside = keyer.shown[keyerName({ group: stop.group, field: stop.field === 'low' ? 'high' : 'low' })];
  const crossed =
    spec.interlock &&
    beside !== undefined &&
    ((stop.field === 'low' && next >= beside) || (stop.field === 'high' && next <= beside));
  if (next < min || next > max || crossed) {
    keyer.refusals += 1;
    return 'refused';
  }
  keyer.shown[name] = next;
  if (!menu.confirmValue) enter(keyer, name, menu);
  if (intended !== undefined && intended !== stop.group && !keyer.wrongAxle.includes(stop.group))
    keyer.wrongAxle.push(stop.group);
  return 'taken';
}

function enter(keyer: BenchKeyer, name: string, menu: Menu): void {
  keyer.entered[name] = keyer.shown[name] as number;
  if (!menu.confirmPage) keyer.kept[name] = keyer.shown[name] as number;
}

const pageNames = (keyer: BenchKeyer): string[] => {
  const page = keyer.stops[keyer.at]?.page;
  return keyer.stops.filter((s) => s.page === page).map(keyerName);
};

/** A confirming press: of the value, then of its page, then of all of it. */
function confirm(keyer: BenchKeyer, press: 'short' | 'long', menu: Menu, saves: Monitor['saves']): PressAnswer {
  const name = keyerName(keyer.stops[keyer.at] as MenuStop);
  const refuse = (): PressAnswer => {
    keyer.refusals += 1;
    return 'refused';
  };
  if (menu.confirmValue && keyer.shown[name] !== keyer.entered[name]) {
    if (press !== menu.confirmValue) return refuse();
    enter(keyer, name, menu);
    return 'taken';
  }
  const own = pageNames(keyer);
  if (menu.confirmPage && own.some((n) => keyer.entered[n] !== keyer.kept[n])) {
    if (press !== menu.confirmPage) return refuse();
    for (const n of own) keyer.kept[n] = keyer.entered[n] as number;
    return 'taken';
  }
  if (saves === 'longPress' && press === 'short') return refuse();
  keyer.saved = { ...keyer.kept };
  return 'taken';
}

/** What isn't confirmed is lost when one goes on from it. */
function leaveStop(keyer: BenchKeyer, menu: Menu, leavesPage: boolean): void {
  const name = keyerName(keyer.stops[keyer.at] as MenuStop);
  let lost = false;
  if (menu.confirmValue && keyer.shown[name] !== keyer.entered[name]) {
    keyer.shown[name] = keyer.entered[name] as number;
    lost = true;
  }
  if (menu.confirmPage && leavesPage)
    for (const n of pageNames(keyer))
      if (keyer.entered[n] !== keyer.kept[n]) {
        keyer.entered[n] = keyer.kept[n] as number;
        keyer.shown[n] = keyer.kept[n] as number;
        lost = true;
      }
  if (lost) keyer.lost += 1;
}

function goTo(keyer: BenchKeyer, to: number, menu: Menu): PressAnswer {
  leaveStop(keyer, menu, keyer.stops[to]?.page !== keyer.stops[keyer.at]?.page);
  keyer.at = to;
  return 'taken';
}

/** The menu is closed: it shows what is saved when it is opened again. */
function close(keyer: BenchKeyer, menu: Menu): void {
  keyer.shown = { ...keyer.saved };
  keyer.entered = { ...keyer.saved };
  keyer.kept = { ...keyer.saved };
  const groups = [...new Set(keyer.stops.map((s) => s.group).filter((g) => g !== 'all'))];
  keyer.at = opensAt(menu, groups, keyer.stops);
}
