import { type Grid, toKpa, valuesOf } from './grid.ts';
import { judgeTrip, VERDICTS, type Verdict } from './judge.ts';
import { type Cost, compareCost, costOf, type Pair, type SuggestQuestion } from './suggest.ts';

/** A member of a group: its day and its load, and what its school gives it. */
export interface GroupMember {
  axle: string;
  question: SuggestQuestion;
  spirit: Pair;
}

/** A shared pair, with what it breaks for each member. */
export interface SharedPair extends Pair {
  /** In the grid's unit. */
  low: number;
  high: number | null;
  cost: Cost;
  broken: { axle: string; verdicts: Verdict[]; ringsAlways: boolean }[];
}

/** What an alarm that never ends weighs: more than all requirements of one axle together. Ours. */
export const ALWAYS_WEIGHT = 20;

const LOW: readonly Verdict[] = ['nuisance-low', 'unprotected-low', 'unprotected-hot'];
const add = (a: Cost, b: Cost): Cost => ({
  count: a.count + b.count,
  weight: a.weight + b.weight,
  distanceKpa: a.distanceKpa + b.distanceKpa,
});
const NOTHING: Cost = { count: 0, weight: 0, distanceKpa: 0 };

/** What a low or a high limit breaks for one member, and whether it rings for ever. */
function brokenBy(m: GroupMember, field: 'low' | 'high', kpa: number): { verdicts: Verdict[]; ringsAlways: boolean } {
  const { coldKpa } = m.question;
  const pair = field === 'low' ? { lowKpa: kpa, highKpa: null } : { lowKpa: Math.min(coldKpa, kpa) / 2, highKpa: kpa };
  const { verdicts } = judgeTrip({ ...m.question, ...pair });
  return {
    verdicts: VERDICTS.filter((v) => verdicts.includes(v) && LOW.includes(v) === (field === 'low')),
    ringsAlways: field === 'low' ? kpa >= coldKpa - 1e-9 : kpa <= coldKpa + 1e-9,
  };
}

function costFor(m: GroupMember, field: 'low' | 'high', kpa: number): Cost {
  if (field === 'high' && m.spirit.highKpa === null) return NOTHING;
  const { verdicts, ringsAlways } = brokenBy(m, field, kpa);
  const pair = field === 'low' ? { lowKpa: kpa, highKpa: null } : { lowKpa: m.spirit.lowKpa, highKpa: kpa };
  const cost = costOf(verdicts, pair, m.spirit);
  return ringsAlways ? add(cost, { count: 1, weight: ALWAYS_WEIGHT, distanceKpa: 0 }) : cost;
}

/**
 * The pair on a monitor's grid that is best for all members of a group at once: fewest requirements broken over all of them, lightest
 * first, nearest to what their schools give. Low and high break different requirements, so each value is priced once; the answer equals a
 * search over every pair with the low under the high. Between equals the higher low and the lower high.
 * @returns null when the grid has no two values
 */
export function bestShared(members: readonly GroupMember[], grid: Grid): SharedPair | null {
  const values = valuesOf(grid).filter((v) => v > 0);
  const wantsHigh = members.some((m) => m.spirit.highKpa !== null);
  const price = (field: 'low' | 'high') =>
    values.map((v) => members.reduce((sum, m) => add(sum, costFor(m, field, toKpa(v, grid.unit))), NOTHING));
  const lows = price('low');
  const highs = wantsHigh ? price('high') : [];
  let best: { low: number; high: number | null; cost: Cost } | null = null;
  // The best high over each low, from the top down.
  let over: { index: number; cost: Cost } | null = null;
  for (let i = values.length - 1; i >= 0; i -= 1) {
    const low = lows[i] as Cost;
    if (!wantsHigh || over) {
      const cost = over ? add(low, over.cost) : low;
      if (best === null || compareCost(cost, best.cost) < 0)
        best = { low: values[i] as number, high: over ? (values[over.index] as number) : null, cost };
    }
    const high = highs[i];
    if (high && (over === null || compareCost(high, over.cost) <= 0)) over = { index: i, cost: high };
  }
  if (!best) return null;
  const lowKpa = toKpa(best.low, grid.unit);
  const highKpa = best.high === null ? null : toKpa(best.high, grid.unit);
  return {
    ...best,
    lowKpa,
    highKpa,
    broken: members.map((m) => {
      const a = brokenBy(m, 'low', lowKpa);
      const b =
        highKpa === null || m.spirit.highKpa === null ? { verdicts: [], ringsAlways: false } : brokenBy(m, 'high', highKpa);
      return {
        axle: m.axle,
        verdicts: [...a.verdicts, ...b.verdicts],
        ringsAlways: a.ringsAlways || b.ringsAlways,
      };
    }),
  };
}
