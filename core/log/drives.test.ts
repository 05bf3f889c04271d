import { describe, expect, it } from 'vitest';
import { addSensor, advance, createBench } from '#core/bench/bench.ts';
import type { SensorKind } from '#schema/common.ts';
import { drivesOf, type SensorHour } from './drives.ts';

const H = 3_600_000;
const T0 = Date.UTC(2026, 4, 1);

/** Hours of four sensors over some days on the bench: warm days, cold nights, and drives from one hour of the days to another. */
function days(
  kind: SensorKind,
  drives: readonly (readonly [fromH: number, toH: number])[],
  count: number,
  seed: number,
): SensorHour[][] {
  const positions = ['A1L', 'A1R', 'A2L', 'A2R'];
  const bench = createBench({
    seed,
    startMs: T0,
    airC: 10,
    altitudeM: 300,
    wheels: positions.map((position) => ({
      position,
      coldKpa: 250,
      coldTempC: 15,
      airLitres: 30,
      loadShare: 0.9,
      twin: null,
      spare: false,
    })),
  });
  positions.forEach((p, i) => {
    addSensor(bench, `A0000${i}`, kind, p);
  });
  bench.lifeSigns = true;
  const hours = positions.map(() => new Map<number, SensorHour>());
  for (let s = 0; s < count * 86_400; s += 300) {
    const h = s / 3600;
    bench.airC = 10 - 8 * Math.cos(((h % 24) - 3) * (Math.PI / 12));
    bench.kmh = drives.some(([from, to]) => h >= from && h < to) ? 80 : 0;
    for (const f of advance(bench, 300, bench.kmh > 0 ? 5 : 60)) {
      const ms = Math.floor(f.ms / H) * H;
      const map = hours[Number(f.sensorId.at(-1))] as Map<number, SensorHour>;
      const at = map.get(ms) ?? { ms, count: 0, lowC: null, highC: null };
      map.set(ms, at);
      at.count += 1;
      at.lowC = Math.min(at.lowC ?? f.tempC, f.tempC);
      at.highC = Math.max(at.highC ?? f.tempC, f.tempC);
    }
  }
  return hours.map((m) => [...m.values()]);
}

describe('drives in the readings', () => {
  const truth = [
    [8.2, 10.5],
    [15, 15.8],
    [33, 38],
    [80.5, 81.4],
  ] as const;
  it.each(['cap', 'flowThrough', 'internal'] as const)('%s: each is found to the hour, and no warm afternoon is one', (kind) => {
    for (const seed of [1, 2, 3]) {
      const found = drivesOf(days(kind, truth, 5, seed)).map((d) => [(d.fromMs - T0) / H, (d.toMs - T0) / H] as const);
      expect(found).toHaveLength(truth.length);
      for (const [i, [from, to]] of found.entries()) {
        const [began, ended] = truth[i] as readonly [number, number];
        expect(Math.abs(from - began)).toBeLessThanOrEqual(1);
        // Sensors stay awake for up to a quarter of an hour after it.
        expect(to - ended).toBeGreaterThanOrEqual(0);
        expect(to - ended).toBeLessThanOrEqual(1.3);
      }
    }
  });
  const hour = (h: number, count: number, lowC: number | null, highC: number | null): SensorHour => ({
    ms: T0 + h * H,
    count,
    lowC,
    highC,
  });
  it('a kit that sends day and night: only the hours in which most of its tires warm', () => {
    const day = Array.from({ length: 48 }, (_, h) => hour(h, 700, 10, h === 14 || h === 15 ? 20 : 12));
    expect(drivesOf([day, day, day]).map((d) => [(d.fromMs - T0) / H, (d.toMs - T0) / H])).toEqual([[14, 16]]);
  });
  it('one wheel alone that warms is no drive, nor are sensors that merely send', () => {
    const still = [hour(3, 60, 10, 11)];
    expect(drivesOf([[hour(3, 60, 10, 40)], still, still, still])).toEqual([]);
    expect(drivesOf([still, still])).toEqual([]);
    expect(drivesOf([[hour(3, 60, null, null)], [hour(3, 60, null, null)]])).toEqual([]);
    // A motorcycle that was heard by one sensor only.
    expect(drivesOf([[hour(3, 60, 10, 30)]])).toHaveLength(1);
  });
});
