import { screen, waitFor } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { setPreferences } from '../../state/preferences.ts';
import { mount, openAlarm, watchView } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import { FillList } from './FillList.tsx';
import { Handling } from './Handling.tsx';
import { WheelDetail } from './WheelDetail.tsx';
import { WheelTable } from './WheelTable.tsx';

beforeEach(() => setPreferences({ pressure: 'kPa', temp: 'C' }));
const { units } = readyRig();

describe('units', () => {
  it('are disconnected by name, with a way back', async () => {
    const { user, sentTo, toasts } = mount(<Handling view={watchView()} units={units} repeater={false} />, {
      'POST /rigs/r/rest': watchView({ resting: ['B'] }),
    });
    await user.click(screen.getByRole('button', { name: 'Disconnect Trailer' }));
    await waitFor(() => expect(toasts.at(-1)?.text).toBe('Trailer is disconnected. Its wheels won’t alarm.'));
    await toasts.at(-1)?.undo?.();
    await waitFor(() => expect(sentTo('/rigs/r/rest')).toHaveLength(2));
    expect(sentTo('/rigs/r/rest')).toEqual([
      { unit: 'B', resting: true },
      { unit: 'B', resting: false },
    ]);
  });

  it('that rest are connected again', async () => {
    const { user, sentTo, toasts } = mount(<Handling view={watchView({ resting: ['B'] })} units={units} repeater={false} />, {
      'POST /rigs/r/rest': watchView(),
    });
    expect(screen.getByRole('button', { name: 'Disconnect Flatbed' })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Connect Trailer' }));
    expect(sentTo('/rigs/r/rest')).toEqual([{ unit: 'B', resting: false }]);
    await waitFor(() => expect(toasts.at(-1)?.text).toMatch(/Its wheels count once they are heard/));
  });

  it('a rig of one unit has none to disconnect', () => {
    mount(<Handling view={watchView()} units={units.slice(0, 1)} repeater={false} />);
    expect(screen.queryByRole('button', { name: /Disconnect/ })).toBeNull();
  });
});

describe('filling', () => {
  it('leads to the round', () => {
    mount(<Handling view={watchView()} units={units} repeater={false} />);
    expect(screen.getByRole('link', { name: 'Fill tires' }).getAttribute('href')).toBe('/rigs/r/logbook?part=topup');
  });

  it('shows each wheel that is filled with what it reads and what to fill to; never that all is well', () => {
    const view = watchView(
      { topUp: { positions: ['A1L', 'A1R', 'A2LO', 'A2LI', 'B1L'], untilTime: '2026-05-01T08:30:00.000Z' } },
      {
        // By what it should read now: 520.5 kPa, 30 °C in the tire.
        A1L: { pressureKpa: 160, tempC: 30, expectedKpa: 520.5, coldKpa: 500, coldTempC: 20 },
        A1R: { pressureKpa: 500, expectedKpa: 500, coldKpa: 500, coldTempC: 20 },
        A2LO: { pressureKpa: 512, expectedKpa: 500, coldKpa: 500, coldTempC: 20 },
        // Nobody knows its temperature any more: its cold pressure as it was set, and never that it is done.
        A2LI: { pressureKpa: 500, state: 'asleep', coldKpa: 500, coldTempC: 20 },
        B1L: { pressureKpa: 0, tempC: null, coldKpa: null, expectedKpa: null },
      },
    );
    mount(<FillList view={view} />);
    const lines = screen.getAllByRole('listitem').map((l) => l.textContent?.replaceAll('\u00a0', ' '));
    expect(lines).toEqual([
      'A1L160 kPafill to 521 kPa',
      'A1R500 kPadone',
      'A2LO512 kPa12 kPa over',
      'A2LI(500 kPa)fill to 500 kPa',
      'B1L0 kPano cold pressure set',
    ]);
  });

  it('is ended by hand', async () => {
    const view = watchView({ topUp: { positions: ['A1L', 'A1R'], untilTime: '2026-05-01T08:30:00.000Z' } });
    const { user, sentTo } = mount(<Handling view={view} units={units} repeater={false} />, {
      'POST /rigs/r/top-up': watchView(),
    });
    await user.click(screen.getByRole('button', { name: 'End filling A1L, A1R' }));
    expect(sentTo('/rigs/r/top-up')).toEqual([{ positions: [] }]);
  });
});

describe('the repeater’s supply', () => {
  it('is asked for only where there is a repeater', () => {
    mount(<Handling view={watchView()} units={units} repeater={false} />);
    expect(screen.queryByLabelText(/Repeater’s supply/)).toBeNull();
  });

  it('is taken with point or comma, and refused at its field when it can be none', async () => {
    const { user, sentTo } = mount(<Handling view={watchView()} units={units} repeater />, {
      'POST /rigs/r/repeater': watchView(),
    });
    const field = screen.getByLabelText(/Repeater’s supply/);
    const keep = screen.getByRole('button', { name: 'Keep' }) as HTMLButtonElement;
    expect(keep.disabled).toBe(true);
    await user.type(field, '124');
    await user.click(keep);
    expect(screen.getByText('0 to 60 V')).toBeTruthy();
    expect((field as HTMLInputElement).value).toBe('124');
    await user.clear(field);
    await user.type(field, '12,4{Enter}');
    await waitFor(() => expect(sentTo('/rigs/r/repeater')).toEqual([{ volts: 12.4 }]));
    expect(screen.queryByText('0 to 60 V')).toBeNull();
  });
});

describe('all wheels as a table', () => {
  const cellsOf = (position: string) =>
    [...(screen.getByRole('rowheader', { name: position }).closest('tr')?.querySelectorAll('td') ?? [])].map((c) =>
      (c.textContent ?? '').replaceAll('\u00a0', ' '),
    );
  const view = watchView(
    {},
    {
      A1R: { state: 'asleep', ageS: 7200, expectedKpa: null },
      A2LO: { state: 'silent', active: ['silent'] },
      A2LI: { state: 'old', active: ['low'], pressureKpa: 430 },
      A2RI: { state: 'asleep', active: ['low'], pressureKpa: 430 },
      A2RO: { state: 'resting' },
      B1L: { state: 'notHeard', pressureKpa: null, tempC: null, time: null, ageS: null },
      B1R: { state: 'notPaired', sensorId: null, pressureKpa: null, tempC: null, time: null, ageS: null },
    },
  );

  it('gives figures of now plainly, every other in brackets and with its word', () => {
    mount(<WheelTable view={view} connected />);
    expect(cellsOf('A1L').slice(0, 3)).toEqual(['500', 'about 505', '500 at 20 °C']);
    expect(cellsOf('A1L').at(-1)).not.toMatch(/,/);
    const last = (p: string) => [
      cellsOf(p)[0],
      cellsOf(p)[1],
      cellsOf(p)
        .at(-1)
        ?.replace(/^[^,]*/, ''),
    ];
    expect(last('A1R')).toEqual(['(500)', '', ', asleep']);
    expect(last('A2LO')).toEqual(['(500)', '', ', no reading']);
    // An alarm does not make an old figure a live one.
    expect(last('A2LI')).toEqual(['(430)', '', ', old']);
    expect(last('A2RI')).toEqual(['(430)', '', ', asleep']);
    expect(last('A2RO')).toEqual(['(500)', '', ', resting']);
    expect(cellsOf('B1L').at(-1)).toBe('not yet');
    expect(cellsOf('B1R').at(-1)).toBe('no sensor');
  });

  it('with the stream lost no figure is one of now', () => {
    mount(<WheelTable view={view} connected={false} />);
    for (const p of ['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI', 'BS1']) expect(cellsOf(p)[0]).toMatch(/^\(\d+\)$/);
    expect(cellsOf('A2LI').at(-1)).toMatch(/, old$/);
    expect(cellsOf('A1L').at(-1)).toMatch(/, old$/);
  });
});

describe('the detail of a wheel', () => {
  const wheel = {
    pressureKpa: 430,
    heldKpa: 425,
    heldLowKpa: 410,
    heldHighKpa: 440,
    loadMinimumKpa: 450,
    active: ['low' as const, 'slow' as const],
  };
  const view = watchView({}, { A1L: wheel });
  const [w] = view.wheels as [(typeof view.wheels)[number]];
  const show = (alarms: Parameters<typeof WheelDetail>[0]['alarms'], answers: Parameters<typeof mount>[1] = {}) =>
    mount(<WheelDetail onClose={() => undefined} w={w} view={view} words="front axle, left" alarms={alarms} />, answers);

  it('tells sensor, age, what it holds with its span, its load and its limits', () => {
    show([]);
    const text = screen.getByRole('region', { name: 'Wheel A1L' }).textContent?.replaceAll('\u00a0', ' ') ?? '';
    expect(text).toContain('A0 00 00, cap');
    expect(text).toContain('about 425 kPa, surely 410 to 440 at 20 °C');
    expect(text).toContain('450 kPa cold: it cannot carry its load now');
    expect(text).toContain('low at 450 kPa, high at 600 kPa, hot at 70 °C');
  });

  it('shows for each open alarm what it was raised on, and the ended ones as history', () => {
    show([
      openAlarm(),
      openAlarm({
        kind: 'slow',
        severity: 'look',
        limit: 490,
        value: 440,
        worst: 436,
        evidence: {
          heldKpa: 425,
          heldLowKpa: 410,
          heldHighKpa: 440,
          lossKpa: 70,
          rateKpaPerDay: -48,
          rateLowKpaPerDay: -60,
          rateHighKpaPerDay: -36,
        },
      }),
      openAlarm({ kind: 'high', toTime: '2026-05-01T07:55:00.000Z' }),
      openAlarm({ position: 'A1R', kind: 'hot' }),
    ]);
    const low = screen.getByRole('region', { name: 'Evidence: low' }).textContent?.replaceAll('\u00a0', ' ');
    expect(low).toContain('440 kPa, 450 kPa; worst 430');
    const slow = screen.getByRole('region', { name: 'Evidence: slow loss' }).textContent?.replaceAll('\u00a0', ' ');
    expect(slow).toContain('surely 490 kPa before, now at most 436');
    expect(slow).toContain('70 kPa, corrected for temperature');
    expect(slow).toContain('−48 kPa, 95 % −60 to −36');
    expect(screen.queryByRole('region', { name: 'Evidence: high' })).toBeNull();
    const history = screen.getByRole('list', { name: 'Alarms of A1L' });
    expect([...history.querySelectorAll('li span:first-child')].map((s) => s.textContent)).toEqual(['low', 'slow loss', 'high']);
  });

  it('draws its last three hours with the limits', async () => {
    const at = (minutes: number, kpa: number) => {
      const ms = Date.parse(view.time) - minutes * 60_000;
      return { ms, lastMs: ms, lastKpa: kpa, lowKpa: kpa - 2, highKpa: kpa + 2, lastC: 20, lowC: 20, highC: 20 };
    };
    show([], {
      'GET /rigs/r/chart': { stepS: 60, series: [{ position: 'A1L', points: [at(120, 500), at(60, 470), at(1, 430)] }] },
    });
    const picture = await screen.findByRole('img', { name: 'Pressure of A1L, last three hours' });
    expect(picture.querySelectorAll('polyline')).toHaveLength(1);
    // The low limit lies between the last two readings: its line does too (heights grow downwards).
    const heights = (picture.querySelector('polyline')?.getAttribute('points') ?? '')
      .split(' ')
      .map((p) => Number(p.split(',')[1]));
    const limit = Number(picture.querySelector('line')?.getAttribute('y1'));
    expect(heights).toEqual([...heights].sort((a, b) => a - b));
    expect(limit).toBeGreaterThan(heights[1] as number);
    expect(limit).toBeLessThan(heights[2] as number);
    expect(screen.getByText(/428 to 502\skPa/)).toBeTruthy();
  });
});
