import { describe, expect, it } from 'vitest';
import { learntFall, trackAdvice } from './sessions.ts';

const PSI = 6.894757293168;
const at = (cold: number | undefined, peak: number | undefined, pit?: number) => ({
  coldKpa: cold === undefined ? undefined : cold * PSI,
  peakKpa: peak === undefined ? undefined : peak * PSI,
  pitKpa: pit === undefined ? undefined : pit * PSI,
});
const advise = (...sessions: ReturnType<typeof at>[]) => trackAdvice({ position: 'A1L', targetHotKpa: 30 * PSI, sessions });
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

  it('says nothing without a hot reading, without a cold one, without a session', () => {
    expect(advise(at(24, undefined))).toBeNull();
    expect(advise(at(undefined, 33))).toBeNull();
    expect(advise()).toBeNull();
    expect(learntFall([at(24, 33)])).toBeNull();
  });
});
