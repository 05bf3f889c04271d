import { useMemo } from 'react';
import { isSensorKey, shownIdOf } from '#core/pairing/ids.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { MassUnit, Sensor, Typed } from '#schema/unit.ts';
import { usePreferences } from '../state/preferences.ts';
import { LOCALE } from './locale.ts';

/** Decimals that make sense on a tire: a tenth of a psi, a hundredth of a bar, a whole kPa. */
const decimals: Record<PressureUnit, number> = { psi: 1, bar: 2, kPa: 0 };

/** A true minus sign, and no minus before a zero. */
export const minus = (text: string) => (/^-0(\.0*)?$/.test(text) ? text.slice(1) : text.replace('-', '\u2212'));

/** A pressure as text for a field, in a unit, without needless zeros. */
export const fieldFigure = (kpa: number, unit: PressureUnit): string =>
  String(Number(convert(kpa, 'kPa', unit).toFixed(decimals[unit])));

/** The same, on the careful side: never less than it is. */
export function fieldFigureUp(kpa: number, unit: PressureUnit): string {
  const scale = 10 ** decimals[unit];
  return String(Math.ceil(convert(kpa, 'kPa', unit) * scale - 1e-6) / scale);
}

/** How figures are shown in the owner's units. */
export interface Format {
  unit: PressureUnit;
  temp: TempUnit;
  /** `66.2`, the figure alone. */
  figure(kpa: number): string;
  /** `66.2 psi`. */
  pressure(kpa: number): string;
  /** A pressure that was typed shows as it was typed in its own unit. */
  exact(kpa: number, typed: Typed | undefined): string;
  /** `28 °C`. */
  temperature(tempC: number): string;
  /** A difference of temperature: `9 °C`. */
  difference(kelvin: number): string;
  massUnit: MassUnit;
  /** `1,285 kg`. */
  mass(kg: number): string;
}

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });

export function makeFormat(unit: PressureUnit, temp: TempUnit, massUnit: MassUnit = 'kg'): Format {
  const figure = (kpa: number) => minus(convert(kpa, 'kPa', unit).toFixed(decimals[unit]));
  // A figure and its unit stay on one line.
  const pressure = (kpa: number) => `${figure(kpa)}\u00a0${unit}`;
  return {
    unit,
    temp,
    figure,
    pressure,
    exact: (kpa, typed) => (typed && typed.unit === unit ? `${plainFigure(typed.text)}\u00a0${unit}` : pressure(kpa)),
    temperature: (tempC) => `${minus(convert(tempC, 'C', temp).toFixed(0))}\u00a0°${temp}`,
    massUnit,
    mass: (kg) => `${whole.format(convert(kg, 'kg', massUnit))}\u00a0${massUnit}`,
    difference: (kelvin) => `${minus((temp === 'F' ? kelvin * 1.8 : kelvin).toFixed(0))}\u00a0°${temp}`,
  };
}

export function useFormat(): Format {
  const { pressure, temp, mass } = usePreferences();
  return useMemo(() => makeFormat(pressure, temp, mass), [pressure, temp, mass]);
}

/** An ID as it is read off a monitor: in pairs. Of a sensor that is kept under a key nobody has seen one: it is paired, no more. */
export const inPairs = (id: string): string => (isSensorKey(id) ? 'paired' : (id.match(/.{1,2}/g) ?? []).join(' '));

/** A sensor by the ID a display shows of it. */
export const idText = (sensor: Pick<Sensor, 'id' | 'shownId'> | null): string =>
  sensor === null ? '' : inPairs(shownIdOf(sensor) ?? sensor.id);

/**
 * The length a person typed, m: in metres unless feet are said ("21 ft", "21'", "21 ft 6 in").
 * @returns null when it is none
 */
export function parseLength(text: string): number | null {
  const feet = /^([\d.,]+)\s*(?:ft|feet|'|′)\s*(?:([\d.,]+)\s*(?:in|"|″)?)?$/i.exec(text.trim());
  if (feet) {
    const ft = parseNumber(feet[1] as string);
    const inches = feet[2] === undefined ? 0 : parseNumber(feet[2]);
    return ft === null || inches === null ? null : ft * 0.3048 + inches * 0.0254;
  }
  return parseNumber(text.replace(/\s*m$/i, ''));
}

const clock = new Intl.DateTimeFormat(LOCALE, { hour: '2-digit', minute: '2-digit' });
const dayClock = new Intl.DateTimeFormat(LOCALE, { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** `14:06`, with the day when it is not the day of `now`. */
export function timeOfDay(iso: string, now = new Date().toISOString()): string {
  const time = new Date(iso);
  return time.toDateString() === new Date(now).toDateString() ? clock.format(time) : dayClock.format(time);
}

const yearClock = new Intl.DateTimeFormat(LOCALE, {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});

/** Of history, where the year matters: `1 May 2026, 08:00`. */
export const dayAndTime = (ms: number): string => yearClock.format(ms);

/** `38 s`, `15 min`, `3 h`, `2 days`. */
export function duration(seconds: number): string {
  if (seconds < 100) return `${Math.round(seconds)} s`;
  if (seconds < 100 * 60) return `${Math.round(seconds / 60)} min`;
  if (seconds < 72 * 3600) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86400)} days`;
}

/** A typed figure as all figures are shown: a point as the decimal sign, a plain minus, no spaces. Other text stays as it is but for that. */
export const plainFigure = (text: string): string => text.replaceAll(' ', '').replace('\u2212', '-').replace(',', '.');

/**
 * The number a person typed: point or comma as the decimal sign, spaces and a real minus let pass.
 * @returns null when it is none
 */
export function parseNumber(text: string): number | null {
  const normal = plainFigure(text);
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(normal) ? Number(normal) : null;
}

/** A moment by the clocks of this place, to the second. */
const here = (ms: number): string => new Date(ms - new Date(ms).getTimezoneOffset() * 60_000).toISOString().slice(0, 19);

/** A moment for a field of the kind datetime-local, in the time of this place, to the minute. */
export const forField = (ms: number): string => here(ms).slice(0, 16);

/** The day of a moment at this place, `2026-11-26`; a day stays that day. @param time ISO 8601 */
export const dayHere = (time: string): string => (time.length === 10 ? time : here(Date.parse(time)).slice(0, 10));

/** A moment at this place to the second, `2026-11-26 22:41:03`. @param time ISO 8601 */
export const secondHere = (time: string): string => here(Date.parse(time)).replace('T', ' ');
