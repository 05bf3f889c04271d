import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type KeyingMonitor, planKeying, type Shown } from './keying.ts';
import { type Menu, opensAt, shortestWalk as searchWalk, showsLimit, stopsOfMenu as stopsBy } from './menu.ts';

const menu = (change: Partial<Menu> = {}): Menu => ({ walk: 'group', first: 'low', wrap: 'forward', ...change });
const step = (group: string, field: 'low' | 'high', from: number, to: number) => ({
  group,
  field,
  from,
  to,
  presses: Math.abs(to - from),
});
const text = (list: readonly { group: string; field: string }[]) => list.map((s) => `${s.group} ${s.field}`);

const stopsOfMenu = (m: Menu, groups: string[], shown: Shown) => stopsBy(m, groups, showsLimit(shown));
const shortestWalk = (m: Menu, groups: string[], steps: Parameters<typeof searchWalk>[1], shown: Shown, interlock: boolean) => {
  const stops = stopsOfMenu(m, groups, shown);
  return searchWalk(m, steps, shown, interlock, { stops, from: opensAt(m, groups, stops) });
};

/**
 * The menu as a machine, written apart from the search: it knows its stops by walking the description, and refuses what the interlock
 * refuses. Every walk of a number of presses is tried, the shortest first.
 */
function shortestByForce(
  m: Menu,
  groups: string[],
  want: Record<string, number>,
  shown: Shown,
  interlock: boolean,
): number | null {
  const list: [string, 'low' | 'high'][] = [];
  const both = m.first === 'low' ? (['low', 'high'] as const) : (['high', 'low'] as const);
  if (m.walk === 'group') for (const g of groups) for (const f of both) list.push([g, f]);
  else for (const f of both) for (const g of groups) list.push([g, f]);
  let front: { pos: number; now: Record<string, number> }[] = [
    {
      pos: 0,
      now: Object.fromEntries(
        groups.flatMap((g) => [
          [`${g} low`, shown[g]?.low ?? 0],
          [`${g} high`, shown[g]?.high ?? 0],
        ]),
      ),
    },
  ];
  const done = (now: Record<string, number>) => Object.entries(want).every(([k, v]) => now[k] === v);
  for (let presses = 0; presses <= 3 * list.length; presses += 1) {
    const next: typeof front = [];
    for (const { pos, now } of front) {
      const [g, f] = list[pos] as [string, 'low' | 'high'];
      const key = `${g} ${f}`;
      // At a stop one may key the value or leave it for later.
      const choices = [now];
      const to = want[key];
      if (to !== undefined && now[key] !== to) {
        const other = now[`${g} ${f === 'low' ? 'high' : 'low'}`] as number;
        if (!interlock || (f === 'low' ? to < other : to > other)) choices.push({ ...now, [key]: to });
      }
      for (const c of choices) {
        if (done(c)) return presses;
        next.push({ pos: (pos + 1) % list.length, now: c });
        if (m.wrap === 'both') next.push({ pos: (pos + list.length - 1) % list.length, now: c });
      }
    }
    const seen = new Set<string>();
    front = next.filter((s) => {
      const k = JSON.stringify([s.pos, s.now]);
      if (seen.has(k)) return false;
      seen.add(k);
      return true;
    });
  }
  return null;
}

describe('the stops of a menu', () => {
  const shown = { A1: { low: 30, high: 50 }, B: { low: 60, high: null } };
  it('by group, by limit, the high first; a limit that isn’t there has none', () => {
    expect(text(stopsOfMenu(menu(), ['A1', 'B'], shown))).toEqual(['A1 low', 'A1 high', 'B low']);
    expect(text(stopsOfMenu(menu({ walk: 'limit' }), ['A1', 'B'], shown))).toEqual(['A1 low', 'B low', 'A1 high']);
    expect(text(stopsOfMenu(menu({ first: 'high' }), ['A1', 'B'], shown))).toEqual(['A1 high', 'A1 low', 'B low']);
  });
});

describe('the shortest walk', () => {
  const shown = { A1: { low: 84, high: 152 }, A2: { low: 84, high: 152 } };
  it('coming down by group: low, high, next group, three presses between four values', () => {
    const steps = [
      step('A1', 'low', 84, 40),
      step('A1', 'high', 152, 60),
      step('A2', 'low', 84, 44),
      step('A2', 'high', 152, 66),
    ];
    const walk = shortestWalk(menu(), ['A1', 'A2'], steps, shown, true);
    expect(text(walk?.steps ?? [])).toEqual(['A1 low', 'A1 high', 'A2 low', 'A2 high']);
    expect(walk).toMatchObject({ navigationPresses: 3, rounds: 1, late: [] });
  });
  it('going up where the menu has low first: every low waits for a second round, and it says which', () => {
    const low = { A1: { low: 29, high: 44 }, A2: { low: 29, high: 44 } };
    const steps = [step('A1', 'low', 29, 60), step('A1', 'high', 44, 90), step('A2', 'low', 29, 60), step('A2', 'high', 44, 90)];
    const forward = shortestWalk(menu(), ['A1', 'A2'], steps, low, true);
    expect(text(forward?.steps ?? [])).toEqual(['A1 high', 'A2 high', 'A1 low', 'A2 low']);
    // Three to the last high, one round to the first low, two on to the second.
    expect(forward).toMatchObject({ navigationPresses: 6, rounds: 2 });
    expect(text(forward?.late ?? [])).toEqual(['A1 low', 'A2 low']);
    // A menu that goes back: on to A1 high, back to A1 low, back round to A2 high, back to A2 low, one press each.
    const back = shortestWalk(menu({ wrap: 'both' }), ['A1', 'A2'], steps, low, true);
    expect(text(back?.steps ?? [])).toEqual(['A1 high', 'A1 low', 'A2 high', 'A2 low']);
    expect(back?.navigationPresses).toBe(4);
    // One that has the high first needs no second round.
    expect(shortestWalk(menu({ first: 'high' }), ['A1', 'A2'], steps, low, true)).toMatchObject({
      navigationPresses: 3,
      rounds: 1,
    });
    // Without an interlock the order of the menu will do.
    expect(shortestWalk(menu(), ['A1', 'A2'], steps, low, false)).toMatchObject({ navigationPresses: 3, rounds: 1 });
  });
  it('by limit: all lows, then all highs', () => {
    const steps = [step('A1', 'low', 84, 40), step('A1', 'high', 152, 60), step('A2', 'high', 152, 96)];
    const walk = shortestWalk(menu({ walk: 'limit' }), ['A1', 'A2'], steps, shown, true);
    expect(text(walk?.steps ?? [])).toEqual(['A1 low', 'A1 high', 'A2 high']);
    expect(walk?.navigationPresses).toBe(3);
  });
  it('nothing to key is no walk, and what can’t be keyed is said', () => {
    expect(shortestWalk(menu(), ['A1'], [], shown, true)).toMatchObject({ navigationPresses: 0, rounds: 1 });
    expect(shortestWalk(menu(), ['A1'], [step('A1', 'low', 84, 160)], shown, true)).toBeNull();
    expect(shortestWalk(menu(), ['A1'], [step('B', 'low', 1, 2)], shown, true)).toBeNull();
  });

  const drawn = fc.record({
    m: fc.record({
      walk: fc.constantFrom('group' as const, 'limit' as const),
      first: fc.constantFrom('low' as const, 'high' as const),
      wrap: fc.constantFrom('forward' as const, 'both' as const),
    }),
    preset: fc.tuple(fc.integer({ min: 10, max: 60 }), fc.integer({ min: 1, max: 60 })),
    wants: fc.array(
      fc.record({
        low: fc.option(fc.integer({ min: 5, max: 90 }), { nil: null }),
        over: fc.option(fc.integer({ min: 1, max: 60 }), { nil: null }),
      }),
      { minLength: 1, maxLength: 3 },
    ),
    interlock: fc.boolean(),
  });
  it('is as short as any walk that a machine takes, and the machine takes it', () => {
    fc.assert(
      fc.property(drawn, ({ m, preset, wants, interlock }) => {
        const monitor: KeyingMonitor = {
          groups: 'axle',
          unit: 'kPa',
          step: 1,
          min: 0,
          max: 200,
          presetLow: preset[0],
          presetHigh: preset[0] + preset[1],
          interlock,
        };
        const plan = planKeying(
          monitor,
          wants.map((w, i) => ({
            axle: `A${i + 1}`,
            unitKind: 'vehicle' as const,
            lowKpa: w.low,
            highKpa: w.over === null ? null : (w.low ?? 60) + w.over,
          })),
        );
        const groups = plan.groups.map((g) => g.group);
        const start: Shown = Object.fromEntries(groups.map((g) => [g, { low: monitor.presetLow, high: monitor.presetHigh }]));
        const walk = shortestWalk(m, groups, plan.steps, start, interlock);
        const want = Object.fromEntries(plan.steps.map((s) => [`${s.group} ${s.field}`, s.to]));
        expect(walk?.navigationPresses).toBe(shortestByForce(m, groups, want, start, interlock));
        expect(walk && text(walk.steps).sort()).toEqual(text(plan.steps).sort());
      }),
      { numRuns: 300 },
    );
  });
  it('round by round, where there are too many values to search, is the same for a menu that only goes on', () => {
    const groups = Array.from({ length: 9 }, (_, i) => `A${i + 1}`);
    const start: Shown = Object.fromEntries(groups.map((g) => [g, { low: 29, high: 44 }]));
    // Every other group goes up past its high: those lows wait for the second round.
    const steps = groups.flatMap((g, i) =>
      i % 2 === 0 ? [step(g, 'low', 29, 60), step(g, 'high', 44, 90)] : [step(g, 'low', 29, 20), step(g, 'high', 44, 40)],
    );
    const walk = shortestWalk(menu(), groups, steps, start, true);
    expect(walk).toMatchObject({ rounds: 2, navigationPresses: 18 + 16 });
    expect(walk?.late).toHaveLength(5);
  });
});
