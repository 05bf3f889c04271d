import { describe, expect, it } from 'vitest';
import type { ChartAnswer, ChartPoint } from '#schema/history.ts';
import { openAlarm } from '../../testing/mount.tsx';
import { steadyView } from '../../testing/rigs.ts';
import { markRows } from './ChartPart.tsx';
import { limitsFrom, linesOf, marksOf } from './series.ts';

const T = Date.parse('2026-05-01T08:00:00Z');
const point = (minutes: number, lastKpa: number, change: Partial<ChartPoint> = {}): ChartPoint => ({
  ms: T + minutes * 60_000,
  lastMs: T + minutes * 60_000 + 50_000,
  count: 10,
  lowKpa: lastKpa - 5,
  highKpa: lastKpa + 7,
  lastKpa,
  lowC: 19,
  highC: 23,
  lastC: 20,
  ...change,
});
const answer = (stepS: number, ...points: ChartPoint[]): ChartAnswer => ({
  from: new Date(T).toISOString(),
  to: new Date(T + 3_600_000).toISOString(),
  stepS,
  series: [
    { position: 'A1L', sensorId: 'A00000', points },
    { position: 'A1R', sensorId: 'A00001', points: [] },
  ],
});
const wheels = [steadyView(), steadyView({ position: 'A1R', sensorId: 'A00001' })];
const plain = { kpa: (v: number) => v, c: (v: number) => v };

describe('lines of a chart', () => {
  it('give the last figure at its moment, and the lowest and highest of the stretch', () => {
    const [line, ...rest] = linesOf(answer(60, point(0, 500)), 'pressure', wheels, null, plain, new Map());
    expect(rest).toEqual([]);
    expect(line).toEqual({ label: 'A1L', strong: null, order: 0, points: [{ x: T + 50_000, y: 500, low: 495, high: 507 }] });
  });

  it('stand at the reading itself where every reading is a point', () => {
    expect(linesOf(answer(0, point(0, 500)), 'pressure', wheels, null, plain, new Map())[0]?.points[0]?.x).toBe(T);
  });

  it('come in the owner’s units', () => {
    const turn = { kpa: (v: number) => v / 100, c: (v: number) => v * 1.8 + 32 };
    expect(linesOf(answer(60, point(0, 500)), 'pressure', wheels, null, turn, new Map())[0]?.points[0]).toMatchObject({
      y: 5,
      low: 4.95,
      high: 5.07,
    });
    // 20 °C is 68 °F.
    expect(linesOf(answer(60, point(0, 500)), 'temperature', wheels, null, turn, new Map())[0]?.points[0]?.y).toBe(68);
  });

  it('break where no temperature was told', () => {
    const typed = point(1, 500, { lowC: null, highC: null, lastC: null });
    const temps = linesOf(answer(60, point(0, 500), typed), 'temperature', wheels, null, plain, new Map());
    expect(temps[0]?.points.map((p) => p.y)).toEqual([20, null]);
    const held = linesOf(answer(60, point(0, 500), typed), 'held', wheels, 20, plain, new Map());
    expect(held[0]?.points[1]?.y).toBeNull();
  });

  it('a tire that is warm and holds its air shows no gap; one without a target shows none at all', () => {
    // Ideal gas: 500 kPa gauge at 20 °C is 541.03 kPa at 40 °C ((500 + 101.325) * 313.15 / 293.15 - 101.325).
    const internal = [steadyView({ sensorKind: 'internal' })];
    // An internal sensor shows 0.9 of the rise: 38 °C for a gas of 40 °C in air of 20 °C.
    const warm = answer(60, point(0, 541.03, { lastC: 38 }));
    const [gap] = linesOf(warm, 'gap', internal, 20, plain, new Map([['A1L', 'act' as const]]));
    expect(gap?.strong).toBe('act');
    expect(Math.abs(gap?.points[0]?.y ?? 99)).toBeLessThan(0.1);
    const [held] = linesOf(warm, 'held', internal, 20, plain, new Map());
    expect(held?.points[0]?.y).toBeCloseTo(500, 0);
    expect(linesOf(warm, 'gap', [steadyView({ coldKpa: null })], 20, plain, new Map())[0]?.points[0]?.y).toBeNull();
  });
});

it('limits as the core takes them leave out wheels without a sensor', () => {
  const limits = limitsFrom([steadyView({ coldTempC: null }), steadyView({ position: 'A1R', sensorKind: null })]);
  expect(limits).toEqual({
    A1L: { lowKpa: 450, highKpa: 600, hotC: 70, coldKpa: 500, coldTempC: 20, sensorKind: 'cap' },
  });
});

it('marks are the alarms of the wheels drawn, inside the stretch; a unit’s too', () => {
  const at = (minutes: number) => new Date(T + minutes * 60_000).toISOString();
  const marks = marksOf(
    [
      openAlarm({ fromTime: at(1) }),
      openAlarm({ position: 'A1R', fromTime: at(2) }),
      openAlarm({ position: 'B', kind: 'silent', fromTime: at(3) }),
      openAlarm({ fromTime: at(-1) }),
      openAlarm({ fromTime: at(61) }),
    ],
    ['A1L'],
    T,
    T + 3_600_000,
  );
  expect(marks).toEqual([
    { ms: T + 60_000, label: 'A1L low' },
    { ms: T + 180_000, label: 'B silent' },
  ]);
});

it('names of marks never lie on each other: top, foot, or none', () => {
  const at = (...ms: number[]) =>
    markRows(
      ms.map((m) => ({ ms: m, label: 'B2L low' })),
      100,
    );
  expect(at(0, 50, 100)).toEqual(['end', 'end', 'end']);
  expect(at(0, 2, 4, 50)).toEqual(['end', 'start', null, 'end']);
  // In whatever order they come.
  expect(at(50, 4, 2, 0)).toEqual(['end', null, 'start', 'end']);
  expect(at()).toEqual([]);
});
