import { act, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { keys } from '../../data/queries.ts';
import { setPreferences } from '../../state/preferences.ts';
import { mount, watchView } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import GaugePart from './GaugePart.tsx';

beforeEach(() => setPreferences({ pressure: 'psi', temp: 'C' }));
afterEach(() => localStorage.clear());

const field = (label: string) => screen.getByLabelText(label) as HTMLInputElement;

async function compare(answer: unknown) {
  const whole = readyRig();
  const mounted = mount(<GaugePart />, { 'PUT /rigs/r': answer, 'GET /rigs/r/watch': watchView(), 'GET /monitors': [] }, whole);
  mounted.client.setQueryData(keys.rigs, [whole.rig]);
  await screen.findByLabelText('A1L gauge');
  await waitFor(() => expect(field('A1L sensor').placeholder).not.toBe(''));
  await mounted.user.type(field('A1L gauge'), '72');
  await mounted.user.click(screen.getByRole('button', { name: /^Compare/ }));
  return mounted;
}

it('keeps what was typed when it can’t be stored', async () => {
  const { toasts } = await compare(500);
  await waitFor(() => expect(toasts).toHaveLength(1));
  expect(field('A1L gauge').value).toBe('72');
});

it('takes what was compared, and leaves what was typed while it was on its way', async () => {
  let answer: () => void = () => undefined;
  const { user, toasts } = await compare(({ body }: { body: unknown }) => new Promise((done) => (answer = () => done(body))));
  await user.type(field('A1R gauge'), '7');
  await act(async () => answer());
  await waitFor(() => expect(toasts.map((t) => t.text)).toEqual(['One wheel is compared.']));
  expect([field('A1L gauge').value, field('A1R gauge').value]).toEqual(['', '7']);
});
