import { tzOffset } from '@date-fns/tz';
import { ABSOLUTE_ZERO_C, KPA_PER_PSI } from '../units/units.ts';

/** Units a column of pressures may be in. */
export const PRESSURE_UNITS = ['kPa', 'bar', 'psi'] as const;
export type FilePressureUnit = (typeof PRESSURE_UNITS)[number];
export const TEMP_UNITS = ['C', 'F', 'K'] as const;
export type FileTempUnit = (typeof TEMP_UNITS)[number];

/**
 * How times are written: with their own offset, as a local clock, or counted from 1970. `localDayFirst`: of a date with strokes the day
 * comes first (31/12/2026), not the month.
 */
export const TIME_FORMATS = ['iso', 'local', 'localDayFirst', 'epochS', 'epochMs'] as const;
export type TimeFormat = (typeof TIME_FORMATS)[number];

/** Whether times tell no offset of their own, so that a zone must be known. */
export const needsZone = (format: TimeFormat): boolean => format === 'local' || format === 'localDayFirst';

/** Which column means what. Columns are numbers from 0 in a table, or the names of fields in NDJSON. */
export interface ColumnMapping {
  kind: 'csv' | 'ndjson';
  /** Of a table: what stands between columns, whether the first line names them, and the decimal sign. */
  delimiter: string;
  header: boolean;
  decimal: '.' | ',';
  time: string;
  /** Column of a local clock's time of day, when it is not in the column of the day. */
  clock: string | null;
  timeFormat: TimeFormat;
  /** IANA name of the zone of a local clock. */
  zone: string;
  /** Column that says which wheel: a sensor's ID, a position, or a name of the file's own. */
  wheel: string;
  /** Names of the file's own, and the position each means. Empty: the line is passed over. */
  wheels: Record<string, string>;
  pressure: string;
  pressureUnit: FilePressureUnit;
  temp: string | null;
  tempUnit: FileTempUnit;
  battery: string | null;
  rssi: string | null;
}

/** A line of a file as a reading. */
export interface FileReading {
  /** Position or sensor ID. */
  wheel: string;
  ms: number;
  pressureKpa: number;
  tempC: number | null;
  batteryV: number | null;
  rssiDbm: number | null;
}

/** What is wrong with a line: which column, and what. */
export interface LineFault {
  column: string;
  detail: string;
}

const LOCAL =
  /^(?:(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})|(\d{1,2})\.(\d{1,2})\.(\d{4})|(\d{1,2})\/(\d{1,2})\/(\d{4}))(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,3})\d*)?)?)?$/;
const ISO_WITH_OFFSET = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:?\d{2})$/i;

/** Minutes a zone was ahead of UTC, kept by the hour: half a million lines ask the same. */
const offsets = new Map<string, number>();
function offsetAt(zone: string, ms: number): number {
  const key = `${zone} ${Math.floor(ms / 900_000)}`;
  let minutes = offsets.get(key);
  if (minutes === undefined) {
    minutes = tzOffset(zone, new Date(ms));
    if (offsets.size > 20_000) offsets.clear();
    offsets.set(key, minutes);
  }
  return minutes;
}

/** Whether a time zone's name is known here. */
export const isZone = (zone: string): boolean => !Number.isNaN(tzOffset(zone, new Date(0)));

/** Whether a date (yyyy-mm-dd) is in the calendar: a parser takes 30 February for 2 March. */
const isDay = (date: string): boolean => {
  const ms = Date.parse(`${date}T00:00:00Z`);
  return !Number.isNaN(ms) && new Date(ms).toISOString().startsWith(date);
};

/**
 * Time of a line, ms since the epoch; NaN when it cannot be read. A local time that a clock skipped in spring is read as if it had not
 * been put forward; of one that came twice in autumn the first is meant.
 */
export function timeOf(text: string, format: TimeFormat, zone: string): number {
  const t = text.trim();
  if (format === 'epochMs' || format === 'epochS') {
    if (!/^-?\d+([.,]\d+)?$/.test(t)) return Number.NaN;
    return Math.round(Number(t.replace(',', '.')) * (format === 'epochS' ? 1000 : 1));
  }
  if (format === 'iso') return ISO_WITH_OFFSET.test(t) && isDay(t.slice(0, 10)) ? Date.parse(t.replace(' ', 'T')) : Number.NaN;
  const m = LOCAL.exec(t);
  if (!m) return Number.NaN;
  const year = Number(m[1] ?? m[6] ?? m[9]);
  const [strokeMonth, strokeDay] = format === 'localDayFirst' ? [m[8], m[7]] : [m[7], m[8]];
  const month = Number(m[2] ?? m[5] ?? strokeMonth);
  const day = Number(m[3] ?? m[4] ?? strokeDay);
  const [hour, minute, second] = [Number(m[10] ?? 0), Number(m[11] ?? 0), Number(m[12] ?? 0)];
  const fraction = m[13] === undefined ? 0 : Number(m[13].padEnd(3, '0'));
  if (month < 1 || month > 12 || hour > 23 || minute > 59 || second > 59) return Number.NaN;
  const utc = Date.UTC(year, month - 1, day, hour, minute, second, fraction);
  if (new Date(utc).getUTCDate() !== day) return Number.NaN;
  if (zone === 'UTC') return utc;
  const early = utc - offsetAt(zone, utc - 86_400_000) * 60_000;
  const late = utc - offsetAt(zone, utc + 86_400_000) * 60_000;
  // Both offsets about a change of the clock are tried; the first that says this time of day is it.
  for (const ms of early < late ? [early, late] : [late, early]) {
    if (ms + offsetAt(zone, ms) * 60_000 === utc) return ms;
  }
  return early;
}

/** A figure with its decimal sign; NaN when it is none. No thousands signs. */
export function figureOf(text: string, decimal: '.' | ','): number {
  const t = text.trim();
  const plain = decimal === ',' ? /^[+-]?(\d+,?\d*|,\d+)([eE][+-]?\d+)?$/ : /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/;
  return plain.test(t) ? Number(t.replace(',', '.')) : Number.NaN;
}

const toKpa: Record<FilePressureUnit, (v: number) => number> = {
  kPa: (v) => v,
  bar: (v) => v * 100,
  psi: (v) => v * KPA_PER_PSI,
};
const toC: Record<FileTempUnit, (v: number) => number> = {
  C: (v) => v,
  F: (v) => ((v - 32) * 5) / 9,
  K: (v) => v + ABSOLUTE_ZERO_C,
};

/**
 * Read a line by its columns.
 * @param cell gives the text of a column, or undefined when the line is too short
 * @returns the reading; what is wrong; or null for a wheel to skip
 */
export function readLine(cell: (column: string) => string | undefined, m: ColumnMapping): FileReading | LineFault | null {
  const wheelText = cell(m.wheel)?.trim();
  if (wheelText === undefined || wheelText === '') return { column: m.wheel, detail: 'no wheel is named' };
  // Not a plain look-up: a file may call a wheel `constructor`.
  const mapped = Object.hasOwn(m.wheels, wheelText) ? m.wheels[wheelText] : undefined;
  if (mapped === '') return null;
  let timeText = cell(m.time)?.trim();
  if (timeText === undefined || timeText === '') return { column: m.time, detail: 'the time is missing' };
  if (m.clock !== null) timeText = `${timeText} ${cell(m.clock)?.trim() ?? ''}`;
  const ms = timeOf(timeText, m.timeFormat, m.zone);
  if (Number.isNaN(ms)) return { column: m.time, detail: `“${timeText.slice(0, 40)}” isn’t a time in this format` };
  const pressureText = cell(m.pressure);
  if (pressureText === undefined || pressureText.trim() === '') return { column: m.pressure, detail: 'the pressure is missing' };
  const pressure = figureOf(pressureText, m.decimal);
  if (Number.isNaN(pressure)) return { column: m.pressure, detail: `“${pressureText.slice(0, 40)}” isn’t a number` };
  const pressureKpa = toKpa[m.pressureUnit](pressure);
  if (!(pressureKpa >= 0 && pressureKpa <= 2500)) {
    return { column: m.pressure, detail: `${pressureText.trim()} ${m.pressureUnit} is outside 0 to 2500 kPa` };
  }
  const optional = (column: string | null, low: number, high: number, turn: (v: number) => number): number | null | LineFault => {
    if (column === null) return null;
    const text = cell(column)?.trim();
    if (text === undefined || text === '') return null;
    const value = turn(figureOf(text, m.decimal));
    if (Number.isNaN(value)) return { column, detail: `“${text.slice(0, 40)}” isn’t a number` };
    if (!(value >= low && value <= high)) return { column, detail: `${text} is out of its range` };
    return value;
  };
  const tempC = optional(m.temp, -60, 250, toC[m.tempUnit]);
  if (tempC !== null && typeof tempC === 'object') return tempC;
  const batteryV = optional(m.battery, 0, 5, (v) => v);
  if (batteryV !== null && typeof batteryV === 'object') return batteryV;
  const rssiDbm = optional(m.rssi, -150, 20, (v) => v);
  if (rssiDbm !== null && typeof rssiDbm === 'object') return rssiDbm;
  return { wheel: mapped ?? wheelText, ms, pressureKpa, tempC, batteryV, rssiDbm };
}

/** A mapping of named fields with figures as JSON has them. */
export const plainFields = { kind: 'ndjson', delimiter: ',', header: false, decimal: '.', clock: null, zone: 'UTC' } as const;

const guesses: [keyof ColumnMapping, RegExp][] = [
  ['time', /time|date|zeit|datum|stamp/i],
  ['wheel', /wheel|position|pos\b|sensor|tire|tyre|reifen|rad\b|\bid\b/i],
  ['pressure', /press|druck|kpa|psi|\bbar\b/i],
  ['temp', /temp|°c|°f|celsius|fahrenheit/i],
  ['battery', /batt|volt|cell/i],
  ['rssi', /rssi|signal|dbm/i],
];

/** What stands between the columns of a table: the sign that cuts its lines most evenly. */
export function guessDelimiter(lines: readonly string[]): string {
  let best = ',';
  let most = 0;
  for (const d of [';', '\t', ',', '|']) {
    const counts = lines.map((l) => l.split(d).length - 1);
    const least = Math.min(...counts);
    if (least > most) {
      most = least;
      best = d;
    }
  }
  return best;
}

/**
 * Guess what the columns of a file mean from its first rows.
 * @param names of the columns, or of the fields
 * @param rows some rows under them, as texts
 */
export function guessMapping(
  kind: 'csv' | 'ndjson',
  names: readonly string[],
  rows: readonly (readonly string[])[],
  options: { delimiter: string; header: boolean; zone: string },
): ColumnMapping {
  const column = (i: number) => (kind === 'csv' ? String(i) : (names[i] as string));
  const taken = new Set<number>();
  const find = (pattern: RegExp): number => {
    const at = names.findIndex((n, i) => !taken.has(i) && pattern.test(n));
    if (at >= 0) taken.add(at);
    return at;
  };
  const at: Partial<Record<keyof ColumnMapping, number>> = {};
  for (const [field, pattern] of guesses) at[field] = find(pattern);
  const cells = (i: number | undefined) => (i === undefined || i < 0 ? [] : rows.map((r) => r[i] ?? '').filter((c) => c !== ''));
  const pressures = cells(at.pressure);
  const temps = cells(at.temp);
  const decimal = [...pressures, ...temps].some((c) => /^\s*[+-]?\d+,\d+\s*$/.test(c)) ? ',' : '.';
  const name = (i: number | undefined) => (i === undefined || i < 0 ? '' : (names[i] ?? ''));
  const values = pressures.map((c) => figureOf(c, decimal)).filter((v) => v > 0);
  const middle = values.sort((a, b) => a - b)[values.length >> 1] ?? 0;
  const pressureUnit: FilePressureUnit = /psi/i.test(name(at.pressure))
    ? 'psi'
    : /kpa/i.test(name(at.pressure))
      ? 'kPa'
      : /\bbar\b/i.test(name(at.pressure))
        ? 'bar'
        : middle < 15
          ? 'bar'
          : middle < 130
            ? 'psi'
            : 'kPa';
  const tempValues = temps.map((c) => figureOf(c, decimal));
  const tempUnit: FileTempUnit =
    /°?f\b|fahrenheit/i.test(name(at.temp)) || tempValues.some((t) => t > 120 && t < 200)
      ? 'F'
      : tempValues.some((t) => t > 250)
        ? 'K'
        : 'C';
  const times = cells(at.time);
  // A bad line among them does not decide.
  const most = (pattern: RegExp) => times.filter((t) => pattern.test(t.trim())).length * 2 > times.length;
  const timeFormat: TimeFormat = most(ISO_WITH_OFFSET)
    ? 'iso'
    : most(/^\d{12,14}$/)
      ? 'epochMs'
      : most(/^\d{9,11}([.,]\d+)?$/)
        ? 'epochS'
        : times.some((t) => Number(/^\s*(\d{1,2})\/\d{1,2}\/\d{4}/.exec(t)?.[1] ?? 0) > 12)
          ? 'localDayFirst'
          : 'local';
  const place = (i: number | undefined, otherwise: number) => column(i !== undefined && i >= 0 ? i : otherwise);
  const optional = (i: number | undefined) => (i !== undefined && i >= 0 ? column(i) : null);
  return {
    kind,
    ...options,
    decimal,
    time: place(at.time, 0),
    clock: null,
    timeFormat,
    wheel: place(at.wheel, Math.min(1, names.length - 1)),
    wheels: {},
    pressure: place(at.pressure, Math.min(2, names.length - 1)),
    pressureUnit,
    temp: optional(at.temp),
    tempUnit,
    battery: optional(at.battery),
    rssi: optional(at.rssi),
  };
}

/** By this a file of the same make is known again: its kind, its delimiter and its column names, or their number without names. */
export const shapeOf = (kind: 'csv' | 'ndjson', delimiter: string, names: readonly string[], header: boolean): string =>
  `${kind} ${delimiter} ${header || kind === 'ndjson' ? names.map((n) => n.trim().toLowerCase()).join('|') : `${names.length} columns`}`;
