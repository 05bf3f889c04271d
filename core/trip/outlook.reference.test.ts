import { describe, expect, it } from 'vitest';
import { tripOutlook } from './outlook.ts';

// Heights: 79.495 kPa at 2,000 m and 101.325 at 0 (U.S. Standard Atmosphere 1976 / ISO 2533). Pressures worked by hand from the ideal gas law.
describe('an axle of 550 kPa, set at 15 °C and 0 m', () => {
  const axle = { axle: 'B1', coldKpa: 550, coldTempC: 15, riseK: 25 };
  const [pass, valley] = tripOutlook([axle], 0, [
    { altitudeM: 2000, airC: 5 },
    { altitudeM: 0, airC: 15 },
  ]).stages.map((s) => s.axles[0]);

  it('on a pass of 2,000 m at 5 °C: (550 + 101.325) * 278.15 / 288.15 - 79.495 = 549.23 at rest, 605.74 running 25 K warmer', () => {
    expect(pass?.restKpa).toBeCloseTo(549.226, 2);
    expect(pass?.runningKpa).toBeCloseTo(605.735, 2);
  });

  it('where it was set it rests at what it was set to, and runs at (550 + 101.325) * 313.15 / 288.15 - 101.325 = 606.51', () => {
    expect(valley?.restKpa).toBeCloseTo(550, 9);
    expect(valley?.runningKpa).toBeCloseTo(606.508, 2);
  });

  it('set on the pass itself, the valley presses 22 kPa on it', () => {
    const [down] = tripOutlook([{ ...axle, coldTempC: 5 }], 2000, [{ altitudeM: 0, airC: 5 }]).stages;
    // 550 + 79.495 - 101.325.
    expect(down?.axles[0]?.restKpa).toBeCloseTo(528.17, 1);
  });

  it('rings at a limit and past it, at rest below and running above', () => {
    const rings = (lowKpa: number | undefined, highKpa: number | undefined) =>
      tripOutlook([{ ...axle, lowKpa, highKpa }], 0, [{ altitudeM: 0, airC: 15 }]).stages[0]?.axles[0]?.rings;
    expect(rings(549.99, 606.6)).toEqual([]);
    expect(rings(550.01, 606.4)).toEqual(['low', 'high']);
    expect(rings(undefined, undefined)).toEqual([]);
  });

  it('each stage has each axle, in the order given', () => {
    const out = tripOutlook([axle, { ...axle, axle: 'A1' }], 0, [
      { altitudeM: 0, airC: 15 },
      { altitudeM: 500, airC: 10 },
    ]);
    expect(out.stages.map((s) => s.axles.map((a) => a.axle))).toEqual([
      ['B1', 'A1'],
      ['B1', 'A1'],
    ]);
  });

  it('refuses more figures than anybody can take, and says how many', () => {
    const stages = Array.from({ length: 500_001 }, () => ({ altitudeM: 0, airC: 15 }));
    expect(() => tripOutlook([axle, axle], 0, stages)).toThrow(/500001 for 2 axles are too many.*1000000/);
  });
});
