import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { compareBuying } from './compare.ts';
import { units } from './random-rigs.test-data.ts';

const prices = { capSensor: 20, flowThroughSensor: 30, internalSensor: 40, cell: 2, metalStem: 5, shopWheel: 15 };
const unit = (kind: Unit['kind'], stem: 'metal' | 'rubber'): Unit => ({
  id: kind,
  version: 1,
  name: kind,
  kind,
  axles: [1, 2].map((n) => {
    const axle = makeAxle('single', n);
    return { ...axle, wheels: axle.wheels.map((w) => ({ ...w, stem, stemYear: 2025 })) };
  }),
  spares: [],
});
const rig = wheelsOf([unit('vehicle', 'rubber'), unit('trailer', 'metal')]);
const columns = (change: object = {}) =>
  Object.fromEntries(compareBuying(rig, { years: 5, year: 2026, prices, ...change }).map((c) => [c.option, c]));

describe('before buying', () => {
  it('caps fit as it is, flow-through needs four new stems, the mixed kit none', () => {
    const c = columns();
    expect(c.cap?.newStems).toEqual([]);
    expect(c.flowThrough?.newStems).toEqual(['A1L', 'A1R', 'A2L', 'A2R']);
    expect(c.mixed?.newStems).toEqual([]);
    expect([c.cap?.inflateThrough, c.mixed?.inflateThrough, c.flowThrough?.inflateThrough]).toEqual(['none', 'some', 'all']);
    expect([c.internalBand?.shopWheels, c.internalBand?.outside]).toEqual([8, false]);
  });

  // By hand for 8 wheels over 5 years: 8 * 20 + 8 * 4 * 2 = 224; 8 * 30 + 64 + 4 * 5 + 4 * 15 = 384;
  // 8 * 40 + 8 * 40 (sealed cells last 4 years) + 16 * 15 = 880; mixed 4 * 20 + 4 * 30 + 64 = 264
  it('adds up the owner’s own prices', () => {
    const c = columns();
    expect([c.cap?.cost, c.flowThrough?.cost, c.internalValve?.cost, c.mixed?.cost]).toEqual([224, 384, 880, 264]);
    expect(columns({ prices: { capSensor: 20 } }).cap?.cost).toBeNull();
    expect(columns({ prices: { capSensor: 20 }, years: 1 }).cap?.cost).toBe(160);
  });

  it('changes with one stem, the price of a cell, and the years', () => {
    fc.assert(
      fc.property(units, fc.integer({ min: 2, max: 19 }), (u, years) => {
        const wheels = wheelsOf(u);
        const run = (o: { years?: number; cell?: number; wheels?: typeof wheels } = {}) =>
          compareBuying(o.wheels ?? wheels, { years: o.years ?? years, year: 2026, prices: { ...prices, cell: o.cell ?? 2 } });
        const before = run();
        expect(run({ cell: 3 })[0]?.cost).toBe((before[0]?.cost ?? 0) + (before[0]?.cells ?? 0));
        expect(run({ years: years + 1 })[0]?.cells).toBe((before[0]?.cells ?? 0) + wheels.length);
        // Every rubber stem made metal: one wheel less to change, one more that fits.
        const changed = wheels.map((w, i) =>
          i === 0
            ? { ...w, wheel: { ...w.wheel, stem: w.wheel.stem === 'rubber' ? ('metal' as const) : ('rubber' as const) } }
            : w,
        );
        const flow = run({ wheels: changed })[1];
        expect(Math.abs((flow?.newStems.length ?? 0) - (before[1]?.newStems.length ?? 0))).toBe(1);
        for (const c of before.filter((x) => x.option === 'cap' || x.option === 'flowThrough' || x.option === 'mixed')) {
          expect(c.fits.length + c.unknown.length + c.newStems.length).toBe(wheels.length);
        }
      }),
      { numRuns: 300 },
    );
  });
});
