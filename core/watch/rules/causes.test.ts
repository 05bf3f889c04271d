import { describe, expect, it } from 'vitest';
import { replay } from '../replay.ts';
import { Watch, type WatchEvent, type WheelLimits } from '../watch.ts';

// Gas law by hand, absolute values at 101.325 kPa: each figure is worked out beside its test.
const MIN = 60_000;
const HOUR = 60 * MIN;
const T0 = Date.parse('2026-01-10T06:00:00Z');
const cap: WheelLimits = { lowKpa: 225, highKpa: 300, hotC: 70, coldKpa: 250, coldTempC: 20, sensorKind: 'cap' };
const FOUR = ['A1L', 'A1R', 'A2L', 'A2R'];
const at = (kpa: number, gasC: number, setC = 20) => ((kpa + 101.325) * (gasC + 273.15)) / (setC + 273.15) - 101.325;
const watchOf = (limits: WheelLimits = cap, positions = FOUR) =>
  new Watch(Object.fromEntries(positions.map((p) => [p, limits])), { sleepAware: true });
const of = (events: WatchEvent[], kind: string) => events.filter((e) => e.kind === kind);
const told = (events: WatchEvent[]) => events.map((e) => `${e.type} ${e.position} ${e.kind} ${e.priority}`);

describe('a low by the cold', () => {
  it('is a note with its cold-equivalent pressure: all the air is there', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    // (250 + 101.325) * 265.15 / 293.15 - 101.325 = 216.4 kPa at -8 °C.
    for (const p of FOUR) watch.read(p, T0, 216.4, -8, out);
    expect(told(out)).toEqual(FOUR.map((p) => `raised ${p} low note`));
    expect(out[0]?.evidence?.cause).toBe('weather');
    expect(out[0]?.evidence?.heldKpa).toBeCloseTo(250, 0);
  });
  it('is a stop where air is missing too', () => {
    const out: WatchEvent[] = [];
    // 200 kPa at 12 °C would be 207 at 20 °C: 43 kPa are gone.
    watchOf().read('A1L', T0, 200, 12, out);
    expect(told(out)).toEqual(['raised A1L low stop']);
    expect(out[0]?.evidence?.cause).toBe('air');
  });
  it('is a stop where the tire as it is can’t carry its load, whatever the cause', () => {
    const out: WatchEvent[] = [];
    watchOf({ ...cap, loadMinimumKpa: 220 }).read('A1L', T0, 216.4, -8, out);
    expect(told(out)).toEqual(['raised A1L low stop']);
    expect(out[0]?.evidence?.cause).toBe('weather');
    const fine: WatchEvent[] = [];
    watchOf({ ...cap, loadMinimumKpa: 200 }).read('A1L', T0, 216.4, -8, fine);
    expect(told(fine)).toEqual(['raised A1L low note']);
  });
  it('grows to a stop, and says so, when air goes on the way', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    watch.read('A1L', T0, 216.4, -8, out);
    watch.read('A1L', T0 + 30 * MIN, 190, -8, out);
    const low = of(out, 'low');
    expect(told(low)).toEqual(['raised A1L low note', 'worse A1L low stop']);
    expect(low[1]).toMatchObject({ evidence: { cause: 'air' }, worst: 190 });
  });
  it('of a sensor that shows 15 kPa too little from the start is measured by what it usually shows', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf({ ...cap, sensorKind: 'internal' }, ['A1L']);
    for (let m = 0; m < 60; m += 1) watch.read('A1L', T0 + m * MIN, 234 + (m % 2), 20, out);
    // (235 + 101.325) * 273.15 / 293.15 - 101.325 = 212.1 at 0 °C: 6 % under what it was set to, none under its usual figure.
    watch.read('A1L', T0 + 10 * HOUR, 212, 0, out);
    expect(told(of(out, 'low'))).toEqual(['raised A1L low note']);
  });
  it('without a temperature or a cold pressure is taken at its word', () => {
    const out: WatchEvent[] = [];
    watchOf().read('A1L', T0, 216, Number.NaN, out);
    watchOf({ ...cap, coldKpa: null }).read('A1R', T0, 216, -8, out);
    expect(told(out)).toEqual(['raised A1L low stop', 'raised A1R low stop']);
  });
});

describe('a high by the run', () => {
  it('is a note, added air a look', () => {
    const out: WatchEvent[] = [];
    const ideal = { ...cap, sensorKind: 'ideal' as const };
    // 250 at 20 °C reads 303.1 at 64.3 °C.
    watchOf(ideal).read('A1L', T0, at(250, 64.3), 64.3, out);
    watchOf(ideal).read('A1R', T0, 310, 25, out);
    expect(told(out)).toEqual(['raised A1L high note', 'raised A1R high look']);
    expect(out.map((e) => e.evidence?.cause)).toEqual(['weather', 'air']);
  });
  it('is a look at the tire’s maximum and what a run may add', () => {
    // 20 % over 250 is 300.
    const near = (maxColdKpa: number) => {
      const out: WatchEvent[] = [];
      watchOf({ ...cap, sensorKind: 'ideal', maxColdKpa }).read('A1L', T0, at(250, 64.3), 64.3, out);
      return told(out);
    };
    expect(near(250)).toEqual(['raised A1L high look']);
    expect(near(254)).toEqual(['raised A1L high note']);
  });
});

describe('a sensor taken off at a parked rig', () => {
  it('is a note and a question; rolling it would be a stop', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    for (const p of FOUR) watch.read(p, T0, 250, 20, out);
    watch.read('A1L', T0 + 6 * HOUR, 0, 20, out);
    expect(told(of(out, 'low'))).toEqual(['raised A1L low note']);
    // It stays at nothing: after 20 minutes it isn't believed any more.
    watch.read('A1L', T0 + 6 * HOUR + 21 * MIN, 0, 20, out);
    expect(told(of(out, 'low')).at(-1)).toBe('worse A1L low stop');
    const rolling: WatchEvent[] = [];
    const other = watchOf();
    for (let m = 0; m < 40; m += 1) for (const p of FOUR) other.read(p, T0 + m * MIN, 250, 20, rolling);
    other.read('A1L', T0 + 40 * MIN, 0, 20, rolling);
    expect(told(of(rolling, 'low'))).toEqual(['raised A1L low stop']);
  });
});

describe('coming back', () => {
  const run = (figures: number[], everyMin: number) => {
    const out: WatchEvent[] = [];
    const watch = watchOf({ ...cap, sensorKind: 'internal' }, ['A1L']);
    figures.forEach((kpa, i) => {
      watch.read('A1L', T0 + i * everyMin * MIN, kpa, 20, out);
    });
    return of(out, 'low')
      .filter((e) => e.type !== 'worse')
      .map((e) => `${e.type} ${(e.atMs - T0) / MIN}`);
  };
  it('takes a step and a half of a coarse sensor, or a while', () => {
    // Steps of 6.9 kPa: 224 is low, 231 is one step over it and no return, 237.9 is two.
    expect(run([231, 224.1, 231, 224.1, 231, 224.1, 237.9, 237.9, 237.9], 1)).toEqual(['raised 1', 'returned 8']);
    // Clearly over it, at the cold pressure, it is over at once.
    expect(run([231, 224.1, 250], 1)).toEqual(['raised 1', 'returned 2']);
  });
});

describe('a rapid loss', () => {
  const rapid = (figures: [number, number][]) => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    figures.forEach(([kpa, tempC], i) => {
      for (const p of FOUR) watch.read(p, T0 + i * MIN, p === 'A1L' ? kpa : 250, p === 'A1L' ? tempC : 20, out);
    });
    return of(out, 'rapid').filter((e) => e.type === 'raised').length;
  };
  it('isn’t one step of a coarse sensor', () => {
    expect(
      rapid([
        [258, 20],
        [240.8, 20],
        [258, 20],
        [240.8, 20],
        [240.8, 20],
      ]),
    ).toBe(0);
    // Its step is 17.2 kPa. Two of them are a loss.
    expect(
      rapid([
        [240.8, 20],
        [258, 20],
        [258, 20],
        [240.8, 20],
        [240.8, 20],
      ]),
    ).toBe(0);
    expect(
      rapid([
        [240.8, 20],
        [258, 20],
        [258, 20],
        [240.8, 20],
        [223.6, 20],
      ]),
    ).toBe(1);
  });
  it('isn’t a cap that warms as the wind stops, with no fall of the reading', () => {
    expect(
      rapid([
        [290, 30],
        [290, 34],
        [289, 38],
        [289, 42],
        [288, 46],
      ]),
    ).toBe(0);
    expect(
      rapid([
        [290, 40],
        [290, 40],
        [280, 40],
        [270, 40],
      ]),
    ).toBe(1);
  });
});

describe('a stuck sensor', () => {
  const drive = (minutes: number, frozen: (p: string, m: number) => boolean) => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    for (let m = 0; m <= minutes; m += 1)
      for (const [i, p] of FOUR.entries()) {
        const gas = 10 + 28 * (1 - Math.exp(-m / 22));
        const still = frozen(p, m);
        const shown = 10 + (gas - 10) / 2;
        watch.read(p, T0 + m * MIN + i, still ? 241 : Math.round(at(250, gas)), still ? 12 : Math.round(shown), out);
        watch.tick(T0 + m * MIN + 500, out);
      }
    return out;
  };
  it('is told within a drive, and its neighbour is not hotter', () => {
    const out = drive(60, (p) => p === 'A1L');
    expect(out.filter((e) => e.type === 'raised').map((e) => `${e.position} ${e.kind} ${e.priority}`)).toEqual([
      'A1L stuck look',
    ]);
  });
  it('says something new: then it is over', () => {
    const out = drive(70, (p, m) => p === 'A1L' && m < 50);
    expect(told(of(out, 'stuck'))).toEqual(['raised A1L stuck look', 'returned A1L stuck look']);
  });
  /** A1L sleeps through a warm day in which the others give signs of life, and wakes with the figures it had. @returns what a drive says then */
  const afterSleep = (frozen: (m: number) => boolean) => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    const say = (p: string, ms: number, air: number) => {
      watch.read(p, ms, Math.round(at(250, air)), Math.round(air), out);
    };
    for (let m = 0; m < 10; m += 1) for (const [i, p] of FOUR.entries()) say(p, T0 + m * MIN + i, 12);
    for (let h = 1; h <= 12; h += 1) {
      // 12 °C in the morning and in the evening, 26 °C at noon.
      const air = 12 + 14 * Math.sin((Math.PI * h) / 12);
      for (const [i, p] of FOUR.entries()) if (p !== 'A1L') say(p, T0 + h * 60 * MIN + i, air);
      watch.tick(T0 + h * 60 * MIN + 500, out);
    }
    for (let m = 1; m <= 60; m += 1) {
      const gas = 12 + 28 * (1 - Math.exp(-m / 22));
      for (const [i, p] of FOUR.entries()) say(p, T0 + (720 + m) * MIN + i, p === 'A1L' && frozen(m) ? 12 : gas);
      watch.tick(T0 + (720 + m) * MIN + 500, out);
    }
    return told(of(out, 'stuck'));
  };
  it('isn’t one that slept while the others moved, and wakes with the figures it had', () => {
    expect(afterSleep((m) => m <= 4)).toEqual([]);
  });
  it('is told all the same when it says them through the drive after its sleep', () => {
    expect(afterSleep(() => true)).toEqual(['raised A1L stuck look']);
  });
  it('a rig in balance is none: nothing moves', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    for (let m = 0; m <= 120; m += 1) {
      for (const p of FOUR) watch.read(p, T0 + m * MIN, 280, 35, out);
      watch.tick(T0 + m * MIN, out);
    }
    expect(out).toEqual([]);
  });
});

describe('silence by the state of the rig', () => {
  it('signs of life every eight minutes are a parked rig: a lost one is nothing', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    let ms = T0;
    for (let m = 0; m < 60; m += 1) {
      ms = T0 + m * MIN;
      for (const p of FOUR) watch.read(p, ms, 250, 20, out);
    }
    for (let n = 1; n < 40; n += 1)
      for (const [i, p] of FOUR.entries()) {
        // A1L loses three frames in a row, twice.
        if (p === 'A1L' && (n % 12) - 5 >= 0 && (n % 12) - 5 < 3) continue;
        watch.read(p, ms + n * 8 * MIN + i * 100_000, 250 - (n % 2), 20, out);
        watch.tick(ms + n * 8 * MIN + i * 100_000 + 1000, out);
      }
    expect(of(out, 'silent')).toEqual([]);
  });
  it('a connected unit that was never heard is missed within a quarter of an hour of driving', () => {
    const out: WatchEvent[] = [];
    const watch = new Watch(Object.fromEntries([...FOUR, 'B1L', 'B1R'].map((p) => [p, cap])), { sleepAware: true });
    for (let m = 0; m <= 20; m += 1) {
      for (const p of FOUR) watch.read(p, T0 + m * MIN, 250 + (m % 2), 20, out);
      watch.tick(T0 + m * MIN + 1000, out);
    }
    const silent = of(out, 'silent');
    expect(silent.map((e) => `${e.position} ${e.type}`)).toEqual(['B raised']);
    expect(((silent[0]?.atMs ?? 0) - T0) / MIN).toBeLessThanOrEqual(15);
    watch.read('B1L', T0 + 21 * MIN, 250, 20, out);
    expect(of(out, 'silent').at(-1)?.type).toBe('returned');
    // Disconnected, it isn't missed.
    const rests: WatchEvent[] = [];
    const without = new Watch(
      Object.fromEntries([...FOUR, 'B1L', 'B1R'].map((p) => [p, p.startsWith('B') ? { ...cap, resting: true } : cap])),
      { sleepAware: true },
    );
    for (let m = 0; m <= 20; m += 1) {
      for (const p of FOUR) without.read(p, T0 + m * MIN, 250 + (m % 2), 20, rests);
      without.tick(T0 + m * MIN + 1000, rests);
    }
    expect(rests).toEqual([]);
  });
});

describe('a history handed in piece by piece', () => {
  it('loses no alarm to the clock, which is a day ahead of it', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    const hand = (from: number, to: number) => {
      for (let m = from; m < to; m += 1)
        for (const p of FOUR) if (p !== 'A1L' || m < 5) watch.read(p, T0 + m * MIN, 250 + (m % 2), 20, out);
      watch.tick(T0 + 24 * HOUR, out);
    };
    hand(0, 10);
    hand(10, 20);
    hand(20, 40);
    const silent = of(out, 'silent');
    expect(silent.map((e) => `${e.type} ${e.position}`)).toEqual(['raised A1L']);
    expect(((silent[0]?.atMs ?? 0) - T0) / MIN).toBeLessThan(25);
  });
  it('filling still ends by the clock', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    for (const p of FOUR) watch.read(p, T0, 250, 20, out);
    watch.startTopUp(['A1L'], T0 + 24 * HOUR, out);
    watch.tick(T0 + 24 * HOUR + 31 * MIN, out);
    expect(watch.topUp).toBeNull();
  });
});

describe('heat on axles of one wheel', () => {
  const ride = (hubK: number) => {
    const out: WatchEvent[] = [];
    const watch = watchOf({ ...cap, hotC: null, highKpa: null }, ['A1C', 'A2C']);
    // Three ordinary rides, then one with a hot hub.
    for (let day = 0; day < 4; day += 1)
      for (let m = 0; m <= 60; m += 1)
        for (const [i, p] of ['A1C', 'A2C'].entries()) {
          const rise = 25 * (1 - Math.exp(-m / 22)) + (day === 3 && p === 'A2C' ? hubK * (1 - Math.exp(-m / 10)) : 0);
          watch.read(p, T0 + day * 24 * HOUR + m * MIN + i, Math.round(at(250, 15 + rise)), Math.round(15 + rise / 2), out);
          watch.tick(T0 + day * 24 * HOUR + m * MIN + 500, out);
        }
    return out.filter((e) => e.type === 'raised').map((e) => `${e.position} ${e.kind}`);
  };
  it('is found against the other wheel, and an ordinary ride is quiet', () => {
    expect(ride(0)).toEqual([]);
    expect(ride(35)).toEqual(['A2C apart']);
  });
});

describe('one of an axle is filled', () => {
  it('the other is not lower', () => {
    const out: WatchEvent[] = [];
    const watch = watchOf();
    for (let m = 0; m < 20; m += 1) for (const p of FOUR) watch.read(p, T0 + m * MIN, 235 + (m % 2), 20, out);
    for (let m = 20; m < 40; m += 1)
      for (const p of FOUR)
        watch.read(p, T0 + m * MIN, (p === 'A1L' ? Math.min(265, 235 + 15 * (m - 19)) : 235) + (m % 2), 20, out);
    expect(of(out, 'apart')).toEqual([]);
  });
});

describe('the replay', () => {
  it('tells priority and cause', () => {
    const wheel = { coldKpa: 250, coldTempC: 20, lowKpa: 225, highKpa: 300, hotC: 70 };
    const readings = [
      { position: 'A1L', time: '2026-01-10T06:00:00Z', pressureKpa: 216.4, tempC: -8 },
      { position: 'A1R', time: '2026-01-10T06:00:00Z', pressureKpa: 180, tempC: 15 },
    ];
    expect(replay({ wheels: { A1L: wheel, A1R: wheel }, readings }).alarms).toEqual([
      { position: 'A1L', kind: 'low', fromTime: '2026-01-10T06:00:00Z', toTime: null, priority: 'note', cause: 'weather' },
      { position: 'A1R', kind: 'low', fromTime: '2026-01-10T06:00:00Z', toTime: null, priority: 'stop', cause: 'air' },
    ]);
  });
});
