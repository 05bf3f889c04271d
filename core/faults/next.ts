import { FieldError } from '../errors.ts';

/** A test and what it shows under each cause. */
export interface FaultTest {
  test: string;
  /** What it costs, minutes, over 0. */
  minutes: number;
  /** Outcome, cause, probability; a cause that an outcome doesn't name never shows it. */
  outcomes: Readonly<Record<string, Readonly<Record<string, number>>>>;
}

export interface FaultAnswer {
  test: string;
  outcome: string;
}

export interface FaultQuestion {
  /** Weights of the causes before anything was tested, over 0. */
  causes: Readonly<Record<string, number>>;
  tests: readonly FaultTest[];
  answers?: readonly FaultAnswer[] | undefined;
}

/** A test that wasn't done yet, and what it is expected to tell. */
export interface RankedTest {
  test: string;
  bits: number;
  bitsPerMinute: number;
}

export interface FaultNext {
  /** Posterior of each cause; they add up to 1. */
  odds: Record<string, number>;
  /** The test that tells the most a minute; null when none tells anything. */
  next: string | null;
  bits: number;
  bitsPerMinute: number;
  /** All tests that weren't done yet, the best first. */
  ranking: RankedTest[];
}

/** Less than this is nothing, bits. */
const LEAST_BITS = 1e-9;
/** Equal but for rounding is equal: then the order given counts. */
const rank = (r: RankedTest): number => Math.round(r.bitsPerMinute * 1e12);
/** Probabilities add up to 1 within this. */
const SUM_WITHIN = 1e-6;

/** A name inside a JSON pointer (RFC 6901). */
const escaped = (name: string): string => name.replaceAll('~', '~0').replaceAll('/', '~1');

/** Own entries alone: a cause may be called `constructor`. */
const chanceOf = (table: Readonly<Record<string, number>>, cause: string): number =>
  Object.hasOwn(table, cause) ? (table[cause] as number) : 0;

/** Shannon's entropy, bits (C. E. Shannon, A Mathematical Theory of Communication, 1948; from memory). */
export function entropyBits(odds: readonly number[]): number {
  let h = 0;
  for (const p of odds) if (p > 0) h -= p * Math.log2(p);
  return h;
}

function check({ causes, tests, answers = [] }: FaultQuestion): void {
  const names = Object.keys(causes);
  if (names.length === 0) throw new FieldError('/causes', 'needs at least one cause');
  const known = new Set(names);
  tests.forEach((t, i) => {
    if (tests.findIndex((x) => x.test === t.test) !== i) throw new FieldError(`/tests/${i}/test`, 'is named twice');
    const sums = new Map(names.map((c) => [c, 0]));
    for (const [outcome, table] of Object.entries(t.outcomes))
      for (const [cause, p] of Object.entries(table)) {
        if (!known.has(cause))
          throw new FieldError(`/tests/${i}/outcomes/${escaped(outcome)}/${escaped(cause)}`, 'is none of the causes');
        sums.set(cause, (sums.get(cause) as number) + p);
      }
    for (const [cause, sum] of sums)
      if (Math.abs(sum - 1) > SUM_WITHIN)
        throw new FieldError(
          `/tests/${i}/outcomes`,
          `the probabilities of ${cause} add up to ${Number(sum.toFixed(6))}, not to 1`,
        );
  });
  answers.forEach((a, i) => {
    const test = tests.find((t) => t.test === a.test);
    if (!test) throw new FieldError(`/answers/${i}/test`, 'is none of the tests');
    if (!Object.hasOwn(test.outcomes, a.outcome))
      throw new FieldError(`/answers/${i}/outcome`, 'is none of the outcomes of this test');
  });
}

/**
 * Odds of the causes after some tests (Bayes' rule), and the test that is expected to tell the most a minute: Shannon's information, the entropy
 * now less the mean entropy after it.
 * @throws FieldError where the table doesn't add up, or an answer is impossible under every cause
 */
export function faultsNext(question: FaultQuestion): FaultNext {
  check(question);
  return nextUnchecked(question);
}

/** Odds after some answers, in the order of the causes. @throws FieldError at an answer that is impossible under every cause */
function oddsAfter(causes: readonly [string, number][], tests: readonly FaultTest[], answers: readonly FaultAnswer[]): number[] {
  let odds = normalized(causes.map(([, w]) => w)) as number[];
  answers.forEach((a, i) => {
    const table = tests.find((t) => t.test === a.test)?.outcomes[a.outcome] as Record<string, number>;
    const after = normalized(odds.map((p, k) => p * chanceOf(table, (causes[k] as [string, number])[0])));
    if (after === null) throw new FieldError(`/answers/${i}/outcome`, 'is impossible under every cause that is left');
    odds = after;
  });
  return odds;
}

/** The same for a table that is known to add up. */
export function nextUnchecked({ causes, tests, answers = [] }: FaultQuestion): FaultNext {
  const list = Object.entries(causes);
  const odds = oddsAfter(list, tests, answers);
  const now = entropyBits(odds);
  const done = new Set(answers.map((a) => a.test));
  const joint = new Array<number>(list.length);
  const ranking = tests
    .filter((t) => !done.has(t.test))
    .map((t): RankedTest => {
      let after = 0;
      for (const outcome in t.outcomes) {
        const table = t.outcomes[outcome] as Record<string, number>;
        let chance = 0;
        for (let k = 0; k < list.length; k += 1) {
          const p = (odds[k] as number) * chanceOf(table, (list[k] as [string, number])[0]);
          joint[k] = p;
          chance += p;
        }
        if (chance <= 0) continue;
        // The mean of the entropies: chance times the entropy of the joint chances brought to 1.
        for (let k = 0; k < list.length; k += 1) {
          const p = (joint[k] as number) / chance;
          if (p > 0) after -= chance * p * Math.log2(p);
        }
      }
      // Rounding may leave a hair under nothing.
      const bits = Math.max(0, now - after);
      return { test: t.test, bits, bitsPerMinute: bits / t.minutes };
    })
    .sort((a, b) => rank(b) - rank(a));
  const best = ranking.find((r) => r.bits > LEAST_BITS);
  return {
    odds: Object.fromEntries(list.map(([c], k) => [c, odds[k] as number])),
    next: best?.test ?? null,
    bits: best?.bits ?? 0,
    bitsPerMinute: best?.bitsPerMinute ?? 0,
    ranking,
  };
}

function normalized(weights: readonly number[]): number[] | null {
  const sum = weights.reduce((a, b) => a + b, 0);
  return sum > 0 ? weights.map((w) => w / sum) : null;
}
