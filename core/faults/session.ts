import { type FaultAnswer, type FaultTest, nextUnchecked, type RankedTest } from './next.ts';
import type { Branch } from './tables.ts';

/** People and sensors slip: an answer is another than it should be this often. Assumed. */
export const SLIP = 0.05;
/** A cause this likely is named, and its repair proposed. Ours. */
export const FOUND_FROM = 0.99;
/** A test that tells less than this isn't worth a walk to the wheel, bits. Ours. */
export const LEAST_USEFUL_BITS = 0.005;
/** A cause whose repair didn't help is this much less likely: the repair may not have been done well. Assumed. */
const RULED_OUT = 0.06;

/** What the owner changed of a table: weights of causes and minutes of tests. */
export interface TableChanges {
  weights?: Readonly<Record<string, number>> | undefined;
  minutes?: Readonly<Record<string, number>> | undefined;
}

export interface DiagnosisQuestion {
  branch: Branch;
  changes?: TableChanges | undefined;
  /** What is known of this rig makes a cause so many times likelier. */
  hints?: Readonly<Record<string, number>> | undefined;
  answers: readonly FaultAnswer[];
  /** Tests that can't be done now. */
  cannot: readonly string[];
  /** Causes that were repaired, and the fault is still there. */
  ruledOut: readonly string[];
}

/** A cause with its odds: now, and before the last answer. */
export interface CauseOdds {
  cause: string;
  odds: number;
  before: number;
}

export interface Diagnosis {
  /** The likeliest first. */
  causes: CauseOdds[];
  /** `ask`: one more test is worth it; `found`: one cause is as good as sure; `advise`: nothing left to ask tells enough. */
  state: 'ask' | 'found' | 'advise';
  next: RankedTest | null;
  ranking: RankedTest[];
}

/** Tables as they come, worked out once. */
const plain = new WeakMap<Branch, FaultTest[]>();

/** The table of a branch as it is asked: every outcome may come by a slip. */
export function asked(branch: Branch, changes?: TableChanges): FaultTest[] {
  if (changes?.minutes) return softened(branch, changes);
  const known = plain.get(branch) ?? softened(branch, {});
  plain.set(branch, known);
  return known;
}

const softened = (branch: Branch, changes: TableChanges): FaultTest[] =>
  branch.tests.map((t) => {
    const n = Object.keys(t.outcomes).length;
    return {
      test: t.id,
      minutes: changes.minutes?.[t.id] ?? t.minutes,
      outcomes: Object.fromEntries(
        Object.entries(t.outcomes).map(([o, chances]) => [
          o,
          Object.fromEntries(Object.entries(chances).map(([c, p]) => [c, (1 - SLIP) * p + (SLIP * (1 - p)) / (n - 1)])),
        ]),
      ),
    };
  });

/** Weights of the causes with what is known, and what was repaired in vain. */
export function weightsOf({
  branch,
  changes,
  hints,
  ruledOut,
}: Omit<DiagnosisQuestion, 'answers' | 'cannot'>): Record<string, number> {
  return Object.fromEntries(
    Object.entries(branch.causes).map(([c, w]) => [
      c,
      (changes?.weights?.[c] ?? w) * (hints?.[c] ?? 1) * (ruledOut.includes(c) ? RULED_OUT : 1),
    ]),
  );
}

/** Where a diagnosis stands: odds, whether one more test is worth it, and which. */
export function diagnose(q: DiagnosisQuestion): Diagnosis {
  const causes = weightsOf(q);
  const tests = asked(q.branch, q.changes);
  const { odds, ranking } = nextUnchecked({ causes, tests, answers: q.answers });
  // What the last answer changed: the tests are of no interest there.
  const { odds: before } = nextUnchecked({
    causes,
    tests: tests.filter((t) => q.answers.some((a) => a.test === t.test)),
    answers: q.answers.slice(0, -1),
  });
  const list = Object.keys(odds)
    .map((cause) => ({ cause, odds: odds[cause] as number, before: before[cause] as number }))
    .sort((a, b) => b.odds - a.odds);
  const open = ranking.filter((r) => !q.cannot.includes(r.test));
  const next = open.find((r) => r.bits >= LEAST_USEFUL_BITS) ?? null;
  const found = (list[0]?.odds ?? 0) >= FOUND_FROM;
  return { causes: list, state: found ? 'found' : next ? 'ask' : 'advise', next: found ? null : next, ranking: open };
}
