import { LAB_SIZE, type LabFigures } from '#core/lab/compare.ts';
import type { Spread } from '#core/lab/fixed.ts';

/** Names of what is compared. */
export const RULE_NAMES: Record<string, string> = {
  watch: 'Druckwerk’s watch',
  yours: 'your limits',
  own: 'your own rule',
  share: 'share of normal, 10 / 20 %',
  margin: 'fixed margin, 15 psi',
  rating: 'from the rating, 15 / 25 %',
  rough: 'rough rounding',
  lowOnly: 'low only, 10 %',
  regulation: 'as a factory monitor, 25 %',
};
export const nameOf = (rule: string): string => RULE_NAMES[rule] ?? rule;

/** A count a year with as many digits as it is worth. */
export const perYear = (n: number): string => (n === 0 ? '0' : n < 0.095 ? n.toFixed(2) : n < 9.95 ? n.toFixed(1) : n.toFixed(0));
export const percent = (share: number): string => `${Math.round(share * 100)} %`;
export const hours = (h: number): string =>
  h < 1.5 ? `${Math.max(1, Math.round(h * 60))} min` : h < 48 ? `${Math.round(h)} h` : `${Math.round(h / 24)} days`;
/** `2.7 (1.1 to 4.9)`; without the spread where there is none. */
export const spreadText = (s: Spread, text: (n: number) => string): string =>
  text(s.low) === text(s.high) ? text(s.middle) : `${text(s.middle)} (${text(s.low)} to ${text(s.high)})`;

/** The columns of the table and of the CSV. */
export const COLUMNS: readonly {
  head: string;
  csv: (f: LabFigures) => (string | number)[];
  names: string[];
  text: (f: LabFigures) => string;
}[] = [
  {
    head: 'False alarms, a wheel-year',
    names: ['false_alarms_a_wheel_year', 'tenth', 'ninetieth'],
    csv: (f) => [f.nuisance.middle, f.nuisance.low, f.nuisance.high],
    text: (f) => spreadText(f.nuisance, perYear),
  },
  {
    head: 'Most in one hour',
    names: ['most_in_one_hour'],
    csv: (f) => [f.mostInHour],
    text: (f) => String(f.mostInHour),
  },
  {
    head: 'Leaks heard in time',
    names: ['leaks', 'leaks_heard', 'heard_in_time', 'in_time_low', 'in_time_high'],
    csv: (f) => [f.leaks.n, f.leaks.heard, f.leaks.inTime.middle, f.leaks.inTime.low, f.leaks.inTime.high],
    text: (f) => spreadText(f.leaks.inTime, percent),
  },
  {
    head: 'Delay, middle',
    names: ['delay_h'],
    csv: (f) => [f.leaks.delayH ?? ''],
    text: (f) => (f.leaks.delayH === null ? '–' : hours(f.leaks.delayH)),
  },
  {
    head: 'Air gone by then',
    names: ['air_gone'],
    csv: (f) => [f.leaks.airGone ?? ''],
    text: (f) => (f.leaks.airGone === null ? '–' : percent(f.leaks.airGone)),
  },
  {
    head: 'Driven too low, unheard',
    names: ['driven_under_load_minimum'],
    csv: (f) => [f.leaks.drivenUnder],
    text: (f) => `${f.leaks.drivenUnder} of ${f.leaks.n}`,
  },
  {
    head: 'Hot hubs heard',
    names: ['hubs_heard'],
    csv: (f) => [f.hubs.middle],
    text: (f) => percent(f.hubs.middle),
  },
];

/** The rows of the CSV: its head, and a row for each rule. */
export const csvRows = (figures: readonly { name: string; figures: LabFigures }[], seed: number): (string | number)[][] => [
  ['rule', 'seed', 'wheel_years', ...COLUMNS.flatMap((c) => c.names)],
  ...figures.map((r) => [nameOf(r.name), seed, r.figures.wheelYears, ...COLUMNS.flatMap((c) => c.csv(r.figures))]),
];

export const SIZE_WORDS = `${LAB_SIZE.fixedDays.toLocaleString('en-GB')} days and ${LAB_SIZE.leaks} leaks for each rule`;
export const WATCH_WORDS = `The watch judges every reading, so it gets a sample: ${LAB_SIZE.watchDraws * LAB_SIZE.watchDays} days, ${LAB_SIZE.watchLeaks} of the leaks and ${LAB_SIZE.watchHubs} of the hubs.`;
