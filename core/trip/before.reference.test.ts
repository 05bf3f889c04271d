import { describe, expect, it } from 'vitest';
import { beforeLeaving } from './before.ts';

// Standard atmosphere: 101.325 kPa at sea level, 79.495 at 2,000 m (U.S. Standard Atmosphere 1976 / ISO 2533). The rest worked by hand.
const axle = { axle: 'A1', coldKpa: 250, coldTempC: 20, riseK: 25, lowKpa: 225, highKpa: 320 };
const home = { altitudeM: 0, airC: 5 };

describe('what to set before leaving', () => {
  it('the cold pressure as it reads there: 250 at 20 °C is 232.02 at 5 °C', () => {
    // 351.325 * 278.15 / 293.15 = 333.348 absolute.
    const got = beforeLeaving(axle, 0, [home], 0);
    expect(got.usualKpa).toBeCloseTo(232.02, 2);
    expect(got).toMatchObject({ neededKpa: null, at: null, blocked: null });
  });
  it('more where the night on the way comes to the low limit', () => {
    // -10 °C at sea level: 225 there is 326.325 * 278.15 / 263.15 - 101.325 = 243.60 at home.
    const night = beforeLeaving(axle, 0, [home, { altitudeM: 0, airC: -10 }], 0);
    expect(night.neededKpa).toBeCloseTo(243.6, 1);
    expect(night).toMatchObject({ at: 1, blocked: null });
    // With 5 kPa to spare: 331.325 * 1.057 - 101.325 = 248.89.
    expect(beforeLeaving(axle, 0, [home, { altitudeM: 0, airC: -10 }], 5).neededKpa).toBeCloseTo(248.89, 1);
  });
  it('height helps: the same night at 2,000 m reads 21.83 kPa more', () => {
    // 225 + 79.495 = 304.495 absolute; * 278.15 / 263.15 - 101.325 = 220.53 at home: less than the usual.
    expect(beforeLeaving(axle, 0, [home, { altitudeM: 2000, airC: -10 }], 0).neededKpa).toBeNull();
  });
  it('says when that is more than the tire may have, or rings high on the move', () => {
    const stages = [home, { altitudeM: 0, airC: -10 }];
    expect(beforeLeaving(axle, 0, stages, 0, 255).blocked).toBe('maximum');
    expect(beforeLeaving(axle, 0, stages, 0, 270).blocked).toBeNull();
    // 243.60 at 5 °C runs at 30 °C in the same air: 344.925 * 303.15 / 278.15 - 101.325 = 274.6.
    expect(beforeLeaving({ ...axle, highKpa: 274 }, 0, stages, 0).blocked).toBe('high');
    expect(beforeLeaving({ ...axle, highKpa: 275 }, 0, stages, 0).blocked).toBeNull();
  });
});
