import { describe, expect, it } from 'vitest';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { hasNuts, partsOf, USUAL_PARTS } from './parts.ts';

describe('the loose parts of a kind of sensor', () => {
  it('are the usual ones on a rig that says nothing', () => {
    expect(partsOf({}, 'cap')).toEqual({
      boot: 'small',
      lockNut: true,
      setScrew: false,
      antiTheft: false,
      cell: 'CR1632',
      cellMonths: 12,
      mount: 'valve',
    });
    expect(partsOf({}, 'flowThrough')).toMatchObject({ boot: 'large', lockNut: true, setScrew: true });
    expect(partsOf({}, 'internal')).toMatchObject({ boot: 'none', lockNut: false, cellMonths: 48 });
  });

  it('of a rig of before: its one answer counts for every kind, the one-piece kind for caps only', () => {
    const before = { fitting: { boots: false, lockNuts: true, antiTheft: true } };
    expect(partsOf(before, 'cap')).toMatchObject({ boot: 'none', lockNut: false, antiTheft: true });
    expect(partsOf(before, 'flowThrough')).toMatchObject({ boot: 'none', lockNut: true, antiTheft: false });
    expect(partsOf({ fitting: { lockNuts: false } }, 'cap').lockNut).toBe(false);
    expect(partsOf(before, 'internal')).toEqual(USUAL_PARTS.internal);
  });

  it('are the kind’s own where it has some, and no nut goes with the one-piece kind', () => {
    const own = { ...USUAL_PARTS.cap, antiTheft: true, cell: 'CR2032' };
    const rig = { fitting: { boots: false, parts: { cap: own } } };
    expect(partsOf(rig, 'cap')).toEqual({ ...own, lockNut: false });
    expect(partsOf(rig, 'flowThrough').boot).toBe('none');
  });
});

it('nuts are there where a fitted kind has one', () => {
  const unit = { id: 'a', version: 1, name: 'a', kind: 'vehicle' as const, axles: [makeAxle('single', 1)], spares: [] };
  const first = unit.axles[0]?.wheels[0];
  if (!first) throw new Error('no wheel');
  expect(hasNuts({}, wheelsOf([unit]))).toBe(false);
  first.sensor = { id: 'A10001', kind: 'cap' };
  expect(hasNuts({}, wheelsOf([unit]))).toBe(true);
  expect(hasNuts({ fitting: { parts: { cap: { ...USUAL_PARTS.cap, lockNut: false } } } }, wheelsOf([unit]))).toBe(false);
  first.sensor = { id: 'A10001', kind: 'internal' };
  expect(hasNuts({}, wheelsOf([unit]))).toBe(false);
});
