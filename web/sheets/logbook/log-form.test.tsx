import { act, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, it } from 'vitest';
import type { Rig } from '#schema/unit.ts';
import { keys } from '../../data/queries.ts';
import { mount } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import { LogForm } from './LogForm.tsx';

afterEach(() => localStorage.clear());

it('an entry whose answer is late is written once, and what is typed meanwhile stays', async () => {
  let answer: () => void = () => undefined;
  const whole = readyRig();
  const { user, client, sentTo, toasts } = mount(
    <LogForm />,
    { 'PUT /rigs/r': ({ body }: { body: unknown }) => new Promise((done) => (answer = () => done(body))) },
    whole,
  );
  client.setQueryData(keys.rigs, [whole.rig]);
  await user.selectOptions(await screen.findByLabelText('What'), 'note');
  await user.type(screen.getByLabelText('Note'), 'tape on the rim');
  const write = screen.getByRole('button', { name: 'Write it down' });
  await user.click(write);
  await user.click(write);
  await user.type(screen.getByLabelText('Note'), ' of B1L');
  await act(async () => answer());
  await waitFor(() => expect(toasts.map((t) => t.text)).toEqual(['Written down.']));
  expect((sentTo('/rigs/r') as Rig[]).map((r) => r.log?.map((e) => e.note))).toEqual([['tape on the rim']]);
  expect((screen.getByLabelText('Note') as HTMLInputElement).value).toBe('tape on the rim of B1L');
});
