import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FieldError } from '../errors.ts';
import { dayOf, judge, judgeHot, judgeTrip } from './judge.ts';

const tire = { coldKpa: 500, coldTempC: 20, lowKpa: 430, highKpa: 600, loadMinimumKpa: 380, coldestC: 0, runningC: 40 };

describe('judge', () => {
  it('has nothing against limits that fit', () => {
    expect(judge(tire).verdicts).toEqual(['ok']);
  });
  it.each([
    ['a cold start on the low alarm', { coldestC: -20 }, ['nuisance-low']],
    ['a hot run over the high alarm', { highKpa: 530 }, ['nuisance-high']],
    ['a low alarm under the load minimum', { loadMinimumKpa: 440 }, ['unprotected-low', 'unprotected-hot']],
    ['a hot tire that has lost too much', { loadMinimumKpa: 400 }, ['unprotected-hot']],
    ['a high alarm far over the hot run', { highKpa: 700 }, ['sleeping-high']],
    ['no high alarm', { highKpa: null }, ['ok']],
    ['a load minimum that is unknown', { loadMinimumKpa: 0, lowKpa: 100 }, ['ok']],
  ])('%s', (_, change, verdicts) => {
    expect(judge({ ...tire, ...change }).verdicts).toEqual(verdicts);
  });
  it('a start exactly on the low alarm rings', () => {
    const { coldestStartKpa } = dayOf(tire);
    expect(judge({ ...tire, lowKpa: coldestStartKpa, loadMinimumKpa: 0 }).verdicts).toContain('nuisance-low');
  });
  it.each([
    ['/lowKpa', { lowKpa: 600 }],
    ['/coldestC', { coldKpa: 5, lowKpa: 4, coldestC: -50 }],
    ['/runningC', { runningC: -5 }],
  ])('refuses at %s', (pointer, change) => {
    expect(() => judge({ ...tire, ...change })).toThrow(FieldError);
    try {
      judge({ ...tire, ...change });
    } catch (error) {
      expect((error as FieldError).pointer).toBe(pointer);
    }
  });

  const air = fc.double({ min: -30, max: 20, noNaN: true });
  const cold = fc.double({ min: 150, max: 900, noNaN: true });
  it('a colder start never raises a pressure', () => {
    fc.assert(
      fc.property(cold, air, air, (coldKpa, a, b) => {
        const at = (coldestC: number) => dayOf({ coldKpa, coldTempC: 15, coldestC, runningC: 50 }).coldestStartKpa;
        expect(at(Math.min(a, b))).toBeLessThanOrEqual(at(Math.max(a, b)));
      }),
    );
  });
  it('a higher pass never lowers a gauge reading', () => {
    const altitude = fc.double({ min: 0, max: 5000, noNaN: true });
    fc.assert(
      fc.property(cold, altitude, altitude, (coldKpa, a, b) => {
        const at = (altitudeReadM: number) => dayOf({ coldKpa, coldTempC: 15, coldestC: -5, runningC: 50, altitudeReadM });
        const low = at(Math.min(a, b));
        const high = at(Math.max(a, b));
        expect(high.coldestStartKpa).toBeGreaterThanOrEqual(low.coldestStartKpa);
        expect(high.hotRunKpa).toBeGreaterThanOrEqual(low.hotRunKpa);
      }),
    );
  });
});

describe('judgeTrip', () => {
  it('takes the cold start from home and the hot run from the pass', () => {
    const trip = judgeTrip({ ...tire, altitudeSetM: 300, passM: 1940, highKpa: 555 });
    const home = judge({ ...tire, altitudeSetM: 300, highKpa: 555 });
    const pass = judge({ ...tire, altitudeSetM: 300, altitudeReadM: 1940, highKpa: 555 });
    expect(home.verdicts).toEqual(['ok']);
    expect(trip.coldestStartKpa).toBe(home.coldestStartKpa);
    expect(trip.hotRunKpa).toBe(pass.hotRunKpa);
    expect(trip.lowAlarmHotColdKpa).toBe(pass.lowAlarmHotColdKpa);
    expect(trip.verdicts).toContain('nuisance-high');
    expect(trip.atPass).toEqual({ coldestStart: false, hotRun: true, lowAlarmHot: true });
  });
  it('without a pass it is the day at home', () => {
    expect(judgeTrip(tire)).toMatchObject(judge(tire));
  });
});

describe('judgeHot', () => {
  it('a limit under the ordinary run rings for nothing', () => {
    expect(judgeHot(50, 'cap', 40, 65).verdict).toBe('nuisance-hot');
  });
  it('a limit between the ordinary run and failing gas is right', () => {
    expect(judgeHot(58, 'cap', 35, 60).verdict).toBe('ok');
  });
});
