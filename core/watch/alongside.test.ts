import { describe, expect, it } from 'vitest';
import { stateOf } from './view.ts';
import { Watch, type WatchEvent, type WheelLimits } from './watch.ts';

const T0 = Date.UTC(2026, 4, 1, 8);
const MIN = 60_000;
const limits: WheelLimits = { lowKpa: 225, highKpa: 300, hotC: 70, coldKpa: 250, coldTempC: 20, sensorKind: 'cap' };
const CAR = ['A1L', 'A1R', 'A2L', 'A2R'];
const TRAILER = ['B1L', 'B1R'];

/** A car whose trailer is said to be disconnected. */
function rigOf(snapshot?: ConstructorParameters<typeof Watch>[2]) {
  const wheels = Object.fromEntries([...CAR, ...TRAILER].map((p) => [p, p[0] === 'B' ? { ...limits, resting: true } : limits]));
  const watch = new Watch(wheels, { sleepAware: true }, snapshot);
  const out: WatchEvent[] = [];
  return {
    watch,
    wheels,
    out,
    /** Minutes with the car heard, and the trailer's pressure where it is heard too. */
    drive(from: number, to: number, trailer: (m: number) => number | null, car = true) {
      for (let m = from; m < to; m += 1) {
        if (car) for (const p of CAR) watch.read(p, T0 + m * MIN, 250 + (m % 2), 20, out);
        const kpa = trailer(m);
        if (kpa !== null) for (const p of TRAILER) watch.read(p, T0 + m * MIN + 5000, p === 'B1L' ? kpa : 250 + (m % 2), 20, out);
        watch.tick(T0 + m * MIN + 30_000, out);
      }
    },
    alongside: () => watch.memory('B1L')?.alongside === true,
  };
}
const raised = (out: WatchEvent[]) => out.filter((e) => e.type === 'raised').map((e) => `${e.position} ${e.kind}`);

describe('a unit that is said to be disconnected and is on the road all the same', () => {
  it('is watched once it was heard for 20 minutes without a pause: a low tire rings', () => {
    const rig = rigOf();
    rig.drive(0, 20, () => 251);
    expect(rig.alongside()).toBe(false);
    rig.drive(20, 22, () => 251);
    expect(rig.alongside()).toBe(true);
    expect(stateOf(rig.watch.memory('B1L'), T0 + 22 * MIN, true, { resting: true })).toBe('live');
    expect(rig.out).toEqual([]);
    rig.drive(22, 40, (m) => (m > 25 ? 200 : 251));
    expect(raised(rig.out)).toContain('B1L low');
  });

  it('one low from the start rings as soon as it is watched', () => {
    const rig = rigOf();
    rig.drive(0, 24, () => 200);
    expect(raised(rig.out)).toEqual(expect.arrayContaining(['B1L low']));
    expect(rig.out.every((e) => e.atMs >= T0 + 20 * MIN)).toBe(true);
  });

  it('dropped, its sensors may speak for a quarter of an hour more: nothing rings, whatever they say', () => {
    const rig = rigOf();
    rig.drive(0, 16, () => 150);
    rig.drive(16, 90, () => null);
    expect(rig.alongside()).toBe(false);
    expect(rig.out).toEqual([]);
  });

  it('parked in reach it gives a sign of life each 8 minutes: nothing rings', () => {
    const rig = rigOf();
    rig.drive(0, 120, (m) => (m % 8 === 0 ? 150 : null));
    expect(rig.out).toEqual([]);
  });

  it('one sensor alone is another trailer’s neighbour, not a drive', () => {
    const rig = rigOf();
    for (let m = 0; m < 60; m += 1) {
      for (const p of CAR) rig.watch.read(p, T0 + m * MIN, 250 + (m % 2), 20, rig.out);
      rig.watch.read('B1L', T0 + m * MIN + 5000, 150, 20, rig.out);
    }
    expect(rig.alongside()).toBe(false);
    expect(rig.out).toEqual([]);
  });

  it('left behind after all it is no longer watched, its alarms end, and nothing is missed', () => {
    const rig = rigOf();
    rig.drive(0, 30, () => 200);
    expect(raised(rig.out)).toContain('B1L low');
    rig.drive(30, 60, () => null);
    expect(rig.alongside()).toBe(false);
    expect(rig.watch.memory('B1L')?.active).toEqual({});
    expect(raised(rig.out).some((t) => t.endsWith('silent'))).toBe(false);
  });

  it('is remembered over a stop, and forgotten when its owner connects it', () => {
    const rig = rigOf();
    rig.drive(0, 25, () => 251);
    const again = rigOf(JSON.parse(JSON.stringify(rig.watch.snapshot())));
    expect(again.alongside()).toBe(true);
    again.watch.configure(Object.fromEntries(Object.keys(again.wheels).map((p) => [p, limits])), new Set(), again.out);
    expect(again.alongside()).toBe(false);
    again.watch.configure(again.wheels, new Set(), again.out);
    expect(again.alongside()).toBe(false);
  });

  it('a parked rig drives nowhere', () => {
    const rig = rigOf();
    rig.watch.surround({ airC: null, moving: false, ambientKpa: 101.325 });
    rig.drive(0, 40, () => 150);
    expect(rig.alongside()).toBe(false);
    expect(rig.out.filter((e) => e.position.startsWith('B'))).toEqual([]);
  });
});
