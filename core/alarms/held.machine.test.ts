import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type HeldAxle, type HeldMonitor, heldLimits } from './held.ts';
import { KeyedMachine } from './keying.machine.test-data.ts';
import { type KeyingMonitor, planKeying } from './keying.ts';

// The card is keyed press by press on a monitor written apart from it (`keying.machine.test-data.ts`), and what that monitor shows in the end
// is read back, axle by axle, by the rule of its groups as the contract states it.
const KPA: Record<KeyingMonitor['unit'], number> = { psi: 6.894757293168, bar: 100, kPa: 1 };

/** The name of the group that an axle is in, told apart from the planner. */
function groupName(groups: KeyingMonitor['groups'], axles: readonly HeldAxle[], axle: HeldAxle, wheel: number): string {
  if (groups === 'all') return 'all';
  if (groups === 'unit') return axle.unitKind === 'trailer' ? axle.axle.slice(0, 1) : axle.axle;
  if (groups === 'rearWithTrailer') return axle === axles.find((a) => a.unitKind === 'vehicle') ? axle.axle : 'rear';
  if (groups === 'wheel') return (axle.wheels ?? 2) === 1 ? axle.axle : `${axle.axle} wheel ${wheel}`;
  return axle.axle;
}

it('ends in what is said to be held, on 2,000 random rigs and monitors, and every verdict is of that pair', () => {
  const drawn = fc.record({
    groups: fc.constantFrom('axle', 'unit', 'rearWithTrailer', 'wheel', 'all') as fc.Arbitrary<KeyingMonitor['groups']>,
    scale: fc.constantFrom<[KeyingMonitor['unit'], number]>(['psi', 1], ['psi', 0.5], ['bar', 0.1], ['kPa', 10]),
    low: fc.integer({ min: 10, max: 60 }),
    over: fc.integer({ min: 1, max: 60 }),
    top: fc.integer({ min: 250, max: 900 }),
    interlock: fc.boolean(),
    axles: fc.array(
      fc.record({
        trailer: fc.boolean(),
        cold: fc.integer({ min: 150, max: 800 }),
        low: fc.option(fc.integer({ min: 70, max: 97 }), { nil: null }),
        high: fc.option(fc.integer({ min: 104, max: 140 }), { nil: null }),
        start: fc.integer({ min: 80, max: 100 }),
        hot: fc.integer({ min: 100, max: 125 }),
        load: fc.integer({ min: 0, max: 95 }),
        wheels: fc.integer({ min: 1, max: 4 }),
      }),
      { minLength: 1, maxLength: 5 },
    ),
  });
  const seen = new Set<string>();
  fc.assert(
    fc.property(drawn, (d) => {
      const [unit, step] = d.scale;
      const value = (n: number) => Number((n * step).toFixed(1));
      const monitor: KeyingMonitor = {
        groups: d.groups,
        unit,
        step,
        min: value(5),
        max: Math.max(value(Math.round(d.top / KPA[unit] / step)), value(d.low + d.over)),
        presetLow: value(d.low),
        presetHigh: value(d.low + d.over),
        interlock: d.interlock,
      };
      const axles = d.axles.map((a, i): HeldAxle => {
        const share = (percent: number) => (a.cold * percent) / 100;
        return {
          axle: `${a.trailer ? 'B' : 'A'}${i + 1}`,
          unitKind: a.trailer ? 'trailer' : 'vehicle',
          coldKpa: a.cold,
          lowKpa: a.low === null ? null : share(a.low),
          highKpa: a.high === null ? null : share(a.high),
          wheels: a.wheels,
          coldestStartKpa: share(a.start),
          hotRunKpa: share(a.hot),
          loadMinimumKpa: share(a.load),
        };
      });
      const names = [
        ...new Set(axles.flatMap((a) => Array.from({ length: a.wheels ?? 2 }, (_, w) => groupName(d.groups, axles, a, w + 1)))),
      ];
      const machine = new KeyedMachine(names, monitor);
      expect(machine.follow(planKeying(monitor, axles).steps)).toBe(true);
      const held = heldLimits(monitor as HeldMonitor, axles);
      axles.forEach((a, i) => {
        const own = groupName(d.groups, axles, a, 1);
        const low = (machine.read(own, 'low') as number) * KPA[unit];
        const high = (machine.read(own, 'high') as number) * KPA[unit];
        const h = held[i];
        expect(h?.heldLowKpa).toBeCloseTo(low, 6);
        expect(h?.heldHighKpa).toBeCloseTo(high, 6);
        // Away from the very edge, where a last digit decides.
        const clear = (x: number | undefined, y: number) => x === undefined || Math.abs(x - y) > 1e-3;
        if (![a.coldKpa, a.coldestStartKpa, a.loadMinimumKpa].every((x) => clear(x, low))) return;
        if (![a.coldKpa, a.hotRunKpa].every((x) => clear(x, high))) return;
        const verdicts = [
          ...(low > a.coldKpa || high < a.coldKpa ? ['rings-always'] : []),
          ...(low > (a.coldestStartKpa as number) ? ['nuisance-low'] : []),
          ...(high < (a.hotRunKpa as number) ? ['nuisance-high'] : []),
          ...(low < (a.loadMinimumKpa as number) ? ['unprotected-low'] : []),
        ];
        expect(h?.verdicts).toEqual(verdicts.length > 0 ? verdicts : ['ok']);
        for (const v of h?.verdicts ?? []) seen.add(v);
      });
    }),
    { numRuns: 2000 },
  );
  expect([...seen].sort()).toEqual(['nuisance-high', 'nuisance-low', 'ok', 'rings-always', 'unprotected-low']);
});
