import { describe, expect, it } from 'vitest';
import type { WheelLimits } from '../watch/watch.ts';
import { DRILLS, type Drill, playDrill, scoreOf, shuffled } from './drills.ts';
import type { BenchWheelSetup } from './state.ts';

const wheel = (position: string, coldKpa: number, spare = false): BenchWheelSetup => ({
  position,
  coldKpa,
  coldTempC: 20,
  airLitres: 30,
  loadShare: 1,
  twin: null,
  spare,
});
const CAR = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p, 240));
const TOWING = [...CAR, wheel('B1L', 420), wheel('B1R', 420), wheel('BS1', 420, true)];
const MOTORCYCLE = ['A1C', 'A2C'].map((p) => wheel(p, 240));
const limits =
  (setups: readonly BenchWheelSetup[]) =>
  (position: string): WheelLimits => {
    const cold = setups.find((w) => w.position === position)?.coldKpa ?? 240;
    return { lowKpa: cold * 0.9, highKpa: cold * 1.4, hotC: 75, coldKpa: cold, coldTempC: 20, sensorKind: 'cap' };
  };
const drill = (id: Drill['id']) => DRILLS.find((d) => d.id === id) as Drill;
const play = (id: Drill['id'], seed: number, setups = TOWING) => playDrill(drill(id), seed, setups, limits(setups));
const SEEDS = [3, 17, 2026];

describe('the five drills', () => {
  it('each ask two questions with one right answer and a mistake that matters among the others', () => {
    expect(DRILLS).toHaveLength(5);
    for (const d of DRILLS)
      for (const q of d.questions) {
        expect(q.options.filter((o) => o.harm === 'right')).toHaveLength(1);
        expect(q.options.some((o) => o.harm === 'costly' || o.harm === 'dangerous')).toBe(true);
        expect(new Set(q.options.map((o) => o.code)).size).toBe(4);
      }
  });

  it.each(SEEDS)('cold night, seed %i: every tire has dropped alike, no air is lost, and the monitor rings', (seed) => {
    const m = play('coldNight', seed);
    expect(m?.positions.length).toBeGreaterThan(2);
    expect(m && m.beforeAirC - m.airC).toBeCloseTo(20, 6);
    for (const w of m?.wheels ?? []) {
      // 20 K of about 290 take 7 % of the absolute pressure: (240 + 101) * 0.07 = 24 kPa, (420 + 101) * 0.07 = 36 kPa (ideal gas).
      const lost = w.beforeKpa - w.kpa;
      expect(lost).toBeGreaterThan(w.position.startsWith('B') ? 20 : 12);
      expect(lost).toBeLessThan(w.position.startsWith('B') ? 50 : 36);
    }
    expect(m?.wheels.some((w) => w.position === 'BS1')).toBe(false);
  });

  it.each(SEEDS)('nail, seed %i: one wheel has lost air and the others have not', (seed) => {
    const m = play('nail', seed);
    expect(m?.positions).toHaveLength(1);
    expect(m?.kind).toBe('slow');
  });

  it.each(SEEDS)('weak cell, seed %i: one wheel was not heard for over a quarter of an hour, the others just now', (seed) => {
    const m = play('weakCell', seed);
    const [position] = m?.positions ?? [];
    for (const w of m?.wheels ?? []) {
      if (w.position === position) expect(w.ageS).toBeGreaterThan(900);
      else expect(w.ageS).toBeLessThan(240);
    }
    expect(m?.driving).toBe(true);
  });

  it.each(SEEDS)('dragging brake, seed %i: one wheel is the hottest of its axle', (seed) => {
    const m = play('brake', seed);
    const hot = m?.wheels.find((w) => w.position === m.positions[0]);
    const mate = m?.wheels.find((w) => w !== hot && w.position.slice(0, 2) === hot?.position.slice(0, 2));
    expect((hot?.tempC ?? 0) - (mate?.tempC ?? 0)).toBeGreaterThan(3);
  });

  it.each(SEEDS)('burst, seed %i: one wheel has lost over 14 kPa in no time', (seed) => {
    const m = play('burst', seed);
    const gone = m?.wheels.find((w) => w.position === m.positions[0]);
    expect((gone?.beforeKpa ?? 0) - (gone?.kpa ?? 0)).toBeGreaterThan(14);
    expect(m?.driving).toBe(true);
  });

  it('a motorcycle has no axle of two wheels: no brake drill, all the others', () => {
    expect(play('brake', 5, MOTORCYCLE)).toBeNull();
    for (const id of ['coldNight', 'nail', 'weakCell', 'burst'] as const) expect(play(id, 5, MOTORCYCLE)).not.toBeNull();
  });

  it('the same seed plays the same drill', () => {
    expect(play('burst', 9)).toEqual(play('burst', 9));
    expect(play('burst', 9)).not.toEqual(play('burst', 10));
  });
});

describe('the score', () => {
  it('counts mistakes by what they harm; time lost costs nothing, money a point, danger three', () => {
    expect(
      scoreOf({
        coldNight: { means: 'cold', act: 'lowerLimits' },
        nail: { means: 'rubber', act: 'fillAndLook' },
        weakCell: { means: 'burst' },
        burst: {},
      }),
    ).toEqual({ right: 2, asked: 5, mistakes: { idle: 1, costly: 1, dangerous: 1 }, points: 4 });
    expect(scoreOf({}).asked).toBe(0);
  });

  it('options come in another order with another seed, all of them each time', () => {
    const q = drill('burst').questions[1];
    const orders = new Set(
      Array.from({ length: 20 }, (_, seed) =>
        shuffled(q, seed)
          .map((o) => o.code)
          .join(),
      ),
    );
    expect(orders.size).toBeGreaterThan(3);
    for (const o of orders) expect(o.split(',').sort()).toEqual(q.options.map((x) => x.code).sort());
  });
});
