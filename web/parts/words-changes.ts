import type { Format } from './format.ts';

/** Words for what changed in a document: where, and to which value. */

/** The path of a field as words: the names on the way, counted from one. */
export const placeOf = (path: readonly (string | number)[]): string =>
  path
    .map((p) =>
      /^\d+$/.test(String(p))
        ? String(Number(p) + 1)
        : String(p)
            .replace(/(Kpa|kpa|C)$/, '')
            .replaceAll(/([A-Z])/g, ' $1')
            .toLowerCase(),
    )
    .filter((p) => p !== '' && p !== 'settings')
    .join(' ');

/** A value in the owner's units, by the end of its field's name. */
export function fieldValue(path: readonly (string | number)[], value: unknown, f: Format): string {
  const name = String(path.at(-1) ?? '');
  if (value === undefined || value === null) return 'nothing';
  if (typeof value === 'object') return JSON.stringify(value).slice(0, 80);
  if (typeof value !== 'number') return String(value).slice(0, 40);
  if (/kpa$/i.test(name)) return f.pressure(value);
  if (/C$/.test(name)) return f.temperature(value);
  return String(Math.round(value * 1000) / 1000);
}
