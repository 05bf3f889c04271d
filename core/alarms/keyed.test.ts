import { describe, expect, it } from 'vitest';
import type { Keyed, Rig, Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { keyedAt, keyedInto, rigKeyed } from './keyed.ts';

const unit = (id: string, kind: Unit['kind'], axles: number): Unit => ({
  id,
  version: 1,
  name: id,
  kind,
  axles: Array.from({ length: axles }, (_, i) => makeAxle('single', i + 1)),
  spares: [],
});
const pickup = unit('pickup', 'vehicle', 2);
const hives = unit('hives', 'trailer', 2);
const boat = unit('boat', 'trailer', 1);
const monitor = {
  id: 'm',
  version: 1,
  name: 'Box',
  groups: 'unit' as const,
  unit: 'psi' as const,
  step: 1,
  min: 4,
  max: 170,
  presetLow: 80,
  presetHigh: 150,
  presetHotC: 74,
  interlock: true,
  positionsPerUnit: 6,
  rows: [2, 2, 2],
  units: 4,
  showsIds: true,
  canDisconnect: true,
};
const rig = (id: string, trailer: Unit, lists: Record<string, number>): Rig => ({
  id,
  version: 1,
  name: id,
  unitIds: ['pickup', trailer.id],
  loadState: 'towing',
  monitorId: 'm',
  lists,
});
const one = rig('one', hives, { A: 0, B: 1 });
const two = rig('two', boat, { A: 0, B: 2 });
const keyed = (groups: Keyed['groups'], at = '2026-05-01T08:00:00Z'): Keyed => ({ at, loadState: 'towing', groups, hotC: 76 });
const groups = ['A1', 'A2', 'B'].map((group) => ({ group, axles: group === 'B' ? ['B1'] : [group] }));

describe('what was keyed belongs to the monitor’s list', () => {
  const first = {
    ...monitor,
    ...keyedInto(
      keyed({ A1: { low: 40, high: 60 }, A2: { low: 44, high: 66 }, B: { low: 58, high: 88 } }),
      groups,
      keyedAt(one, [pickup, hives], monitor),
    ),
  };
  it('so the other trailer finds the tow vehicle keyed, and itself not', () => {
    expect(rigKeyed(one, [pickup, hives], first)?.groups).toEqual({
      A1: { low: 40, high: 60 },
      A2: { low: 44, high: 66 },
      B: { low: 58, high: 88 },
    });
    expect(rigKeyed(two, [pickup, boat], first)?.groups).toEqual({ A1: { low: 40, high: 60 }, A2: { low: 44, high: 66 } });
    expect(rigKeyed(two, [pickup, boat], first)).toMatchObject({ at: '2026-05-01T08:00:00Z', loadState: 'towing', hotC: 76 });
  });
  it('and another rig that keys the tow vehicle anew changes it for both, but not the other’s trailer', () => {
    const second = {
      ...first,
      ...keyedInto(
        keyed({ A1: { low: 36, high: 55 }, B: { low: 30, high: 50 } }, '2026-06-01T08:00:00Z'),
        groups,
        keyedAt(two, [pickup, boat], first),
      ),
    };
    expect(rigKeyed(one, [pickup, hives], second)?.groups).toEqual({
      A1: { low: 36, high: 55 },
      A2: { low: 44, high: 66 },
      B: { low: 58, high: 88 },
    });
    expect(rigKeyed(one, [pickup, hives], second)?.at).toBe('2026-06-01T08:00:00Z');
    expect(rigKeyed(two, [pickup, boat], second)?.groups.B).toEqual({ low: 30, high: 50 });
  });
  it('a rig of before keeps its own note where the monitor knows nothing', () => {
    const old = keyed({ A1: { low: 1, high: 2 }, A2: { low: 3, high: 4 }, B: { low: 5, high: 6 } });
    expect(rigKeyed({ ...one, keyed: old }, [pickup, hives], monitor)).toEqual(old);
    expect(rigKeyed({ ...two, keyed: old }, [pickup, boat], first)?.groups).toEqual({
      A1: { low: 40, high: 60 },
      A2: { low: 44, high: 66 },
      B: { low: 5, high: 6 },
    });
    expect(rigKeyed({ ...one, keyed: old }, [pickup, hives], null)).toEqual(old);
    expect(rigKeyed(one, [pickup, hives], monitor)).toBeNull();
  });
  it('one pair for all is the same whatever the list; by wheel each place has its own', () => {
    const all = { ...monitor, groups: 'all' as const };
    const kept = keyedInto(
      keyed({ all: { low: 30, high: 90 } }),
      [{ group: 'all', axles: ['A1', 'A2', 'B1', 'B2'] }],
      keyedAt(one, [pickup, hives], all),
    );
    expect(rigKeyed(two, [pickup, boat], { ...all, ...kept })?.groups).toEqual({ all: { low: 30, high: 90 } });
    const wheels = { ...monitor, groups: 'wheel' as const };
    const memory = keyedInto(
      keyed({ 'A1 wheel 1': { low: 31, high: 61 }, 'A1 wheel 2': { low: 32, high: 62 } }),
      [
        { group: 'A1 wheel 1', axles: ['A1'] },
        { group: 'A1 wheel 2', axles: ['A1'] },
      ],
      keyedAt(one, [pickup, hives], wheels),
    );
    expect(Object.keys(memory.keyed ?? {})).toEqual(['0.0.0', '0.0.1']);
    expect(rigKeyed(one, [pickup, hives], { ...wheels, ...memory })?.groups['A1 wheel 2']).toEqual({ low: 32, high: 62 });
  });
});
