import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Monitor } from '#schema/monitor.ts';
import type { Unit } from '#schema/unit.ts';
import { mount } from '../testing/mount.tsx';
import { readyRig } from '../testing/rigs.ts';
import { useMonitor, useRecords, useUnits, useWholeRig, type WholeRig } from './queries.ts';

const { rig, units } = readyRig();
const box = { id: 'm', version: 1, name: 'Box' } as Monitor;

function Named({ whole }: { whole: WholeRig }) {
  return <p>{useMonitor(whole.rig)?.name ?? 'no monitor'}</p>;
}
function Shown() {
  const whole = useWholeRig('r');
  return whole ? <Named whole={whole} /> : <p>{whole === null ? 'no rig' : 'loading'}</p>;
}
const served = (monitorId: string | null | undefined, monitors: unknown) => ({
  'GET /rigs': [monitorId === undefined ? rig : { ...rig, monitorId }],
  'GET /units': units,
  'GET /monitors': monitors,
});

describe('a rig is not shown before its monitor is known', () => {
  it('waits for the list of monitors', async () => {
    let answer: (list: Monitor[]) => void = () => undefined;
    const { asked } = mount(
      <Shown />,
      served('m', () => new Promise((done) => (answer = done))),
    );
    await waitFor(() => expect(asked.map((a) => a.path)).toContain('/monitors'));
    await new Promise((r) => setTimeout(r, 50));
    expect(screen.getByText('loading')).toBeTruthy();
    answer([box]);
    expect(await screen.findByText('Box')).toBeTruthy();
  });

  it('doesn’t wait where none was chosen', async () => {
    mount(
      <Shown />,
      served(undefined, () => new Promise(() => undefined)),
    );
    expect(await screen.findByText('no monitor')).toBeTruthy();
  });

  it('is shown without it where the list can’t be had', async () => {
    mount(<Shown />, served('m', 500));
    expect(await screen.findByText('no monitor')).toBeTruthy();
  });

  it('asks again for one that was described elsewhere since', async () => {
    let times = 0;
    mount(
      <Shown />,
      served('m', () => (times++ === 0 ? [] : [box])),
    );
    expect(await screen.findByText('Box')).toBeTruthy();
    expect(times).toBe(2);
  });

  it('asks once more, not for ever, for one that is gone', async () => {
    let times = 0;
    mount(
      <Shown />,
      served('gone', () => {
        times += 1;
        return [box];
      }),
    );
    expect(await screen.findByText('no monitor')).toBeTruthy();
    await new Promise((r) => setTimeout(r, 100));
    expect(times).toBe(2);
  });
});

/** The first unit’s name, with the ways to ask for it and to change it. */
function Change() {
  const { changeUnit } = useRecords();
  const { data, refetch } = useUnits();
  return (
    <>
      <p>{data?.[0]?.name}</p>
      <button type="button" onClick={() => void refetch()}>
        Ask
      </button>
      <button type="button" onClick={() => void changeUnit('a', (u) => ({ ...u, name: 'Renamed' }))}>
        Change
      </button>
    </>
  );
}

it('a list that was read before a change was stored doesn’t take the change back', async () => {
  const [unit] = units as [Unit, ...Unit[]];
  let answer: () => void = () => undefined;
  let lists = 0;
  const { user } = mount(<Change />, {
    'GET /units': () => (lists++ === 0 ? units : new Promise((done) => (answer = () => done(units)))),
    'PUT /units': ({ body }: { body: Unit }) => ({ ...body, version: body.version + 1 }),
  });
  await screen.findByText(unit.name);
  await user.click(screen.getByText('Ask'));
  await user.click(screen.getByText('Change'));
  expect(await screen.findByText('Renamed')).toBeTruthy();
  answer();
  await new Promise((r) => setTimeout(r, 50));
  expect(screen.getByText('Renamed')).toBeTruthy();
});
