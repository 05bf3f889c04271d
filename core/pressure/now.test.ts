import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { gasNow, nowAgainstCold } from './now.ts';

const PSI = 6.894757293168;
const target = { kpa: 65 * PSI, tempC: 20 };

describe('temperature of the gas', () => {
  it('after three hours at rest is the air’s', () => {
    expect(gasNow({ airC: 32, restHours: 3 })).toEqual({ tempC: 32, lowC: 30, highC: 34, rested: true });
  });
  it('from a cap it is a span: half of the rise is shown, more or less', () => {
    const gas = gasNow({ airC: 20, restHours: 0, sensor: { kind: 'cap', tempC: 32 } });
    expect(gas.tempC).toBeCloseTo(44, 9);
    expect(gas.lowC).toBeCloseTo(40, 9);
    expect(gas.highC).toBeCloseTo(20 + 12 / 0.43, 9);
    expect(gas.rested).toBe(false);
  });
  it('from a sensor in the tire that shows no rise it is the air, less surely than at rest', () => {
    expect(gasNow({ airC: 20, restHours: 1, sensor: { kind: 'internal', tempC: 20 } })).toEqual({
      tempC: 20,
      lowC: 18,
      highC: 22,
      rested: false,
    });
    // A cap that shows the air says nothing: it may sit in the wind.
    const cap = gasNow({ airC: 20, restHours: 0, sensor: { kind: 'cap', tempC: 20 } });
    expect(cap).toEqual(gasNow({ airC: 20, restHours: 0 }));
    expect(cap.tempC).toBeGreaterThan(30);
  });
  it('parked, what is left of a run falls by 1/e in 38 minutes', () => {
    const rise = (restHours: number) => gasNow({ airC: 20, restHours }).tempC - 20;
    expect(rise(38 / 60) / rise(0)).toBeCloseTo(0.36788, 5);
    expect(rise(0)).toBeGreaterThan(0);
  });
  it('from the air alone it says little just after a run and more later', () => {
    const width = (restHours: number) => {
      const g = gasNow({ airC: 20, restHours });
      return g.highC - g.lowC;
    };
    expect(width(0)).toBeGreaterThan(25);
    expect(width(2)).toBeLessThan(width(1));
    expect(width(2.9)).toBeLessThan(2);
  });
  it('the likely figure lies inside its span', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -20, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        fc.option(
          fc.record({
            kind: fc.constantFrom('cap' as const, 'flowThrough' as const, 'internal' as const),
            rise: fc.integer({ min: -3, max: 40 }),
          }),
        ),
        (airC, restHours, s) => {
          const g = gasNow({ airC, restHours, sensor: s ? { kind: s.kind, tempC: airC + s.rise } : undefined });
          expect(g.lowC).toBeLessThanOrEqual(g.tempC + 1e-9);
          expect(g.highC).toBeGreaterThanOrEqual(g.tempC - 1e-9);
        },
      ),
    );
  });
});

describe('now is not cold', () => {
  // (65 + 14.696) * 305.65 / 293.15 - 14.696 = 68.40 psi at 32.5 °C, worked by hand.
  it('fill to 68.4 now, it will be 65 at 20 °C', () => {
    const a = nowAgainstCold(gasNow({ airC: 32.5, restHours: 5 }), target, null);
    expect((a.fillTo.kpa / PSI).toFixed(1)).toBe('68.4');
    expect(a.sure).toBe(true);
    expect(a.cold).toBeNull();
  });
  it('a rested tire is added to, let down or right', () => {
    const rested = gasNow({ airC: 20, restHours: 4 });
    expect(nowAgainstCold(rested, target, 60 * PSI).advice).toBe('add');
    expect(nowAgainstCold(rested, target, 65.5 * PSI).advice).toBe('right');
    expect(nowAgainstCold(rested, target, 70 * PSI).advice).toBe('letOut');
  });
  it('a hot tire is never let down to the cold figure', () => {
    const hot = gasNow({ airC: 20, restHours: 0, sensor: { kind: 'cap', tempC: 30 } });
    const a = nowAgainstCold(hot, target, 74 * PSI);
    expect(a.advice).toBe('leave');
    expect(a.cold && a.cold.lowKpa < a.cold.kpa && a.cold.kpa < a.cold.highKpa).toBe(true);
  });
  it('a hot tire that would be low however warm its gas is may be filled now', () => {
    const hot = gasNow({ airC: 20, restHours: 0, sensor: { kind: 'internal', tempC: 40 } });
    expect(nowAgainstCold(hot, target, 55 * PSI).advice).toBe('add');
  });
  it('in between it says to wait', () => {
    const hot = gasNow({ airC: 20, restHours: 0 });
    expect(nowAgainstCold(hot, target, 67 * PSI).advice).toBe('wait');
    expect(nowAgainstCold(hot, target, 67 * PSI).sure).toBe(false);
  });
  it('and back: filled to the figure it is right', () => {
    fc.assert(
      fc.property(fc.double({ min: 100, max: 900, noNaN: true }), fc.integer({ min: -20, max: 45 }), (kpa, airC) => {
        const gas = gasNow({ airC, restHours: 6 });
        const { fillTo } = nowAgainstCold(gas, { kpa, tempC: 15 }, null);
        const a = nowAgainstCold(gas, { kpa, tempC: 15 }, fillTo.kpa);
        expect(a.cold?.kpa).toBeCloseTo(kpa, 6);
        expect(a.advice).toBe('right');
      }),
    );
  });
});
