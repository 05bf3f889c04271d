import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { between, normal, type RandomState } from '../bench/random.ts';
import { daysUntil, leaksOf, type RestPoint, senSlope, sinceFilled } from './history.ts';

/** Kept as the other program printed it. */
const scipy = JSON.parse(readFileSync(join(import.meta.dirname, 'theil-sen.test-data.json'), 'utf8')) as {
  source: string;
  sets: { name: string; days: number[]; kpa: number[]; slope: number; low: number; high: number }[];
};

const DAY = 86_400_000;
const T0 = Date.UTC(2026, 0, 1, 6);
const points = (days: readonly number[], kpa: readonly number[]): RestPoint[] =>
  days.map((d, i) => ({ ms: T0 + d * DAY, kpa: kpa[i] as number }));

describe(`slopes against ${scipy.source}`, () => {
  it.each(scipy.sets.map((s) => [s.name, s] as const))('%s', (_, s) => {
    const slope = senSlope(points(s.days, s.kpa));
    expect(slope?.perDay).toBeCloseTo(s.slope, 9);
    expect(slope?.lowPerDay).toBeCloseTo(s.low, 9);
    expect(slope?.highPerDay).toBeCloseTo(s.high, 9);
  });
  it('four points say nothing', () => {
    expect(senSlope(points([0, 1, 2, 3], [4, 3, 2, 1]))).toBeNull();
  });
});

describe('air that was put in', () => {
  const falling = (n: number, from: number) => Array.from({ length: n }, (_, i) => from - i);
  it('begins the stretch anew; one high reading does not', () => {
    const days = Array.from({ length: 20 }, (_, i) => i);
    const kpa = [...falling(10, 250), ...falling(10, 252)];
    const { points: last, fills } = sinceFilled(points(days, kpa));
    expect(fills.map((x) => x.ms)).toEqual([T0 + 10 * DAY]);
    expect(last).toHaveLength(10);
    const bad = [...falling(10, 250)];
    bad[5] = 290;
    expect(sinceFilled(points(days.slice(0, 10), bad)).fills).toEqual([]);
  });
});

/** A history: a loss, noise, a yearly wave that was not taken out, a filling, one bad reading. */
function history(seed: number): { points: RestPoint[]; perDay: number } {
  const r: RandomState = { s: seed >>> 0 };
  const perDay = -between(r, 0, 2.5);
  const n = 20 + Math.floor(between(r, 0, 50));
  const filledAt = Math.floor(between(r, 2, n / 3));
  const bad = filledAt + 3 + Math.floor(between(r, 0, n - filledAt - 4));
  const noise = between(r, 0.5, 2.5);
  let held = between(r, 220, 520);
  const out: RestPoint[] = [];
  for (let d = 0; d < n; d += 1) {
    held += perDay;
    if (d === filledAt) held += 45;
    const kpa = held + noise * normal(r);
    out.push({ ms: T0 + (d + between(r, -0.1, 0.1)) * DAY, kpa: d === bad ? kpa - 60 : kpa });
  }
  return { points: out, perDay };
}

describe('500 histories drawn at run time, with a filling and a bad reading each', () => {
  const seed = Math.floor(Math.random() * 2 ** 31);
  it(`from ${seed}: the true rate lies in the interval in 92 to 98 of 100`, () => {
    let inside = 0;
    for (let i = 0; i < 500; i += 1) {
      const h = history(seed + i * 2_654_435_761);
      const slope = senSlope(sinceFilled(h.points).points);
      if (slope && slope.lowPerDay <= h.perDay && h.perDay <= slope.highPerDay) inside += 1;
    }
    // 95 % of 500 has a standard error of 1 %.
    expect(inside).toBeGreaterThanOrEqual(460);
    expect(inside).toBeLessThanOrEqual(490);
  });
});

describe('verdicts on a rig', () => {
  const wheel = (position: string, perDay: number, n = 30, kpa = 250) => ({
    position,
    points: points(
      Array.from({ length: n }, (_, i) => i),
      Array.from({ length: n }, (_, i) => kpa + perDay * i + (i % 3) * 0.3),
    ),
  });
  const verdicts = (...wheels: ReturnType<typeof wheel>[]) => leaksOf(wheels).map((w) => w.verdict);
  // Rubber lets through at most 3 % a month: 0.25 kPa a day of 250.
  it('rubber’s own loss is no leak, more is', () => {
    expect(verdicts(wheel('A1L', -0.2), wheel('A1R', -0.2), wheel('A2L', -0.2), wheel('A2R', -1))).toEqual([
      'holding',
      'holding',
      'holding',
      'leaking',
    ]);
  });
  it('what all lose alike is common: a gauge, a sensor’s temperature, not four nails', () => {
    expect(verdicts(...['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p, -1)))).toEqual(['common', 'common', 'common', 'common']);
    // Two wheels have nothing in common yet.
    expect(verdicts(wheel('A1C', -1), wheel('A2C', -1))).toEqual(['leaking', 'leaking']);
  });
  it('a warm start of the whole rig is no filling, and one wheel that is filled is', () => {
    const spiked = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => {
      const w = wheel(p, -0.1);
      return {
        ...w,
        points: w.points.map((x, i) => ({
          ...x,
          kpa: x.kpa + (i >= 12 && i <= 14 ? 20 : 0) + (p === 'A2R' && i >= 20 ? 25 : 0),
        })),
      };
    });
    expect(leaksOf(spiked).map((w) => w.fills.length)).toEqual([0, 0, 0, 1]);
  });
  it('one that fell lately is never said to hold its air, and counts by what it reads now', () => {
    const all = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p, -0.05));
    const last = all[1]?.points.at(-1);
    if (last) last.kpa -= 60;
    const [, fallen] = leaksOf(all);
    expect(fallen?.verdict).toBe('fell');
    expect(fallen?.latelyKpa).toBeCloseTo(60, 0);
    // 250 - 29 * 0.05 + 0.6 - 60.
    expect(fallen?.nowKpa).toBeCloseTo(189.15, 6);
    expect(verdicts(...all)).toEqual(['holding', 'fell', 'holding', 'holding']);
    // Others that are warm on the last day make nobody fall.
    const warm = ['A1L', 'A1R', 'A2L', 'A2R'].map((p) => wheel(p, -0.05));
    for (const w of warm.slice(0, 3)) (w.points.at(-1) as RestPoint).kpa += 20;
    expect(verdicts(...warm)).not.toContain('fell');
  });
  it('three days say nothing', () => {
    expect(verdicts(wheel('A1L', -3, 4))).toEqual(['unclear']);
  });
  it('days left: 250 less 29 at 1 a day are 221, and 200 is 21 days away', () => {
    const [leak] = leaksOf([wheel('A1L', -1)]);
    expect(leak?.nowKpa).toBeCloseTo(221.3, 0);
    const left = leak && daysUntil(leak, 200);
    expect(left?.least).toBeGreaterThan(20);
    expect(left?.most).toBeLessThan(22.5);
    expect(leak && daysUntil(leak, 230)).toBeNull();
  });
});
