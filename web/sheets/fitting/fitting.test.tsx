import { screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { USUAL_OPTIONS } from '#core/fitting/cards.ts';
import type { Rig } from '#schema/unit.ts';
import { keys } from '../../data/queries.ts';
import { mount } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import Fitting from './Fitting.tsx';

it.each([
  ['Dust boots', 'boots'],
  ['Lock nuts', 'lockNuts'],
  ['One-piece anti-theft kind', 'antiTheft'],
] as const)('the box “%s” changes what is stored', async (label, field) => {
  const whole = readyRig();
  const { user, sentTo, client } = mount(<Fitting />, { 'PUT /rigs/r': whole.rig }, whole);
  client.setQueryData(keys.rigs, [whole.rig]);
  await user.click(await screen.findByLabelText(label));
  await waitFor(() => expect(sentTo(`/rigs/${whole.rig.id}`)).toHaveLength(1));
  const [sent] = sentTo(`/rigs/${whole.rig.id}`) as Rig[];
  expect(sent?.fitting).toEqual({ ...USUAL_OPTIONS, ...whole.rig.fitting, [field]: !USUAL_OPTIONS[field] });
});
