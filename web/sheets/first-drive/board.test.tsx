import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { mount, watchView } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import Board from './Board.tsx';

const STARTED = '2026-04-30T14:00:00.000Z';
const whole = () => {
  const rig = readyRig();
  return { ...rig, rig: { ...rig.rig, firstDrive: { startedAt: STARTED } } };
};
const row = async (position: string) => within((await screen.findByText(position)).closest('tr') as HTMLElement);

describe('the board of a drive that began long ago', () => {
  it('says nothing of a wheel that was heard in its first two hours, later, or never, but what is so', async () => {
    const view = watchView(
      { time: '2026-05-01T14:00:00.000Z' },
      {
        A1L: { time: '2026-05-01T13:59:00.000Z' },
        A1R: { time: '2026-05-01T13:59:00.000Z' },
        // Heard last before the drive began.
        B1L: { time: '2026-04-30T13:00:00.000Z', state: 'silent' },
        B1R: { time: null, pressureKpa: null, state: 'notHeard' },
      },
    );
    mount(
      <Board />,
      {
        'GET /rigs/r/watch': view,
        'GET /rigs/r/readings': {
          readings: [{ position: 'A1L', sensorId: 'A1', time: '2026-04-30T14:03:00.000Z', pressureKpa: 500, tempC: 20 }],
        },
      },
      whole(),
    );
    expect(await (await row('A1L')).findByText(/^after 3 min/)).toBeTruthy();
    expect((await row('A1R')).getByText('after more than 2 h')).toBeTruthy();
    expect((await row('A1R')).queryByRole('button')).toBeNull();
    expect((await row('B1L')).getByText(/^nothing for (1 day|24 h)/)).toBeTruthy();
    expect((await row('B1R')).getByText(/^nothing for (1 day|24 h)/)).toBeTruthy();
    expect(screen.getByText(/^B1L, B1R: not heard\. In this order:$/)).toBeTruthy();
  });

  it('shows what the watch has just heard at once, as soon as it is', async () => {
    // Five minutes after the start; the readings are asked for every five seconds.
    const view = watchView({ time: '2026-04-30T14:05:00.000Z' }, { A1L: { time: '2026-04-30T14:04:00.000Z' } });
    mount(<Board />, { 'GET /rigs/r/watch': view, 'GET /rigs/r/readings': { readings: [] } }, whole());
    expect(await (await row('A1L')).findByText(/^after 4 min/)).toBeTruthy();
  });

  it('counts a step of readings that began before the start', async () => {
    const view = watchView({ time: '2026-04-30T14:20:00.000Z' }, { A1L: { time: null, pressureKpa: null, state: 'notHeard' } });
    const reading = { position: 'A1L', sensorId: 'A1', time: '2026-04-30T13:59:58.000Z', pressureKpa: 500, tempC: 20 };
    mount(<Board />, { 'GET /rigs/r/watch': view, 'GET /rigs/r/readings': { readings: [reading] } }, whole());
    expect(await (await row('A1L')).findByText(/^after 0 s/)).toBeTruthy();
  });

  it('doesn’t worry about anybody before it has the readings', async () => {
    const view = watchView({ time: '2026-05-01T14:00:00.000Z' }, { B1R: { time: null, pressureKpa: null, state: 'notHeard' } });
    mount(<Board />, { 'GET /rigs/r/watch': view, 'GET /rigs/r/readings': () => new Promise(() => undefined) }, whole());
    expect((await row('B1R')).getByText('waiting')).toBeTruthy();
    expect(screen.queryByText(/not heard/)).toBeNull();
  });
});
