import { type RandomState, uniform } from '../bench/random.ts';
import type { FaultAnswer } from './next.ts';
import { type Diagnosis, diagnose } from './session.ts';
import type { Branch } from './tables.ts';

/** How an owner answers: by the table, and one time in twenty by another outcome. */
export function answerOf(branch: Branch, test: string, cause: string, r: RandomState): string {
  const outcomes = branch.tests.find((t) => t.id === test)?.outcomes ?? {};
  const names = Object.keys(outcomes);
  let rest = uniform(r);
  let got = names.at(-1) as string;
  for (const name of names) {
    rest -= outcomes[name]?.[cause] ?? 0;
    if (rest < 0) {
      got = name;
      break;
    }
  }
  if (uniform(r) >= 0.05) return got;
  const others = names.filter((n) => n !== got);
  return others[Math.floor(uniform(r) * others.length)] as string;
}

export interface OwnersRun {
  minutes: number;
  steps: number;
  /** Place of the true cause at the end, from 1. */
  place: number;
  state: string;
}

/** What is said after the same answers is the same, so a thousand owners ask for it once: by branch, then by the answers in their order. */
const said = new WeakMap<Branch, Map<string, Diagnosis>>();

/** The diagnosis after some answers, nothing ruled out. */
export function diagnosisAfter(branch: Branch, answers: readonly FaultAnswer[]): Diagnosis {
  const known = said.get(branch) ?? new Map<string, Diagnosis>();
  said.set(branch, known);
  const key = answers.map((a) => `${a.test}=${a.outcome}`).join(';');
  const d = known.get(key) ?? diagnose({ branch, answers: [...answers], cannot: [], ruledOut: [] });
  known.set(key, d);
  return d;
}

/** One owner with one cause, to the end: by the best test a minute, or in the usual order with the same rule to stop. */
export function runOwner(branch: Branch, cause: string, r: RandomState, order: 'best' | 'usual'): OwnersRun {
  const answers: FaultAnswer[] = [];
  let minutes = 0;
  for (let steps = 0; ; steps += 1) {
    const d = diagnosisAfter(branch, answers);
    const place = d.causes.findIndex((c) => c.cause === cause) + 1;
    if (d.state !== 'ask' || steps > 40) return { minutes, steps, place, state: d.state };
    const open = order === 'best' ? [d.next?.test as string] : branch.usual.filter((t) => !answers.some((a) => a.test === t));
    const test = open[0];
    if (test === undefined) return { minutes, steps, place, state: 'advise' };
    minutes += branch.tests.find((t) => t.id === test)?.minutes ?? 0;
    answers.push({ test, outcome: answerOf(branch, test, cause, r) });
  }
}
