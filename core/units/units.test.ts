import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FieldError } from '../errors.ts';
import { convert, type UnitName } from './units.ts';

const kinds: UnitName[][] = [
  ['kPa', 'bar', 'psi'],
  ['C', 'F'],
  ['km', 'mi', 'm', 'ft', 'mm', 'in'],
  ['kg', 'lb'],
];

describe('convert', () => {
  it('goes there and back within 1e-12', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.double({ min: -100, max: 1e6, noNaN: true }),
        fc.nat(),
        fc.nat(),
        (kind, v, i, j) => {
          const from = kind[i % kind.length] as UnitName;
          const to = kind[j % kind.length] as UnitName;
          expect(Math.abs(convert(convert(v, from, to), to, from) - v)).toBeLessThanOrEqual(1e-12 * Math.max(300, Math.abs(v)));
        },
      ),
    );
  });

  it('leaves a value of the same unit to the last bit', () => {
    expect(convert(0.1 + 0.2, 'psi', 'psi')).toBe(0.1 + 0.2);
  });

  it('refuses kinds that do not match, at the field', () => {
    expect(() => convert(1, 'psi', 'kg')).toThrow(FieldError);
    expect(() => convert(1, 'psi', 'kg')).toThrow(expect.objectContaining({ pointer: '/to' }));
  });

  it('refuses what no number can hold', () => {
    expect(() => convert(1e308, 'km', 'mm')).toThrow(expect.objectContaining({ pointer: '/value' }));
  });

  it('refuses a temperature under absolute zero', () => {
    expect(() => convert(-500, 'F', 'C')).toThrow(expect.objectContaining({ pointer: '/value' }));
  });
});
