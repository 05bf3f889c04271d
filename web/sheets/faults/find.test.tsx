import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { BRANCHES, type BranchId } from '#core/faults/tables.ts';
import type { WheelView } from '#schema/alarm.ts';
import { mount, watchView } from '../../testing/mount.tsx';
import { FindPart } from './FindPart.tsx';
import { BRANCH_WORDS, CAUSE_WORDS, TEST_WORDS } from './words.ts';

beforeEach(() => localStorage.clear());

/** What the watch shows of each fault, as the bench makes it. */
const FAULTS: { branch: BranchId; cause: string; wheel: string; view: Record<string, Partial<WheelView>>; missing?: string[] }[] =
  [
    { branch: 'one', cause: 'cell', wheel: 'A1L', view: { A1L: { state: 'silent', ageS: 2400 } } },
    { branch: 'one', cause: 'seat', wheel: 'A1R', view: { A1R: { state: 'silent', ageS: 1800 } } },
    { branch: 'one', cause: 'asleep', wheel: 'A1L', view: { A1L: { state: 'asleep', ageS: 3600 }, A1R: { state: 'asleep' } } },
    { branch: 'one', cause: 'noise', wheel: 'B1L', view: { B1L: { state: 'silent', ageS: 1300 } } },
    {
      branch: 'many',
      cause: 'repeater',
      wheel: '',
      view: { B1L: { state: 'silent' }, B1R: { state: 'silent' } },
      missing: ['B'],
    },
    {
      branch: 'many',
      cause: 'noise',
      wheel: '',
      view: { A1L: { state: 'silent' }, A1R: { state: 'silent' }, B1L: { state: 'silent' } },
    },
    { branch: 'wrong', cause: 'swapped', wheel: 'A1L', view: { A1L: { pressureKpa: 560 }, A1R: { pressureKpa: 440 } } },
    { branch: 'wrong', cause: 'stuck', wheel: 'A2LO', view: { A2LO: { active: ['stuck'], ageS: 1500 } } },
  ];

describe('a fault is found through the page', () => {
  it.each(FAULTS)('$branch: $cause', async ({ branch, cause, wheel, view, missing }) => {
    const watch = watchView({ missing: missing ?? [] }, view);
    const { user, sentTo } = mount(<FindPart />, {
      'GET /rigs/r/watch': watch,
      'PUT /rigs/r': (a: { body: unknown }) => ({ ...(a.body as object), version: 2 }),
    });
    await user.click(await screen.findByRole('button', { name: new RegExp(`^${BRANCH_WORDS[branch].title}`) }));
    if (wheel) await user.selectOptions(screen.getByLabelText('Wheel'), wheel);
    const table = BRANCHES[branch];
    for (let i = 0; i < table.tests.length; i += 1) {
      const next = screen.queryByRole('region', { name: 'Next test' });
      if (!next) break;
      const question = within(next).getByRole('heading').textContent;
      const test = table.tests.find((t) => TEST_WORDS[branch][t.id]?.act === question);
      // What this fault most likely shows.
      const [outcome] = Object.entries(test?.outcomes ?? {}).sort(([, a], [, b]) => (b[cause] ?? 0) - (a[cause] ?? 0))[0] ?? [];
      const said = TEST_WORDS[branch][test?.id as string]?.outcomes[outcome as string] as string;
      await user.click(within(next).getByRole('button', { name: said }));
    }
    const todo = await screen.findByRole('region', { name: 'What to do' });
    expect(within(todo).getByRole('heading').textContent).toBe(CAUSE_WORDS[branch][cause]?.name);
    expect(todo.textContent).toContain(CAUSE_WORDS[branch][cause]?.proof);
    expect(sentTo('/rigs/r')).toEqual([]);
    await waitFor(() => expect(localStorage.getItem('druckwerk.draft.faults.r')).toContain(branch));
  });

  it('an answer taken back is asked again, another test may be chosen, and a search outlives its page', async () => {
    const answers = { 'GET /rigs/r/watch': watchView({}, { A1L: { state: 'silent' } }) };
    const { user } = mount(<FindPart />, answers);
    await user.click(await screen.findByRole('button', { name: /^One sensor/ }));
    await user.click(
      within(screen.getByRole('region', { name: 'Next test' })).getByRole('button', { name: 'All as it should be' }),
    );
    expect(screen.getByRole('region', { name: 'What is known' }).textContent).toContain(
      'Page, list and mode: All as it should be',
    );
    await user.click(screen.getByRole('button', { name: /^All \d+ tests$/ }));
    await user.click(screen.getByRole('button', { name: 'Swap with a neighbour' }));
    expect(within(screen.getByRole('region', { name: 'Next test' })).getByRole('heading').textContent).toMatch(/^Exchange it/);
    const again = mount(<FindPart />, answers);
    await again.user.click(await screen.findByRole('button', { name: 'Change Page, list and mode' }));
    expect(screen.queryByText(/Page, list and mode: All/)).toBeNull();
  });
});
