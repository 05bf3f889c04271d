import { act, screen, waitFor } from '@testing-library/react';
import { Outlet, Route, Routes } from 'react-router';
import { afterEach, expect, it } from 'vitest';
import { wheelsOf } from '#core/rig/positions.ts';
import type { Unit } from '#schema/unit.ts';
import { keys, useUnits } from '../../data/queries.ts';
import { useRig } from '../../state/useRig.ts';
import { mount } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import { GuidePart } from './GuidePart.tsx';

afterEach(() => localStorage.clear());

const way = { style: 'heldNear', limitsFirst: true } as const;

/** The guide; its units are those of the cache, as in the app. */
function Live() {
  const whole = useRig();
  const units = useUnits().data ?? whole.units;
  return (
    <Routes>
      <Route element={<Outlet context={{ ...whole, units, wheels: wheelsOf(units) }} />}>
        <Route path="*" element={<GuidePart pairing={way} onChangeWay={() => undefined} />} />
      </Route>
    </Routes>
  );
}

/** The guide of a rig whose wheels A2LO and A2LI have no sensor. */
function guide(put: () => Promise<unknown>) {
  const whole = readyRig();
  const [flatbed] = whole.units as [Unit, Unit];
  for (const w of flatbed.axles[1]?.wheels ?? []) if (w.position.startsWith('2L')) w.sensor = null;
  const mounted = mount(
    <Live />,
    { 'PUT /units/a': put, 'GET /units': whole.units, 'GET /rigs': [whole.rig], 'GET /rigs/': 404 },
    whole,
  );
  mounted.client.setQueryData(keys.units, whole.units);
  return { ...mounted, sent: () => mounted.sentTo('/units/a') as Unit[] };
}

it('keeps what is typed for the next wheel while the answer for the one before is still on its way', async () => {
  let answer: (unit: Unit) => void = () => undefined;
  const { user, client, sent } = guide(() => new Promise((done) => (answer = done as typeof answer)));
  await user.type(await screen.findByLabelText('ID for A2LO'), '4CA1E0');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(sent()).toHaveLength(1));
  // The stream is quicker than the answer: the plan goes on to the next wheel.
  const stored = sent()[0] as Unit;
  act(() => client.setQueryData<Unit[]>(keys.units, (list) => list?.map((u) => (u.id === stored.id ? stored : u))));
  const next = await screen.findByLabelText('ID for A2LI');
  await user.type(next, '4CA1E1');
  await act(async () => answer({ ...stored, version: stored.version + 1 }));
  await waitFor(() => expect(screen.getByLabelText('ID for A2LI')).toHaveProperty('value', '4CA1E1'));
  expect(document.activeElement).toBe(screen.getByLabelText('ID for A2LI'));
});

it('keeps what is typed at a wheel while another is looked at, and shows its fault only there', async () => {
  const { user } = guide(() => Promise.reject(new Error('nothing is sent')));
  await user.type(await screen.findByLabelText('ID for A2LO'), '4CA1');
  await user.click(screen.getByRole('button', { name: 'Save' }));
  expect(screen.getByText('Only 4 of six digits', { exact: false })).toBeTruthy();
  expect(screen.getByRole('status', { name: 'Captured ID' }).textContent).toBe('4C A1not saved yet');
  await user.click(screen.getByRole('button', { name: 'A2LI: open' }));
  expect(screen.getByLabelText('ID for A2LI')).toHaveProperty('value', '');
  expect(screen.queryByText('Only 4 of six digits', { exact: false })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'A2LO: open' }));
  expect(screen.getByLabelText('ID for A2LO')).toHaveProperty('value', '4CA1');
});

it('an ID typed over a saved one isn’t called saved, unless it is the same', async () => {
  const { user } = guide(() => Promise.reject(new Error('nothing is sent')));
  await user.click(await screen.findByRole('button', { name: 'A1L: A0 00 00' }));
  const plate = () => screen.getByRole('status', { name: 'Captured ID' }).textContent;
  expect(plate()).toBe('A0 00 00saved');
  await user.type(screen.getByLabelText('ID for A1L'), 'A00001');
  expect(plate()).toBe('A0 00 01not saved yet');
  await user.clear(screen.getByLabelText('ID for A1L'));
  await user.type(screen.getByLabelText('ID for A1L'), 'A00000');
  expect(plate()).toBe('A0 00 00saved');
});
