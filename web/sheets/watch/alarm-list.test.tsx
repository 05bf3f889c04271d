import { render, screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { groupAlarms } from '#core/watch/group.ts';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import { setPreferences } from '../../state/preferences.ts';
import { mount, openAlarm, watchView } from '../../testing/mount.tsx';
import { AlarmItem, Questions } from './AlarmList.tsx';
import { Announcer } from './Announcer.tsx';

beforeEach(() => setPreferences({ pressure: 'kPa', temp: 'C' }));

function list(open: Alarm[], view: WatchView, answers: Parameters<typeof mount>[1] = {}) {
  const groups = groupAlarms(open, view.wheels);
  const byPosition = new Map(view.wheels.map((w) => [w.position, w]));
  const onSelect = vi.fn();
  const m = mount(
    <ul>
      {groups.map((g) => (
        <AlarmItem key={g.key} group={g} view={view} byPosition={byPosition} onSelect={onSelect} />
      ))}
    </ul>,
    {
      'POST /rigs/r/alarms/': (a: { path: string }) => ({
        ...open.find((x) => a.path.includes(x.id)),
        acknowledgedAt: view.time,
      }),
      ...answers,
    },
  );
  return { ...m, onSelect, items: () => screen.getAllByRole('listitem').filter((li) => li.dataset.alarm) };
}

describe('an alarm on the list', () => {
  const low = openAlarm();
  const slow = openAlarm({
    kind: 'slow',
    severity: 'look',
    limit: 500,
    value: 470,
    worst: 470,
    evidence: {
      lossKpa: 30,
      sinceMs: Date.parse('2026-05-01T06:00:00Z'),
      rateKpaPerDay: -120,
      rateLowKpaPerDay: -150,
      rateHighKpaPerDay: -90,
    },
  });

  it('says what, how much and what to do; several causes on one wheel are one with parts', () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low', 'slow'] } });
    const { items } = list([slow, low], view);
    expect(items()).toHaveLength(1);
    const item = within(items()[0] as HTMLElement);
    expect(item.getByRole('heading').textContent).toBe('Stop: A1L is low');
    expect(item.getByText(/^Reads 430\skPa, low alarm at 450\skPa/)).toBeTruthy();
    expect(item.getByText('Also: slow loss')).toBeTruthy();
    expect(item.getByText(/about 30\skPa lower than at/i)).toBeTruthy();
  });

  it('is acknowledged with all its parts by one press', async () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low', 'slow'] } });
    const { user, asked } = list([slow, low], view);
    await user.click(screen.getByRole('button', { name: 'Acknowledge A1L' }));
    await waitFor(() => expect(asked.filter((a) => a.method === 'POST')).toHaveLength(2));
    expect(asked.map((a) => a.path).sort()).toEqual([low.id, slow.id].map((id) => `/rigs/r/alarms/${id}/acknowledge`).sort());
  });

  it('is shelved with all its parts, for less where one asks for a stop; shelved it says until when', async () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low', 'slow'] } });
    const { user, asked } = list([slow, low], view);
    await user.click(screen.getByText('Shelve A1L for a time'));
    expect(screen.queryByRole('button', { name: 'Shelve for 1 h' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Shelve for 30 min' }));
    await waitFor(() => expect(asked.filter((a) => a.path.endsWith('/shelve'))).toHaveLength(2));
    expect(asked.filter((a) => a.path.endsWith('/shelve')).map((a) => a.body)).toEqual([{ minutes: 30 }, { minutes: 30 }]);
  });

  it('is shelved as a whole only when every part that sounds is, and then until the first end', () => {
    const at = (minutes: number) => new Date(Date.parse('2026-05-01T08:00:00Z') + minutes * 60_000).toISOString();
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low', 'slow'] } });
    const group = (a: Partial<Alarm>, b: Partial<Alarm>) =>
      groupAlarms(
        [
          { ...low, ...a },
          { ...slow, ...b },
        ],
        view.wheels,
      )[0];
    expect(group({ shelvedUntil: at(10) }, {})?.shelvedUntil).toBeNull();
    expect(group({ shelvedUntil: at(10) }, { shelvedUntil: at(5) })?.shelvedUntil).toBe(at(5));
    expect(group({ shelvedUntil: at(10) }, { severity: 'note' })?.shelvedUntil).toBe(at(10));
    render(
      <Announcer
        groups={groupAlarms([{ ...low, shelvedUntil: at(10) }], view.wheels)}
        byPosition={new Map(view.wheels.map((w) => [w.position, w]))}
        now={view.time}
      />,
    );
    expect(screen.getByRole('alert').textContent).toBe('');
  });

  it('keeps its mark once seen, and offers no second acknowledgement', () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low'] } });
    list([{ ...low, acknowledgedAt: view.time }], view);
    expect(screen.getByText(/^Acknowledged/).textContent).toMatch(
      /The mark stays until the cause is gone. If it gets worse, it sounds again/,
    );
    expect(screen.queryByRole('button', { name: /^Acknowledge/ })).toBeNull();
  });

  it('one grown worse after it was seen asks again, for its unseen part alone', async () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low', 'slow'] } });
    const { user, asked } = list([{ ...low, acknowledgedAt: view.time }, slow], view);
    await user.click(screen.getByRole('button', { name: 'Acknowledge A1L' }));
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]?.path).toContain(slow.id);
  });

  it('air let out on purpose is said so, and only where air is said to be lost', async () => {
    const view = watchView({}, { A1L: { active: ['slow'] }, A2LO: { active: ['hot'] } });
    const { user, sentTo } = list([slow, openAlarm({ position: 'A2LO', kind: 'hot', limit: 70, value: 75, worst: 75 })], view, {
      'POST /rigs/r/answer': view,
    });
    const buttons = screen.getAllByRole('button', { name: 'I let that air out' });
    expect(buttons).toHaveLength(1);
    await user.click(buttons[0] as HTMLElement);
    expect(sentTo('/rigs/r/answer')).toEqual([{ position: 'A1L', answer: 'set' }]);
  });

  it('the name of the wheel leads to it', async () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low'] } });
    const { user, onSelect } = list([low], view);
    await user.click(screen.getByRole('button', { name: 'Stop: A1L is low' }));
    expect(onSelect).toHaveBeenCalledWith('A1L');
  });

  it('a unit that went unheard is one alarm, which can be answered by disconnecting it', async () => {
    const view = watchView({ missing: ['B'] });
    const gone = openAlarm({
      position: 'B',
      sensorId: '',
      kind: 'silent',
      severity: 'look',
      limit: 750,
      value: 800,
      worst: 800,
      evidence: { how: 'unit', sinceMs: Date.parse('2026-05-01T07:40:00Z') },
    });
    const { user, items, sentTo } = list([gone], view, { 'POST /rigs/r/rest': view });
    expect(items()).toHaveLength(1);
    expect(screen.getByRole('heading').textContent).toBe('Unit B has stopped reporting');
    await user.click(screen.getByRole('button', { name: 'Disconnect B' }));
    expect(sentTo('/rigs/r/rest')).toEqual([{ unit: 'B', resting: true }]);
  });

  it('a cold morning on all wheels is one notice that asks nobody to stop', () => {
    const cold = Object.fromEntries(
      watchView().wheels.map((w) => [
        w.position,
        { pressureKpa: 445, heldKpa: 500, heldLowKpa: 490, heldHighKpa: 510, active: ['low' as const] },
      ]),
    );
    const view = watchView({}, cold);
    const { items } = list(
      view.wheels.map((w) => openAlarm({ position: w.position })),
      view,
    );
    expect(items()).toHaveLength(1);
    expect(screen.getByRole('heading').textContent).toBe('9 tires read low because of the cold');
    expect(screen.getByRole('button', { name: 'Acknowledge the cold' })).toBeTruthy();
    expect(screen.queryByText(/Slow down gently/)).toBeNull();
  });

  it('a refusal of the server is said, and nothing is marked as seen', async () => {
    const view = watchView({}, { A1L: { pressureKpa: 430, active: ['low'] } });
    const { user, toasts } = list([low], view, { 'POST /rigs/r/alarms/': 503 });
    await user.click(screen.getByRole('button', { name: 'Acknowledge A1L' }));
    await waitFor(() => expect(toasts.at(-1)).toMatchObject({ text: 'The server refuses.', tone: 'error' }));
    expect(screen.getByRole('button', { name: 'Acknowledge A1L' })).toBeTruthy();
  });
});

describe('a disconnected unit whose sensors report as on the road', () => {
  const trailer = (state: 'live' | 'resting') =>
    watchView(
      { resting: ['B'] },
      Object.fromEntries(watchView().wheels.flatMap((w) => (w.position.startsWith('B') ? [[w.position, { state }]] : []))),
    );

  it('is said as soon as one of its wheels is watched, and connected by a press', async () => {
    const { user, sentTo } = mount(<Questions view={trailer('live')} names={new Map([['B', 'Cart']])} />, {
      'POST /rigs/r/rest': watchView(),
    });
    expect(screen.getByText('Cart reports as on the road')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Connect Cart' }));
    expect(sentTo('/rigs/r/rest')).toEqual([{ unit: 'B', resting: false }]);
  });

  it('resting as it should, nothing is said', () => {
    mount(<Questions view={trailer('resting')} />);
    expect(screen.queryByText(/reports as on the road/)).toBeNull();
  });
});

describe('the question whether a sensor was taken off', () => {
  const asked = watchView({}, { A2RO: { pressureKpa: 0, askedTime: '2026-05-01T08:00:00.000Z' } });

  it.each([
    ['Yes, it is off', 'off'],
    ['No, it is on', 'on'],
  ])('%s', async (name, answer) => {
    const { user, sentTo } = mount(<Questions view={asked} />, { 'POST /rigs/r/answer': asked });
    expect(screen.getByText('Did you take the sensor off A2RO?')).toBeTruthy();
    expect(screen.getByText(/so does an empty tire/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name }));
    expect(sentTo('/rigs/r/answer')).toEqual([{ position: 'A2RO', answer }]);
  });

  it('is asked of each wheel by itself, and not without need', () => {
    mount(<Questions view={watchView()} />);
    expect(screen.queryAllByRole('listitem')).toEqual([]);
    mount(
      <Questions
        view={watchView({}, { A1L: { askedTime: '2026-05-01T08:00:00.000Z' }, A1R: { askedTime: '2026-05-01T08:00:00.000Z' } })}
      />,
    );
    expect(screen.getAllByText(/^Did you take/)).toHaveLength(2);
  });

  it('an answered one tells how long it is believed', () => {
    mount(<Questions view={watchView({}, { A1L: { offTime: '2026-05-01T08:00:00.000Z' } })} />);
    expect(
      screen.getByText(/It won’t alarm until it is heard with pressure again, you drive off, or an hour is over/),
    ).toBeTruthy();
  });
});

describe('what a screen reader is told', () => {
  const view = watchView({}, { A1L: { active: ['low'] }, A2LO: { active: ['apart'] } });
  const byPosition = new Map(view.wheels.map((w) => [w.position, w]));
  const show = (open: Alarm[], now = view.time) => (
    <Announcer groups={groupAlarms(open, view.wheels)} byPosition={byPosition} now={now} />
  );
  const apart = openAlarm({
    position: 'A2LO',
    kind: 'apart',
    severity: 'look',
    limit: 11,
    value: 20,
    worst: 20,
    evidence: { how: 'hotter' },
  });

  it('breaks in for what asks for a stop and waits with the rest', () => {
    render(show([openAlarm(), apart]));
    expect(screen.getByRole('alert').textContent).toBe('Stop: A1L is low');
    expect(document.querySelector('[aria-live="polite"]')?.textContent).toBe(
      'A2LO is 20\u00a0°C hotter than the other wheels on its axle',
    );
  });

  it('says nothing anew while time passes, and nothing of what was seen', () => {
    const { rerender } = render(show([openAlarm()]));
    const before = screen.getAllByRole('alert').at(-1)?.textContent;
    rerender(show([openAlarm()], '2026-05-01T08:09:00.000Z'));
    expect(screen.getAllByRole('alert').at(-1)?.textContent).toBe(before);
    rerender(show([openAlarm({ acknowledgedAt: view.time })]));
    expect(screen.getAllByRole('alert').at(-1)?.textContent).toBe('');
  });
});
