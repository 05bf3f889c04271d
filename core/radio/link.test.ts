import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chanceHeard, linkBudget, normalShare } from './link.ts';

const fading = { sigmaDb: 6, copies: 3, common: 0.5 };
const base = { frequencyMhz: 433.92, distanceM: 10, transmitDbm: -15, sensitivityDbm: -100 };

describe('link budget', () => {
  it('adds up', () => {
    const b = linkBudget({ ...base, lossesDb: [10, 20, 4] });
    expect(b.receivedDbm).toBeCloseTo(-15 - b.pathLossDb - 34, 9);
    expect(b.marginDb).toBeCloseTo(b.receivedDbm + 100, 9);
  });
  it('a loss under nothing is refused at its place', () => {
    expect(() => linkBudget({ ...base, lossesDb: [3, -1] })).toThrow(expect.objectContaining({ pointer: '/lossesDb/1' }));
  });
});

describe('chance of hearing', () => {
  // Normal law, tables: 0.8413 below one standard deviation, 0.9772 below two, 0.0013 under minus three.
  it.each([
    [0, 0.5],
    [1, 0.8413],
    [2, 0.9772],
    [-3, 0.0013],
  ])('the normal law at %d is %d', (z, p) => {
    expect(Math.abs(normalShare(z) - p)).toBeLessThan(5e-5);
  });
  it('one copy is the normal law itself; more copies help, the less the more they fade together', () => {
    expect(chanceHeard(6, { ...fading, copies: 1 })).toBeCloseTo(normalShare(1), 4);
    expect(chanceHeard(0, fading)).toBeGreaterThan(chanceHeard(0, { ...fading, common: 0.9 }));
    expect(chanceHeard(0, { ...fading, common: 1 })).toBeCloseTo(0.5, 2);
    expect(chanceHeard(0, { ...fading, common: 0 })).toBeCloseTo(1 - 0.125, 4);
  });
  it('without fading it is heard or not', () => {
    expect(chanceHeard(0.1, { ...fading, sigmaDb: 0 })).toBe(1);
    expect(chanceHeard(-0.1, { ...fading, sigmaDb: 0 })).toBe(0);
  });
  it('never rises with distance or with a loss added', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 30, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        (distanceM, more, loss, added) => {
          const chance = (d: number, losses: number[]) =>
            chanceHeard(linkBudget({ ...base, distanceM: d, lossesDb: losses }).marginDb, fading);
          const here = chance(distanceM, [loss]);
          expect(chance(distanceM + more, [loss])).toBeLessThanOrEqual(here + 1e-9);
          expect(chance(distanceM, [loss, added])).toBeLessThanOrEqual(here + 1e-9);
        },
      ),
    );
  });
});
