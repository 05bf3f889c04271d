import { act, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Alarm, WatchView } from '#schema/alarm.ts';
import * as live from '../../data/live.ts';
import { keys } from '../../data/queries.ts';
import * as sound from '../../parts/sound.ts';
import { setPreferences } from '../../state/preferences.ts';
import { mount, openAlarm, watchView } from '../../testing/mount.tsx';
import Caller from './Caller.tsx';
import Drive from './Drive.tsx';
import Watch from './Watch.tsx';

// Charts need a canvas: they are looked at in the browser tests.
vi.mock('./LastHour.tsx', () => ({ default: () => null }));

let state: live.LiveState = 'open';
let rung = 0;
/** The browser gives sound; told when that changes. */
let running = true;
const heard = new Set<() => void>();
beforeEach(() => {
  state = 'open';
  rung = 0;
  setPreferences({ pressure: 'kPa', temp: 'C', sound: false });
  vi.spyOn(live, 'useLiveState').mockImplementation(() => state);
  vi.spyOn(sound, 'ring').mockImplementation(() => {
    rung += 1;
  });
  running = true;
  vi.spyOn(sound, 'soundRunning').mockImplementation(() => running);
  vi.spyOn(sound, 'wakeSound').mockImplementation(async () => {
    running = true;
    for (const l of heard) l();
    return true;
  });
  vi.spyOn(sound, 'onSound').mockImplementation((listener) => {
    heard.add(listener);
    return () => heard.delete(listener);
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const drive = (view: WatchView, alarms: Alarm[] = []) =>
  mount(
    <>
      <Caller rigId="r" />
      <Drive />
    </>,
    { 'GET /rigs/r/watch': view, 'GET /rigs/r/alarms': alarms },
  );
const watch = (view: WatchView, alarms: Alarm[] = [], answers: Parameters<typeof mount>[1] = {}) =>
  mount(<Watch />, { 'GET /rigs/r/watch': view, 'GET /rigs/r/alarms': alarms, 'GET /rigs/r/bench': { open: false }, ...answers });
const wheel = (p: string) => screen.getByRole('img', { name: new RegExp(`^${p}:`) });

describe('the drive view', () => {
  it('shows every rolling wheel, large, unit by unit, and nothing of the spare', async () => {
    drive(watchView());
    await screen.findByText('No alarm is open.');
    expect(screen.getAllByRole('img').map((e) => e.getAttribute('aria-label')?.split(':')[0])).toEqual([
      'A1L',
      'A1R',
      'A2LO',
      'A2LI',
      'A2RI',
      'A2RO',
      'B1L',
      'B1R',
    ]);
    expect([screen.getByText('Flatbed'), screen.getByText('Trailer')]).toHaveLength(2);
    expect(wheel('A1L').textContent?.replaceAll('\u00a0', ' ')).toBe('A1L50022 °C');
  });

  it('puts what asks for a stop over everything', async () => {
    const view = watchView({}, { A2RO: { active: ['rapid'], pressureKpa: 410 }, B1L: { active: ['battery'] } });
    drive(view, [
      openAlarm({ position: 'B1L', kind: 'battery', severity: 'note', limit: 2.7, value: 2.6, worst: 2.6 }),
      openAlarm({ position: 'A2RO', kind: 'rapid', limit: 14, value: 20, worst: 60 }),
    ]);
    await screen.findByText('Stop: A2RO is losing air fast', { selector: 'p > span' });
    expect(document.querySelector('[data-call]')?.getAttribute('data-call')).toBe('stop');
    expect(screen.getByText('and 1 more')).toBeTruthy();
    expect(wheel('A2RO').dataset.ink).toBe('act');
  });

  it('never shows an old figure as one of now', async () => {
    const view = watchView(
      {},
      {
        A1L: { state: 'silent', ageS: 1800, active: ['silent'] },
        A1R: { state: 'asleep', ageS: 7200 },
        A2LO: { state: 'old', ageS: 600, active: ['low'], pressureKpa: 430 },
      },
    );
    drive(view);
    await screen.findByText(/No alarm is open/);
    const text = (p: string) => wheel(p).textContent?.replaceAll('\u00a0', ' ');
    expect(text('A1L')).toBe('A1Lno reading(500)for 30 min');
    expect(text('A1R')).toBe('A1Rasleep(500)2 h old');
    expect(text('A2LO')).toBe('A2LOLOW(430)under 450, 10 min old');
    expect(wheel('A2LO').getAttribute('aria-label')).toMatch(/old value, 10 min old/);
  });

  it('with the stream lost says so, and no figure is one of now', async () => {
    state = 'lost';
    drive(watchView({}, { A1L: { active: ['low'], pressureKpa: 430 } }));
    expect(await screen.findByText(/The stream is lost: no figure here is live/)).toBeTruthy();
    for (const p of ['A1L', 'A1R', 'A2LI', 'B1R']) expect(wheel(p).textContent).toMatch(/\((500|430)\).*heard /);
  });

  it('says that a wheel has no limits to ring by', async () => {
    drive(watchView({}, { A1L: { lowKpa: 375, lowAssumed: true } }));
    expect((await screen.findByText(/No alarm is open/)).textContent).toBe('No alarm is open. Not every wheel has limits.');
  });

  it('says when nothing is heard at all, instead of that all is well', async () => {
    const asleep = Object.fromEntries(watchView().wheels.map((w) => [w.position, { state: 'asleep' as const, ageS: 9000 }]));
    drive(watchView({}, asleep));
    expect(await screen.findByText('Nothing is heard just now.')).toBeTruthy();
    expect(screen.queryByText('No alarm is open.')).toBeNull();
  });

  it('marks what comes from the bench as practice', async () => {
    drive(watchView({ clock: 'bench' }));
    expect(await screen.findByText('Practice: from the bench')).toBeTruthy();
  });

  it('says whether the screen stays awake, and lets go of it', async () => {
    const release = vi.fn();
    const request = vi.fn().mockResolvedValue({ release, addEventListener: () => undefined });
    Object.defineProperty(navigator, 'wakeLock', { value: { request }, configurable: true });
    drive(watchView());
    expect(await screen.findByText(/The screen stays awake/)).toBeTruthy();
    drive(watchView());
    expect(release).toHaveBeenCalled();
    Reflect.deleteProperty(navigator, 'wakeLock');
    drive(watchView());
    expect(await screen.findByText(/This browser may let the screen sleep/)).toBeTruthy();
  });
});

describe('the call', () => {
  const low = openAlarm();
  const view = watchView({}, { A1L: { active: ['low'], pressureKpa: 430 } });

  it('rings only when sound was turned on, and can be tested', async () => {
    const { user } = drive(view, [low]);
    await screen.findAllByText('Stop: A1L is low');
    expect(rung).toBe(0);
    await user.click(screen.getByRole('button', { name: 'Turn sound on' }));
    // Once for the press, so that it is heard that it works, and once for the alarm.
    await waitFor(() => expect(rung).toBe(2));
    await user.click(screen.getByRole('button', { name: 'Test the sound' }));
    expect(rung).toBe(3);
    await user.click(screen.getByRole('button', { name: 'Sound off' }));
    expect(screen.getByRole('button', { name: 'Turn sound on' })).toBeTruthy();
  });

  it('goes on until every part is seen, and a worse one rings again', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    setPreferences({ sound: true });
    const { client } = drive(view, [low]);
    await screen.findAllByText('Stop: A1L is low');
    await waitFor(() => expect(rung).toBe(1));
    await vi.advanceTimersByTimeAsync(8100);
    expect(rung).toBe(3);
    act(() => client.setQueryData(keys.alarms('r'), [{ ...low, acknowledgedAt: view.time }]));
    await vi.advanceTimersByTimeAsync(12_000);
    expect(rung).toBe(3);
    act(() => client.setQueryData(keys.alarms('r'), [{ ...low, worst: 380, acknowledgedAt: null }]));
    await vi.advanceTimersByTimeAsync(50);
    expect(rung).toBe(4);
  });

  it('keeps still while silenced and for what one need only know', async () => {
    setPreferences({ sound: true });
    drive(watchView({ silencedUntil: new Date(Date.now() + 600_000).toISOString() }, { A1L: { active: ['low'] } }), [low]);
    await screen.findByText('sound is off');
    expect(rung).toBe(0);
    drive(watchView(), [openAlarm({ kind: 'battery', severity: 'note', limit: 2.7, value: 2.6, worst: 2.6 })]);
    await screen.findAllByText('The battery of the sensor on A1L is weak');
    expect(rung).toBe(0);
  });

  it('after the page was loaded anew is not taken for on until a press: then it rings', async () => {
    setPreferences({ sound: true });
    running = false;
    const { user } = drive(view, [low]);
    await screen.findAllByText('Stop: A1L is low');
    expect(screen.getByRole('button', { name: 'Turn sound on' })).toBeTruthy();
    expect(rung).toBe(0);
    await user.click(screen.getByText('Flatbed'));
    await waitFor(() => expect(rung).toBe(1));
    expect(screen.getByRole('button', { name: 'Sound off' })).toBeTruthy();
  });

  it('a browser without sound says so and leaves it off', async () => {
    vi.spyOn(sound, 'wakeSound').mockResolvedValue(false);
    const { user, toasts } = drive(view, [low]);
    await user.click(await screen.findByRole('button', { name: 'Turn sound on' }));
    await waitFor(() => expect(toasts.at(-1)?.text).toBe('This browser gives no sound.'));
    expect(screen.getByRole('button', { name: 'Turn sound on' })).toBeTruthy();
  });

  it('the system is told of a new stop when the owner allowed it, not of what was there before', async () => {
    const shown: string[] = [];
    class Told {
      static permission = 'granted';
      constructor(title: string) {
        shown.push(title);
      }
    }
    vi.stubGlobal('Notification', Told);
    const { client } = drive(view, [low]);
    await screen.findAllByText('Stop: A1L is low');
    expect(shown).toEqual([]);
    const rapid = openAlarm({
      position: 'B1R',
      kind: 'rapid',
      limit: 14,
      value: 20,
      worst: 20,
      fromTime: '2026-05-01T08:00:09.000Z',
    });
    act(() => client.setQueryData(keys.alarms('r'), [rapid, low]));
    await waitFor(() => expect(shown).toEqual(['Stop: B1R is losing air fast']));
    act(() => client.setQueryData(keys.alarms('r'), [{ ...rapid, worst: 60 }, low]));
    expect(shown).toHaveLength(1);
    vi.unstubAllGlobals();
  });
});

describe('the sheet', () => {
  const low = openAlarm();
  const look = openAlarm({
    position: 'A2LO',
    kind: 'apart',
    severity: 'look',
    limit: 11,
    value: 20,
    worst: 20,
    evidence: { how: 'hotter' },
  });
  const view = watchView({}, { A1L: { active: ['low'], pressureKpa: 430 }, A2LO: { active: ['apart'] } });

  it('keys: N goes from alarm to alarm, A acknowledges the first unseen, S silences, R types', async () => {
    const { user, asked, sentTo } = watch(view, [low, look], {
      'POST /rigs/r/alarms/': { ...low, acknowledgedAt: view.time },
      'POST /rigs/r/silence': { ...view, silencedUntil: '2026-05-01T08:10:00.000Z' },
    });
    await screen.findByText('2 alarms open');
    await user.keyboard('n');
    expect(await screen.findByRole('region', { name: 'Wheel A1L' })).toBeTruthy();
    expect((document.activeElement as HTMLElement).dataset.position).toBe('A1L');
    await user.keyboard('n');
    expect(await screen.findByRole('region', { name: 'Wheel A2LO' })).toBeTruthy();
    await user.keyboard('a');
    await waitFor(() => expect(asked.some((a) => a.path === `/rigs/r/alarms/${low.id}/acknowledge`)).toBe(true));
    await user.keyboard('s');
    await waitFor(() => expect(sentTo('/rigs/r/silence')).toEqual([{ minutes: 10 }]));
    expect(await screen.findByRole('button', { name: /^Silent until/ })).toBeTruthy();
    await user.keyboard('r');
    expect(await screen.findByRole('dialog', { name: 'Type readings' })).toBeTruthy();
  });

  it('a note is no open alarm, and two lows by the cold are one note', async () => {
    const cold = (position: string) =>
      openAlarm({ position, severity: 'note', evidence: { cause: 'weather', heldKpa: 498, heldLowKpa: 490, heldHighKpa: 505 } });
    watch(watchView({}, { A1L: { noted: ['low'] }, A1R: { noted: ['low'] } }), [cold('A1L'), cold('A1R')]);
    expect(await screen.findByText('No alarm is open, 1 note')).toBeTruthy();
    expect(screen.getByText('2 tires read low because of the cold')).toBeTruthy();
    expect(document.querySelector<HTMLElement>('[data-position="A1L"]')?.dataset.ink).toBe('steady');
  });

  it('says how many are heard, and what to do where none is paired', async () => {
    watch(watchView({}, { A1R: { state: 'silent' }, B1L: { sensorId: null, state: 'notPaired' } }));
    expect(await screen.findByText(/7 of 8 sensors heard in the last 5 min\. Air 20\s°C\./)).toBeTruthy();
    expect(screen.getByText('Every tire that is heard is inside its limits.')).toBeTruthy();
    const bare = Object.fromEntries(
      watchView().wheels.map((w) => [w.position, { sensorId: null, state: 'notPaired' as const, pressureKpa: null, time: null }]),
    );
    watch(watchView({}, bare));
    expect((await screen.findByRole('link', { name: 'Pair the sensors' })).getAttribute('href')).toBe('/rigs/r/pairing');
    expect(screen.getByText(/no alarm can sound\. Check the tires before you drive/)).toBeTruthy();
  });

  it('does not say that all is inside its limits where there are none, but what rings instead', async () => {
    watch(watchView({}, { B1L: { lowKpa: 375, lowAssumed: true }, B1R: { lowKpa: 375, lowAssumed: true } }));
    const box = await screen.findByRole('region', { name: 'Limits that are not set' });
    expect(box.textContent).toMatch(
      /Druckwerk has no low limit for B1. The low alarm sounds only at 25 % below the cold pressure/,
    );
    expect(screen.getByRole('link', { name: 'Set the limits' }).getAttribute('href')).toBe('/rigs/r/alarms');
    expect(screen.queryByText('Every tire that is heard is inside its limits.')).toBeNull();
    expect(screen.getByText('No alarms, but not every wheel has limits.')).toBeTruthy();
    expect(screen.getByRole('row', { name: /^B1L/ }).textContent).toMatch(/not set/);
  });

  it('says so too of a wheel that has not even a cold target, and nothing of one that rests', async () => {
    watch(
      watchView(
        { resting: ['B'] },
        { A1L: { lowKpa: null, coldKpa: null }, B1L: { state: 'resting', lowKpa: null, coldKpa: null } },
      ),
    );
    const box = await screen.findByRole('region', { name: 'Limits that are not set' });
    expect(box.textContent).toMatch(/^There is no low alarm on A1, because no cold pressure is set/);
    expect(screen.getByRole('link', { name: 'Set the pressures' }).getAttribute('href')).toBe('/rigs/r/pressures');
  });

  it('ended alarms are kept in sight as earlier ones', async () => {
    watch(watchView(), [openAlarm({ toTime: '2026-05-01T07:58:00.000Z' })]);
    expect(await screen.findByText('No alarm is open')).toBeTruthy();
    expect(screen.getByText('Earlier').parentElement?.textContent).toMatch(/A1L low/);
  });

  it('tells the server’s own words when it cannot be read', async () => {
    mount(<Watch />, { 'GET /rigs/r/watch': 500 });
    expect(await screen.findByText('The server refuses.')).toBeTruthy();
  });
});
