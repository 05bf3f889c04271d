import { describe, expect, it } from 'vitest';
import { learntFall, type SessionReading, trackAdvice, trackFindings, weatherShift } from './sessions.ts';

const PSI = 6.894757293168;
const at = (cold: number | undefined, peak: number | undefined, pit?: number) => ({
  coldKpa: cold === undefined ? undefined : cold * PSI,
  peakKpa: peak === undefined ? undefined : peak * PSI,
  pitKpa: pit === undefined ? undefined : pit * PSI,
});
const advise = (...sessions: SessionReading[]) => trackAdvice({ position: 'A1L', targetHotKpa: 30 * PSI, sessions });
const out = (a: ReturnType<typeof advise>) => (a ? a.bleedHotKpa / PSI : Number.NaN);

// The trade's own day: 24 psi all round, hot 33 31 28 28, target 30 (common practice, no source).
describe('a day at the track', () => {
  it('first session: 3, 1, and the rears are 2 under', () => {
    expect([33, 31, 28, 28].map((hot) => out(advise(at(24, hot))))).toEqual([3, 1, -2, -2].map((n) => expect.closeTo(n, 9)));
  });

  it('next session: peak 31 on the lap and 30 after the cool-down lap, so one more comes out', () => {
    const a = advise(at(24, 33), at(undefined, 31, 30));
    expect(out(a)).toBeCloseTo(1, 9);
    expect(a?.by).toBe('peak');
    expect((a?.fallKpa ?? 0) / PSI).toBeCloseTo(1, 9);
  });

  it('a session with a pit reading alone is judged by what this wheel’s pit readings fell short by', () => {
    // Fell short by 1 and by 3: 2 on the mean. 29 in the pit were 31 on the lap.
    const a = advise(at(24, 31, 30), at(undefined, 33, 30), at(undefined, undefined, 29));
    expect(out(a)).toBeCloseTo(1, 9);
    expect(a?.by).toBe('pitAndFall');
    expect(out(advise(at(24, undefined, 29)))).toBeCloseTo(-1, 9);
    expect(advise(at(24, undefined, 29))?.by).toBe('pit');
  });

  it('next time’s cold pressure: 24 psi that ran at 33 start at 21.57 for 30', () => {
    // (30 + 14.6959) / (33 + 14.6959) * (24 + 14.6959) - 14.6959 = 21.566 psi, absolute values, worked by hand.
    const a = advise(at(24, 33));
    expect((a?.nextColdKpa ?? 0) / PSI).toBeCloseTo(21.566, 2);
  });

  it('what was let out is gone from the cold pressure: as advised, or as it was written down', () => {
    // 24 cold, 33 hot, 3 out: (30 + 14.6959) / (33 + 14.6959) * 38.6959 = 36.2620 absolute, 21.566 cold. It peaks at 31 next time:
    // 44.6959 / 45.6959 * 36.2620 - 14.6959 = 20.772 psi, by hand.
    const chained = advise(at(24, 33), at(undefined, 31, 30));
    expect((chained?.coldKpa ?? 0) / PSI).toBeCloseTo(21.566, 2);
    expect((chained?.nextColdKpa ?? 0) / PSI).toBeCloseTo(20.772, 2);
    // Only 2 were let out: 45.6959 / 47.6959 * 38.6959 = 37.0733 absolute, 22.377 cold.
    const written = advise({ ...at(24, 33), bledKpa: 2 * PSI }, at(undefined, 31));
    expect((written?.coldKpa ?? 0) / PSI).toBeCloseTo(22.377, 2);
    // Under its target it is left: nothing is gone.
    expect((advise(at(24, 28), at(undefined, 29))?.coldKpa ?? 0) / PSI).toBeCloseTo(24, 9);
    // Set afresh in between, that counts.
    expect((advise(at(24, 33), at(23, 31))?.coldKpa ?? 0) / PSI).toBeCloseTo(23, 9);
  });

  it('says nothing without a hot reading, without a cold one, without a session', () => {
    expect(advise(at(24, undefined))).toBeNull();
    expect(advise(at(undefined, 33))).toBeNull();
    expect(advise()).toBeNull();
    expect(learntFall([at(24, 33)])).toBeNull();
  });
});

describe('what the differences say', () => {
  const car = (fl: number, fr: number, rl: number, rr: number) =>
    [fl, fr, rl, rr].map((psi, i) => ({
      position: ['A1L', 'A1R', 'A2L', 'A2R'][i] as string,
      axle: i < 2 ? 1 : 2,
      side: (i % 2 === 0 ? 'L' : 'R') as 'L' | 'R',
      coldKpa: 24 * PSI,
      lapKpa: psi * PSI,
    }));
  const said = (...args: Parameters<typeof trackFindings>) =>
    trackFindings(...args).map((x) => {
      const kpa = x.code === 'corner' ? x.riseKpa : x.byKpa;
      const where = x.code === 'corner' ? x.position : x.code === 'side' ? `A${x.axle} ${x.more}` : x.more;
      return `${x.code} ${where} ${(kpa / PSI).toFixed(1)}${'explained' in x ? ` ${x.explained}` : ''}`;
    });
  it('a clockwise circuit loads the front left the most (common practice, no source)', () => {
    expect(said(car(33, 31, 28, 28), 'clockwise')).toEqual(['corner A1L 9.0 true', 'side A1 L 2.0 true', 'end front 4.0']);
  });
  it('the other way round it explains neither', () => {
    expect(said(car(33, 31, 28, 28), 'counter')).toEqual(['corner A1L 9.0 false', 'side A1 L 2.0 false', 'end front 4.0']);
    expect(said(car(33, 31, 28, 28), null)[0]).toBe('corner A1L 9.0 null');
  });
  it('a rear corner is not what a circuit loads most; less than 1 psi says nothing', () => {
    expect(said(car(28, 28, 31, 29), 'clockwise')).toEqual(['corner A2L 7.0 false', 'side A2 L 2.0 true', 'end rear 2.0']);
    expect(said(car(30, 29.5, 29.2, 29.8), 'clockwise')).toEqual([]);
  });
  it('6 K of warmer air alone make 0.8 psi of 24 psi', () => {
    // 38.6959 * (294.15 / 288.15) - 38.6959 = 0.8057 psi, by hand.
    expect(weatherShift(24 * PSI, 15, 21) / PSI).toBeCloseTo(0.8057, 3);
  });
});
