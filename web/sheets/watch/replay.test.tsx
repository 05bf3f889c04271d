import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { setPreferences } from '../../state/preferences.ts';
import { mount, watchView } from '../../testing/mount.tsx';
import Replay from './Replay.tsx';

beforeEach(() => setPreferences({ pressure: 'kPa', temp: 'C' }));

const span = { from: '2026-05-01T02:00:00.000Z', to: '2026-05-01T08:00:00.000Z' };
const none = { readings: 120, alarms: [] };
const sheet = (answers: Parameters<typeof mount>[1] = {}) =>
  mount(<Replay />, { 'GET /rigs/r/watch': watchView(), 'GET /rigs/r/span': span, 'POST /rigs/r/replay': none, ...answers });
const limitsSent = (body: unknown) =>
  (body as { limits: Record<string, { lowKpa: number | null; highKpa: number; hotC: number }> }).limits;

describe('would it have rung?', () => {
  it('is asked with today’s limits unless others are written', async () => {
    const { user, sentTo } = sheet();
    await user.click(await screen.findByRole('button', { name: 'Would it have rung?' }));
    expect(await screen.findByText('It would not have rung')).toBeTruthy();
    const [body] = sentTo('/rigs/r/replay') as [{ from: string; to: string }];
    expect([body.from, body.to]).toEqual([span.from, span.to]);
    expect(Object.keys(limitsSent(body))).toHaveLength(9);
    expect(limitsSent(body).A2RI).toEqual({ lowKpa: 450, highKpa: 600, hotC: 70 });
  });

  it('another limit goes for the wheels of its axle alone; an emptied one for none', async () => {
    const { user, sentTo } = sheet();
    const low = await screen.findByLabelText('low of axle A2');
    await user.clear(low);
    await user.type(low, '480');
    await user.clear(screen.getByLabelText('low of axle A1'));
    await user.click(screen.getByRole('button', { name: 'Would it have rung?' }));
    await waitFor(() => expect(sentTo('/rigs/r/replay')).toHaveLength(1));
    const limits = limitsSent(sentTo('/rigs/r/replay')[0]);
    expect(['A2LO', 'A2LI', 'A2RI', 'A2RO'].map((p) => limits[p]?.lowKpa)).toEqual([480, 480, 480, 480]);
    expect([limits.A1L?.lowKpa, limits.B1L?.lowKpa]).toEqual([null, 450]);
    await user.click(screen.getByRole('button', { name: 'Today’s limits' }));
    expect((screen.getByLabelText('low of axle A2') as HTMLInputElement).value).toBe('450');
  });

  it('a text that is no figure is named at its field, and nothing is asked with it', async () => {
    const { user, sentTo } = sheet();
    await user.type(await screen.findByLabelText('hot of axle B1'), 'x');
    expect(screen.getByRole('alert').textContent).toBe('isn’t a number');
    await user.click(screen.getByRole('button', { name: 'Would it have rung?' }));
    expect(sentTo('/rigs/r/replay')).toEqual([]);
  });

  it('says how often, which wheels and when; the answer goes when what it was asked for changes', async () => {
    const alarms = [
      { position: 'A1L', kind: 'low', fromTime: '2026-05-01T05:00:00.000Z', toTime: '2026-05-01T05:10:00.000Z' },
      { position: 'B1R', kind: 'slow', fromTime: '2026-05-01T06:00:00.000Z', toTime: null },
    ];
    const { user } = sheet({ 'POST /rigs/r/replay': { readings: 4321, alarms } });
    await user.click(await screen.findByRole('button', { name: 'Would it have rung?' }));
    expect((await screen.findByText(/It would have rung 2 times/)).textContent).toContain('4,321 readings');
    expect(screen.getByText('A1L low')).toBeTruthy();
    expect(screen.getByText(/to the end$/)).toBeTruthy();
    await user.type(screen.getByLabelText('high of axle A1'), '1');
    expect(screen.queryByText(/It would have rung/)).toBeNull();
  });

  it('without history there is nothing to play, and that is said', async () => {
    sheet({ 'GET /rigs/r/span': { from: null, to: null } });
    expect(await screen.findByText(/Nothing has been heard yet/)).toBeTruthy();
  });
});

describe('the player', () => {
  const readings = Array.from({ length: 25 }, (_, i) => ({
    position: 'A1L',
    time: new Date(Date.parse('2026-05-01T07:00:00Z') + i * 120_000).toISOString(),
    pressureKpa: i < 15 ? 500 : 430,
    tempC: 20,
  }));

  it('shows the plan as the watch would have shown it at the moment chosen, and what had rung by then', async () => {
    const { user } = sheet({ 'GET /rigs/r/readings': { readings } });
    await user.click(await screen.findByRole('button', { name: 'Load the readings and play' }));
    expect(await screen.findByText('Played again: nothing here is live.')).toBeTruthy();
    const to = (iso: string) =>
      fireEvent.change(screen.getByRole('slider', { name: 'Moment' }), { target: { value: String(Date.parse(iso)) } });
    const wheel = () => document.querySelector<HTMLElement>('[data-position="A1L"]');
    to('2026-05-01T07:20:30Z');
    expect(wheel()?.getAttribute('aria-label')).toMatch(/^A1L: 500\skPa, 20\s°C, steady$/);
    const rings = within(screen.getByRole('region', { name: 'What rings in this stretch' }));
    const past = () =>
      rings
        .getAllByRole('button')
        .filter((b) => b.dataset.past)
        .map((b) => b.textContent?.replace(/^.*?\d\d:\d\d /, ''));
    // The trailer is connected and was never heard: that is all so far.
    expect(past()).toEqual(['B not reporting']);
    to('2026-05-01T07:40:30Z');
    expect(wheel()?.dataset.ink).toBe('act');
    expect(past()).toEqual(['B not reporting', 'A1L losing air fast', 'A1L low']);
    // Back again: what had not happened yet has not rung yet.
    to('2026-05-01T07:10:30Z');
    expect(wheel()?.dataset.ink).toBe('steady');
    expect(past()).toEqual([]);
    expect(document.querySelector<HTMLElement>('[data-position="A1R"]')?.dataset.ink).toBe('notHeard');
    // Each can be jumped to.
    await user.click(rings.getByRole('button', { name: /A1L low/ }));
    expect(past()).toContain('A1L low');
    expect(wheel()?.dataset.ink).toBe('act');
  });

  it('says when the stretch holds nothing', async () => {
    const { user } = sheet({ 'GET /rigs/r/readings': { readings: [] } });
    await user.click(await screen.findByRole('button', { name: 'Load the readings and play' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Nothing was heard in that stretch.');
  });
});
