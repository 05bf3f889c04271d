import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { KeyedMachine } from './keying.machine.test-data.ts';
import { explainMismatch, type KeyingAxle, type KeyingMonitor, keyingGroups, planKeying } from './keying.ts';

const PSI = 6.894757293168;
const psi = (v: number) => v * PSI;
const monitor: KeyingMonitor = {
  groups: 'axle',
  unit: 'psi',
  step: 1,
  min: 0,
  max: 200,
  presetLow: 100,
  presetHigh: 175,
  interlock: true,
};
const axle = (
  code: string,
  low: number | null,
  high: number | null,
  unitKind: 'vehicle' | 'trailer' = 'vehicle',
): KeyingAxle => ({
  axle: code,
  unitKind,
  lowKpa: low === null ? null : psi(low),
  highKpa: high === null ? null : psi(high),
});

describe('planKeying', () => {
  it('comes down low first, so that an interlock never refuses', () => {
    const plan = planKeying(monitor, [axle('A1', 29, 44)]);
    expect(plan.steps).toEqual([
      { group: 'A1', field: 'low', from: 100, to: 29, presses: 71 },
      { group: 'A1', field: 'high', from: 175, to: 44, presses: 131 },
    ]);
    expect(plan.presses).toBe(202);
    expect(plan.unmet).toEqual([]);
  });
  it('goes up high first', () => {
    const plan = planKeying({ ...monitor, presetLow: 29, presetHigh: 44 }, [axle('A1', 100, 175)]);
    expect(plan.steps.map((s) => s.field)).toEqual(['high', 'low']);
  });
  it('the same order the other way round is refused by the monitor', () => {
    const plan = planKeying(monitor, [axle('A1', 29, 44)]);
    expect(new KeyedMachine(['A1'], monitor).follow(plan.steps)).toBe(true);
    expect(new KeyedMachine(['A1'], monitor).follow([...plan.steps].reverse())).toBe(false);
  });
  it('rounds the low up and the high down, and says so', () => {
    const plan = planKeying({ ...monitor, unit: 'bar', step: 0.1, max: 6, presetLow: 2, presetHigh: 3 }, [
      { axle: 'A1', unitKind: 'vehicle', lowKpa: 216, highKpa: 288 },
    ]);
    expect(plan.ends.A1).toEqual({ low: 2.2, high: 2.8 });
    expect(plan.unmet).toEqual([
      { axle: 'A1', field: 'low', wantedKpa: 216, gotKpa: 220.00000000000003, why: 'rounded' },
      { axle: 'A1', field: 'high', wantedKpa: 288, gotKpa: 280, why: 'rounded' },
    ]);
    expect(plan.steps.map((s) => s.presses)).toEqual([2, 2]);
  });
  it('a value on a step but for binary dust stays on it', () => {
    const plan = planKeying({ ...monitor, unit: 'bar', step: 0.1, max: 6, presetLow: 2, presetHigh: 3 }, [
      { axle: 'A1', unitKind: 'vehicle', lowKpa: 230.00000001, highKpa: 289.999999 },
    ]);
    expect(plan.ends.A1).toEqual({ low: 2.3, high: 2.9 });
    expect(plan.unmet).toEqual([]);
  });
  it('a trailer as one group: the highest low and the lowest high, and each axle is told what it gets', () => {
    const plan = planKeying({ ...monitor, groups: 'unit' }, [
      axle('B1', 70, 100, 'trailer'),
      axle('B2', 72, 104, 'trailer'),
      axle('B3', 68, 98, 'trailer'),
    ]);
    expect(plan.groups).toEqual([{ group: 'B', axles: ['B1', 'B2', 'B3'] }]);
    expect(plan.ends.B).toEqual({ low: 72, high: 98 });
    const told = plan.unmet.map((u) => [
      u.axle,
      u.field,
      Math.round(u.wantedKpa / PSI),
      Math.round((u.gotKpa ?? 0) / PSI),
      u.why,
    ]);
    expect(told).toEqual([
      ['B1', 'low', 70, 72, 'grouped'],
      ['B1', 'high', 100, 98, 'grouped'],
      ['B2', 'high', 104, 98, 'grouped'],
      ['B3', 'low', 68, 72, 'grouped'],
    ]);
  });
  it('limits that cross in a group keep the low and take the highest high', () => {
    const plan = planKeying({ ...monitor, groups: 'all' }, [axle('A1', 28, 41), axle('B1', 72, 100, 'trailer')]);
    expect(plan.ends.all).toEqual({ low: 72, high: 100 });
    expect(plan.unmet.map((u) => [u.axle, u.field, u.why])).toEqual([
      ['A1', 'low', 'grouped'],
      ['A1', 'high', 'conflict'],
    ]);
  });
  it('the rear axles and the trailer may share', () => {
    const axles = [
      axle('A1', 59, 81),
      axle('A2', 54, 75),
      axle('A3', 54, 75),
      axle('B1', 72, 100, 'trailer'),
      axle('BS1', 60, null, 'trailer'),
    ];
    expect(keyingGroups('rearWithTrailer', axles)).toEqual([
      { group: 'A1', axles: ['A1'] },
      { group: 'rear', axles: ['A2', 'A3', 'B1'] },
      { group: 'BS1', axles: ['BS1'] },
    ]);
  });
  it('a monitor by wheel is keyed wheel by wheel', () => {
    const plan = planKeying({ ...monitor, groups: 'wheel' }, [{ ...axle('A2', 54, 75), wheels: 4 }]);
    expect(plan.groups.map((g) => g.group)).toEqual(['A2 wheel 1', 'A2 wheel 2', 'A2 wheel 3', 'A2 wheel 4']);
    expect(plan.steps).toHaveLength(8);
  });
  it('what lies outside the range is kept inside it, and told', () => {
    const plan = planKeying({ ...monitor, min: 30, max: 90, presetLow: 40, presetHigh: 60 }, [axle('A1', 25, 120)]);
    expect(plan.ends.A1).toEqual({ low: 30, high: 90 });
    expect(plan.unmet.map((u) => u.why)).toEqual(['range', 'range']);
  });
  it('where both end on one value no order can work', () => {
    const plan = planKeying({ ...monitor, max: 100, presetLow: 50, presetHigh: 80 }, [axle('A1', 110, 140)]);
    expect(plan.steps).toEqual([]);
    expect(plan.unmet.map((u) => u.why)).toEqual(['impossible', 'impossible']);
    expect(plan.unmet.map((u) => Math.round((u.gotKpa ?? 0) / PSI))).toEqual([50, 80]);
  });
  it('a limit nobody wants stays, unless the interlock needs it moved', () => {
    expect(planKeying(monitor, [axle('A1', 72, null)]).steps).toEqual([
      { group: 'A1', field: 'low', from: 100, to: 72, presses: 28 },
    ]);
    expect(planKeying({ ...monitor, presetLow: 29, presetHigh: 44 }, [axle('A1', 72, null)]).steps).toEqual([
      { group: 'A1', field: 'high', from: 44, to: 73, presses: 29 },
      { group: 'A1', field: 'low', from: 29, to: 72, presses: 43 },
    ]);
    expect(planKeying(monitor, [axle('A1', null, 44)]).steps.map((s) => [s.field, s.to])).toEqual([
      ['low', 43],
      ['high', 44],
    ]);
  });
  it('a low-only monitor has no high to key', () => {
    const plan = planKeying(
      { ...monitor, unit: 'bar', step: 0.1, min: 0.8, max: 4, presetLow: 1.8, presetHigh: null, interlock: false },
      [{ axle: 'A1', unitKind: 'vehicle', lowKpa: 198, highKpa: 264 }],
    );
    expect(plan.steps.map((s) => [s.field, s.to])).toEqual([['low', 2]]);
    expect(plan.unmet.at(-1)).toMatchObject({ field: 'high', gotKpa: null, why: 'range' });
  });
  it('starts from what the monitor shows, where that is known', () => {
    const plan = planKeying({ ...monitor, groups: 'unit' }, [axle('A1', 59, 81), axle('B1', 72, 100, 'trailer')], {
      A1: { low: 59, high: 81 },
      B: { low: 50, high: 100 },
    });
    expect(plan.steps).toEqual([{ group: 'B', field: 'low', from: 50, to: 72, presses: 22 }]);
  });

  it('any card can be keyed on a monitor that refuses, and ends at what it says', () => {
    const run = fc.record({
      groups: fc.constantFrom('axle', 'unit', 'rearWithTrailer', 'wheel', 'all') as fc.Arbitrary<KeyingMonitor['groups']>,
      scale: fc.constantFrom<{ unit: KeyingMonitor['unit']; step: number; perKpa: number }>(
        { unit: 'psi', step: 1, perKpa: 1 / PSI },
        { unit: 'psi', step: 0.5, perKpa: 1 / PSI },
        { unit: 'bar', step: 0.1, perKpa: 0.01 },
        { unit: 'kPa', step: 10, perKpa: 1 },
      ),
      preset: fc.tuple(fc.integer({ min: 10, max: 60 }), fc.integer({ min: 1, max: 60 })),
      interlock: fc.boolean(),
      axles: fc.array(
        fc.record({
          trailer: fc.boolean(),
          low: fc.option(fc.double({ min: 80, max: 700, noNaN: true }), { nil: null }),
          room: fc.option(fc.double({ min: 10, max: 300, noNaN: true }), { nil: null }),
          wheels: fc.integer({ min: 1, max: 4 }),
        }),
        { minLength: 1, maxLength: 5 },
      ),
    });
    let keyed = 0;
    fc.assert(
      fc.property(run, ({ groups, scale, preset, interlock, axles }) => {
        const { unit, step, perKpa } = scale;
        const presetLow = Number((preset[0] * step).toFixed(1));
        const presetHigh = Number(((preset[0] + preset[1]) * step).toFixed(1));
        const m: KeyingMonitor = {
          groups,
          unit,
          step,
          min: 5 * step,
          max: Math.max(1100 * perKpa, presetHigh),
          presetLow,
          presetHigh,
          interlock,
        };
        const wanted = axles.map(
          (a, i): KeyingAxle => ({
            axle: `${a.trailer ? 'B' : 'A'}${i + 1}`,
            unitKind: a.trailer ? 'trailer' : 'vehicle',
            lowKpa: a.low,
            highKpa: a.room === null ? null : (a.low ?? 300) + a.room,
            wheels: a.wheels,
          }),
        );
        const plan = planKeying(m, wanted);
        const machine = new KeyedMachine(
          plan.groups.map((g) => g.group),
          m,
        );
        expect(machine.follow(plan.steps)).toBe(true);
        expect(machine.refusals).toBe(0);
        expect(machine.presses).toBe(plan.presses);
        for (const { group } of plan.groups)
          for (const field of ['low', 'high'] as const)
            expect(machine.read(group, field)).toBeCloseTo(plan.ends[group]?.[field] ?? 0, 6);
        for (const a of wanted) {
          for (const field of ['low', 'high'] as const) {
            const kpa = field === 'low' ? a.lowKpa : a.highKpa;
            if (kpa === null) continue;
            const group = plan.groups.find((g) => g.axles.includes(a.axle));
            const shown = (machine.read(group?.group ?? '', field) ?? 0) / perKpa;
            const told = plan.unmet.find((u) => u.axle === a.axle && u.field === field);
            if (told) expect(shown).toBeCloseTo(told.gotKpa ?? 0, 6);
            else expect(Math.abs(shown - kpa) * perKpa).toBeLessThan(1.01e-4);
          }
        }
        keyed += plan.steps.length;
      }),
      { numRuns: 500 },
    );
    expect(keyed).toBeGreaterThan(500);
  });
  it('one wrong step is found by the monitor', () => {
    const plan = planKeying(monitor, [axle('A1', 59, 81), axle('A2', 54, 75)]);
    plan.steps.forEach((_, i) => {
      for (const change of [{ to: 58 }, { presses: 3 }, { from: 99 }, { field: 'high' as const, to: 41 }]) {
        const mutated = plan.steps.map((s, k) => (k === i ? { ...s, ...change } : s));
        const machine = new KeyedMachine(['A1', 'A2'], monitor);
        const followed = machine.follow(mutated);
        const same = plan.groups.every(({ group }) =>
          (['low', 'high'] as const).every((f) => Math.abs((machine.read(group, f) ?? 0) - (plan.ends[group]?.[f] ?? 0)) < 1e-6),
        );
        expect(followed && same).toBe(false);
      }
    });
  });
});

describe('explainMismatch', () => {
  const plan = planKeying(monitor, [axle('A1', 59, 81), axle('A2', 54, 75)]);
  const why = (read: number, group = 'A1', field: 'low' | 'high' = 'low') =>
    explainMismatch(read, { group, field }, plan, monitor);
  it.each([
    ['what it should be', 59, 'A1', 'low', null],
    ['the preset: it was not saved', 100, 'A1', 'low', { reason: 'notSaved' }],
    ['the other axle’s figure', 54, 'A1', 'low', { reason: 'otherGroup', group: 'A2' }],
    ['the high in place of the low', 81, 'A1', 'low', { reason: 'swapped' }],
    ['two presses short', 61, 'A1', 'low', { reason: 'stepsShort', presses: 2 }],
    ['one press too many', 80, 'A1', 'high', { reason: 'stepsOver', presses: 1 }],
    ['the figure in bar', 4.1, 'A1', 'low', { reason: 'otherUnit', unit: 'bar' }],
    ['nothing known', 33, 'A1', 'low', { reason: 'unknown' }],
  ] as const)('%s', (_, read, group, field, reason) => {
    expect(why(read, group, field)).toEqual(reason);
  });
});
