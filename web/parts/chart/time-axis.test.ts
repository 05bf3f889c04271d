import { addHours, eachDayOfInterval, eachHourOfInterval, startOfDay } from 'date-fns';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { axisStep, isOnStep } from './time-axis.ts';

const DAY = 86_400_000;

describe('marks of a time axis', () => {
  it.each([
    ['a minute', 60_000, 'second', 10],
    ['an hour', 3_600_000, 'minute', 10],
    ['six hours', 6 * 3_600_000, 'hour', 1],
    ['a day', DAY, 'hour', 3],
    ['two days', 2 * DAY, 'hour', 6],
    ['a week', 7 * DAY, 'day', 1],
    ['a month', 30 * DAY, 'week', 1],
    ['a year', 365 * DAY, 'month', 3],
    ['five years', 5 * 365 * DAY, 'year', 1],
  ] as const)('%s has at most eight', (_what, span, unit, every) => {
    expect(axisStep(0, span, 8)).toEqual({ unit, every });
  });
});

// Summer time in the European Union: Directive 2000/84/EC, from memory (last Sundays of March and October, 01:00 UTC).
describe('over a change of the clock', () => {
  const before = process.env.TZ;
  beforeAll(() => {
    process.env.TZ = 'Europe/Berlin';
  });
  afterAll(() => {
    process.env.TZ = before;
  });
  const hours = (year: number, month: number, day: number) => {
    const start = startOfDay(new Date(year, month, day));
    const all = eachHourOfInterval({ start, end: addHours(start, 26) }).filter((t) => t.getDate() === day);
    const step = axisStep(+start, +start + DAY, 5);
    return all.filter((t) => isOnStep(+t, step)).map((t) => t.getHours());
  };
  it('a day of 23 hours and one of 25 have their marks at 0, 6, 12 and 18 o’clock, as any day has', () => {
    expect(new Date(2026, 2, 29, 12).getTimezoneOffset()).toBe(-120);
    expect(hours(2026, 2, 28)).toEqual([0, 6, 12, 18]);
    expect(hours(2026, 2, 29)).toEqual([0, 6, 12, 18]);
    expect(hours(2026, 9, 25)).toEqual([0, 6, 12, 18]);
  });
  it('days of a week with the change in it begin at midnight', () => {
    const days = eachDayOfInterval({ start: new Date(2026, 2, 26), end: new Date(2026, 3, 2) });
    expect(days.map((d) => d.getHours())).toEqual(days.map(() => 0));
    expect(days.filter((d) => isOnStep(+d, { unit: 'day', every: 1 }))).toHaveLength(8);
  });
});
