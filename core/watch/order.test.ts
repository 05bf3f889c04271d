import fc from 'fast-check';
import { expect, it } from 'vitest';
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
  let second = new Watch(wheels, { sleepAware });
  const stored = new Map<string, LoggedReading>();
  arrivals.forEach((r, i) => {
    if (stops(i)) second = resumed(second, sleepAware, [...stored.values()]);
    second.read(r.position, r.ms, r.kpa, r.tempC, shuffled);
    stored.set(`${r.position} ${r.ms}`, { ...r, volts: Number.NaN });
  });
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
