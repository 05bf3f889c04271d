import { describe, expect, it } from 'vitest';
import type { WatchEvent } from '../ledger.ts';
import { apart } from './apart.ts';
import { MIN, NOW, rigOf, type Told } from './rig.test-data.ts';
import type { Wheel } from './rule.ts';

// Expected figures are worked by hand beside each test. Ambient 100 kPa, all other wheels at 300 kPa absolute and 20 °C of gas, so the
// middle of the axle is at 293.15 K and a logarithm of 0.05 is 14.66 K of gas.

/** Gauge pressure whose logarithm is this much over the others'. */
const over = (logarithm: number) => 300 * Math.exp(logarithm) - 100;
const heat = (gasC: number, logarithm: number) => ({ gasC, lastKpa: over(logarithm) });

/** Compare the first axle at minutes 0, 1, 2, …: the limits of an alarm must hold for two. */
function compared(wheels: Record<string, Told>, change: Parameters<typeof rigOf>[1] = {}, times = 3) {
  const rig = rigOf(wheels, change);
  const out: WatchEvent[] = [];
  const look = (minutes: number) => {
    // Heard just now, where the test says nothing else.
    for (const w of rig.list) if (wheels[w.position]?.memory?.lastMs === undefined) w.memory.lastMs = NOW + minutes * MIN - 1000;
    apart.compare?.(rig.list[0]?.axle as never, NOW + minutes * MIN, rig, out);
  };
  for (let m = 0; m < times; m += 1) look(m);
  return { rig, out, look, one: out[0] };
}
/** One axle of four wheels, the first of them as told. */
const four = (first: Told, rest: Told[] = [{}, {}, {}]): Record<string, Told> => ({
  A2LO: first,
  A2LI: rest[0] as Told,
  A2RI: rest[1] as Told,
  A2RO: rest[2] as Told,
});

describe('hotter', () => {
  // 20 K by temperature, 14.66 K by pressure: (20 / 0.5625 + 14.66 / 6.25) / (1 / 0.5625 + 1 / 6.25) = 37.90 / 1.9378 = 19.56.
  const hot = four({ memory: heat(40, 0.05) });
  it('is raised after two minutes, on both signs, and says over whom', () => {
    const { out } = compared(hot);
    expect(out).toHaveLength(1);
    expect(out[0]).toMatchObject({
      type: 'raised',
      position: 'A2LO',
      atMs: NOW + 2 * MIN,
      limit: 11,
      value: expect.closeTo(19.56, 2),
      evidence: { how: 'hotter', overTempK: 20, overTwinK: 20, overPressureK: expect.closeTo(14.66, 2), heldKpa: 200 },
    });
    expect(compared(hot, {}, 2).out).toEqual([]);
  });
  it('has no twin where there is none', () => {
    const { one } = compared({ A1L: { memory: heat(40, 0.05) }, A1R: {} });
    expect(one).toMatchObject({ position: 'A1L', evidence: { how: 'hotter' } });
    expect(one?.evidence).not.toHaveProperty('overTwinK');
  });
  it('names the other tire of its own pair', () => {
    // The inner one beside it is at 26 °C: 14 K over the twin, 20 over the middle of the others.
    const { out } = compared(four({ memory: heat(40, 0.05) }, [{ memory: { gasC: 26 } }, {}, {}]));
    expect(out[0]?.evidence).toMatchObject({ overTempK: 20, overTwinK: 14 });
  });
  it('needs 5 K by temperature, whatever the pressure says', () => {
    // A cap: (5 / 36 + 20 / 6.25) / (1 / 36 + 1 / 6.25) = 17.8 K.
    const cap = (overTempK: number) =>
      compared({
        A1L: { kind: 'cap', memory: heat(20 + overTempK, 20 / 293.15) },
        ...{ A1R: { kind: 'cap' }, A1C: { kind: 'cap' } },
      }).out.length;
    expect([cap(5), cap(4.9)]).toEqual([1, 0]);
  });
  it('needs 11 K on both signs', () => {
    const by = (k: number) => compared(four({ memory: heat(20 + k, k / 293.15) })).out.length;
    expect([by(11.001), by(10.99)]).toEqual([1, 0]);
  });
  describe('than wheels that are alone on their axles', () => {
    const alone = (overTempK: number, overPressureK: number) => {
      const { rig, out, look } = compared(
        { A1L: { memory: heat(20 + overTempK, overPressureK / 293.15) }, A1R: {}, A1C: {} },
        {},
        0,
      );
      (rig.list[0] as Wheel).axle.pooled = true;
      for (let m = 0; m < 3; m += 1) look(m);
      return { rig, out, look };
    };
    it('needs 13.5 K on both signs, and 9 by temperature', () => {
      expect(alone(13.501, 13.501).out).toMatchObject([{ kind: 'apart', limit: 13.5 }]);
      expect(alone(13.49, 13.49).out).toEqual([]);
      // A cap: (9 / 36 + 27 / 6.25) / (1 / 36 + 1 / 6.25) = 24.3 K.
      const cap = (k: number) => {
        const told = (memory = {}): Told => ({ kind: 'cap', memory });
        const { rig, out, look } = compared({ A1L: told(heat(20 + k, 27 / 293.15)), A1R: told(), A1C: told() }, {}, 0);
        (rig.list[0] as Wheel).axle.pooled = true;
        for (let m = 0; m < 3; m += 1) look(m);
        return out.length;
      };
      expect([cap(9), cap(8.9)]).toEqual([1, 0]);
    });
    it('ends under 8.1 K', () => {
      const { rig, out, look } = alone(20, 20);
      // 0.6 * 13.5.
      Object.assign(rig.at('A1L').memory, heat(28.11, 8.11 / 293.15));
      look(3);
      expect(out).toHaveLength(1);
      Object.assign(rig.at('A1L').memory, heat(28.09, 8.09 / 293.15));
      look(4);
      expect(out).toMatchObject([{}, { type: 'returned' }]);
    });
  });
  it('grows worse in steps of 2.5 K', () => {
    const { rig, out, look } = compared(hot);
    // 1 K by temperature is 0.917 K on both: (1 / 0.5625) / 1.9378.
    rig.at('A2LO').memory.gasC = 42;
    look(3);
    expect(out).toHaveLength(1);
    expect(rig.at('A2LO').memory.active.apart?.worst).toBeCloseTo(21.39, 2);
    // At 23 K the pressure is taken three sigma under that: 23 - 7.83 = 15.17 K.
    rig.at('A2LO').memory.gasC = 43;
    look(4);
    expect(out[1]).toMatchObject({ type: 'worse', value: expect.closeTo(19.56, 2), worst: expect.closeTo(22.35, 2) });
    // What is less is no news.
    rig.at('A2LO').memory.gasC = 41;
    look(5);
    expect(out).toHaveLength(2);
    expect(rig.at('A2LO').memory.active.apart?.worst).toBeCloseTo(22.35, 2);
  });
  it('returns under 6.6 K, and must last two minutes again', () => {
    const { rig, out, look } = compared(hot);
    const m = rig.at('A2LO').memory;
    Object.assign(m, heat(26.7, 6.7 / 293.15));
    look(3);
    expect(out).toHaveLength(1);
    Object.assign(m, heat(26.5, 6.5 / 293.15));
    look(4);
    expect(out[1]).toMatchObject({ type: 'returned', position: 'A2LO', atMs: NOW + 4 * MIN });
    Object.assign(m, heat(40, 0.05));
    look(5);
    look(6);
    expect(out).toHaveLength(2);
    look(7);
    expect(out[2]).toMatchObject({ type: 'raised', fromMs: NOW + 7 * MIN });
  });
  it('takes out its habit, and is not made by one', () => {
    // Its gas rises a fifth more than the middle's 20 K over the air of 10 °C: 50 - 4 - 30.
    const habit = (riseHabit: number, change: Parameters<typeof rigOf>[1]) => {
      const warm = { memory: heat(30, 0) };
      const { one } = compared(four({ memory: { ...heat(50, 0.066), riseHabit } }, [warm, warm, warm]), change, 3);
      return one?.evidence?.overTempK;
    };
    const around = { moving: null, ambientKpa: 100 };
    expect(habit(0.2, { around: { ...around, airC: 10 } })).toBeCloseTo(16, 6);
    // The guessed air: 16 K of rise. Nothing known: the coolest gas, no rise.
    expect(habit(0.2, { around: { ...around, airC: null }, guessedAir: { tempC: 14, spreadK: 5 } })).toBeCloseTo(16.8, 6);
    expect(habit(0.2, { around: { ...around, airC: null } })).toBeCloseTo(20, 6);
    // Air over the gas is no rise.
    expect(habit(0.2, { around: { ...around, airC: 40 } })).toBeCloseTo(20, 6);
    // A wheel that is usually cooler is 24 K over its habit, and 20 K over the others.
    expect(habit(-0.2, { around: { ...around, airC: 10 } })).toBeCloseTo(20, 6);
  });
});

describe('lower', () => {
  const low = (logarithm: number, overTempK: number, kind: Told['kind'] = 'ideal') =>
    compared({
      A1L: { kind: kind as never, memory: heat(20 + overTempK, logarithm) },
      A1R: { kind: kind as never },
      A1C: { kind: kind as never },
    });
  const ofLeft = ({ out }: ReturnType<typeof low>) => out.filter((e) => e.position === 'A1L');
  it('by 5 % of the absolute pressure, with its figures', () => {
    // 300 * exp(-0.06) = 282.53 absolute: 16.95 kPa under, of a limit of 14.13.
    const { one } = low(-0.06, 0);
    expect(one).toMatchObject({
      position: 'A1L',
      limit: expect.closeTo(-14.13, 2),
      value: expect.closeTo(-16.95, 2),
      evidence: { how: 'lower', overTempK: 0 },
    });
    expect(low(-0.0501, 0).out).toHaveLength(1);
    expect(low(-0.0499, 0).out).toHaveLength(0);
  });
  it('not where the cold explains it', () => {
    // 4 K cooler are 0.0136: 0.0464 are left. 2 K are 0.0068: 0.0532.
    expect(ofLeft(low(-0.06, -4))).toEqual([]);
    expect(low(-0.06, -2).out).toHaveLength(1);
    // Two standard deviations of a cap are 12 K; of an internal sensor 3.
    expect(ofLeft(low(-0.1, -11.9, 'cap'))).toHaveLength(1);
    expect(ofLeft(low(-0.1, -12.1, 'cap'))).toEqual([]);
    expect(ofLeft(low(-0.08, -3.1, 'internal'))).toEqual([]);
    // Where the temperature is the gas's, that is taken out and no more.
    expect(ofLeft(low(-0.12, -13))).toHaveLength(1);
  });
  it('grows worse by 1 psi, and returns at 3 %', () => {
    const { rig, out, look } = low(-0.06, 0);
    const m = rig.at('A1L').memory;
    m.lastKpa = over(-0.08);
    look(3);
    // 300 * exp(-0.08) = 276.93: 22.15 kPa under, 5.2 more than when it was raised.
    expect(out).toHaveLength(1);
    m.lastKpa = over(-0.09);
    look(4);
    expect(out[1]).toMatchObject({ type: 'worse', worst: expect.closeTo(-24.68, 2) });
    m.lastKpa = over(-0.031);
    look(5);
    expect(out).toHaveLength(2);
    m.lastKpa = over(-0.029);
    look(6);
    expect(out[2]).toMatchObject({ type: 'returned' });
  });
  it('outright by 12 %, at its habit, where the temperature is the gas’s', () => {
    const at = (heldKpa: number, kind: Told['kind'] = 'ideal', logarithm = 0) =>
      compared({ A1L: { kind: kind as never, memory: { ...heat(20, logarithm), heldKpa } }, A1R: {}, A1C: {} }).out.length;
    // (164 + 100) / 300 = 0.88.
    expect([at(164), at(164.1)]).toEqual([1, 0]);
    expect(at(150, 'cap')).toBe(0);
    // Over its habit it isn't falling.
    expect(at(150, 'ideal', 0.001)).toBe(0);
    expect(at(150, 'ideal', -0.001)).toBe(1);
  });
  it('the first figures of a wheel are its habit', () => {
    const { rig, out } = compared({ A1L: { memory: { ...heat(20, -0.08), habit: null } }, A1R: {}, A1C: {} });
    expect(out).toEqual([]);
    expect(rig.at('A1L').memory.habit).toBeCloseTo(-0.08, 9);
  });
});

describe('which wheels are compared', () => {
  const hot = { memory: heat(40, 0.05) };
  it.each<[string, Told, number]>([
    ['one heard five minutes ago', { memory: { ...hot.memory, lastMs: NOW - 3 * MIN } }, 1],
    ['one heard longer ago', { memory: { ...hot.memory, lastMs: NOW - 3 * MIN - 1 } }, 0],
    ['one never heard', { memory: { ...hot.memory, lastMs: null } }, 0],
    ['one that is filled', { ...hot, filling: true }, 0],
    ['one whose sensor may be off', { memory: { ...hot.memory, askedMs: NOW } }, 0],
    ['one whose sensor is off', { memory: { ...hot.memory, offSinceMs: NOW } }, 0],
    ['one of a unit that is disconnected', { ...hot, limits: { resting: true } }, 0],
    ['one that waits to be fitted', { ...hot, limits: { waitsFitting: true } }, 0],
  ])('%s', (_, told, alarms) => {
    const { out } = compared({ A1L: told, A1R: {}, A1C: {} });
    expect(out).toHaveLength(alarms);
  });
  it('a sensor just put on is left out among settled ones, and compared among its like', () => {
    const fresh = (told: Told): Told => ({ ...told, memory: { ...told.memory, putOnMs: NOW } });
    expect(compared({ A1L: fresh(hot), A1R: {}, A1C: {} }).out).toEqual([]);
    expect(compared({ A1L: hot, A1R: fresh({}), A1C: {} }).out).toHaveLength(1);
    expect(compared({ A1L: fresh(hot), A1R: fresh({}), A1C: fresh({}) }).out).toHaveLength(1);
    // Alone it has nobody to be compared with.
    expect(compared({ A1L: hot, A1R: fresh({}) }).out).toEqual([]);
  });
  it('the next look is a minute later', () => {
    const { rig } = compared({ A1L: {}, A1R: {} }, {}, 1);
    expect(rig.at('A1L').axle.nextMs).toBe(NOW + MIN);
  });
});

describe('a wheel beside one that loses air', () => {
  /** Two wheels, 20 K apart by temperature and 18.2 K by pressure; the other has lost so much, and this one itself so much. */
  const beside = (lostKpa: number, ownKpa = 0, known = true) =>
    compared({
      A1L: { memory: { ...heat(40, 0.06), bestKpa: known ? 200 : null, bestHeldKpa: 200 + ownKpa } },
      A1R: { memory: { bestKpa: 200, bestHeldKpa: 200 + lostKpa } },
    }).out.map((e) => e.position);
  it('is not hot where the loss explains three tenths of it', () => {
    // The middle of the two is 303.15 K, its own absolute pressure 318.55: 5.73 kPa are 5.457 K, three tenths of 303.15 * 0.06 = 18.19.
    expect(beside(5.7)).toEqual(['A1L']);
    expect(beside(5.8)).toEqual([]);
  });
  it('its own loss is taken off, a gain isn’t', () => {
    expect(beside(15.7, 10)).toEqual(['A1L']);
    expect(beside(15.8, 10)).toEqual([]);
    expect(beside(5.8, -10)).toEqual([]);
    expect(beside(-50)).toEqual(['A1L']);
  });
  it('is hot whatever is unknown', () => {
    expect(beside(30, 0, false)).toEqual(['A1L']);
  });
  it('is not hot where the rest of it isn’t', () => {
    // A cap, 12 K by temperature and 12.2 by pressure (0.0408 * 299.15): (12 / 36 + 12.2 / 6.25) / (1 / 36 + 1 / 6.25) = 12.2. 3.6 kPa of loss are
    // 3.44 K (299.15 * 3.6 / 312.5), under three tenths; without them (12 / 36 + 8.76 / 6.25) / 0.1878 = 9.2.
    const cap = (lostKpa: number) =>
      compared({
        A1L: { kind: 'cap', memory: { ...heat(32, 0.0408), bestKpa: 200, bestHeldKpa: 200 } },
        A1R: { kind: 'cap', memory: { bestKpa: 200, bestHeldKpa: 200 + lostKpa } },
      }).out.length;
    expect([cap(0), cap(1), cap(3.6)]).toEqual([1, 1, 0]);
  });
  const losing = (kind: 'rapid' | 'slow'): Told => ({
    memory: { active: { [kind]: { fromMs: NOW, limit: 0, value: 0, worst: 0 } } },
  });
  it('of a dual pair it is the loss that warms the other, by whichever alarm', () => {
    for (const kind of ['rapid', 'slow'] as const)
      expect(compared(four({ memory: heat(40, 0.05) }, [losing(kind), {}, {}])).out).toEqual([]);
    const lower: Told = {
      memory: { active: { apart: { fromMs: NOW, limit: 0, value: 0, worst: 0, evidence: { how: 'lower' } } } },
    };
    expect(compared(four({ memory: heat(40, 0.05) }, [lower, {}, {}]), {}, 3).out.filter((e) => e.type === 'raised')).toEqual([]);
  });
  it('a wheel of the other side that loses air explains nothing, two of three do', () => {
    expect(compared(four({ memory: heat(40, 0.05) }, [{}, losing('slow'), {}])).out).toHaveLength(1);
    expect(compared(four({ memory: heat(40, 0.05) }, [{}, losing('slow'), losing('rapid')])).out).toEqual([]);
    // One of two others is half.
    expect(compared({ A1L: { memory: heat(40, 0.05) }, A1R: losing('slow'), A1C: {} }).out).toEqual([]);
  });
});

describe('habits', () => {
  /** One look a minute after the last, so many minutes after the habit was learned. */
  const learned = (told: Told, minutes = 1, change: Parameters<typeof rigOf>[1] = {}) => {
    const rig = rigOf({ A1L: told, A1R: { kind: told.kind as never }, A1C: { kind: told.kind as never } }, change);
    const m = rig.at('A1L').memory;
    m.habitMs = NOW - minutes * MIN;
    apart.compare?.(rig.at('A1L').axle, NOW, rig, []);
    return m;
  };
  it('half of a difference is learned in six hours', () => {
    // 0.5 * 1 / 360 of 0.01.
    expect(learned({ memory: heat(20, 0.01) }).habit).toBeCloseTo(0.01 / 720, 12);
    expect(learned({ memory: { ...heat(20, 0.01), habit: 0.002 } }).habit).toBeCloseTo(0.002 + 0.008 / 720, 12);
    expect(learned({ memory: heat(20, 0.01) }).habitMs).toBe(NOW);
  });
  it('a gap counts for five minutes', () => {
    expect(learned({ memory: heat(20, 0.01) }, 4).habit).toBeCloseTo((4 * 0.01) / 720, 12);
    expect(learned({ memory: heat(20, 0.01) }, 600).habit).toBeCloseTo((5 * 0.01) / 720, 12);
  });
  it('not from half of an alarm on', () => {
    // 0.55 * 11 = 6.05 K on both signs; 0.025 of pressure.
    expect(learned({ memory: heat(20 + 6, 6 / 293.15) }).habit).toBeGreaterThan(0);
    expect(learned({ memory: heat(20 + 6.1, 6.1 / 293.15) }).habit).toBe(0);
    expect(learned({ memory: heat(20, 0.0249) }).habit).toBeGreaterThan(0);
    expect(learned({ memory: heat(20, 0.0251) }).habit).toBe(0);
    expect(learned({ memory: heat(20, -0.0251) }).habit).toBe(0);
  });
  it('not while it rings', () => {
    const ringing = (kind: 'rapid' | 'slow' | 'apart' | 'low') =>
      learned({
        memory: {
          ...heat(20, 0.01),
          active: { [kind]: { fromMs: 0, limit: 0, value: 0, worst: 0, evidence: { how: 'lower' as const } } },
        },
      }).habit;
    expect(ringing('rapid')).toBe(0);
    expect(ringing('slow')).toBe(0);
    expect(ringing('apart')).toBe(0);
    expect(ringing('low')).toBeGreaterThan(0);
  });
  it('of the rise: a share of it, from 8 K of rise on, of a sensor that isn’t in the gas', () => {
    // All at 20 °C, this one 2 K over: 0.5 / 360 * 2 / 10 at a rise of 10 K.
    const rise = (airC: number, kind: Told['kind']) =>
      learned({ kind: kind as never, memory: heat(22, 0) }, 1, { around: { airC, moving: null, ambientKpa: 100 } }).riseHabit;
    expect(rise(10, 'cap')).toBeCloseTo(0.2 / 720, 12);
    expect(rise(12, 'cap')).toBeGreaterThan(0);
    expect(rise(12.1, 'cap')).toBe(0);
    expect(rise(10, 'ideal')).toBe(0);
  });
});
