import { FieldError } from '../errors.ts';

/** What a unit measures; only units of one kind convert into each other. */
type Kind = 'pressure' | 'temperature' | 'length' | 'mass';

/** A unit as `si = value * factor + offset`. */
interface UnitDefinition {
  kind: Kind;
  factor: number;
  offset: number;
}

/** Kilopascals in a pound-force per square inch (NIST SP 811 appendix B). */
export const KPA_PER_PSI = 6.894757293168;
/** Kilopascals in a bar, by definition. */
export const KPA_PER_BAR = 100;
/** Celsius temperature of absolute zero, by definition of the kelvin. */
export const ABSOLUTE_ZERO_C = -273.15;

/** Factors from NIST SP 811 appendix B. */
const units = {
  kPa: { kind: 'pressure', factor: 1, offset: 0 },
  bar: { kind: 'pressure', factor: KPA_PER_BAR, offset: 0 },
  psi: { kind: 'pressure', factor: KPA_PER_PSI, offset: 0 },
  C: { kind: 'temperature', factor: 1, offset: 0 },
  F: { kind: 'temperature', factor: 5 / 9, offset: -160 / 9 },
  km: { kind: 'length', factor: 1000, offset: 0 },
  mi: { kind: 'length', factor: 1609.344, offset: 0 },
  m: { kind: 'length', factor: 1, offset: 0 },
  ft: { kind: 'length', factor: 0.3048, offset: 0 },
  mm: { kind: 'length', factor: 0.001, offset: 0 },
  in: { kind: 'length', factor: 0.0254, offset: 0 },
  kg: { kind: 'mass', factor: 1, offset: 0 },
  lb: { kind: 'mass', factor: 0.45359237, offset: 0 },
} as const satisfies Record<string, UnitDefinition>;

export type UnitName = keyof typeof units;

/**
 * Convert a value between two units of one kind.
 * @param value in `from`; a temperature not under absolute zero
 * @returns the value in `to`; the very same number when the units are the same
 * @throws FieldError at `/to` when the kinds do not match, at `/value` under absolute zero
 */
export function convert(value: number, from: UnitName, to: UnitName): number {
  const a: UnitDefinition = units[from];
  const b: UnitDefinition = units[to];
  if (a.kind !== b.kind) throw new FieldError('/to', `${to} measures ${b.kind}, ${from} measures ${a.kind}`);
  const si = value * a.factor + a.offset;
  if (a.kind === 'temperature' && si < ABSOLUTE_ZERO_C) throw new FieldError('/value', 'is under absolute zero');
  if (from === to) return value;
  if (a.kind === 'temperature') return from === 'F' ? ((value - 32) * 5) / 9 : (value * 9) / 5 + 32;
  const out = si / b.factor;
  if (!Number.isFinite(out)) throw new FieldError('/value', 'is too large to convert');
  return out;
}
