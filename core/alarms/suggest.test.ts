import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Grid } from './grid.ts';
import { bestPair, halvesOf, leastRoomKpa, type SuggestQuestion, spiritOf, suggest } from './suggest.ts';

const PSI = 6.894757293168;
const grid: Grid = { unit: 'psi', step: 1, min: 0, max: 188 };
const share = { school: 'share' } as const;

// The requirements, the schools and the ways out are spelt out here once more, with gas law and standard atmosphere (U.S. Standard Atmosphere
// 1976) in the open: no line of what is checked is called.
const KPA = { psi: PSI, bar: 100, kPa: 1 };
const REQUIREMENTS = ['nuisance-low', 'nuisance-high', 'unprotected-low', 'unprotected-hot', 'sleeping-high'] as const;
const HEAVY = { 'nuisance-low': 2, 'nuisance-high': 2, 'unprotected-low': 8, 'unprotected-hot': 4, 'sleeping-high': 1 };
const ambient = (m: number) => 101.325 * (1 - (0.0065 * m) / 288.15) ** (9.80665 / (287.05287 * 0.0065));
const moved = (kpa: number, c: number, toC: number, from: number, to: number) =>
  ((kpa + from) * (toC + 273.15)) / (c + 273.15) - to;

interface Told {
  low: number;
  high: number | null;
  broken: string[];
  weight: number;
  away: number;
}
/** What a pair of limits breaks, kPa. */
function told(q: SuggestQuestion, low: number, high: number | null, spirit: { lowKpa: number; highKpa: number | null }): Told {
  const home = ambient(q.altitudeSetM ?? 0);
  const places = q.passM === undefined ? [home] : [home, ambient(q.passM)];
  const breaks: Record<string, boolean> = {
    'nuisance-low': places.some((there) => moved(q.coldKpa, q.coldTempC, q.coldestC, home, there) <= low),
    'nuisance-high': high !== null && places.some((there) => moved(q.coldKpa, q.coldTempC, q.runningC, home, there) >= high),
    'unprotected-low': low < q.loadMinimumKpa,
    'unprotected-hot': places.some((there) => moved(low, q.runningC, q.coldTempC, there, home) < q.loadMinimumKpa),
    'sleeping-high':
      high !== null && places.some((there) => high > 1.25 * moved(q.coldKpa, q.coldTempC, q.runningC, home, there)),
  };
  const broken = REQUIREMENTS.filter((r) => breaks[r]);
  return {
    low,
    high,
    broken,
    weight: broken.reduce((x, r) => x + HEAVY[r], 0),
    away: Math.abs(low - spirit.lowKpa) + (high === null || spirit.highKpa === null ? 0 : Math.abs(high - spirit.highKpa)),
  };
}
/** Fewer broken requirements first, then lighter ones, then nearer to the school's limits. */
const order = (a: Told, b: Told): number =>
  a.broken.length - b.broken.length || a.weight - b.weight || (Math.abs(a.away - b.away) < 1e-6 ? 0 : a.away - b.away);
const best = (list: readonly Told[]): Told | null =>
  list.reduce<Told | null>((x, t) => (x === null || order(t, x) < 0 ? t : x), null);
const gridOf = (g: Grid) =>
  Array.from({ length: Math.round((g.max - g.min) / g.step) + 1 }, (_, i) => (g.min + i * g.step) * KPA[g.unit]);

/**
 * Lows that a suggestion may take: two steps over and above a fall of 10 K under cold, or as near as the school; a step nearer than the school
 * at the most unless the load asks for it (another trade-off may); all under cold where none is.
 */
function lowsFor(q: SuggestQuestion, g: Grid, spirit: { lowKpa: number }, values: readonly number[], free = false): number[] {
  const under = values.filter((v) => v > 0 && v < q.coldKpa - 1e-6);
  const fall = ((q.coldKpa + 101.325) * 10) / (q.coldTempC + 273.15);
  const room = Math.min(2 * g.step * KPA[g.unit] + fall, q.coldKpa - spirit.lowKpa);
  const step = g.step * KPA[g.unit];
  const rounded = (kpa: number) => Math.ceil(kpa / step - 1e-4) * step;
  const most = Math.min(
    q.coldKpa - room,
    free ? Number.POSITIVE_INFINITY : Math.max(rounded(spirit.lowKpa) + step, rounded(q.loadMinimumKpa)),
  );
  const roomy = under.filter((v) => v <= most + 1e-6);
  return roomy.length > 0 ? roomy : under;
}

/** Every pair on the grid, judged one by one. */
function exhaustive(q: SuggestQuestion, g: Grid, spirit: { lowKpa: number; highKpa: number | null }): Told | null {
  const values = gridOf(g);
  // Of pairs that are equally good the higher low, then the lower high.
  const lows = lowsFor(q, g, spirit, values).reverse();
  const highs = spirit.highKpa === null ? [null] : values.filter((v) => v > q.coldKpa + 1e-6);
  return best(lows.flatMap((low) => highs.map((high) => told(q, low, high, spirit))));
}

/** The same, low first and then high: the two decide different requirements, as the search over every pair shows. */
function sought(q: SuggestQuestion, g: Grid, spirit: { lowKpa: number; highKpa: number | null }): Told | null {
  const values = gridOf(g);
  const lows = lowsFor(q, g, spirit, values).reverse();
  const low = best(lows.map((v) => told(q, v, null, spirit)));
  if (low === null || spirit.highKpa === null) return low;
  return best(values.filter((v) => v > q.coldKpa + 1e-6).map((high) => told(q, low.low, high, spirit)));
}

/** What a school gives (common practice, no source); null where it can't be used. */
function schoolOf(
  rule: { school: string; hotClimate?: boolean },
  cold: number,
): { lowKpa: number; highKpa: number | null } | null {
  const to10 = (kpa: number) => Math.round(kpa / (10 * PSI)) * 10 * PSI;
  const [low, high] =
    {
      share: [0.9 * cold, (rule.hotClimate ? 1.25 : 1.2) * cold],
      margin: [cold - 15 * PSI, cold + 15 * PSI],
      rough: [to10(0.9 * cold), to10(1.25 * cold)],
      lowOnly: [0.9 * cold, null],
      regulation: [0.75 * cold, null],
    }[rule.school] ?? [];
  if (low === undefined || low === null || low <= 0 || low >= cold || (typeof high === 'number' && high <= cold)) return null;
  return { lowKpa: low, highKpa: high ?? null };
}
const SCHOOLS = [
  { school: 'share' },
  { school: 'share', hotClimate: true },
  { school: 'margin' },
  { school: 'rough' },
  { school: 'lowOnly' },
  { school: 'regulation' },
] as const;

describe('bestPair', () => {
  it('equals a search over every pair on the monitor’s grid', () => {
    const axles = fc.record({
      cold: fc.double({ min: 180, max: 800, noNaN: true }),
      coldTempC: fc.integer({ min: 0, max: 30 }),
      minimumShare: fc.constantFrom(0, 0.7, 0.8, 0.85, 0.9, 0.95),
      coldestC: fc.integer({ min: -30, max: 10 }),
      runningC: fc.integer({ min: 25, max: 75 }),
      passM: fc.option(fc.integer({ min: 500, max: 3000 }), { nil: undefined }),
      rule: fc.constantFrom({ school: 'share' } as const, { school: 'rough' } as const, { school: 'lowOnly' } as const),
      grid: fc.constantFrom<Grid>(
        { unit: 'psi', step: 2, min: 0, max: 188 },
        { unit: 'bar', step: 0.1, min: 1, max: 9 },
        { unit: 'kPa', step: 10, min: 100, max: 900 },
      ),
    });
    let broken = 0;
    fc.assert(
      fc.property(axles, ({ cold, minimumShare, rule, grid: g, ...q }) => {
        const question = { coldKpa: cold, loadMinimumKpa: cold * minimumShare, altitudeSetM: 300, ...q };
        const spirit = spiritOf(rule, cold);
        if (!spirit) return;
        const found = bestPair(question, g, spirit);
        const all = exhaustive(question, g, spirit);
        expect(found === null).toBe(all === null);
        if (!found || !all) return;
        expect([found.cost.count, found.cost.weight]).toEqual([all.broken.length, all.weight]);
        expect(found.cost.distanceKpa).toBeCloseTo(all.away, 3);
        expect([found.lowKpa, found.highKpa ?? 0]).toEqual([expect.closeTo(all.low, 3), expect.closeTo(all.high ?? 0, 3)]);
        broken += found.cost.count > 0 ? 1 : 0;
      }),
      { numRuns: 300 },
    );
    // The check means something only when conflicts are among the axles.
    expect(broken).toBeGreaterThan(20);
  }, 60_000);
});

describe('room under the cold pressure', () => {
  const question = { coldKpa: 250, coldTempC: 20, loadMinimumKpa: 202.5, coldestC: -14, runningC: 50, altitudeSetM: 0 };
  const kpa: Grid = { unit: 'kPa', step: 1, min: 100, max: 600 };
  it('is two steps and the fall of 10 K: 2 and 12 kPa of 250, in the name of whatever rule', () => {
    // (250 + 101.325) * 10 / 293.15 = 11.98.
    for (const spirit of [
      { lowKpa: 187.5, highKpa: null },
      { lowKpa: 225, highKpa: 300 },
    ]) {
      const low = bestPair(question, kpa, spirit)?.lowKpa ?? 0;
      expect(low).toBeLessThanOrEqual(236.02);
    }
    expect(leastRoomKpa(question, kpa, { lowKpa: 200, highKpa: null })).toBeCloseTo(13.98, 2);
    expect(leastRoomKpa(question, { unit: 'bar', step: 0.1, min: 1, max: 9 }, { lowKpa: 200, highKpa: null })).toBeCloseTo(
      31.98,
      2,
    );
  });

  it('the honest trade-off: 250 kPa set at 20 °C, a load minimum of 81 %, a winter of -14 °C', () => {
    // At -14 °C it reads (351.325 * 259.15 / 293.15) - 101.325 = 209.25: a low from 203 (its load minimum, 202.5) to 209 is quiet and guards the
    // load cold. Hot it is late with any low under cold that leaves room, so that one requirement is given up and no other.
    for (const rule of [{ school: 'share' as const }, { school: 'regulation' as const }]) {
      const s = suggest(question, kpa, rule, { hottestC: 38, hotShare: 0.1 });
      expect(s?.best.lowKpa).toBeGreaterThanOrEqual(203);
      expect(s?.best.lowKpa).toBeLessThanOrEqual(209);
      expect(s?.givesWay.filter((v) => v !== 'sleeping-high')).toEqual(['unprotected-hot']);
    }
  });

  it('says why it is nearer to cold than the rule’s own: 187.5 is under the load minimum', () => {
    const s = suggest(question, kpa, { school: 'regulation' }, { hottestC: 38, hotShare: 0.1 });
    expect(s?.nearer).toEqual({ ownLowKpa: 188, spares: ['unprotected-low'] });
    expect(s?.best.lowKpa).toBe(203);
    expect(suggest(question, kpa, { school: 'share' }, { hottestC: 38, hotShare: 0.1 })?.nearer).toBeNull();
  });
  it('is no more than the rule’s own, and none where the grid has none', () => {
    expect(leastRoomKpa(question, kpa, { lowKpa: 245, highKpa: null })).toBeCloseTo(5, 9);
    const narrow: Grid = { unit: 'kPa', step: 1, min: 245, max: 600 };
    expect(bestPair(question, narrow, { lowKpa: 225, highKpa: null })?.lowKpa).toBeGreaterThanOrEqual(245);
  });
});

describe('the ways out of a conflict', () => {
  /** Every way out with what it takes to tell it from another, the best two first. */
  function waysOut(
    q: SuggestQuestion,
    g: Grid,
    rule: (typeof SCHOOLS)[number],
    hottestC: number,
    hotShare: number,
  ): string[] | null {
    const spirit = schoolOf(rule, q.coldKpa);
    const own = spirit && sought(q, g, spirit);
    if (!spirit || !own) return null;
    if (own.broken.length === 0) return [];
    const at = (coldTempC: number, coldestC: number, hot: number): SuggestQuestion => {
      // What adds that share of the gauge pressure at sea level: the absolute pressure grows by it.
      const rise = ((coldTempC + 273.15) * hotShare * q.coldKpa) / (q.coldKpa + 101.325);
      return { ...q, coldTempC, coldestC, runningC: hot + rise };
    };
    const ways: { text: string; broken: number; weight: number }[] = [];
    const middle = (q.coldestC + hottestC) / 2;
    const swing = (hottestC - q.coldestC) / 8;
    const halves = [
      [q.coldestC, middle + swing],
      [middle - swing, hottestC],
    ].map(([cold, hot]) => {
      const set = Math.round(((cold as number) + (hot as number)) / 2);
      return { set, found: sought(at(set, cold as number, hot as number), g, spirit) };
    });
    if (halves.every((h) => h.found !== null)) {
      const broken = REQUIREMENTS.filter((r) => halves.some((h) => h.found?.broken.includes(r)));
      ways.push({
        text: `seasonal ${halves.map((h) => `${h.set}: ${h.found?.low.toFixed(2)}`).join(' ')}`,
        broken: broken.length,
        weight: broken.reduce((x, r) => x + HEAVY[r], 0),
      });
    }
    const days = [];
    for (let t = Math.ceil(q.coldestC); t <= hottestC; t += 1) {
      const found = sought(at(t, q.coldestC, hottestC), g, spirit);
      const better = found && (found.broken.length - own.broken.length || found.weight - own.weight) < 0;
      if (better) days.push({ t, broken: found.broken.length, weight: found.weight });
    }
    days.sort((a, b) => a.broken - b.broken || a.weight - b.weight || Math.abs(a.t - q.coldTempC) - Math.abs(b.t - q.coldTempC));
    if (days[0]) ways.push({ text: `settingDay ${days[0].t} ${days[0].t < q.coldTempC ? 'colder' : 'warmer'}`, ...days[0] });
    const onGrid = (kpa: number, up: boolean) => {
      const n = kpa / KPA[g.unit] / g.step;
      return (up ? Math.ceil(n - 1e-4 / g.step) : Math.floor(n + 1e-4 / g.step)) * g.step * KPA[g.unit];
    };
    const others = SCHOOLS.filter((r) => r.school !== rule.school).flatMap((r) => {
      const s = schoolOf(r, q.coldKpa);
      if (!s) return [];
      const low = onGrid(s.lowKpa, true);
      const high = s.highKpa === null ? null : onGrid(s.highKpa, false);
      if (low < g.min * KPA[g.unit] - 1e-6 || low >= q.coldKpa) return [];
      if (high !== null && (high > g.max * KPA[g.unit] + 1e-6 || high <= q.coldKpa)) return [];
      const found = told(q, low, high, s);
      const same = found.broken.join() === own.broken.join() && s.highKpa === spirit.highKpa;
      return same || found.broken.length > own.broken.length ? [] : [{ ...found, school: r.school }];
    });
    const other = best(others) as (Told & { school: string }) | null;
    if (other)
      ways.push({
        text: `otherSchool ${other.school} ${other.low.toFixed(2)}`,
        broken: other.broken.length,
        weight: other.weight,
      });
    const turned = best(
      lowsFor(q, g, spirit, gridOf(g), true)
        .map((low) => told(q, low, own.high, spirit))
        .filter((t) => t.broken.join() !== own.broken.join() && t.broken.length <= own.broken.length),
    );
    if (turned)
      ways.push({ text: `otherTradeOff ${turned.low.toFixed(2)}`, broken: turned.broken.length, weight: turned.weight });
    return ways
      .sort((a, b) => a.broken - b.broken || a.weight - b.weight)
      .slice(0, 2)
      .map((w) => `${w.text}, ${w.broken} ${w.weight}`);
  }
  const shownBy = (s: NonNullable<ReturnType<typeof suggest>>): string[] =>
    s.compromises.map((c) => {
      const text =
        c.kind === 'seasonal'
          ? `seasonal ${c.seasons.map((x) => `${x.setTempC}: ${x.found.lowKpa.toFixed(2)}`).join(' ')}`
          : c.kind === 'settingDay'
            ? `settingDay ${c.coldTempC} ${c.colder ? 'colder' : 'warmer'}`
            : c.kind === 'otherSchool'
              ? `otherSchool ${c.rule.school} ${c.found.lowKpa.toFixed(2)}`
              : `otherTradeOff ${c.found.lowKpa.toFixed(2)}`;
      return `${text}, ${c.verdicts.length} ${c.weight}`;
    });
  it('are those that a search finds, the best two first', () => {
    const kinds = new Set<string>();
    const any = fc.record({
      cold: fc.integer({ min: 30, max: 110 }),
      coldTempC: fc.integer({ min: 0, max: 30 }),
      minimumShare: fc.constantFrom(0, 0.75, 0.85, 0.9, 0.93),
      coldestC: fc.integer({ min: -25, max: 5 }),
      hottestC: fc.integer({ min: 20, max: 38 }),
      hotShare: fc.constantFrom(0.08, 0.1, 0.15, 0.25),
      rule: fc.constantFrom(...SCHOOLS),
      grid: fc.constantFrom<Grid>({ unit: 'psi', step: 1, min: 0, max: 130 }, { unit: 'psi', step: 5, min: 20, max: 100 }),
    });
    fc.assert(
      fc.property(any, ({ cold, minimumShare, rule, grid: g, hottestC, hotShare, ...rest }) => {
        // Off the grid's own values, where a hair decides.
        const coldKpa = (cold + 0.37) * PSI;
        const q = { ...rest, coldKpa, loadMinimumKpa: minimumShare * coldKpa, runningC: hottestC + 26 };
        const s = suggest(q, g, rule, { hottestC, hotShare });
        const ways = waysOut(q, g, rule, hottestC, hotShare);
        expect(s === null).toBe(ways === null);
        if (!s || !ways) return;
        expect(s.satisfied).toBe(s.best.verdicts.length === 0);
        expect(s.givesWay).toEqual(s.best.verdicts);
        expect(shownBy(s)).toEqual(ways);
        for (const c of s.compromises) kinds.add(c.kind);
      }),
      { numRuns: 150 },
    );
    expect([...kinds]).toEqual(expect.arrayContaining(['otherSchool', 'seasonal', 'settingDay']));
  }, 120_000);
});

describe('suggest', () => {
  const air = { hottestC: 24, hotShare: 0.1 };
  it('a mild axle gets the school’s own limits', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 55 * PSI, coldestC: 0, runningC: 48 };
    const s = suggest(q, grid, share, air);
    expect(s?.satisfied).toBe(true);
    expect([s?.best.low, s?.best.high]).toEqual([72, 96]);
  });
  // 80 psi set at 20 °C reads 65.46 psi at -25 °C: (94.696 * 248.15 / 293.15) - 14.696. A hot tire at 48 °C still carries 65 psi's
  // load only from 72.61 psi on: (79.696 * 321.15 / 293.15) - 14.696. No low alarm is under 65.46 and at or over 72.61.
  it('80 psi carrying at 65 between -25 °C and a running 48 °C cannot have all, and says what gives way', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 65 * PSI, coldestC: -25, runningC: 48 };
    const s = suggest(q, grid, share, air);
    expect(s?.satisfied).toBe(false);
    expect(s?.best.low).toBe(73);
    expect(s?.givesWay).toEqual(['nuisance-low']);
    expect(s?.compromises).toHaveLength(2);
    const kinds = s?.compromises.map((c) => c.kind) ?? [];
    expect(new Set(kinds).size).toBe(2);
    for (const c of s?.compromises ?? []) expect(c.verdicts.length).toBeLessThanOrEqual(1);
  });
  it('where two seasons hold all requirements, they come first', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 60 * PSI, coldestC: -15, runningC: 60 };
    const s = suggest(q, grid, share, { hottestC: 35, hotShare: 0.1 });
    expect(s?.satisfied).toBe(false);
    const first = s?.compromises[0];
    expect(first).toMatchObject({ kind: 'seasonal', verdicts: [] });
    if (first?.kind !== 'seasonal') throw new Error('no seasons');
    for (const season of first.seasons) {
      expect(season.found.verdicts).toEqual([]);
      expect(season.setTempC).toBeGreaterThan(season.coldestC);
      expect(season.setTempC).toBeLessThan(season.hottestC);
    }
  });
  it('another setting day is only offered where it does better, and says on which side it lies', () => {
    const q = { coldKpa: 80 * PSI, coldTempC: 30, loadMinimumKpa: 60 * PSI, coldestC: -10, runningC: 50 };
    const s = suggest(q, grid, share, { hottestC: 25, hotShare: 0.1 });
    const day = s?.compromises.find((c) => c.kind === 'settingDay');
    if (day) expect(day.colder).toBe(day.coldTempC < 30);
    expect(s?.compromises.every((c) => c.verdicts.length <= (s?.best.verdicts.length ?? 0))).toBe(true);
  });
  it('a school that leaves its limits to the monitor has none to suggest', () => {
    const q = { coldKpa: 500, coldTempC: 20, loadMinimumKpa: 0, coldestC: 0, runningC: 40 };
    expect(suggest(q, grid, { school: 'baseline' }, air)).toBeNull();
    expect(suggest(q, { ...grid, min: 100 }, share, air)).toBeNull();
  });
  it('a load minimum that is unknown is no requirement that could be given up', () => {
    const q = { coldKpa: 500, coldTempC: 20, loadMinimumKpa: 0, coldestC: -25, runningC: 60 };
    expect(suggest(q, grid, share, air)?.satisfied).toBe(true);
  });
  it('halves of a year meet in the middle and reach both ends', () => {
    const [winter, summer] = halvesOf(-20, 36);
    expect(winter).toMatchObject({ coldestC: -20, hottestC: 15 });
    expect(summer).toMatchObject({ coldestC: 1, hottestC: 36 });
  });
});
