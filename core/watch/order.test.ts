import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Watch, type WatchEvent, type WheelLimits } from './watch.ts';

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

it('any order of the same readings within ten minutes gives the same alarms', () => {
  const reading = fc.record({
    position: fc.constantFrom('A1L', 'A1R', 'B1L'),
    gap: fc.integer({ min: 1, max: 240 }),
    kpa: fc.integer({ min: 470, max: 640 }),
    tempC: fc.integer({ min: 15, max: 75 }),
    late: fc.integer({ min: 0, max: 599 }),
    again: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(reading, { minLength: 2, maxLength: 120 }), fc.constantFrom(true, false), (list, sleepAware) => {
      let ms = 1_000_000_000;
      const readings = list.map((r) => {
        ms += r.gap * 1000;
        return { ...r, ms };
      });
      const straight: WatchEvent[] = [];
      const first = new Watch(wheels, { sleepAware });
      for (const r of readings) first.read(r.position, r.ms, r.kpa, r.tempC, straight);
      first.tick(ms + 700_000, straight);
      // Each arrives up to ten minutes after its time, some twice.
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
      const second = new Watch(wheels, { sleepAware });
      for (const r of arrivals) second.read(r.position, r.ms, r.kpa, r.tempC, shuffled);
      second.tick(ms + 700_000, shuffled);
      expect(standing(shuffled)).toEqual(standing(straight));
    }),
    { numRuns: 300 },
  );
});
