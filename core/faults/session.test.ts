import { describe, expect, it } from 'vitest';
import { cellShareOf, type FaultFacts, factorsOf, hintsOf } from './hints.ts';
import { answerOf, diagnosisAfter, type OwnersRun, runOwner } from './owners.test-data.ts';
import { asked, diagnose } from './session.ts';
import { BRANCHES, type Branch } from './tables.ts';

const OWNERS = 1000;
const SEED = (Date.now() ^ 0x5f5e100) >>> 0;
console.log(`seed of the owners ${SEED}`);

const mean = (runs: readonly OwnersRun[]) => runs.reduce((sum, x) => sum + x.minutes, 0) / runs.length;

describe.each(Object.values(BRANCHES))('what is seen: $id', (branch) => {
  it('every table adds up, and the usual order has every test', () => {
    for (const t of branch.tests) {
      for (const cause of Object.keys(branch.causes))
        expect(Object.values(t.outcomes).reduce((sum, table) => sum + (table[cause] ?? 0), 0)).toBeCloseTo(1, 9);
    }
    expect([...branch.usual].sort()).toEqual(branch.tests.map((t) => t.id).sort());
  });

  it('for every cause, a thousand owners who slip once in twenty: among the first two, no slower than the usual order, and none runs in circles', () => {
    const r = { s: SEED };
    const total = Object.values(branch.causes).reduce((a, b) => a + b, 0);
    let best = 0;
    let usual = 0;
    for (const [cause, weight] of Object.entries(branch.causes)) {
      const runs = Array.from({ length: OWNERS }, () => runOwner(branch, cause, r, 'best'));
      const others = Array.from({ length: OWNERS }, () => runOwner(branch, cause, r, 'usual'));
      // No test twice: then there is an end.
      expect(Math.max(...runs.map((x) => x.steps))).toBeLessThanOrEqual(branch.tests.length);
      const placed = runs.filter((x) => x.place <= 2).length;
      // 95 %, less what a thousand draws may be off by: two standard deviations are 1.4 %.
      expect(placed / OWNERS, `${cause} among the first two`).toBeGreaterThanOrEqual(0.95 - 0.014);
      const minutes = mean(runs);
      const trade = mean(others);
      expect(minutes, `${cause}, minutes`).toBeLessThanOrEqual(trade * 1.05);
      best += (weight / total) * minutes;
      usual += (weight / total) * trade;
    }
    expect(best).toBeLessThan(usual);
  }, 120_000);

  it('every test is of use for something: asked for by some owner', () => {
    const r = { s: 7 };
    const used = new Set<string>();
    for (const cause of Object.keys(branch.causes))
      for (let i = 0; i < 200; i += 1) {
        const answers: { test: string; outcome: string }[] = [];
        for (;;) {
          const d = diagnosisAfter(branch, answers);
          if (d.state !== 'ask' || !d.next) break;
          used.add(d.next.test);
          answers.push({ test: d.next.test, outcome: answerOf(branch, d.next.test, cause, r) });
        }
      }
    expect(branch.tests.map((t) => t.id).filter((t) => !used.has(t))).toEqual([]);
  });

  it('“can’t” to everything still ends in advice, and a repair that didn’t help leads on to another cause', () => {
    const cannot: string[] = [];
    for (;;) {
      const d = diagnose({ branch, answers: [], cannot, ruledOut: [] });
      if (d.state === 'advise') {
        expect(d.causes[0]?.odds).toBeGreaterThan(0);
        break;
      }
      cannot.push(d.next?.test as string);
      expect(cannot.length).toBeLessThanOrEqual(branch.tests.length);
    }
    const ruledOut: string[] = [];
    for (let i = 0; i < Object.keys(branch.causes).length - 1; i += 1) {
      const d = diagnose({ branch, answers: [], cannot, ruledOut });
      expect(ruledOut).not.toContain(d.causes[0]?.cause);
      ruledOut.push(d.causes[0]?.cause as string);
    }
  });
});

describe('what the owner changed, and what is known', () => {
  const one = BRANCHES.one as Branch;
  const first = (q: Partial<Parameters<typeof diagnose>[0]>) =>
    diagnose({ branch: one, answers: [], cannot: [], ruledOut: [], ...q });
  it('a weight and the minutes of a test count', () => {
    expect(first({ changes: { weights: { dead: 500 } } }).causes[0]?.cause).toBe('dead');
    const slow = asked(one, { minutes: { look: 600 } }).find((t) => t.test === 'look');
    expect(slow?.minutes).toBe(600);
    expect(first({ changes: { minutes: { look: 600 } } }).next?.test).not.toBe('look');
  });
  it('an old cell, a quiet rig, a wheel that was never heard', () => {
    const by = (facts: Omit<FaultFacts, 'branch'>) => factorsOf(hintsOf({ branch: 'one', ...facts }));
    expect(by({ cellShare: 1.2 })).toEqual({ cell: 2.5 });
    expect(by({ cellShare: 0.2 })).toEqual({ cell: 0.35 });
    expect(by({ cellShare: 0.8 })).toEqual({});
    expect(by({ cellShare: 1.2, cellSign: true })).toEqual({ cell: 12.5 });
    expect(first({ hints: by({ state: 'asleep' }) }).causes[0]?.cause).toBe('asleep');
    expect(first({ hints: by({ state: 'silent', othersHeard: 9, cellShare: 1.1 }) }).causes[0]?.cause).toBe('cell');
    expect(
      first({ hints: by({ state: 'notHeard', handledDays: 1 }) })
        .causes.slice(0, 2)
        .map((c) => c.cause),
    ).toContain('place');
    expect(by({ marginDb: -3 }).reach).toBe(4);
    expect(by({ marginDb: 20 }).reach).toBe(0.35);
    // Half of twelve months are over on the 183rd day.
    expect(cellShareOf('2026-01-01', 12, Date.parse('2026-06-30'))).toBeCloseTo(0.5, 2);
    expect(cellShareOf(undefined, 12, 0)).toBeUndefined();
  });
  it('odds before the last answer are kept beside those of now', () => {
    const d = first({ answers: [{ test: 'look', outcome: 'no' }] });
    const display = d.causes.find((c) => c.cause === 'display');
    const total = Object.values(one.causes).reduce((a, b) => a + b, 0);
    expect(display?.before).toBeCloseTo(14 / total, 6);
    expect(display?.odds).toBeLessThan(0.02);
  });
});
