import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pressureAt, temperatureFor } from './gas.ts';

describe('pressureAt and temperatureFor', () => {
  it('are each other’s inverse, across altitudes too', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1200, noNaN: true }),
        fc.double({ min: -40, max: 90, noNaN: true }),
        fc.double({ min: -40, max: 120, noNaN: true }),
        fc.double({ min: 60, max: 105, noNaN: true }),
        fc.double({ min: 60, max: 105, noNaN: true }),
        (p, t, t2, ambientAbsKpa, toAmbientAbsKpa) => {
          const ambients = { ambientAbsKpa, toAmbientAbsKpa };
          const there = pressureAt(p, t, t2, ambients);
          expect(temperatureFor(p, t, there, ambients)).toBeCloseTo(t2, 8);
        },
      ),
    );
  });

  it('reads more on a pass: the same air against less ambient', () => {
    expect(pressureAt(551.58, 20, 20, { toAmbientAbsKpa: 80 })).toBeCloseTo(551.58 + 21.325, 9);
  });

  it('says which field is at or under absolute zero', () => {
    expect(() => pressureAt(200, -273.15, 20)).toThrow(expect.objectContaining({ pointer: '/tempC' }));
    expect(() => pressureAt(200, 20, -300)).toThrow(expect.objectContaining({ pointer: '/toTempC' }));
    expect(() => pressureAt(-101.325, 20, 30)).toThrow(expect.objectContaining({ pointer: '/pressureKpa' }));
    expect(() => temperatureFor(200, 20, -102)).toThrow(expect.objectContaining({ pointer: '/toPressureKpa' }));
  });
});
