import { expect, test } from 'vitest';
import { makeFormat } from './format.ts';
import { fieldValue, placeOf } from './words-changes.ts';

test('the path of a field as words', () => {
  expect(placeOf(['axles', 0, 'settings', 'loaded', 'limits', 'lowKpa'])).toBe('axles 1 loaded limits low');
  expect(placeOf(['axles', '1', 'wheels', '0', 'sensor', 'id'])).toBe('axles 2 wheels 1 sensor id');
  expect(placeOf(['axles', 0, 'airLitres'])).toBe('axles 1 air litres');
});

test('a value in the owner’s units', () => {
  const f = makeFormat('psi', 'C');
  // 62 psi is 427.47 kPa (1 psi = 6.894757 kPa, the contract).
  expect(fieldValue(['cold', 'kpa'], 427.475, f)).toMatch(/^62\.0/);
  expect(fieldValue(['limits', 'hotC'], 74, f)).toMatch(/^74/);
  expect(fieldValue(['name'], 'Old car', f)).toBe('Old car');
  expect(fieldValue(['spares'], undefined, f)).toBe('nothing');
  expect(fieldValue(['spares'], [1], f)).toBe('[1]');
});
