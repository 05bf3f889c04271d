import { describe, expect, it } from 'vitest';
import { faultsOf } from '#core/rig/positions.ts';
import { rigOf, trailers, vehicles } from './templates.ts';

describe('what a rig is started from', () => {
  it.each([...vehicles, ...trailers].flatMap((t) => (t.unit ? [[t.name, t.unit] as const] : [])))(
    '%s has no fault',
    (_, unit) => {
      expect(faultsOf(unit)).toEqual([]);
    },
  );

  it.each([vehicles, trailers])('has names and ids of its own', (...list) => {
    expect(new Set(list.map((t) => t.id)).size).toBe(list.length);
    expect(new Set([...vehicles, ...trailers].map((t) => t.name)).size).toBe(vehicles.length + trailers.length);
  });

  it('is put together from the front, with a name', () => {
    const both = rigOf('pickup', 'tandem');
    expect(both.units.map((u) => u.axles.length + u.spares.length)).toEqual([2, 3]);
    expect([both.name, both.loadState]).toEqual(['Pick-up and tandem trailer', 'towing']);
    expect(rigOf('none', 'caravan')).toMatchObject({ name: 'Caravan', loadState: 'loaded' });
    expect(rigOf('sidecar', 'none').units).toHaveLength(1);
    expect(rigOf('none', 'none').units).toEqual([]);
  });
});
