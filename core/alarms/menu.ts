import type { KeyingStep, Shown } from './keying.ts';

/** How one goes through a monitor's limit menu. */
export interface Menu {
  /** Low and high of a group, then the next group; or all lows, then all highs. */
  walk: 'group' | 'limit';
  /** Which of the two comes first. */
  first: 'low' | 'high';
  /** Whether it only goes on (and round from its end), or back as well. */
  wrap: 'forward' | 'both';
}

/** A place in the menu where one value is set. */
export interface MenuStop {
  group: string;
  field: 'low' | 'high';
}

export interface MenuWalk {
  /** The steps of the card in the order of the walk. */
  steps: KeyingStep[];
  /** Presses that go from one value to the next. */
  navigationPresses: number;
  /** Times round the menu that the walk takes; more than one where interlock and order of the menu are against each other. */
  rounds: number;
  /** The steps that had to wait for the second round. */
  late: KeyingStep[];
}

/** The stops of a menu in its order. A group has no stop for a limit that the monitor hasn't got. */
export function stopsOfMenu(menu: Menu, groups: readonly string[], shown: Shown): MenuStop[] {
  const fields: ('low' | 'high')[] = menu.first === 'low' ? ['low', 'high'] : ['high', 'low'];
  const stops =
    menu.walk === 'group'
      ? groups.flatMap((group) => fields.map((field) => ({ group, field })))
      : fields.flatMap((field) => groups.map((group) => ({ group, field })));
  return stops.filter(({ group, field }) => shown[group]?.[field] !== null && shown[group]?.[field] !== undefined);
}

/** More values than this are walked round by round instead of searched; going on and round only, that is the shortest all the same. */
const MOST_SEARCHED = 14;

/**
 * The shortest walk through a menu that keys every step, with none refused: a search over where one is and what is keyed already, in which
 * every press that goes on (or back) costs one. Presses on the values are the same whatever the order.
 * @param steps values to be keyed, one for each group and field at most
 * @param shown what the menu shows at the start; it opens at its first stop
 * @returns null where no order is taken by the interlock
 */
export function shortestWalk(
  menu: Menu,
  groups: readonly string[],
  steps: readonly KeyingStep[],
  shown: Shown,
  interlock: boolean,
): MenuWalk | null {
  const stops = stopsOfMenu(menu, groups, shown);
  const n = stops.length;
  const at = steps.map((s) => stops.findIndex((x) => x.group === s.group && x.field === s.field));
  if (at.some((i) => i < 0)) return null;
  const partner = steps.map((s) => steps.findIndex((x) => x.group === s.group && x.field !== s.field));
  /** May a step be keyed while those of the mask are? */
  const allowed = (k: number, keyed: (i: number) => boolean): boolean => {
    if (!interlock) return true;
    const s = steps[k] as KeyingStep;
    const p = partner[k] as number;
    const other = p >= 0 ? (steps[p] as KeyingStep) : null;
    const beside = other ? (keyed(p) ? other.to : other.from) : (shown[s.group]?.[s.field === 'low' ? 'high' : 'low'] ?? null);
    if (beside === null) return true;
    return s.field === 'low' ? s.to < beside : s.to > beside;
  };
  const order = steps.length <= MOST_SEARCHED ? searched() : walked();
  if (!order) return null;
  const { visits, presses, path } = order;
  const rounds = path.reduce((r, pos, i) => (i > 0 && pos < (path[i - 1] as number) && menu.wrap === 'forward' ? r + 1 : r), 1);
  // Steps that come later in the walk than a step which the menu has after them.
  const late = visits.filter((k, i) => visits.slice(0, i).some((before) => (at[before] as number) > (at[k] as number)));
  return {
    steps: visits.map((k) => steps[k] as KeyingStep),
    navigationPresses: presses,
    rounds,
    late: rounds > 1 ? late.map((k) => steps[k] as KeyingStep) : [],
  };

  /** Breadth first over (stop, mask): whatever may be keyed at a stop is keyed there at once, which never hurts. */
  function searched(): { visits: number[]; presses: number; path: number[] } | null {
    const all = 2 ** steps.length - 1;
    const settle = (pos: number, mask: number): { mask: number; keyed: number[] } => {
      let now = mask;
      const keyed: number[] = [];
      for (let k = 0; k < steps.length; k += 1)
        if (at[k] === pos && !(now & (1 << k)) && allowed(k, (i) => (now & (1 << i)) !== 0)) {
          now |= 1 << k;
          keyed.push(k);
        }
      return { mask: now, keyed };
    };
    type Node = { pos: number; mask: number; from: number; keyed: number[]; presses: number };
    const start = settle(0, 0);
    const nodes: Node[] = [{ pos: 0, mask: start.mask, from: -1, keyed: start.keyed, presses: 0 }];
    const seen = new Set([`0 ${start.mask}`]);
    for (let i = 0; i < nodes.length; i += 1) {
      const node = nodes[i] as Node;
      if (node.mask === all) {
        const trail: Node[] = [];
        for (let j = i; j >= 0; j = (nodes[j] as Node).from) trail.unshift(nodes[j] as Node);
        return { visits: trail.flatMap((t) => t.keyed), presses: node.presses, path: trail.map((t) => t.pos) };
      }
      for (const by of menu.wrap === 'both' ? [1, -1] : [1]) {
        const pos = (node.pos + by + n) % n;
        const { mask, keyed } = settle(pos, node.mask);
        const key = `${pos} ${mask}`;
        if (seen.has(key)) continue;
        seen.add(key);
        nodes.push({ pos, mask, from: i, keyed, presses: node.presses + 1 });
      }
    }
    return null;
  }

  /** On and round: each stop keys what it may. */
  function walked(): { visits: number[]; presses: number; path: number[] } | null {
    const keyed = new Set<number>();
    const visits: number[] = [];
    const path: number[] = [];
    for (let presses = 0; presses <= 3 * n; presses += 1) {
      const pos = presses % n;
      path.push(pos);
      steps.forEach((_, k) => {
        if (at[k] === pos && !keyed.has(k) && allowed(k, (i) => keyed.has(i))) {
          keyed.add(k);
          visits.push(k);
        }
      });
      if (keyed.size === steps.length) return { visits, presses, path };
    }
    return null;
  }
}
