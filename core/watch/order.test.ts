import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Engine } from './engine.ts';
import { type Checkpoint, type LoggedReading, Watch, type WatchEvent, type WatchSnapshot, type WheelLimits } from './watch.ts';

const limits: WheelLimits = { lowKpa: 490, highKpa: 620, hotC: 70, coldKpa: 551, coldTempC: 20 };
const wheels = { A1L: limits, A1R: limits, B1L: { ...limits, sensorKind: 'cap' as const } };

/** Alarms as they stand after all is told: of each the wheel, the kind, from and to. */
function standing(events: readonly WatchEvent[]): string[] {
  const list: { key: string; fromMs: number; toMs: number | null }[] = [];
  for (const e of events) {
    const key = `${e.position} ${e.kind}`;
    if (e.type === 'raised') list.push({ key, fromMs: e.fromMs, toMs: null });
    else if (e.type === 'returned') {
      const a = list.findLast((x) => x.key === key && x.fromMs === e.fromMs);
      if (a) a.toMs = e.atMs;
    } else if (e.type === 'corrected' || e.type === 'withdrawn') {
      const i = list.findLastIndex((x) => x.key === key && x.fromMs === e.oldFromMs);
      expect(i).toBeGreaterThanOrEqual(0);
      const a = list[i] as (typeof list)[number];
      if (e.type === 'withdrawn') list.splice(i, 1);
      else {
        a.fromMs = e.fromMs;
        a.toMs = e.toMs ?? null;
      }
    }
  }
  return list.map((a) => `${a.key} ${a.fromMs} ${a.toMs}`).sort();
}

const reading = fc.record({
  position: fc.constantFrom('A1L', 'A1R', 'B1L'),
  gap: fc.integer({ min: 1, max: 240 }),
  kpa: fc.integer({ min: 470, max: 640 }),
  tempC: fc.integer({ min: 15, max: 75 }),
  late: fc.integer({ min: 0, max: 599 }),
  again: fc.boolean(),
});

/** A watch built from what was stored of another, as after a stop. */
function resumed(watch: Watch, sleepAware: boolean, stored: readonly LoggedReading[]): Watch {
  const snapshot = JSON.parse(JSON.stringify(watch.snapshot())) as WatchSnapshot;
  const checkpoint = JSON.parse(JSON.stringify(watch.checkpoint)) as Checkpoint | null;
  const readings = stored.filter((r) => r.ms >= (checkpoint?.ms ?? 0));
  return new Watch(wheels, { sleepAware }, snapshot, checkpoint ? { checkpoint, readings } : undefined);
}

/** The alarms of readings that arrive in order, and of the same that arrive up to ten minutes late, some twice. */
function bothWays(
  list: readonly { position: string; gap: number; kpa: number; tempC: number; late: number; again: boolean }[],
  sleepAware: boolean,
  stops: (arrival: number) => boolean,
  together = 1,
  markEvery = 1024,
): [string[], string[]] {
  let ms = 1_000_000_000;
  const readings = list.map((r) => {
    ms += r.gap * 1000;
    return { ...r, ms };
  });
  const straight: WatchEvent[] = [];
  const first = new Watch(wheels, { sleepAware });
  for (const r of readings) first.read(r.position, r.ms, r.kpa, r.tempC, straight);
  first.tick(ms + 700_000, straight);
  const arrivals = readings.flatMap((r) => {
    const at = r.ms + r.late * 1000;
    return r.again
      ? [
          { ...r, at },
          { ...r, at: r.ms + 599_500 },
        ]
      : [{ ...r, at }];
  });
  arrivals.sort((a, b) => a.at - b.at);
  const shuffled: WatchEvent[] = [];
  let second = new Watch(wheels, { sleepAware, markEvery });
  const stored = new Map<string, LoggedReading>();
  for (let i = 0; i < arrivals.length; i += together) {
    if (stops(i)) second = resumed(second, sleepAware, [...stored.values()]);
    const batch = arrivals.slice(i, i + together).sort((a, b) => a.ms - b.ms);
    second.together(shuffled, () => {
      for (const r of batch) second.read(r.position, r.ms, r.kpa, r.tempC, shuffled);
    });
    for (const r of batch) stored.set(`${r.position} ${r.ms}`, { ...r, volts: Number.NaN });
  }
  second.tick(ms + 700_000, shuffled);
  return [standing(shuffled), standing(straight)];
}
const readings = fc.array(reading, { minLength: 2, maxLength: 120 });

it('any order of the same readings within ten minutes gives the same alarms', () => {
  fc.assert(
    fc.property(readings, fc.boolean(), (list, sleepAware) => {
      const [shuffled, straight] = bothWays(list, sleepAware, () => false);
      expect(shuffled).toEqual(straight);
    }),
    { numRuns: 300 },
  );
});

it('and so it does when the watch is stopped and taken up again anywhere between', () => {
  fc.assert(
    fc.property(readings, fc.boolean(), fc.integer({ min: 1, max: 40 }), (list, sleepAware, each) => {
      const [shuffled, straight] = bothWays(list, sleepAware, (i) => i % each === 0);
      expect(shuffled).toEqual(straight);
    }),
    { numRuns: 300 },
  );
});

it('and so it does when they are handed in many at a time, with states to go back to close together', () => {
  fc.assert(
    fc.property(
      readings,
      fc.boolean(),
      fc.integer({ min: 2, max: 40 }),
      fc.integer({ min: 1, max: 8 }),
      (list, sleepAware, n, every) => {
        const [shuffled, straight] = bothWays(list, sleepAware, () => false, n, every);
        expect(shuffled).toEqual(straight);
        const [single] = bothWays(list, sleepAware, () => false, 1, every);
        expect(single).toEqual(straight);
      },
    ),
    { numRuns: 300 },
  );
});

describe('what late readings cost', () => {
  const four = Object.fromEntries(['A1L', 'A1R', 'A2L', 'A2R'].map((p) => [p, { ...limits, lowKpa: 480 }]));
  const START = 1_000_000_000;
  /** How many readings the engine was shown while this ran. */
  function shown(work: () => void): number {
    const real = Engine.prototype.read;
    let count = 0;
    Engine.prototype.read = function (this: Engine, ...args) {
      count += 1;
      return real.apply(this, args);
    };
    try {
      work();
    } finally {
      Engine.prototype.read = real;
    }
    return count;
  }

  it('a wheel of four at two a second that hands in nine minutes at once is read again once', () => {
    const watch = new Watch(four, { sleepAware: true });
    const out: WatchEvent[] = [];
    const all = 9 * 60 * 2;
    for (let i = 0; i < all; i += 1) for (const p of ['A1R', 'A2L', 'A2R']) watch.read(p, START + i * 500, 551, 20, out);
    const count = shown(() =>
      watch.together(out, () => {
        for (let i = 0; i < all; i += 1) watch.read('A1L', START + i * 500, 551, 20, out);
      }),
    );
    // All four wheels' nine minutes, once.
    expect(count).toBe(4 * all);
    expect(watch.memory('A1L')?.lastMs).toBe(START + (all - 1) * 500);
    expect(out).toEqual([]);
  });

  it('of two hundred a second every other is 5 s late: that costs the same after ten seconds as after minutes', () => {
    const watch = new Watch(four, { sleepAware: true });
    const out: WatchEvent[] = [];
    const batch = (at: number) => () => {
      for (let i = 0; i < 50; i += 1) watch.read('A1L', START + at * 500 + i * 10 - 5000, 551, 20, out);
      for (let i = 0; i < 50; i += 1) watch.read('A2R', START + at * 500 + i * 10, 551, 20, out);
    };
    let at = 0;
    const run = (seconds: number): number =>
      shown(() => {
        for (const end = at + seconds * 2; at < end; at += 1) watch.together(out, batch(at));
      }) /
      (seconds * 200);
    run(10);
    const [early, , late] = [run(10), run(120), run(10)] as const;
    // With each batch of a hundred the thousand of the last 5 s are read again, and up to two stretches of 1024 before them.
    expect(early).toBeLessThan(32);
    expect(late).toBeLessThan(32);
    expect(out).toEqual([]);
  });

  it('a rig so fast that ten minutes are too much to keep puts them in their place as far as it reaches', () => {
    const watch = new Watch(four, { sleepAware: true, markEvery: 16, mostLogged: 400 });
    const out: WatchEvent[] = [];
    for (let i = 0; i < 4000; i += 1) watch.read('A2R', START + i * 100, 551, 20, out);
    const reach = watch.checkpoint?.ms as number;
    // 400 readings are 40 s; a state to go back to is somewhere in the last third of them.
    expect(START + 399_900 - reach).toBeGreaterThanOrEqual(26_000);
    expect(START + 399_900 - reach).toBeLessThanOrEqual(42_000);
    // A low that is put in its place rises; one older than that still counts, for it is the youngest of its wheel.
    watch.read('A1L', reach + 10_050, 470, 20, out);
    watch.read('A1L', reach + 15_050, 470, 20, out);
    expect(out.filter((e) => e.type === 'raised').map((e) => [e.position, e.kind, e.fromMs])).toEqual([
      ['A1L', 'low', reach + 10_050],
    ]);
    watch.read('A1R', START, 470, 20, out);
    watch.read('A1R', START + 5000, 470, 20, out);
    expect(out.filter((e) => e.type === 'raised' && e.position === 'A1R').map((e) => [e.kind, e.fromMs])).toEqual([
      ['low', START],
    ]);
  });
});
