import fc from 'fast-check';
import type { Unit } from '#schema/unit.ts';
import { AXLE_LAYOUTS, type AxleLayout, makeAxle } from '../rig/positions.ts';

/** Random units and monitors for property tests. */
export const units = fc
  .array(
    fc.record({
      layouts: fc.array(fc.constantFrom(...(Object.keys(AXLE_LAYOUTS) as AxleLayout[])), { minLength: 1, maxLength: 4 }),
      spares: fc.nat(2),
      kind: fc.constantFrom('vehicle' as const, 'trailer' as const),
      stems: fc.array(fc.constantFrom('metal' as const, 'rubber' as const, undefined), { minLength: 20, maxLength: 20 }),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .map((list) =>
    list.map(({ layouts, spares, kind, stems }, n): Unit => {
      let k = 0;
      const stem = () => {
        const s = stems[k % 20];
        k += 1;
        return s ? { stem: s } : {};
      };
      return {
        id: `u${n}`,
        version: 1,
        name: `Unit ${n}`,
        kind,
        axles: layouts.map((layout, i) => {
          const axle = makeAxle(layout, i + 1);
          return { ...axle, wheels: axle.wheels.map((w) => ({ ...w, ...stem() })) };
        }),
        spares: Array.from({ length: spares }, (_, i) => ({
          wheel: { position: `S${i + 1}`, sensor: null, ...stem() },
          settings: {},
        })),
      };
    }),
  );

export const monitors = fc.record({
  positionsPerUnit: fc.integer({ min: 1, max: 26 }),
  units: fc.integer({ min: 1, max: 4 }),
  rows: fc.option(fc.array(fc.constantFrom(2, 4), { minLength: 1, maxLength: 6 }), { nil: undefined }),
});
