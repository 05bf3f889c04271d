import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldError } from '../errors.ts';
import { exchangesFor, type Shows } from './exchanges.ts';

const layout = (ids: readonly number[]): Shows => Object.fromEntries(ids.map((id, i) => [`P${i}`, `S${id}`]));
const apply = (now: Shows, exchanges: readonly [string, string][]): Shows => {
  const at = { ...now };
  for (const [a, b] of exchanges) [at[a], at[b]] = [at[b] as string, at[a] as string];
  return at;
};

/** Cycles of the permutation that brings `now` to `wanted`, counted by following it. */
function cycles(now: Shows, wanted: Shows): number {
  const next = (p: string) => Object.keys(now).find((q) => now[q] === wanted[p]) as string;
  const seen = new Set<string>();
  let count = 0;
  for (const p of Object.keys(now)) {
    if (seen.has(p)) continue;
    count += 1;
    for (let q = p; !seen.has(q); q = next(q)) seen.add(q);
  }
  return count;
}

/** The fewest exchanges by trying everything: layouts one exchange away, then two, and so on. */
function fewestByForce(now: readonly number[], wanted: readonly number[]): number {
  const goal = wanted.join();
  let front = new Map([[now.join(), now]]);
  const seen = new Set(front.keys());
  for (let steps = 0; ; steps += 1) {
    if (front.has(goal)) return steps;
    const next = new Map<string, readonly number[]>();
    for (const at of front.values()) {
      for (let i = 0; i < at.length; i += 1) {
        for (let j = i + 1; j < at.length; j += 1) {
          const moved = [...at];
          [moved[i], moved[j]] = [moved[j] as number, moved[i] as number];
          const key = moved.join();
          if (seen.has(key)) continue;
          seen.add(key);
          next.set(key, moved);
        }
      }
    }
    front = next;
  }
}

const permutation = (max: number) =>
  fc.integer({ min: 1, max }).chain((n) => {
    const ids = Array.from({ length: n }, (_, i) => i);
    return fc.tuple(fc.shuffledSubarray(ids, { minLength: n }), fc.shuffledSubarray(ids, { minLength: n }));
  });

describe('exchanges', () => {
  it('up to 24 wheels reach the wanted layout in wheels minus cycles', () => {
    fc.assert(
      fc.property(permutation(24), ([a, b]) => {
        const now = layout(a);
        const wanted = layout(b);
        const exchanges = exchangesFor(now, wanted);
        expect(apply(now, exchanges)).toEqual(wanted);
        expect(exchanges).toHaveLength(a.length - cycles(now, wanted));
      }),
      { numRuns: 400 },
    );
  });
  it('up to 7 wheels no search finds fewer', () => {
    fc.assert(
      fc.property(permutation(7), ([a, b]) => {
        expect(exchangesFor(layout(a), layout(b))).toHaveLength(fewestByForce(a, b));
      }),
      { numRuns: 25 },
    );
  }, 60_000);
  it('nothing to do is nothing', () => {
    expect(exchangesFor({}, {})).toEqual([]);
    expect(exchangesFor({ A1L: 'X', A1R: 'Y' }, { A1R: 'Y', A1L: 'X' })).toEqual([]);
  });
  it.each([
    [{ A: 'X' }, { B: 'X' }, '/wanted/B'],
    [{ A: 'X', B: 'Y' }, { A: 'X' }, '/wanted/B'],
    [{ A: 'X', B: 'X' }, { A: 'X', B: 'Y' }, '/now/B'],
    [{ A: 'X', B: 'Y' }, { A: 'X', B: 'Z' }, '/wanted/B'],
    [{ A: 'X', B: 'Y' }, { A: 'X', B: 'X' }, '/wanted/B'],
  ])('%o to %o is refused at %s', (now, wanted, pointer) => {
    let thrown: unknown;
    try {
      exchangesFor(now as Shows, wanted as Shows);
    } catch (error) {
      thrown = error;
    }
    expect((thrown as FieldError).pointer).toBe(pointer);
  });
});
