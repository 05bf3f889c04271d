import { describe, expect, it } from 'vitest';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { kindAt, withKind } from './kinds.ts';

const unit = (kind: 'vehicle' | 'trailer') => ({
  id: kind,
  version: 1,
  name: kind,
  kind,
  axles: [makeAxle('single', 1), makeAxle('single', 2)],
  spares: [{ wheel: { position: 'S1', sensor: null }, settings: {} }],
});
const kinds = (units: Parameters<typeof wheelsOf>[0], rig?: Parameters<typeof kindAt>[1]) =>
  wheelsOf(units).map((w) => `${w.position} ${kindAt(w, rig)}`);

describe('the kind of sensor of a wheel', () => {
  it('is a cap on a vehicle and a flow-through on a trailer where nothing is said (common practice, no source)', () => {
    expect(kinds([unit('vehicle'), unit('trailer')])).toEqual([
      'A1L cap',
      'A1R cap',
      'A2L cap',
      'A2R cap',
      'AS1 cap',
      'B1L flowThrough',
      'B1R flowThrough',
      'B2L flowThrough',
      'B2R flowThrough',
      'BS1 flowThrough',
    ]);
  });

  it('is what was said for the unit, spares too, and what its own sensor is', () => {
    const said = withKind(unit('vehicle'), 'internal');
    expect(new Set(kinds([said]).map((k) => k.split(' ')[1]))).toEqual(new Set(['internal']));
    const own = { id: '4CA1E0', kind: 'cap' as const };
    const first = said.axles[0]?.wheels[0];
    if (first) first.sensor = own;
    expect(kinds([said])[0]).toBe('A1L cap');
    // What is on a wheel keeps its kind, but for the wheel that is named.
    expect(withKind(said, 'flowThrough').axles[0]?.wheels[0]?.sensor?.kind).toBe('cap');
    expect(withKind(said, 'flowThrough', '1L').axles[0]?.wheels[0]?.sensor?.kind).toBe('flowThrough');
    expect(withKind(said, 'flowThrough', '1R').axles[0]?.wheels[0]?.sensor?.kind).toBe('cap');
  });

  it('follows the other wheels of its unit, then what was said of the whole rig', () => {
    const some = unit('trailer');
    const last = some.axles[1]?.wheels[1];
    if (last) last.sensor = { id: '4CA1E0', kind: 'cap' };
    expect(kinds([some])[0]).toBe('A1L cap');
    const rig = (kind: 'cap' | 'internal') => ({ pairing: { style: 'heldNear' as const, limitsFirst: true, kind } });
    expect(kinds([unit('trailer')], rig('internal'))[0]).toBe('A1L internal');
    // A cap was written there for every rig, whatever its sensors: it says nothing.
    expect(kinds([unit('trailer')], rig('cap'))[0]).toBe('A1L flowThrough');
  });
});
