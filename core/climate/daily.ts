/** What a column of an open weather file is taken for. */
export interface DailyMapping {
  date: number;
  min: number;
  max: number;
  /** Order of day, month and year in the date. */
  order: 'ymd' | 'dmy' | 'mdy';
  unit: 'C' | 'F';
  /** The decimal sign. */
  decimal: '.' | ',';
  /** Rows before the first day. */
  skip: number;
}

export interface Day {
  /** ISO date. */
  date: string;
  minC: number;
  maxC: number;
}

/** A line that could not be used, counted from 1. */
export interface DailyFault {
  line: number;
  code: 'date' | 'number' | 'hole' | 'minOverMax' | 'range' | 'twice';
  text: string;
}

export interface Daily {
  days: Day[];
  faults: DailyFault[];
}

const pad = (n: number) => String(n).padStart(2, '0');

/** A day as ISO text; null when it is none. */
export function parseDay(text: string, order: DailyMapping['order']): string | null {
  const compact = /^(\d{4})(\d{2})(\d{2})$/.exec(text.trim());
  const parts = compact ? compact.slice(1) : /^(\d{1,4})[-./ ](\d{1,2})[-./ ](\d{1,4})(?:[T ].*)?$/.exec(text.trim())?.slice(1);
  if (!parts) return null;
  const [a, b, c] = parts.map(Number) as [number, number, number];
  const yearFirst = (parts[0] as string).length === 4;
  const [y, m, d] = yearFirst ? [a, b, c] : order === 'mdy' ? [c, a, b] : [c, b, a];
  if (y < 1800 || y > 2200) return null;
  const date = new Date(Date.UTC(y, m - 1, d));
  return date.getUTCMonth() === m - 1 && date.getUTCDate() === d ? `${y}-${pad(m)}-${pad(d)}` : null;
}

/** A number with the decimal sign of the file; null when it is none, undefined when the field is a hole. */
export function parseDegree(text: string, decimal: '.' | ','): number | null | undefined {
  const t = text.trim().replace('−', '-');
  if (t === '' || /^(na|n\/a|nan|null|-|--|m|missing|-?9999(\.0+)?)$/i.test(t)) return undefined;
  const plain = decimal === ',' ? t.replace(',', '.') : t;
  return /^[+-]?(\d+(\.\d*)?|\.\d+)$/.test(plain) ? Number(plain) : null;
}

const WORDS = {
  date: /date|day|datum|tag|time/i,
  min: /min|low|tn|tief|lowest/i,
  max: /max|high|tx|hoch|highest/i,
};

/**
 * A first guess at a file's columns from its head and first rows: by the words over the columns, else by what is in them.
 * @param rows all rows as text
 * @returns null when no date and two number columns can be found
 */
export function guessMapping(rows: readonly (readonly string[])[]): DailyMapping | null {
  const isDay = (t: string) => parseDay(t, 'dmy') !== null || parseDay(t, 'mdy') !== null;
  const first = rows.findIndex((r) => r.some(isDay) && r.filter((t) => /^\s*[+-−]?\d/.test(t)).length >= 2);
  if (first < 0) return null;
  const sample = rows.slice(first, first + 400);
  const head = first > 0 ? (rows[first - 1] ?? []) : [];
  const width = Math.max(...sample.map((r) => r.length));
  const columns = Array.from({ length: width }, (_, i) => sample.map((r) => r[i] ?? ''));
  const share = (list: string[], test: (t: string) => boolean) => list.filter(test).length / list.length;
  const date = columns.findIndex((c) => share(c, isDay) > 0.8);
  if (date < 0) return null;
  const decimal = sample.some((r) => r.some((t, i) => i !== date && /^\s*[+-−]?\d+,\d+\s*$/.test(t))) ? ',' : '.';
  const numbers = columns.flatMap((c, i) =>
    i !== date && share(c, (t) => typeof parseDegree(t, decimal) === 'number') > 0.5 ? [i] : [],
  );
  const by = (words: RegExp) => numbers.filter((i) => words.test(head[i] ?? ''));
  const temps = (list: number[]) => list.find((i) => /temp|°|\btn|\btx|tmin|tmax/i.test(head[i] ?? '')) ?? list[0];
  let min = temps(by(WORDS.min));
  let max = temps(by(WORDS.max));
  const mean = (i: number) => {
    const list = (columns[i] ?? []).flatMap((t) => parseDegree(t, decimal) ?? []);
    return list.reduce((a, b) => a + b, 0) / Math.max(1, list.length);
  };
  if (min === undefined || max === undefined || min === max) {
    if (numbers.length < 2) return null;
    const [a, b] = numbers as [number, number];
    [min, max] = mean(a) <= mean(b) ? [a, b] : [b, a];
  }
  const texts = columns[date] ?? [];
  const ordered = (order: DailyMapping['order']) => share(texts, (t) => parseDay(t, order) !== null);
  const order = /^\s*\d{4}/.test(texts[0] ?? '') ? 'ymd' : ordered('dmy') >= ordered('mdy') ? 'dmy' : 'mdy';
  const said = `${head[min] ?? ''} ${head[max] ?? ''}`;
  const highest = Math.max(...(columns[max] ?? []).flatMap((t) => parseDegree(t, decimal) ?? []));
  const unit = /°\s?F|\(F\)|fahrenheit|_f\b/i.test(said)
    ? 'F'
    : /°\s?C|\(C\)|celsius|_c\b/i.test(said)
      ? 'C'
      : highest > 60
        ? 'F'
        : 'C';
  return { date, min, max, order, unit, decimal, skip: first };
}

/** Weather outside of this is a slip, °C. */
const RANGE = { least: -60, most: 60 };

type Row = Day | { code: DailyFault['code']; text: string };

/** One row as a day, or what is wrong with it. */
function readRow(row: readonly string[], m: DailyMapping): Row {
  const date = parseDay(row[m.date] ?? '', m.order);
  if (date === null) return { code: 'date', text: row[m.date] ?? '' };
  const [low, high] = [row[m.min] ?? '', row[m.max] ?? ''] as const;
  const min = parseDegree(low, m.decimal);
  const max = parseDegree(high, m.decimal);
  if (min === undefined || max === undefined) return { code: 'hole', text: date };
  if (min === null || max === null) return { code: 'number', text: min === null ? low : high };
  if (min > max) return { code: 'minOverMax', text: `${low} over ${high}` };
  const toC = (v: number) => (m.unit === 'F' ? ((v - 32) * 5) / 9 : v);
  const day: Day = { date, minC: toC(min), maxC: toC(max) };
  return day.minC < RANGE.least || day.maxC > RANGE.most ? { code: 'range', text: `${low} to ${high}` } : day;
}

/** Read the days of a file by a mapping. What can't be used is named by its line; the rest is used. */
export function readDaily(rows: readonly (readonly string[])[], m: DailyMapping): Daily {
  const byDate = new Map<string, Day>();
  const faults: DailyFault[] = [];
  rows.forEach((row, i) => {
    if (i < m.skip || row.every((t) => t.trim() === '')) return;
    const read = readRow(row, m);
    const before = 'date' in read ? byDate.get(read.date) : undefined;
    if ('code' in read) faults.push({ line: i + 1, ...read });
    else if (before && (before.minC !== read.minC || before.maxC !== read.maxC))
      faults.push({ line: i + 1, code: 'twice', text: read.date });
    else byDate.set(read.date, read);
  });
  const days = [...byDate.values()].sort((a, b) => (a.date < b.date ? -1 : 1));
  return { days, faults };
}

const DAY_MS = 86_400_000;

/** The most days that are kept with a rig: about twenty years, the latest. */
export const MOST_DAYS = 7400;

/** Days packed without gaps from the first on; null where the file had a hole. */
export function packDays(
  days: readonly Day[],
  source: string,
): { source: string; from: string; minC: (number | null)[]; maxC: (number | null)[] } | null {
  const last = days.at(-1);
  if (!last) return null;
  const end = Date.parse(last.date);
  const start = Math.max(Date.parse((days[0] as Day).date), end - (MOST_DAYS - 1) * DAY_MS);
  const n = Math.round((end - start) / DAY_MS) + 1;
  const minC: (number | null)[] = new Array(n).fill(null);
  const maxC: (number | null)[] = new Array(n).fill(null);
  const tenth = (v: number) => Math.round(v * 10) / 10;
  for (const d of days) {
    const i = Math.round((Date.parse(d.date) - start) / DAY_MS);
    if (i < 0) continue;
    minC[i] = tenth(d.minC);
    maxC[i] = tenth(d.maxC);
  }
  return { source: source.slice(0, 120), from: new Date(start).toISOString().slice(0, 10), minC, maxC };
}

/** The packed days with their month (0 to 11), holes left out. */
export function unpackDays(packed: {
  from: string;
  minC: readonly (number | null)[];
  maxC: readonly (number | null)[];
}): (Day & { month: number })[] {
  const start = Date.parse(packed.from);
  return packed.minC.flatMap((minC, i) => {
    const maxC = packed.maxC[i];
    if (minC === null || maxC === null || maxC === undefined) return [];
    const date = new Date(start + i * DAY_MS);
    return [{ date: date.toISOString().slice(0, 10), month: date.getUTCMonth(), minC, maxC }];
  });
}
