import { describe, expect, it } from 'vitest';
import { BRANCHES } from '#core/faults/tables.ts';
import { HOUSINGS, JOB_IDS, jobOf } from '#core/upkeep/jobs.ts';
import { HOUSING_WORDS, JOB_WORDS, STEP_WORDS, TOOL_WORDS } from '../upkeep/words.ts';
import { CAUSE_WORDS, TEST_WORDS } from './words.ts';

describe('words of the tables', () => {
  it.each(Object.values(BRANCHES))('$id: each cause, test and outcome has its own, and no more', (branch) => {
    for (const t of branch.tests)
      expect(Object.keys(TEST_WORDS[branch.id][t.id]?.outcomes ?? {}).sort(), t.id).toEqual(Object.keys(t.outcomes).sort());
    expect(Object.keys(TEST_WORDS[branch.id]).sort()).toEqual(branch.tests.map((t) => t.id).sort());
    expect(Object.keys(CAUSE_WORDS[branch.id]).sort()).toEqual(Object.keys(branch.causes).sort());
    for (const c of Object.values(CAUSE_WORDS[branch.id])) if (c.job) expect(JOB_IDS).toContain(c.job);
  });
  it('each job, step and tool', () => {
    const steps = new Set(JOB_IDS.flatMap((id) => HOUSINGS.flatMap((h) => jobOf(id, h).steps)));
    expect([...steps].filter((s) => !STEP_WORDS[s])).toEqual([]);
    expect(Object.keys(STEP_WORDS).filter((s) => !steps.has(s))).toEqual([]);
    const tools = new Set(JOB_IDS.flatMap((id) => HOUSINGS.flatMap((h) => jobOf(id, h).tools)));
    expect([...tools].filter((t) => !TOOL_WORDS[t])).toEqual([]);
    expect(Object.keys(JOB_WORDS).sort()).toEqual([...JOB_IDS].sort());
    expect(Object.keys(HOUSING_WORDS).sort()).toEqual([...HOUSINGS].sort());
  });
});
