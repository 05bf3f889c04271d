import { describe, expect, it } from 'vitest';
import { watchView } from '../../../testing/mount.tsx';
import { plainFormat, readyRig } from '../../../testing/rigs.ts';
import { addWords, byWords, fillWheels, freshRound, nextOf, queueOf, shortOnes, typedKpa } from './round.ts';

describe('which wheels a round fills', () => {
  const view = watchView(
    { airC: null },
    {
      // 505 is what it should read: 20 short, and 5 that are within 1 psi.
      A1L: { pressureKpa: 485 },
      A1R: { pressureKpa: 500 },
      // Old and hot: it reads its figure, yet holds 30 kPa less than its cold pressure.
      A2LO: { state: 'asleep', pressureKpa: 505, heldKpa: 470 },
      A2LI: { state: 'asleep', pressureKpa: 480, heldKpa: 499 },
      A2RI: { pressureKpa: null, state: 'notHeard' },
      A2RO: { pressureKpa: 200, askedTime: '2026-05-01T08:00:00.000Z', heldKpa: null },
      B1R: { pressureKpa: 0, offTime: '2026-05-01T08:00:00.000Z', heldKpa: 0 },
      B1L: { coldKpa: null, expectedKpa: null },
    },
  );
  const list = fillWheels(view, readyRig(), null);
  it('those that are short, like temperatures compared', () => {
    expect(shortOnes(list)).toEqual(['A1L', 'A2LO']);
    expect(list.find((w) => w.view.position === 'A2LO')).toMatchObject({
      shortKpa: 30,
      fresh: false,
      figure: { by: 'none', kpa: 500 },
    });
    expect(list.find((w) => w.view.position === 'A2RO')).toMatchObject({ shortKpa: null, fresh: false });
    expect(list.find((w) => w.view.position === 'B1L')).toMatchObject({ shortKpa: null, figure: null });
  });
  it('say what they need; an old reading only what they needed', () => {
    const f = plainFormat('kPa', 'C');
    const words = (p: string) => {
      const w = list.find((x) => x.view.position === p);
      return w && addWords(w, f);
    };
    // 20 kPa short, within 1 psi, 30 short when it was heard, 1 short then, and never heard.
    expect(['A1L', 'A1R', 'A2LO', 'A2LI', 'A2RI'].map(words)).toEqual([
      '20 kPa',
      'right',
      '(30 kPa)',
      'was right, colder then',
      '–',
    ]);
    const figure = { kpa: 505, by: 'air', tempC: 11, spreadKpa: 0 } as const;
    expect(addWords({ shortKpa: -12, fresh: true, nowKpa: 517, figure }, f)).toBe('12 kPa over');
    expect(addWords({ shortKpa: -12, fresh: false, nowKpa: 530, figure }, f)).toBe('(12 kPa over)');
    // Within 1 psi of its cold pressure when it was heard, and then 25 kPa over what it would read now.
    expect(addWords({ shortKpa: 1, fresh: false, nowKpa: 530, figure }, f)).toBe('was right, warmer then');
    expect(addWords({ shortKpa: 1, fresh: false, nowKpa: 503, figure }, f)).toBe('was right');
  });
  it('with what its figure goes by, and how old a reading is', () => {
    const f = { temperature: (c: number) => `${c} °C` };
    const wheel = (position: string) => list.find((w) => w.view.position === position) as (typeof list)[number];
    const by = (w: (typeof list)[number], how: 'tire' | 'air' | 'none') =>
      byWords({ ...w, figure: { kpa: 505, by: how, tempC: 11, spreadKpa: 0 } }, f);
    expect(by(wheel('A1L'), 'tire')).toBe('its own 11 °C');
    expect(by({ ...wheel('A2LO'), view: { ...wheel('A2LO').view, ageS: 2460 } }, 'air')).toBe(
      'air 11 °C, if it is cold; reading 41 min old',
    );
    expect(by({ ...wheel('A2RI'), view: { ...wheel('A2RI').view, ageS: 2460 } }, 'none')).toBe('as set, 11 °C');
    expect(byWords({ ...wheel('B1L'), figure: null }, f)).toBe('no cold pressure set');
  });
  it('in the order that was chosen', () => {
    expect(queueOf(list, ['A1L', 'A2LO'], 'lowest', readyRig())).toEqual(['A2LO', 'A1L']);
    // Across the front is 4 m, down the rig and back up over 20.
    expect(queueOf(list, ['BS1', 'A1R', 'A1L'], 'walk', readyRig())).toEqual(['A1L', 'A1R', 'BS1']);
  });
  it('goes on after the last one to those that were passed', () => {
    const round = { ...freshRound(), queue: ['A', 'B', 'C'] };
    const done = { how: 'filled' as const, beforeKpa: 1, afterKpa: 2, at: '' };
    expect(nextOf({ ...round, done: { C: done } }, 'C')).toBe('A');
    expect(nextOf({ ...round, done: { A: done, C: done } }, 'C')).toBe('B');
    expect(nextOf({ ...round, done: { A: done, B: done, C: done } }, 'C')).toBeNull();
  });
  it('takes point and comma, and no pressure that no tire has', () => {
    expect(typedKpa('2,5', 'bar')).toBe(250);
    expect(typedKpa(' ', 'bar')).toBeUndefined();
    for (const text of ['x', '0', '-3', '20']) expect(typedKpa(text, 'bar')).toBeNull();
  });
});
