import type { Shown } from './keying.ts';

/** A press that confirms: short, or held until the monitor takes it. */
export type Press = 'short' | 'long';

/** How one goes through a monitor's limit menu. What isn't said is the plainest case: stepped through in order, no confirming press. */
export interface Menu {
  /** The limits of a group, then the next group; or one limit of all groups, then the next limit. */
  walk: 'group' | 'limit';
  /** Which of the two comes first. */
  first: 'low' | 'high';
  /** Whether it only goes on (and round from its end), or back as well. */
  wrap: 'forward' | 'both';
  /** `free`: any value can be chosen directly, as on a phone. */
  order?: 'fixed' | 'free' | undefined;
  /** The group that blinks first when the menu opens. */
  opens?: 'first' | 'last' | undefined;
  /** Steps a second while a key is held; left out: one press a step. */
  repeat?: number | undefined;
  /** What confirms a value before one goes on, or it is lost. */
  confirmValue?: Press | undefined;
  /** What confirms a page (a group, or one limit of all groups) before one leaves it. */
  confirmPage?: Press | undefined;
  /** Seconds without a press after which it closes and what isn't saved is lost. */
  timeoutS?: number | undefined;
  /** What a value begins at each time the menu is opened. */
  starts?: 'preset' | 'last' | undefined;
  /** Groups that the menu goes through, used or not. */
  groups?: number | undefined;
  /** Groups that aren't used have to be set too. */
  setUnused?: boolean | undefined;
}

/** What is set at a place of the menu; `hot` and `coldTemp` are one value for all wheels. */
export type MenuField = 'low' | 'high' | 'baseline' | 'hot' | 'coldTemp';

/** A place in the menu where one value is set. */
export interface MenuStop {
  group: string;
  field: MenuField;
  /** Stops with one number are a page, confirmed together. */
  page: number;
}

/** A value that has to be keyed. */
export interface MenuStep {
  group: string;
  field: MenuField;
  /** Null: what it shows before is unknown. */
  from: number | null;
  to: number;
  presses: number | null;
}

/** What is done in a walk, in order. */
export type MenuAct =
  /** Presses that go on (over 0) or back (under 0); in a menu of free order the one press that chooses a value. */
  | { do: 'go'; presses: number }
  /** Key the step of that number in `steps`. */
  | { do: 'key'; step: number }
  | { do: 'confirm'; what: 'value' | 'page'; press: Press };

export interface MenuWalk<S extends MenuStep> {
  /** The steps of the card in the order of the walk. */
  steps: S[];
  acts: MenuAct[];
  /** Presses that go from one value to the next. */
  navigationPresses: number;
  /** Presses that confirm values and pages. */
  confirmPresses: number;
  /** Times round the menu that the walk takes; more than one where interlock and order of the menu are against each other. */
  rounds: number;
  /** The steps that had to wait for the second round. */
  late: S[];
}

/** How long presses take, s. Assumed. */
export const PRESS_S = {
  /** One press, and the look at what it did. */
  short: 0.5,
  /** A press that has to be held until it is taken. */
  long: 3,
  /** A held key repeats after this. */
  holdAfter: 1,
} as const;

/** Seconds that a walk takes at the keys, without the time to look up. */
export function secondsOf(menu: Menu, { steps, acts }: Pick<MenuWalk<MenuStep>, 'steps' | 'acts'>): number {
  return acts.reduce((s, a) => {
    if (a.do === 'go') return s + Math.abs(a.presses) * PRESS_S.short;
    if (a.do === 'confirm') return s + PRESS_S[a.press];
    return s + valueSeconds(steps[a.step]?.presses ?? 0, menu.repeat);
  }, 0);
}

/** Seconds to bring one value some steps away, press by press or held, whichever is sooner. */
export const valueSeconds = (presses: number, repeat: number | undefined): number =>
  Math.min(presses * PRESS_S.short, repeat === undefined ? Number.POSITIVE_INFINITY : PRESS_S.holdAfter + presses / repeat);

/** Names of the groups that a menu goes through and the rig doesn't use, behind those it uses. */
export const unusedGroups = (menu: Menu, used: number): string[] =>
  Array.from({ length: Math.max(0, (menu.groups ?? 0) - used) }, (_, i) => `unused ${i + 1}`);

/**
 * The stops of a menu in its order.
 * @param has whether a group has such a limit: one that the monitor hasn't got has no stop
 * @param tail values for all wheels, which come after those of the groups, each on a page of its own
 */
export function stopsOfMenu(
  menu: Menu,
  groups: readonly string[],
  has: (group: string, field: MenuField) => boolean,
  tail: readonly ('hot' | 'coldTemp')[] = [],
): MenuStop[] {
  const fields: MenuField[] = [...(menu.first === 'low' ? (['low', 'high'] as const) : (['high', 'low'] as const)), 'baseline'];
  const stops =
    menu.walk === 'group'
      ? groups.flatMap((group, page) => fields.map((field) => ({ group, field, page })))
      : fields.flatMap((field, page) => groups.map((group) => ({ group, field, page })));
  const last = Math.max(groups.length, fields.length);
  return [
    ...stops.filter(({ group, field }) => has(group, field)),
    ...tail.map((field, i) => ({ group: 'all', field, page: last + i })),
  ];
}

/** Whether a group shows a low or a high limit. */
export const showsLimit =
  (shown: Shown) =>
  (group: string, field: MenuField): boolean =>
    (field === 'low' || field === 'high') && typeof shown[group]?.[field] === 'number';

/** Where a menu is when it opens: at the first stop, or at the first of the last group. */
export function opensAt(menu: Menu, groups: readonly string[], stops: readonly MenuStop[]): number {
  const last = groups.at(-1);
  const at = menu.opens === 'last' ? stops.findIndex((s) => s.group === last) : 0;
  return Math.max(0, at);
}

/** More values than this are walked round by round instead of searched; without pages to confirm that is the shortest all the same. */
const MOST_SEARCHED = 14;
const MOST_SEARCHED_WITH_PAGES = 11;

/**
 * The shortest walk through a menu that keys every step, with none refused: a search (Dijkstra) over where one is, what is keyed already, and
 * whether the page has something to confirm. Every press that goes on or back or confirms costs one. Presses on the values are the same
 * whatever the order.
 * @param steps values to be keyed, one for each group and field at most
 * @param shown the limits that the menu shows at the start
 * @param stops its stops in order, and the one where it opens
 * @returns null where no order is taken by the interlock, or a step has no stop
 */
export function shortestWalk<S extends MenuStep>(
  menu: Menu,
  steps: readonly S[],
  shown: Shown,
  interlock: boolean,
  { stops, from }: { stops: readonly MenuStop[]; from: number },
): MenuWalk<S> | null {
  const n = stops.length;
  const at = steps.map((s) => stops.findIndex((x) => x.group === s.group && x.field === s.field));
  if (at.some((i) => i < 0)) return null;
  const here = new Map<number, number[]>();
  at.forEach((i, k) => {
    here.set(i, [...(here.get(i) ?? []), k]);
  });
  const partner = steps.map((s) =>
    s.field === 'low' || s.field === 'high'
      ? steps.findIndex((x) => x.group === s.group && x.field === (s.field === 'low' ? 'high' : 'low'))
      : -1,
  );
  /** May a step be keyed while those of the mask are? */
  const allowed = (k: number, keyed: (i: number) => boolean): boolean => {
    const s = steps[k] as S;
    if (!interlock || (s.field !== 'low' && s.field !== 'high')) return true;
    const p = partner[k] as number;
    const other = p >= 0 ? (steps[p] as S) : null;
    const beside = other ? (keyed(p) ? other.to : other.from) : (shown[s.group]?.[s.field === 'low' ? 'high' : 'low'] ?? null);
    if (beside === null) return true;
    return s.field === 'low' ? s.to < beside : s.to > beside;
  };
  const page = (pos: number): number => (stops[pos] as MenuStop).page;
  const few = steps.length <= (menu.confirmPage ? MOST_SEARCHED_WITH_PAGES : MOST_SEARCHED);
  const order = steps.length === 0 ? { visits: [], path: [] } : few ? searched() : walked();
  return order && told(order);

  /** The walk as presses. `path` has every stop that was stood at, `visits` the place in it of each keyed step. */
  function told({ visits, path }: { visits: { k: number; i: number }[]; path: number[] }): MenuWalk<S> {
    const acts: MenuAct[] = [];
    let dirty = false;
    const leavePage = () => {
      if (dirty && menu.confirmPage) acts.push({ do: 'confirm', what: 'page', press: menu.confirmPage });
      dirty = false;
    };
    let next = 0;
    path.forEach((pos, i) => {
      if (i > 0) {
        const before = path[i - 1] as number;
        if (page(before) !== page(pos)) leavePage();
        const by = menu.order === 'free' || (before + 1) % n === pos ? 1 : -1;
        const last = acts.at(-1);
        if (menu.order !== 'free' && last?.do === 'go' && Math.sign(last.presses) === by) last.presses += by;
        else acts.push({ do: 'go', presses: by });
      }
      for (; visits[next]?.i === i; next += 1) {
        acts.push({ do: 'key', step: next });
        if (menu.confirmValue) acts.push({ do: 'confirm', what: 'value', press: menu.confirmValue });
        dirty = true;
      }
    });
    leavePage();
    /** How far behind the stop where the menu opened. */
    const past = (pos: number) => (pos - from + n) % n;
    const rounds =
      menu.wrap === 'forward' && menu.order !== 'free'
        ? path.reduce((r, pos, i) => (i > 0 && past(pos) < past(path[i - 1] as number) ? r + 1 : r), 1)
        : 1;
    // Steps that come later in the walk than a step which the menu has after them.
    const late =
      rounds > 1
        ? visits.filter(({ k }, i) => visits.slice(0, i).some((b) => past(at[b.k] as number) > past(at[k] as number)))
        : [];
    return {
      steps: visits.map(({ k }) => steps[k] as S),
      acts,
      navigationPresses: path.length > 0 ? path.length - 1 : 0,
      confirmPresses: acts.filter((a) => a.do === 'confirm').length,
      rounds,
      late: late.map(({ k }) => steps[k] as S),
    };
  }

  function searched(): { visits: { k: number; i: number }[]; path: number[] } | null {
    type Node = { pos: number; mask: number; dirty: boolean; before: Node | null; keyed: number };
    const all = 2 ** steps.length - 1;
    const buckets: Node[][] = [[{ pos: from, mask: 0, dirty: false, before: null, keyed: -1 }]];
    const settled = new Set<number>();
    const put = (cost: number, node: Node) => {
      buckets[cost] ??= [];
      (buckets[cost] as Node[]).push(node);
    };
    for (let cost = 0; cost < buckets.length; cost += 1) {
      const bucket = buckets[cost] ?? [];
      for (let i = 0; i < bucket.length; i += 1) {
        const node = bucket[i] as Node;
        const { pos, mask, dirty } = node;
        const done = mask === all && !dirty;
        if (done) return trail(node);
        const key = (mask * n + pos) * 2 + (dirty ? 1 : 0);
        if (settled.has(key)) continue;
        settled.add(key);
        if (mask === all) {
          // Only the last page is still to be confirmed.
          put(cost + 1, { ...node, dirty: false, before: node, keyed: -1 });
          continue;
        }
        const now = (here.get(pos) ?? []).filter((k) => !(mask & (1 << k)) && allowed(k, (j) => (mask & (1 << j)) !== 0));
        for (const k of now)
          put(cost + (menu.confirmValue ? 1 : 0), {
            pos,
            mask: mask | (1 << k),
            dirty: menu.confirmPage !== undefined,
            before: node,
            keyed: k,
          });
        // Where no page is confirmed, a value that may be keyed now is: that never makes a walk longer.
        if (now.length > 0 && !menu.confirmPage) continue;
        for (const to of neighbours(pos, mask)) {
          const leaves = dirty && page(to) !== page(pos);
          put(cost + 1 + (leaves ? 1 : 0), { pos: to, mask, dirty: dirty && !leaves, before: node, keyed: -1 });
        }
      }
    }
    return null;

    function trail(end: Node) {
      const nodes: Node[] = [];
      for (let node: Node | null = end; node; node = node.before) nodes.unshift(node);
      const path: number[] = [];
      const visits: { k: number; i: number }[] = [];
      for (const node of nodes) {
        const moved = node.before === null || node.before.pos !== node.pos;
        if (moved) path.push(node.pos);
        if (node.keyed >= 0) visits.push({ k: node.keyed, i: path.length - 1 });
      }
      return { visits, path };
    }
  }

  /** Where one press leads: on, back, or in a free menu to whatever is still to be keyed. */
  function neighbours(pos: number, mask: number): number[] {
    if (menu.order === 'free') return [...new Set(at.filter((i, k) => i !== pos && !(mask & (1 << k))))];
    if (n === 1) return [];
    return menu.wrap === 'both' && n > 2 ? [(pos + 1) % n, (pos - 1 + n) % n] : [(pos + 1) % n];
  }

  /** On and round: each stop keys what it may. A free menu goes to the next value that it may key. */
  function walked(): { visits: { k: number; i: number }[]; path: number[] } | null {
    const keyed = new Set<number>();
    const visits: { k: number; i: number }[] = [];
    const path: number[] = [];
    for (let presses = 0; presses <= 3 * n; presses += 1) {
      const pos = (from + presses) % n;
      const now = (here.get(pos) ?? []).filter((k) => !keyed.has(k) && allowed(k, (i) => keyed.has(i)));
      if (menu.order !== 'free' || now.length > 0 || presses === 0) path.push(pos);
      for (const k of now) {
        keyed.add(k);
        visits.push({ k, i: path.length - 1 });
      }
      if (keyed.size === steps.length) return { visits, path };
    }
    return null;
  }
}
