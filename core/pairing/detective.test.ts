import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alikeGroups, detect, MOST_BLEED, mostBleed, planDetective, type SeenRound, type Suspect } from './detective.ts';

const PSI = 6.894757293168;
const wheel = (position: string, psi: number, minimumPsi: number | null = null): Suspect => ({
  position,
  kpa: psi * PSI,
  minimumKpa: minimumPsi === null ? null : minimumPsi * PSI,
});

/** Hundreds of mutants are tried: each gets a shorter search. */
const short = process.env.DRUCKWERK_MUTATE !== undefined;

const rng = (seed: number) => {
  let s = seed >>> 0;
  return () => {
    s = (s + 0x6d2b79f5) >>> 0;
    let t = s;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
};

/** A rig whose sensors report at other positions, with sensor errors, rounding and a hand that lets out a little more or less. */
function act(
  wheels: readonly Suspect[],
  reportsAt: Readonly<Record<string, string>>,
  rounds: readonly (readonly { position: string; kpa: number }[])[],
  stepKpa: number,
  seed: number,
): SeenRound[] {
  const random = rng(seed);
  const real = new Map(wheels.map((w) => [w.position, w.kpa + (random() - 0.5) * 2 * PSI]));
  const error = new Map(
    wheels.map((w) => [w.position, Math.max(-4, Math.min(4, (random() + random() + random() - 1.5) * 2)) * PSI]),
  );
  const look = (): Record<string, number> => {
    const shows: Record<string, number> = {};
    for (const w of wheels) {
      const kpa = (real.get(w.position) as number) + (error.get(w.position) as number) + (random() - 0.5) * 0.1 * PSI;
      shows[reportsAt[w.position] as string] = Math.round(kpa / stepKpa) * stepKpa;
    }
    return shows;
  };
  return rounds.map((bleeds) => {
    const before = look();
    for (const b of bleeds) real.set(b.position, (real.get(b.position) as number) - b.kpa - (random() - 0.5) * 0.4 * PSI);
    return { bleeds, before, after: look() };
  });
}

const identity = (wheels: readonly Suspect[]) => Object.fromEntries(wheels.map((w) => [w.position, w.position]));

function permutations<T>(list: readonly T[]): T[][] {
  if (list.length === 0) return [[]];
  return list.flatMap((x, i) => permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [x, ...rest]));
}

/**
 * The fewest wheels that must be touched so that what is seen tells every arrangement from every other: by force, over all arrangements
 * and all sets of wheels. Seen is, for each position, the pressure class it reads and which touched wheel (if any) made it drop.
 */
function fewestTouched(wheels: readonly Suspect[], stepKpa: number): number {
  const group = new Map<string, number>();
  alikeGroups(wheels, stepKpa).forEach((g, i) => {
    for (const w of g) group.set(w.position, i);
  });
  const names = wheels.map((w) => w.position);
  const all = permutations(names);
  for (let size = 0; size <= names.length; size += 1) {
    for (let mask = 0; mask < 1 << names.length; mask += 1) {
      const touched = names.filter((_, i) => mask & (1 << i));
      if (touched.length !== size) continue;
      const seen = new Set(
        all.map((at) =>
          names
            .map((p) => at.indexOf(p))
            .map((i) => `${group.get(names[i] as string)}${touched.includes(names[i] as string) ? names[i] : ''}`)
            .join(),
        ),
      );
      if (seen.size === all.length) return size;
      // Arrangements that look alike may differ only where it cannot be told at all: try more.
    }
  }
  return names.length;
}

// A sensor may be 4 psi off and a tire 1 psi from its target (common practice, no source); half a step of rounding comes to that: 5.5 psi.
it('two wheels read alike up to 11 psi apart, and a chain of them is one group', () => {
  const groups = (...psi: number[]) =>
    alikeGroups(
      psi.map((p, i) => wheel(`W${i}`, p)),
      PSI,
    ).map((g) => g.length);
  expect(groups(60, 70.99)).toEqual([2]);
  expect(groups(60, 71.01)).toEqual([1, 1]);
  expect(groups(81.9, 60, 70.95)).toEqual([3]);
});

describe('the plan', () => {
  it('touches as few wheels as any proof can, up to seven of them', () => {
    const rigs = fc.array(fc.constantFrom(35, 37, 65, 80, 110), { minLength: 1, maxLength: short ? 4 : 6 });
    fc.assert(
      fc.property(rigs, (psi) => {
        const wheels = psi.map((p, i) => wheel(`W${i}`, p));
        const plan = planDetective(wheels, 0.5 * PSI);
        expect(plan.cannot).toEqual([]);
        expect(plan.touched).toHaveLength(fewestTouched(wheels, 0.5 * PSI));
        expect(new Set([...plan.touched, ...plan.untouched]).size).toBe(wheels.length);
      }),
      { numRuns: 40 },
    );
    if (short) return;
    const seven = [80, 80, 80, 80, 65, 65, 65].map((p, i) => wheel(`W${i}`, p));
    expect(planDetective(seven, PSI).touched).toHaveLength(fewestTouched(seven, PSI));
  }, 120_000);
  it('never lets out over 5 %, and none under the load minimum', () => {
    const any = fc.array(
      fc.tuple(fc.integer({ min: 28, max: 110 }), fc.option(fc.double({ min: 0.8, max: 1, noNaN: true }), { nil: null })),
      {
        minLength: 2,
        maxLength: 12,
      },
    );
    fc.assert(
      fc.property(any, fc.constantFrom(PSI, 10, 0.5 * PSI), (list, step) => {
        const wheels = list.map(([p, m], i) => wheel(`W${i}`, p, m === null ? null : p * m));
        const plan = planDetective(wheels, step);
        for (const b of plan.rounds.flat()) {
          const w = wheels.find((x) => x.position === b.position) as Suspect;
          expect(b.kpa).toBeLessThanOrEqual(w.kpa * MOST_BLEED + 1e-9);
          if (w.minimumKpa !== null) expect(w.kpa - b.kpa).toBeGreaterThanOrEqual(w.minimumKpa - 1e-9);
        }
        expect(plan.touched).toHaveLength(new Set(plan.touched).size);
      }),
      { numRuns: 300 },
    );
  });
  it('fine steps tell several wheels in one go, each by its own amount', () => {
    const wheels = ['A', 'B', 'C', 'D'].map((p) => wheel(p, 80));
    const plan = planDetective(wheels, 0.1 * PSI);
    expect(plan.rounds).toHaveLength(1);
    expect(new Set(plan.rounds[0]?.map((b) => b.kpa.toFixed(2))).size).toBe(3);
    expect(planDetective(wheels, PSI).rounds).toHaveLength(3);
  });
  it('a wheel with no air to spare is left alone, a second one cannot be proved', () => {
    const plan = planDetective([wheel('A', 80), wheel('B', 80, 80), wheel('C', 80, 80)], PSI);
    expect(plan.touched).toEqual(['A']);
    expect([...plan.untouched, ...plan.cannot].sort()).toEqual(['B', 'C']);
    expect(mostBleed(wheel('B', 80, 80))).toBe(0);
  });
});

describe('the answer', () => {
  it.each([
    ['1 psi', PSI],
    ['0.1 bar', 10],
  ])('over 250 random swaps at steps of %s it is right or not sure, never wrong', (_, step) => {
    const runs = short ? 60 : 250;
    const random = rng(step > 7 ? 11 : 7);
    let right = 0;
    for (let run = 0; run < runs; run += 1) {
      const n = 3 + Math.floor(random() * 5);
      const soft = random() < 0.3;
      const wheels = Array.from({ length: n }, (__, i) => wheel(`W${i}`, soft ? 32 : i % 2 === 0 ? 80 : 65));
      const reportsAt: Record<string, string> = identity(wheels);
      const a = `W${Math.floor(random() * n)}`;
      const b = `W${Math.floor(random() * n)}`;
      [reportsAt[a], reportsAt[b]] = [reportsAt[b] as string, reportsAt[a] as string];
      const plan = planDetective(wheels, step);
      const answer = detect(wheels, act(wheels, reportsAt, plan.rounds, step, run * 7919), step);
      expect(answer.verdict).not.toBe('contradiction');
      for (const [w, p] of Object.entries(answer.reportsAt)) expect(`${run} ${w} ${p}`).toBe(`${run} ${w} ${reportsAt[w]}`);
      if (answer.verdict === 'notSure') continue;
      right += 1;
      expect(answer.pairs).toEqual(
        a === b
          ? []
          : [[a, b].sort((x, y) => wheels.findIndex((w) => w.position === x) - wheels.findIndex((w) => w.position === y))],
      );
    }
    // It must be of use, not only careful.
    expect(right / runs).toBeGreaterThan(step > 7 ? 0.24 : 0.48);
  });
  it('a ring of three is told as a ring', () => {
    const wheels = ['A', 'B', 'C'].map((p) => wheel(p, 80));
    const plan = planDetective(wheels, 0.5 * PSI);
    const answer = detect(wheels, act(wheels, { A: 'B', B: 'C', C: 'A' }, plan.rounds, 0.5 * PSI, 5), 0.5 * PSI);
    expect(answer).toMatchObject({ verdict: 'swapped', pairs: [], rings: [['A', 'B', 'C']] });
  });
  it('before anything was bled it is not sure', () => {
    const wheels = ['A', 'B'].map((p) => wheel(p, 80));
    expect(detect(wheels, [], PSI)).toMatchObject({ verdict: 'notSure', open: ['A', 'B'] });
  });
  it('readings that no arrangement explains are a contradiction', () => {
    const wheels = ['A', 'B'].map((p) => wheel(p, 80));
    const still = { A: 80 * PSI, B: 80 * PSI };
    expect(detect(wheels, [{ bleeds: [{ position: 'A', kpa: 4 * PSI }], before: still, after: still }], PSI).verdict).toBe(
      'contradiction',
    );
  });
});
