import { describe, expect, it } from 'vitest';
import { operations } from '../operations.ts';
import { judge, judgeTrip } from './judge.ts';
import { limitsFor } from './limits.ts';

const PSI = 6.894757293168; // NIST SP 811

describe('rough rounding', () => {
  // 0.90 and 1.25 of cold, each to the nearest multiple (contract): 104 psi gives 93.6 and 130; 102 psi 91.8 and 127.5.
  it.each([
    [104, 1, 94, 130],
    [102, 1, 92, 128],
    [102, 5, 90, 130],
    [110, 10, 100, 140],
  ])('%d psi to %d psi: %d and %d', (cold, round, low, high) => {
    const got = limitsFor({ school: 'rough', roundKpa: round * PSI }, cold * PSI);
    expect((got.lowKpa as number) / PSI).toBeCloseTo(low, 6);
    expect((got.highKpa as number) / PSI).toBeCloseTo(high, 6);
  });
});

describe('judging at the altitude where it is read', () => {
  // U.S. Standard Atmosphere 1976: 101.325 kPa at sea level, 79.495 at 2,000 m, 89.875 at 1,000 m.
  const q = {
    coldKpa: 500,
    coldTempC: 15,
    lowKpa: 400,
    highKpa: 600,
    loadMinimumKpa: 0,
    coldestC: 15,
    runningC: 45,
  };
  it('a hot run: (500 + 101.325) * 318.15 / 288.15 = 663.93 absolute, less 79.495', () => {
    expect(judge({ ...q, altitudeSetM: 0, altitudeReadM: 2000 }).hotRunKpa).toBeCloseTo(584.435, 2);
    expect(judge({ ...q, altitudeSetM: 0 }).hotRunKpa).toBeCloseTo(562.605, 2);
  });
  it('set at 1,000 m and read there: 89.875 counts on both sides', () => {
    // (500 + 89.875) * 318.15 / 288.15 - 89.875 = 561.41.
    expect(judge({ ...q, altitudeSetM: 1000 }).hotRunKpa).toBeCloseTo(561.41, 1);
    // The low alarm hot: (400 + 89.875) * 288.15 / 318.15 - 89.875 = 353.81.
    expect(judge({ ...q, altitudeSetM: 1000 }).lowAlarmHotColdKpa).toBeCloseTo(353.807, 2);
  });
  it('takes the worse of home and pass', () => {
    const trip = judgeTrip({ ...q, highKpa: 580, passM: 2000 });
    expect(trip.verdicts).toContain('nuisance-high');
    expect(trip.atPass.hotRun).toBe(true);
    expect(judgeTrip({ ...q, highKpa: 580 }).verdicts).not.toContain('nuisance-high');
  });
  it.each([
    ['coldest start a hair over the low limit', { lowKpa: 500 - 1e-6, coldestC: 15 }, 'ok'],
    ['coldest start a hair under the low limit', { lowKpa: 500 + 1e-6 }, 'nuisance-low'],
    ['hot run on the high limit', { highKpa: (601.325 * 318.15) / 288.15 - 101.325 }, 'nuisance-high'],
    ['low on the load minimum', { lowKpa: 400, loadMinimumKpa: 400, runningC: 15 }, 'ok'],
    ['low a hair under the load minimum', { lowKpa: 400, loadMinimumKpa: 400.001, runningC: 15 }, 'unprotected-low'],
    ['high at 1.25 times the hot run', { highKpa: 1.25 * 500, runningC: 15 }, 'ok'],
    ['high over 1.25 times the hot run', { highKpa: 1.25 * 500 + 0.001, runningC: 15 }, 'sleeping-high'],
  ] as const)('%s', (_what, change, verdict) => {
    const { verdicts } = judge({ ...q, lowKpa: 350, ...change });
    if (verdict === 'ok') expect(verdicts.filter((v) => v !== 'unprotected-hot')).toEqual(verdicts.includes('ok') ? ['ok'] : []);
    else expect(verdicts).toContain(verdict);
  });
});

describe('keying', () => {
  const monitor = {
    groups: 'axle' as const,
    unit: 'psi' as const,
    step: 1,
    min: 0,
    max: 150,
    presetLow: 84,
    presetHigh: 120,
    interlock: false,
  };
  const axle = (code: string, low: number, high: number, unitKind: 'vehicle' | 'trailer' = 'vehicle') => ({
    axle: code,
    unitKind,
    lowKpa: low * PSI,
    highKpa: high * PSI,
  });
  const key = (axles: ReturnType<typeof axle>[]) => operations['alarms.keying']({ monitor, axles });

  it('counts the steps from the group that blinks first to the last that is keyed', () => {
    const stays = (code: string) => axle(code, 84, 120);
    expect(key([stays('A1'), stays('A2'), stays('B1')]).navigationPresses).toBe(0);
    expect(key([axle('A1', 80, 120), stays('A2'), stays('B1')]).navigationPresses).toBe(0);
    expect(key([stays('A1'), axle('A2', 80, 120), stays('B1')]).navigationPresses).toBe(1);
    expect(key([axle('A1', 80, 120), stays('A2'), axle('B1', 80, 120, 'trailer')]).navigationPresses).toBe(2);
  });
  it('counts a press for every step of the figure', () => {
    const { steps, presses } = key([axle('A1', 80, 125)]);
    expect(steps).toEqual([
      expect.objectContaining({ field: 'low', from: 84, to: 80, presses: 4 }),
      expect.objectContaining({ field: 'high', from: 120, to: 125, presses: 5 }),
    ]);
    expect(presses).toBe(9);
  });
  it('rounds a low up and a high down, and says so', () => {
    const { steps, unmet } = key([axle('A1', 80.2, 110.8)]);
    expect(steps.map((s) => s.to)).toEqual([81, 110]);
    expect(unmet.map((u) => [u.field, u.why])).toEqual([
      ['low', 'rounded'],
      ['high', 'rounded'],
    ]);
  });
  it('a value within 1e-4 of a step is on it', () => {
    expect(key([axle('A1', 80.00009, 119.99991)]).steps.map((s) => s.to)).toEqual([80]);
    expect(key([axle('A1', 80.0002, 120)]).steps.map((s) => s.to)).toEqual([81]);
  });
});
