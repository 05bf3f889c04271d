import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { setPreferences } from '../../state/preferences.ts';
import { mount, watchView } from '../../testing/mount.tsx';
import { readyRig } from '../../testing/rigs.ts';
import { TypedRound } from './TypedRound.tsx';

const ORDER = ['A1L', 'A1R', 'A2RO', 'A2RI', 'A2LI', 'A2LO', 'B1L', 'B1R', 'BS1'];

function round(answers: Parameters<typeof mount>[1] = { 'POST /rigs/r/typed': { accepted: 9, repeated: 0 } }) {
  const whole = readyRig();
  const onClose = vi.fn();
  const m = mount(<TypedRound view={watchView()} wheels={whole.wheels} onClose={onClose} />, answers, whole);
  const field = (p: string) => screen.getByLabelText(new RegExp(`^${p} `)) as HTMLInputElement;
  const order = () => screen.getAllByRole('textbox').map((i) => (i as HTMLInputElement).name.slice(1));
  return { ...m, onClose, field, order };
}

beforeEach(() => {
  localStorage.clear();
  setPreferences({ pressure: 'kPa', temp: 'C' });
});

describe('a typed round', () => {
  it('asks for every wheel once, round the rig as one walks it, the first at once under the hand', () => {
    const { order } = round();
    expect([...order()].sort()).toEqual([...ORDER].sort());
    // Down one side, up the other: the step from wheel to wheel never crosses the rig twice.
    const sides = order()
      .map((p) => (p.includes('L') ? 'L' : p.includes('R') ? 'R' : ''))
      .filter((s) => s !== '');
    expect(sides.filter((s, i) => i > 0 && s !== sides[i - 1])).toHaveLength(1);
    expect((document.activeElement as HTMLInputElement).name).toBe(`p${order()[0]}`);
  });

  it('takes figures and Enter alone, and judges them as readings in kPa', async () => {
    const { user, order, sentTo, onClose, toasts } = round();
    const wheels = order();
    for (const [i] of wheels.entries()) await user.keyboard(`${496 + i}{Enter}`);
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(sentTo('/rigs/r/typed')).toEqual([
      { id: expect.any(String), readings: wheels.map((position, i) => ({ position, pressureKpa: 496 + i, tempC: null })) },
    ]);
    expect(toasts.at(-1)?.text).toBe('9 readings kept and judged.');
  });

  it('leaves out a wheel that shows nothing', async () => {
    const { user, order, sentTo } = round();
    const [first, second, third] = order();
    await user.keyboard('498{Enter}{Enter}501');
    await user.click(screen.getByRole('button', { name: 'Keep 2 of 9' }));
    await waitFor(() => expect(sentTo('/rigs/r/typed')).toHaveLength(1));
    expect((sentTo('/rigs/r/typed')[0] as { readings: { position: string }[] }).readings.map((r) => r.position)).toEqual([
      first,
      third,
    ]);
    expect(second).not.toBe(third);
  });

  it('asks about bar typed for kPa, and takes what was meant by a press', async () => {
    const { user, order, field, sentTo } = round();
    const [first] = order() as [string];
    await user.keyboard('5.02{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/Is 5\.02 in bar\? That would be 502 kPa/);
    // It waits here until that is answered.
    expect((document.activeElement as HTMLInputElement).name).toBe(`p${first}`);
    await user.click(screen.getByRole('button', { name: 'It reads 502 kPa' }));
    expect(field(first).value).toBe('502');
    expect(screen.queryByRole('alert')).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Keep 1 of 9' }));
    await waitFor(() => expect(sentTo('/rigs/r/typed')).toHaveLength(1));
  });

  it('a second Enter says that the odd figure is so', async () => {
    const { user, order } = round();
    const [, second] = order();
    await user.keyboard('300{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/Far from the likely 500 kPa/);
    await user.keyboard('{Enter}');
    expect((document.activeElement as HTMLInputElement).name).toBe(`p${second}`);
  });

  it('will not keep a doubtful figure that was passed by without Enter', async () => {
    const { user, order, sentTo } = round();
    const [first] = order();
    await user.keyboard('5.02{Tab}501');
    await user.click(screen.getByRole('button', { name: 'Keep 2 of 9' }));
    expect(sentTo('/rigs/r/typed')).toEqual([]);
    expect((document.activeElement as HTMLInputElement).name).toBe(`p${first}`);
    expect(screen.getByRole('alert').textContent).toMatch(/Is 5\.02 in bar/);
  });

  it('names a text that is no figure at its field, and keeps the others', async () => {
    const { user, field, order, sentTo } = round();
    const [first] = order() as [string];
    await user.keyboard('4x8{Enter}');
    expect(screen.getByRole('alert').textContent).toBe('4x8 isn’t a number');
    expect(field(first).getAttribute('aria-invalid')).toBe('true');
    await user.click(screen.getByRole('button', { name: 'Keep 1 of 9' }));
    expect(sentTo('/rigs/r/typed')).toEqual([]);
    await user.clear(field(first));
    await user.type(field(first), '99999');
    expect(screen.getByRole('alert').textContent).toBe('99999 no tire holds that');
  });

  it('asks once when every figure is the last one to the digit', async () => {
    const { user, sentTo } = round();
    await user.keyboard('500{Enter}500{Enter}500{Enter}');
    const keep = screen.getByRole('button', { name: 'Keep 3 of 9' });
    await user.click(keep);
    expect(screen.getByRole('alert').textContent).toMatch(/Every figure is the last one/);
    expect(sentTo('/rigs/r/typed')).toEqual([]);
    await user.click(keep);
    await waitFor(() => expect(sentTo('/rigs/r/typed')).toHaveLength(1));
  });

  it('takes temperatures in the owner’s unit when they are shown', async () => {
    setPreferences({ temp: 'F' });
    const { user, order, sentTo } = round();
    const [first] = order() as [string];
    await user.click(screen.getByLabelText('with temperatures'));
    await user.click(screen.getByLabelText(new RegExp(`^${first} `)));
    await user.keyboard('498{Enter}');
    expect((document.activeElement as HTMLInputElement).name).toBe(`t${first}`);
    await user.keyboard('77{Enter}');
    await user.click(screen.getByRole('button', { name: 'Keep 1 of 9' }));
    await waitFor(() => expect(sentTo('/rigs/r/typed')).toHaveLength(1));
    const [{ readings }] = sentTo('/rigs/r/typed') as [{ readings: { tempC: number }[] }];
    // 77 °F is 25 °C.
    expect(readings[0]?.tempC).toBeCloseTo(25, 9);
  });

  it('the unit of the figures is the monitor’s, not the owner’s', async () => {
    const { user, order, sentTo } = round();
    const [first] = order() as [string];
    await user.click(within(screen.getByRole('radiogroup', { name: 'Unit of the figures' })).getByRole('radio', { name: 'psi' }));
    await user.click(screen.getByLabelText(new RegExp(`^${first} `)));
    await user.keyboard('72');
    await user.click(screen.getByRole('button', { name: 'Keep 1 of 9' }));
    await waitFor(() => expect(sentTo('/rigs/r/typed')).toHaveLength(1));
    const [{ readings }] = sentTo('/rigs/r/typed') as [{ readings: { pressureKpa: number }[] }];
    // 72 psi is 496.4 kPa (1 psi = 6.894757 kPa, NIST SP 811 table B.8).
    expect(readings[0]?.pressureKpa).toBeCloseTo(496.4225, 3);
  });

  it('a server that refuses loses nothing of what was typed, nor does a page that is gone', async () => {
    const first = round({ 'POST /rigs/r/typed': 500 });
    await first.user.keyboard('498{Enter}499');
    await first.user.click(screen.getByRole('button', { name: 'Keep 2 of 9' }));
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('The server refuses.'));
    const [p, q] = first.order() as [string, string];
    expect([first.field(p).value, first.field(q).value]).toEqual(['498', '499']);
    const again = round();
    expect([again.field(p).value, again.field(q).value]).toEqual(['498', '499']);
    await again.user.click(screen.getByRole('button', { name: 'Start over' }));
    expect([again.field(p).value, again.field(q).value]).toEqual(['', '']);
  });
});
