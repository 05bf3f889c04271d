import { describe, expect, it } from 'vitest';
import { limitsFor } from '#core/alarms/limits.ts';
import type { Monitor } from '#schema/monitor.ts';
import { plainFormat } from '../../testing/rigs.ts';
import { gridOf, snap } from './gridOf.ts';
import { inUnits, ownFigures, readRule, toTyped } from './ruleText.ts';

const PSI = 6.894757293168;
const f = plainFormat('psi', 'C');
const grid = { unit: 'psi' as const, step: 1, min: 0, max: 188 };

describe('a limit that is dragged', () => {
  it('stands on the monitor’s steps, on its own side of cold', () => {
    const psi = (kpa: number, field: 'low' | 'high', cold = 80) => snap(kpa * PSI, field, cold * PSI, grid) / PSI;
    expect(psi(71.6, 'low')).toBeCloseTo(72, 9);
    expect(psi(90, 'low')).toBeCloseTo(79, 9);
    expect(psi(70, 'high')).toBeCloseTo(81, 9);
    expect(psi(79.9, 'low', 80.5)).toBeCloseTo(80, 9);
    expect(psi(500, 'high')).toBeCloseTo(188, 9);
    expect(psi(-5, 'low')).toBeCloseTo(1, 9);
  });
  it('takes round figures where no monitor sets the steps', () => {
    expect(gridOf(null, 'bar')).toMatchObject({ unit: 'bar', step: 0.1 });
    expect(gridOf({ groups: 'baseline', unit: 'psi', step: 1, min: 10, max: 150 } as Monitor, 'kPa')).toMatchObject({ step: 5 });
    expect(gridOf({ groups: 'axle', unit: 'bar', step: 0.1, min: 1, max: 5 } as Monitor, 'psi')).toEqual({
      unit: 'bar',
      step: 0.1,
      min: 1,
      max: 5,
    });
  });
});

describe('limits of the owner’s own', () => {
  const typed = toTyped(undefined, f);
  it('become a floor and a ceiling, to the same figures', () => {
    const own = ownFigures(typed, { lowKpa: 73 * PSI, highKpa: 96 * PSI }, 80 * PSI, f);
    const { value, problems } = readRule(own, f);
    expect(problems).toEqual([]);
    const pair = limitsFor(value.rule, 80 * PSI);
    expect((pair.lowKpa ?? 0) / PSI).toBeCloseTo(73, 6);
    expect((pair.highKpa ?? 0) / PSI).toBeCloseTo(96, 6);
  });
  it('or a low alone where there is no high, still on its step', () => {
    const own = ownFigures(typed, { lowKpa: 200, highKpa: null }, 220, plainFormat('bar', 'C'));
    const { value } = readRule(own, plainFormat('bar', 'C'));
    expect(value.rule.school).toBe('lowOnly');
    expect(limitsFor(value.rule, 220).lowKpa).toBeCloseTo(200, 4);
  });
  it('survive a change of units while they are not in force', () => {
    const own = ownFigures(typed, { lowKpa: 73 * PSI, highKpa: 96 * PSI }, 80 * PSI, f);
    const bar = inUnits({ typed: own, pressure: 'psi', temp: 'C' }, plainFormat('bar', 'C'));
    expect(bar.values).toMatchObject({ floorKpa: '5.033', ceilingKpa: '6.619' });
  });
});
