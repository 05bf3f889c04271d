import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { FieldError } from '../errors.ts';
import { entropyBits, type FaultQuestion, faultsNext } from './next.ts';

/** Another program's result (see `by` in the file), kept as it came. */
const kept = JSON.parse(readFileSync(join(import.meta.dirname, 'bayes.test-data.json'), 'utf8')) as {
  causes: Record<string, number>;
  tests: FaultQuestion['tests'];
  cases: {
    answers: { test: string; outcome: string }[];
    odds: Record<string, number>;
    ranking: { test: string; bits: number; bitsPerMinute: number }[];
  }[];
};

/** Two causes, one test that is right nine times in ten. Worked by hand. */
const plain: FaultQuestion = {
  causes: { cell: 3, seat: 1 },
  tests: [
    { test: 'volts', minutes: 4, outcomes: { low: { cell: 0.9, seat: 0.1 }, good: { cell: 0.1, seat: 0.9 } } },
    { test: 'refit', minutes: 2, outcomes: { heard: { cell: 0.2, seat: 0.8 }, not: { cell: 0.8, seat: 0.2 } } },
    { test: 'nothing', minutes: 1, outcomes: { a: { cell: 0.5, seat: 0.5 }, b: { cell: 0.5, seat: 0.5 } } },
  ],
};

describe('Bayes’ rule and Shannon’s information, by hand', () => {
  it('priors are weights; the entropy of 3 to 1 is 0.811278 bits', () => {
    const got = faultsNext(plain);
    expect(got.odds).toEqual({ cell: 0.75, seat: 0.25 });
    expect(entropyBits([0.75, 0.25])).toBeCloseTo(0.811278, 6);
    expect(entropyBits([1, 0])).toBe(0);
  });
  it('what each test is expected to tell', () => {
    // volts: low in 0.7 of cases (0.675 cell, 0.025 seat: entropy of 0.964286 is 0.222285), good in 0.3 (0.075, 0.225: of 0.25 0.811278).
    // 0.811278 - 0.7 * 0.222285 - 0.3 * 0.811278 = 0.412295 bits, 0.103074 a minute.
    // refit: heard in 0.35 (0.15, 0.2: of 0.428571 0.985228), not in 0.65 (0.6, 0.05: of 0.923077 0.391244).
    // 0.811278 - 0.35 * 0.985228 - 0.65 * 0.391244 = 0.212140 bits, 0.106070 a minute: the better one, though it tells less.
    const { next, bits, bitsPerMinute, ranking } = faultsNext(plain);
    expect(next).toBe('refit');
    expect(bits).toBeCloseTo(0.21214, 5);
    expect(bitsPerMinute).toBeCloseTo(0.10607, 5);
    expect(ranking.map((r) => r.test)).toEqual(['refit', 'volts', 'nothing']);
    expect(ranking[1]?.bits).toBeCloseTo(0.412295, 5);
    expect(ranking[1]?.bitsPerMinute).toBeCloseTo(0.103074, 5);
    expect(ranking[2]?.bits).toBeCloseTo(0, 12);
  });
  it('answers one after the other', () => {
    // 0.75 * 0.2 to 0.25 * 0.8 is 0.428571 to 0.571429; then 0.9 to 0.1: 0.385714 to 0.057143 is 0.870968 to 0.129032.
    const one = faultsNext({ ...plain, answers: [{ test: 'refit', outcome: 'heard' }] });
    expect(one.odds.cell).toBeCloseTo(0.428571, 6);
    expect(one.next).toBe('volts');
    const two = faultsNext({
      ...plain,
      answers: [
        { test: 'refit', outcome: 'heard' },
        { test: 'volts', outcome: 'low' },
      ],
    });
    expect(two.odds.cell).toBeCloseTo(0.870968, 6);
    expect(two.odds.seat).toBeCloseTo(0.129032, 6);
    // Only the test that tells nothing is left.
    expect(two).toMatchObject({ next: null, bits: 0, bitsPerMinute: 0 });
    expect(two.ranking.map((r) => r.test)).toEqual(['nothing']);
  });
  it('equal tests stay in the order given', () => {
    const outcomes = { a: { x: 0.7, y: 0.2 }, b: { x: 0.3, y: 0.8 } };
    const tests = ['c', 'a', 'b'].map((test) => ({ test, minutes: 3, outcomes }));
    expect(faultsNext({ causes: { x: 1, y: 1 }, tests }).ranking.map((r) => r.test)).toEqual(['c', 'a', 'b']);
  });
});

describe('against SciPy’s result, kept as a file', () => {
  it.each(kept.cases)('after $answers.length answers', ({ answers, odds, ranking }) => {
    const got = faultsNext({ causes: kept.causes, tests: kept.tests, answers });
    for (const [cause, p] of Object.entries(odds)) expect(got.odds[cause]).toBeCloseTo(p, 12);
    expect(got.ranking.map((r) => r.test)).toEqual(ranking.map((r) => r.test));
    got.ranking.forEach((r, i) => {
      expect(r.bits).toBeCloseTo(ranking[i]?.bits ?? Number.NaN, 12);
      expect(r.bitsPerMinute).toBeCloseTo(ranking[i]?.bitsPerMinute ?? Number.NaN, 12);
    });
  });
});

describe('what it can’t take', () => {
  const at = (question: FaultQuestion): string => {
    try {
      faultsNext(question);
    } catch (e) {
      if (e instanceof FieldError) return e.pointer;
      throw e;
    }
    return 'taken';
  };
  const one = (outcomes: FaultQuestion['tests'][number]['outcomes'], more: Partial<FaultQuestion> = {}) =>
    at({ causes: { x: 1, y: 1 }, tests: [{ test: 't', minutes: 1, outcomes }], ...more });
  it('names the field', () => {
    expect(one({ a: { x: 0.7, y: 0.2 }, b: { x: 0.2, y: 0.8 } })).toBe('/tests/0/outcomes');
    expect(one({ a: { x: 1 }, b: { y: 1 } })).toBe('taken');
    expect(one({ a: { x: 1, y: 1, 'z/~': 1 } })).toBe('/tests/0/outcomes/a/z~1~0');
    const sure = { a: { x: 1 }, b: { y: 1 } };
    expect(one(sure, { answers: [{ test: 'u', outcome: 'a' }] })).toBe('/answers/0/test');
    expect(one(sure, { answers: [{ test: 't', outcome: 'c' }] })).toBe('/answers/0/outcome');
    const both = { test: 't', outcome: 'a' };
    expect(one(sure, { answers: [both, { test: 't', outcome: 'b' }] })).toBe('/answers/1/outcome');
    expect(at({ causes: {}, tests: [] })).toBe('/causes');
    const tests = [1, 2].map(() => ({ test: 't', minutes: 1, outcomes: sure }));
    expect(at({ causes: { x: 1, y: 1 }, tests })).toBe('/tests/1/test');
  });
});
