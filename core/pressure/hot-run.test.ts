import { describe, expect, it } from 'vitest';
import { learnedRise, type RunReading, riseForShare, seenRuns } from './hot-run.ts';

const PSI = 6.894757293168;
/** A reading a minute. */
const run = (fromS: number, minutes: number, pressure: (minute: number) => number): RunReading[] =>
  Array.from({ length: minutes }, (_, m) => ({ timeS: fromS + m * 60, pressureKpa: pressure(m) }));
const warm = (start: number, rise: number) => (m: number) => start + rise * (1 - Math.exp(-m / 22));

describe('runs in a wheel’s readings', () => {
  it('a start after a night without readings, and what the run added', () => {
    const readings = [{ timeS: -40_000, pressureKpa: 500 }, ...run(0, 120, warm(500, 50))];
    const [seen, ...more] = seenRuns(readings);
    expect(more).toEqual([]);
    expect(seen?.startKpa).toBe(500);
    expect(seen?.share).toBeGreaterThan(0.098);
    expect(seen?.share).toBeLessThan(0.1);
  });
  it('a start after life signs that did not change', () => {
    const signs = Array.from({ length: 8 }, (_, i) => ({ timeS: -8 * 1800 + i * 1800, pressureKpa: 500 + (i % 2) }));
    expect(seenRuns([...signs, ...run(0, 120, warm(500, 50))])).toHaveLength(1);
  });
  it('a short hop and a start that was never seen at rest are no runs', () => {
    expect(seenRuns([{ timeS: -40_000, pressureKpa: 500 }, ...run(0, 20, warm(500, 50))])).toEqual([]);
    expect(seenRuns(run(0, 120, warm(500, 50)))).toEqual([]);
  });
  it('every day’s run is seen', () => {
    const days = [0, 1, 2, 3].flatMap((d) => run(d * 86_400, 100, warm(500, 45 + d * 2)));
    const runs = seenRuns([{ timeS: -40_000, pressureKpa: 500 }, ...days]);
    expect(runs).toHaveLength(4);
    const learned = learnedRise(runs);
    expect(learned?.runs).toBe(4);
    expect(learned?.share).toBeGreaterThan(0.09);
    expect(learned?.sd).toBeGreaterThan(0);
  });
  it('one wheel with a hot hub does not move what its axle learns', () => {
    const runs = [0.1, 0.101, 0.099, 0.2].map((share) => ({ fromS: 0, startKpa: 500, share }));
    expect(learnedRise(runs)?.share).toBeCloseTo(0.1005, 9);
    expect(learnedRise(runs)?.sd).toBeLessThan(0.003);
  });
  it('nothing seen, nothing learned', () => {
    expect(learnedRise([])).toBeNull();
    expect(learnedRise([{ fromS: 0, startKpa: 500, share: 0.1 }])).toEqual({ share: 0.1, sd: null, runs: 1 });
    expect(seenRuns([])).toEqual([]);
  });
});

// Common practice, no source: 80 psi cold builds about 8 psi on the highway. Worked by hand: 293.15 * 8 / 94.696 = 24.77 K.
it('10 % of 80 psi is a rise of 24.8 K', () => {
  expect(riseForShare(80 * PSI, 20, 0.1)).toBeCloseTo(24.77, 2);
});
