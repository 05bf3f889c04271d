import { screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { partsOf } from '#core/kit/parts.ts';
import type { Rig } from '#schema/unit.ts';
import { keys } from '../../data/queries.ts';
import { mount } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import Fitting from './Fitting.tsx';

it.each([
  ['Lock nut', 'lockNut'],
  ['One-piece anti-theft kind', 'antiTheft'],
] as const)('the box “%s” changes what is stored', async (label, field) => {
  const whole = readyRig();
  const { user, sentTo, client } = mount(<Fitting />, { 'PUT /rigs/r': whole.rig }, whole);
  client.setQueryData(keys.rigs, [whole.rig]);
  await user.click(await screen.findByLabelText(label));
  await waitFor(() => expect(sentTo(`/rigs/${whole.rig.id}`)).toHaveLength(1));
  const [sent] = sentTo(`/rigs/${whole.rig.id}`) as Rig[];
  expect(sent?.fitting).toEqual({
    parts: { cap: { ...partsOf({}, 'cap'), [field]: !partsOf({}, 'cap')[field] } },
  });
});
