import { describe, expect, it } from 'vitest';
import { judgeTrip } from '../alarms/judge.ts';
import { riseForShare } from '../pressure/hot-run.ts';
import { sweepYears, type YearAxle } from './year.ts';

const PSI = 6.894757293168;
/** Two years of an invented climate: a sine through the year, some days colder than it. */
const days = Array.from({ length: 730 }, (_, i) => {
  const date = new Date(Date.UTC(2024, 0, 1) + i * 86_400_000);
  const mean = 10 - 14 * Math.cos((2 * Math.PI * (i - 15)) / 365);
  return {
    date: date.toISOString().slice(0, 10),
    month: date.getUTCMonth(),
    minC: mean - 6 - (i % 11 === 0 ? 5 : 0),
    maxC: mean + 8,
  };
});
const axle: YearAxle = {
  code: 'B1',
  coldKpa: 80 * PSI,
  coldTempC: 20,
  loadMinimumKpa: 60 * PSI,
  rule: { school: 'share' },
  limits: { lowKpa: 72 * PSI, highKpa: 100 * PSI },
  hotShare: 0.1,
};
const grid = { unit: 'psi' as const, step: 1, min: 0, max: 188 };

describe('a sweep over years', () => {
  const seen: number[] = [];
  const answer = sweepYears({ days, axles: [axle], grid, altitudeSetM: 300 }, (s) => seen.push(s));
  const one = answer.axles[0];
  it('counts what the limits in force meet, day by day', () => {
    let mornings = 0;
    let late = 0;
    for (const d of days) {
      const { verdicts } = judgeTrip({
        coldKpa: axle.coldKpa,
        coldTempC: 20,
        lowKpa: 72 * PSI,
        highKpa: 100 * PSI,
        loadMinimumKpa: axle.loadMinimumKpa,
        coldestC: d.minC,
        runningC: d.maxC + riseForShare(axle.coldKpa, 20, 0.1),
        altitudeSetM: 300,
      });
      if (verdicts.includes('nuisance-low')) mornings += 1;
      if (verdicts.includes('unprotected-hot')) late += 1;
    }
    expect(mornings).toBeGreaterThan(30);
    expect(one?.now?.ringingMornings).toBeCloseTo(mornings / (730 / 365.25), 9);
    expect(one?.now?.lateDays).toBeCloseTo(late / (730 / 365.25), 9);
  });
  it('two seasons with the pressure set anew meet less than one pair for all the year', () => {
    const total = (c: { ringingMornings: number; ringingRuns: number; lateDays: number } | undefined) =>
      c ? c.ringingMornings + c.ringingRuns + c.lateDays : Number.NaN;
    expect(total(one?.seasonal?.count)).toBeLessThan(total(one?.fixed?.count));
    expect(one?.seasonal?.seasons.map((s) => s.name)).toEqual(['winter', 'summer']);
    expect(answer.split?.winterFrom).toBeGreaterThanOrEqual(8);
  });
  it('tells how far it has come, to the end', () => {
    expect(seen.at(-1)).toBeCloseTo(1, 9);
    expect(seen.every((s, i) => i === 0 || s >= (seen[i - 1] ?? 0))).toBe(true);
  });
  it('an axle whose school leaves its limits to the monitor is counted as nothing', () => {
    const bare = sweepYears({ days: days.slice(0, 60), axles: [{ ...axle, rule: { school: 'baseline' }, limits: null }], grid });
    expect(bare.axles[0]).toEqual({ code: 'B1', now: null, fixed: null, seasonal: null });
  });
});
