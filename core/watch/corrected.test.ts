import { describe, expect, it } from 'vitest';
import { compensate } from './compensate.ts';
import type { WatchEvent } from './ledger.ts';
import { Watch } from './watch.ts';

const T0 = Date.parse('2026-07-01T08:00:00Z');
const MIN = 60_000;
const limits = { lowKpa: 380, highKpa: 520, hotC: 90, coldKpa: 420, coldTempC: 20, sensorKind: 'cap' as const };

/** A healthy drive on a display that shows 420 kPa throughout, however warm its caps get. */
const drive = (watch: Watch, out: WatchEvent[], leakKpaPerMin = 0) => {
  for (let i = 0; i <= 90; i += 1)
    for (const p of ['A1L', 'A1R']) {
      const warm = 20 + 20 * (1 - Math.exp(-i / 22));
      watch.read(p, T0 + i * MIN, 420 - (p === 'A1L' ? leakKpaPerMin * i : 0), warm, out);
    }
};

describe('a display that corrects its pressures already', () => {
  it('isn’t corrected twice: a warm tire is no loss, and its cold-equivalent pressure is what it shows', () => {
    const wheels = (correctedToC?: number) => ({ A1L: { ...limits, correctedToC }, A1R: { ...limits, correctedToC } });
    const out: WatchEvent[] = [];
    const watch = new Watch(wheels(20), { sleepAware: false });
    watch.surround({ ambientKpa: 101.325, airC: 20, moving: true });
    drive(watch, out);
    expect(out).toEqual([]);
    expect(watch.memory('A1L')?.heldKpa).toBeCloseTo(420, 6);
    // Corrected twice the same drive would look like a loss of about 60 kPa.
    const twice = new Watch(wheels(), { sleepAware: false });
    twice.surround({ ambientKpa: 101.325, airC: 20, moving: true });
    drive(twice, []);
    expect(twice.memory('A1L')?.heldKpa).toBeLessThan(370);
  });
  it('is brought to the temperature of the cold pressure: shown for 20 °C, set at 8 °C', () => {
    const watch = new Watch({ A1L: { ...limits, coldTempC: 8, correctedToC: 20 } }, { sleepAware: false });
    watch.read('A1L', T0, 420, 35, []);
    // (420 + 101.325) * 281.15 / 293.15 - 101.325.
    expect(watch.memory('A1L')?.heldKpa).toBeCloseTo(398.66, 2);
  });
  it('a real loss is found all the same', () => {
    const out: WatchEvent[] = [];
    const watch = new Watch(
      { A1L: { ...limits, correctedToC: 20 }, A1R: { ...limits, correctedToC: 20 } },
      { sleepAware: false },
    );
    watch.surround({ ambientKpa: 101.325, airC: 20, moving: true });
    drive(watch, out, 0.6);
    expect(out.filter((e) => e.type === 'raised').map((e) => `${e.position} ${e.kind}`)).toContain('A1L slow');
  });
  it('a hot hub is still hotter than the others by what it shows', () => {
    const out: WatchEvent[] = [];
    const watch = new Watch(
      { A1L: { ...limits, correctedToC: 20 }, A1R: { ...limits, correctedToC: 20 } },
      { sleepAware: false },
    );
    watch.surround({ ambientKpa: 101.325, airC: 20, moving: true });
    for (let i = 0; i <= 60; i += 1) {
      watch.read('A1L', T0 + i * MIN, 420, Math.min(60, 25 + i), out);
      watch.read('A1R', T0 + i * MIN, 420, 30, out);
    }
    const found = out.find((e) => e.type === 'raised');
    expect(found).toMatchObject({ position: 'A1L', kind: 'apart', evidence: { how: 'hotter' } });
  });
  it('its charts agree with its watch', () => {
    const series = [{ position: 'A1L', points: [{ lastMs: T0, lastKpa: 420, lastC: 41 }] }];
    expect(compensate(series, { A1L: { ...limits, correctedToC: 20 } }, 20).get('A1L')?.[0]).toBeCloseTo(420, 6);
  });
});
