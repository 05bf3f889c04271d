/** Distance between two marks of a time axis: so many of a unit of the calendar. */
export interface AxisStep {
  unit: 'second' | 'minute' | 'hour' | 'day' | 'week' | 'month' | 'year';
  every: number;
}

const SECOND = 1000;
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Steps with their usual length, ms; a day of 23 or 25 hours is a day all the same. */
const STEPS: [AxisStep['unit'], number, number][] = [
  ...[1, 5, 10, 30].map((n): [AxisStep['unit'], number, number] => ['second', n, n * SECOND]),
  ...[1, 5, 10, 30].map((n): [AxisStep['unit'], number, number] => ['minute', n, n * 60 * SECOND]),
  ...[1, 3, 6, 12].map((n): [AxisStep['unit'], number, number] => ['hour', n, n * HOUR]),
  ['day', 1, DAY],
  ['day', 2, 2 * DAY],
  ['week', 1, 7 * DAY],
  ['month', 1, 30.4 * DAY],
  ['month', 3, 91 * DAY],
  ['month', 6, 182 * DAY],
  ...[1, 2, 5, 10, 50].map((n): [AxisStep['unit'], number, number] => ['year', n, n * 365 * DAY]),
];

/** The smallest step that puts no more than `most` marks between two moments, ms since the epoch. */
export function axisStep(from: number, to: number, most: number): AxisStep {
  const [unit, every] = STEPS.find(([, , ms]) => (to - from) / ms <= most) ?? ['year', 50];
  return { unit, every };
}

/** Whether a moment that starts a unit of the calendar, here in this place, is one of every so many. */
export function isOnStep(ms: number, { unit, every }: AxisStep): boolean {
  const t = new Date(ms);
  const count: Record<AxisStep['unit'], number> = {
    second: t.getSeconds(),
    minute: t.getMinutes(),
    hour: t.getHours(),
    day: t.getDate() - 1,
    week: 0,
    month: t.getMonth(),
    year: t.getFullYear(),
  };
  return count[unit] % every === 0;
}
