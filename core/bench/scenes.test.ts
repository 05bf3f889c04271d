import { describe, expect, it } from 'vitest';
import { SCENE_IDS, type SceneId } from '#schema/bench.ts';
import { FieldError } from '../errors.ts';
import { addSensor, createBench, gasC, gaugeKpa, wheelAt } from './bench.ts';
import { advanceScene, beginScene, endScene, SCENES } from './scenes.ts';
import type { BenchFrame, BenchState } from './state.ts';

const MIN = 60;
const HOUR = 3600;

function rig(seed = 7, positions = ['A1L', 'A1R', 'B1L', 'B1R']): BenchState {
  const state = createBench({
    seed,
    startMs: Date.UTC(2026, 4, 1, 8),
    airC: 15,
    altitudeM: 310,
    wheels: positions.map((position) => ({
      position,
      coldKpa: 500,
      coldTempC: 15,
      airLitres: 50,
      loadShare: 1,
      twin: null,
      spare: position.includes('S'),
    })),
  });
  for (const [i, p] of positions.entries()) addSensor(state, (0xa00000 + i).toString(16).toUpperCase(), 'internal', p);
  return state;
}
const heard = (frames: readonly BenchFrame[], state: BenchState, position: string) => {
  const id = state.sensors.find((s) => s.at === position)?.id;
  return frames.filter((f) => f.sensorId === id);
};

describe('a scene', () => {
  it.each([...SCENE_IDS])('%s: the same seed gives the same frames, another seed others', (id) => {
    const play = (seed: number) => {
      const state = rig(seed);
      beginScene(state, id);
      return JSON.stringify(advanceScene(state, Math.min(40 * MIN, SCENES[id].lengthS), 5));
    };
    expect(play(1)).toBe(play(1));
    expect(play(1)).not.toBe(play(2));
  });

  it('goes on from stored state as if it had never stopped', () => {
    const whole = rig();
    beginScene(whole, 'burst');
    const all = advanceScene(whole, 33 * MIN, 1);
    const state = rig();
    beginScene(state, 'burst');
    const first = advanceScene(state, 30.2 * MIN, 1);
    const again = JSON.parse(JSON.stringify(state)) as BenchState;
    expect([...first, ...advanceScene(again, 2.8 * MIN, 1)]).toEqual(all);
  });

  it('says in words what it is and what a good watch does, for each', () => {
    for (const id of SCENE_IDS) {
      const { title, text, expect: good, lengthS } = SCENES[id];
      expect([title, text, good].every((t) => t.length > 3)).toBe(true);
      expect(lengthS).toBeGreaterThan(0);
    }
    expect(new Set(SCENE_IDS.map((id) => SCENES[id].title)).size).toBe(SCENE_IDS.length);
  });

  it.each<[string, SceneId, string[], string]>([
    ['an axle with two sensors', 'brake', ['A1C', 'A2C'], '/scene needs an axle with two sensors'],
    ['two units', 'lostRepeater', ['A1L', 'A1R'], '/scene needs a rig of two units'],
    ['two units', 'trailerSwapped', ['A1L', 'A1R'], '/scene needs a rig of two units'],
    ['a wheel that rolls', 'nail', ['AS1'], '/scene needs a wheel with a sensor on it'],
  ])('that needs %s says so of a rig without', (_, id, positions, message) => {
    const error = (() => {
      try {
        beginScene(rig(1, positions), id);
        return null;
      } catch (e) {
        return e as FieldError;
      }
    })();
    expect(error).toBeInstanceOf(FieldError);
    expect(`${error?.pointer} ${error?.message}`).toContain(message);
  });

  it('at a wheel that is asked for happens there, and at none that there is not', () => {
    const state = rig();
    expect(beginScene(state, 'nail', 'B1R').at).toBe('B1R');
    expect(() => beginScene(rig(), 'nail', 'C1L')).toThrow();
  });

  it('ends by itself: the road stops, the weather is as it was, a hole stays until it is mended', () => {
    const state = rig();
    beginScene(state, 'burst', 'A1L');
    advanceScene(state, SCENES.burst.lengthS + 60, 2);
    expect(state.scene).toBeUndefined();
    expect([state.kmh, state.airC, state.altitudeM]).toEqual([0, 15, 310]);
    expect(wheelAt(state, 'A1L').holeMm).toBeGreaterThan(0);
    const early = rig();
    beginScene(early, 'climb');
    advanceScene(early, 30 * MIN, 5);
    endScene(early);
    expect([early.kmh, early.airC, early.altitudeM]).toEqual([0, 15, 310]);
  });
});

describe('what the scenes do', () => {
  it('cold night: the air falls by 20 K in ten hours, and no air is lost', () => {
    const state = rig();
    beginScene(state, 'coldNight');
    advanceScene(state, 10 * HOUR, 10);
    expect(state.airC).toBeCloseTo(-5, 1);
    // The gas follows the air with its lag of 38 min: 38 / 60 h at 2 K an hour is 1.3 K behind.
    const w = wheelAt(state, 'A1L');
    expect(gasC(w)).toBeGreaterThan(-5);
    expect(gasC(w)).toBeLessThan(-3);
    expect(w.massKg).toBeCloseTo(wheelAt(rig(), 'A1L').massKg, 9);
  });

  it('climb: up to 1,940 m in an hour, and the air cooler by 6.5 K a kilometre', () => {
    const state = rig();
    beginScene(state, 'climb');
    advanceScene(state, HOUR, 5);
    expect(Math.abs(state.altitudeM - 1940)).toBeLessThan(5);
    // 15 - 0.0065 * 1630.
    expect(state.airC).toBeCloseTo(4.4, 1);
    expect(state.kmh).toBeGreaterThan(0);
  });

  it.each([1, 2, 3])('burst: 100 kPa gone in its 30 seconds, seed %s', (seed) => {
    const state = rig(seed);
    beginScene(state, 'burst', 'A1R');
    advanceScene(state, 30 * MIN, 5);
    const before = gaugeKpa(state, wheelAt(state, 'A1R'));
    advanceScene(state, 31, 1);
    const lost = before - gaugeKpa(state, wheelAt(state, 'A1R'));
    expect(lost).toBeGreaterThan(95);
    expect(lost).toBeLessThan(106);
    expect(gaugeKpa(state, wheelAt(state, 'A1L'))).toBeGreaterThan(480);
  });

  it.each([1, 2, 3])('nail: 2 to 20 kPa an hour as drawn, seed %s', (seed) => {
    const state = rig(seed);
    const run = beginScene(state, 'nail', 'B1L');
    expect(run.size).toBeGreaterThanOrEqual(2);
    expect(run.size).toBeLessThanOrEqual(20);
    // Parked after the first drive, gas and air alike: the loss is the hole's alone.
    advanceScene(state, 6 * HOUR, 10);
    const at = () => wheelAt(state, 'B1L').massKg / wheelAt(state, 'B1R').massKg;
    const then = at();
    advanceScene(state, HOUR, 10);
    const lost = (then - at()) * (500 + 97.66);
    // It slows a little with the pressure that drives it.
    expect(lost / run.size).toBeGreaterThan(0.7);
    expect(lost / run.size).toBeLessThan(1.1);
  });

  it('brake: one hub comes to 60 to 80 K over, its gas takes a third of it, no air is lost', () => {
    const state = rig();
    const run = beginScene(state, 'brake', 'A1L');
    advanceScene(state, 59 * MIN, 2);
    const over = gasC(wheelAt(state, 'A1L')) - gasC(wheelAt(state, 'A1R'));
    expect(over / run.size).toBeGreaterThan(0.28);
    expect(over / run.size).toBeLessThan(0.34);
    expect(wheelAt(state, 'A1L').massKg).toBeCloseTo(wheelAt(state, 'A1R').massKg, 3);
  });

  it('weak cell: 2.5 V in the cold, an hour later nothing is heard of it', () => {
    const state = rig();
    beginScene(state, 'weakCell', 'A1L');
    const frames = advanceScene(state, 55 * MIN, 2);
    expect(heard(frames, state, 'A1L')[0]?.batteryV).toBeCloseTo(2.5, 2);
    advanceScene(state, 6 * MIN, 2);
    const after = advanceScene(state, 30 * MIN, 2);
    expect(heard(after, state, 'A1L')).toEqual([]);
    expect(heard(after, state, 'A1R').length).toBeGreaterThan(10);
  });

  it.each([
    ['lostRepeater', 31, 'B1L', 'A1L'],
    ['trailerSwapped', 31, 'B1R', 'A1R'],
  ] as const)('%s: the rear unit goes unheard, the front is heard as ever', (id, minutes, gone, there) => {
    const state = rig();
    beginScene(state, id);
    advanceScene(state, minutes * MIN, 2);
    const after = advanceScene(state, 20 * MIN, 2);
    expect(heard(after, state, gone)).toEqual([]);
    expect(heard(after, state, there).length).toBeGreaterThan(10);
    endScene(state);
    expect(state.deaf).toEqual([]);
  });

  it('top-up: the sensor comes off, the tire is filled to its target, the sensor goes back on', () => {
    const state = rig();
    wheelAt(state, 'A1L').massKg *= 0.9;
    const id = state.sensors.find((s) => s.at === 'A1L')?.id;
    beginScene(state, 'topUp', 'A1L');
    advanceScene(state, 5 * MIN, 1);
    expect(state.sensors.find((s) => s.id === id)?.at).toBeNull();
    advanceScene(state, 5 * MIN, 1);
    expect(state.sensors.find((s) => s.id === id)?.at).toBe('A1L');
    expect(gaugeKpa(state, wheelAt(state, 'A1L'))).toBeCloseTo(500, 0);
  });

  it('healthy fortnight: twenty drives, real weather, no hole anywhere', () => {
    const state = rig(3, ['A1L', 'A1R']);
    const run = beginScene(state, 'healthyFortnight');
    expect(run.drives).toHaveLength(20);
    for (const [i, d] of run.drives.entries()) {
      expect(d.toS).toBeGreaterThan(d.fromS);
      if (i > 0) expect(d.fromS).toBeGreaterThanOrEqual(run.drives[i - 1]?.toS ?? 0);
    }
    let least = 99;
    let most = -99;
    for (let h = 0; h < 13 * 24; h += 1) {
      advanceScene(state, HOUR, 60);
      least = Math.min(least, state.airC);
      most = Math.max(most, state.airC);
    }
    expect(most - least).toBeGreaterThan(12);
    expect(state.wheels.every((w) => w.holeMm === 0)).toBe(true);
  });
});
