import { describe, expect, it } from 'vitest';
import { type Gauge, type GaugePair, judgeGauge } from './gauge.ts';

// 1 psi = 6.894757 kPa (NIST SP 811). Within 1 psi is good, up to 4 psi (27.579 kPa) is tolerated, a sensor's error is 1 psi (one sigma):
// common practice, no source. What follows from them is worked by hand beside each line.
const exact: Gauge = { errorKpa: 0, stepKpa: 0 };
const wheel = (position: string, difference: number, change: Partial<GaugePair> = {}): GaugePair => ({
  position,
  gaugeKpa: [250],
  gaugeTempC: 20,
  sensorKpa: 250 + difference,
  sensorTempC: 20,
  sensorStepKpa: 0,
  coldKpa: 250,
  lowKpa: null,
  ...change,
});
const set = (differences: number[], gauge = exact) =>
  judgeGauge(
    differences.map((d, i) => wheel(`W${i}`, d)),
    gauge,
  );
const one = (difference: number, change: Partial<GaugePair> = {}, gauge = exact) =>
  judgeGauge([wheel('W0', difference, change)], gauge).wheels[0];

describe('a set that does not agree', () => {
  it('three wheels 40 kPa apart have no middle that two of them are at', () => {
    // Two must be within 2.5 psi (17.24 kPa) of the middle one; of 0, 40 and 80 only itself is.
    expect(set([0, 40, 80])).toMatchObject({ commonKpa: null, blame: 'cannotTell', sensors: [] });
    expect(set([0, 10, 80])).toMatchObject({ commonKpa: 10 });
  });
  it('of ten wheels six must agree', () => {
    const six = [0, 0, 0, 0, 0, 0, 90, 90, -90, -90];
    expect(set(six).commonKpa).toBe(0);
    expect(set([0, 0, 0, 0, 0, 60, 90, 90, -90, -90])).toMatchObject({ commonKpa: null });
  });
  it('without a low limit half the way to it is no bound', () => {
    // 27 kPa of a tire of 45 kPa cold: within 4 psi, so an offset, however soft the tire is.
    expect(one(27, { coldKpa: 45, lowKpa: null })?.verdict).toBe('offset');
    expect(one(27, { coldKpa: 45, lowKpa: 5 })?.verdict).toBe('suspect');
  });
});

describe('one wheel', () => {
  it.each([
    [6.89, 'fine'],
    [6.9, 'offset'],
    [-6.89, 'fine'],
    [-6.9, 'offset'],
    [27.57, 'offset'],
    [27.59, 'suspect'],
    [-27.57, 'offset'],
    [-27.59, 'suspect'],
  ])('off by %d kPa is %s', (difference, verdict) => {
    expect(one(difference)?.verdict).toBe(verdict);
    expect(one(difference)?.differenceKpa).toBeCloseTo(difference, 9);
  });
  it('never more than half the way from cold to the low limit', () => {
    // (250 - 225) / 2 = 12.5.
    expect(one(12.4, { lowKpa: 225 })?.verdict).toBe('offset');
    expect(one(12.6, { lowKpa: 225 })?.verdict).toBe('suspect');
  });
  it('half a step of each side is rounding', () => {
    // (2 + 3) / 2 = 2.5: 6.895 + 2.5 = 9.395, 27.579 + 2.5 = 30.079.
    const rounded = { sensorStepKpa: 2 };
    const gauge = { errorKpa: 0, stepKpa: 3 };
    expect(one(9.39, rounded, gauge)?.verdict).toBe('fine');
    expect(one(9.4, rounded, gauge)?.verdict).toBe('offset');
    expect(one(30.07, rounded, gauge)?.verdict).toBe('offset');
    expect(one(30.09, rounded, gauge)?.verdict).toBe('suspect');
  });
  it('a sensor that reads high hides a loss: its low limit goes up by as much, one that reads low asks for nothing', () => {
    expect(one(20)?.raiseLowKpa).toBeCloseTo(20, 9);
    expect(one(-20)?.raiseLowKpa).toBe(0);
    expect(one(5)?.raiseLowKpa).toBe(0);
    expect(one(40)?.raiseLowKpa).toBe(0);
  });
  it('takes the middle of several readings, and the temperature out', () => {
    expect(one(0, { gaugeKpa: [200, 260, 245] })?.differenceKpa).toBeCloseTo(5, 9);
    expect(one(0, { gaugeKpa: [240, 250] })?.differenceKpa).toBeCloseTo(5, 9);
    // (250 + 101.325) * 303.15 / 293.15 - 101.325 = 261.98 by the gauge at 30 °C.
    expect(one(0, { sensorTempC: 30 })?.differenceKpa).toBeCloseTo(-11.984, 2);
  });
});

describe('who is off', () => {
  it('three of four agree on an offset: the gauge, when it is more than chance', () => {
    // The middle of three sensors that agree strays by 3 * 1.25 * 6.895 / sqrt(3) = 14.93.
    expect(set([14.8, 14.8, 14.8, -10]).blame).toBe('nobody');
    expect(set([15.1, 15.1, 15.1, -10]).blame).toBe('gauge');
    expect(set([-15.1, -15.1, -15.1, 10]).blame).toBe('gauge');
  });
  it('what the gauge may be off, up to 2 psi, and half its step are allowed for', () => {
    expect(set([16.8, 16.8, 16.8, -10], { errorKpa: 2, stepKpa: 0 }).blame).toBe('nobody');
    expect(set([17.1, 17.1, 17.1, -10], { errorKpa: 2, stepKpa: 0 }).blame).toBe('gauge');
    // Of nine it strays by 3 * 1.25 * 6.895 / 3 = 8.62: 8.62 + 13.79 = 22.41, however poor the gauge.
    expect(set([28.6, 28.6, 28.6, 28.6, 28.6, 28.6, 28.6, 28.6, 28.6], { errorKpa: 100, stepKpa: 0 }).blame).toBe('gauge');
    expect(set([22.3, 22.3, 22.3, 22.3, 22.3, 22.3, 22.3, 22.3, 22.3], { errorKpa: 100, stepKpa: 0 }).blame).toBe('nobody');
    // 3 * 1.25 * 6.895 / sqrt(9) = 8.62; with a step of 4 another 2.
    expect(set(Array(9).fill(8.5)).blame).toBe('nobody');
    expect(set(Array(9).fill(8.7)).blame).toBe('gauge');
    expect(
      judgeGauge(
        Array.from({ length: 9 }, (_, i) => wheel(`W${i}`, 10.5)),
        { errorKpa: 0, stepKpa: 4 },
      ).blame,
    ).toBe('nobody');
    expect(
      judgeGauge(
        Array.from({ length: 9 }, (_, i) => wheel(`W${i}`, 10.7)),
        { errorKpa: 0, stepKpa: 4 },
      ).blame,
    ).toBe('gauge');
  });
  it('one of four that differs by more than 4 psi is the sensor', () => {
    expect(set([0, 0, 0, 27.5])).toMatchObject({ blame: 'nobody', sensors: [] });
    expect(set([0, 0, 0, 27.7])).toMatchObject({ blame: 'sensors', sensors: ['W3'] });
    expect(set([0, 0, 0, -27.7])).toMatchObject({ blame: 'sensors', sensors: ['W3'] });
    expect(set([20, 20, 20, 60])).toMatchObject({ blame: 'both', sensors: ['W3'], commonKpa: 20, spreadKpa: 40 });
  });
  it('wheels agree within 2.5 psi of the middle, and 60 % of them must', () => {
    // 2.5 * 6.895 = 17.24.
    expect(set([0, 17.1, 34.2]).commonKpa).toBeCloseTo(17.1, 9);
    expect(set([0, 17.4, 34.8])).toMatchObject({ commonKpa: null, blame: 'cannotTell' });
    expect(set([0, 0, 0, 40, 40]).commonKpa).toBe(0);
    expect(set([0, 0, 40, 80, 120])).toMatchObject({ commonKpa: null, blame: 'cannotTell' });
    expect(set([0, 18, 27])).toMatchObject({ commonKpa: 18 });
  });
  it('rounding widens what is tolerated and what agrees, never narrows it', () => {
    const rough = (differences: number[]) =>
      judgeGauge(
        differences.map((d, i) => wheel(`W${i}`, d, { sensorStepKpa: 4 })),
        { errorKpa: 0, stepKpa: 2 },
      );
    // (4 + 2) / 2 = 3: 27.579 + 3 = 30.58; 17.24 + 3 = 20.24.
    expect(rough([0, 0, 0, 30.5]).sensors).toEqual([]);
    expect(rough([0, 0, 0, 30.7]).sensors).toEqual(['W3']);
    expect(rough([0, 20.1, 40.2]).commonKpa).toBeCloseTo(20.1, 9);
    expect(rough([0, 20.4, 40.8]).commonKpa).toBeNull();
    expect(rough([0, 30.5]).blame).toBe('nobody');
    expect(rough([0, 30.7]).blame).toBe('cannotTell');
  });
  it('two wheels have nothing in common, and none at all nothing to say', () => {
    expect(set([0, 20])).toMatchObject({ commonKpa: null, blame: 'nobody', spreadKpa: 20 });
    expect(set([0, 28])).toMatchObject({ commonKpa: null, blame: 'cannotTell' });
    expect(set([])).toEqual({ wheels: [], commonKpa: null, spreadKpa: 0, blame: 'nobody', sensors: [] });
  });
  it('of three the offset is not taken out of the single wheel, of four it is', () => {
    expect(set([10, 10, 10]).wheels.map((w) => w.verdict)).toEqual(['offset', 'offset', 'offset']);
    // The middle of four strays by 3 * 1.25 * 6.895 / 2 = 12.93: 10 kPa are their own, 13 the gauge's.
    expect(set([10, 10, 10, 10]).wheels.map((w) => w.verdict)).toEqual(['offset', 'offset', 'offset', 'offset']);
    expect(set([10, 10, 10, 10]).wheels[0]?.ownKpa).toBeCloseTo(10, 9);
    expect(set([13, 13, 13, 13]).wheels.map((w) => w.verdict)).toEqual(['fine', 'fine', 'fine', 'fine']);
    expect(set([13, 13, 13, 13]).wheels[0]?.ownKpa).toBeCloseTo(0, 9);
  });
});
