import { describe, expect, it } from 'vitest';
import { faultsOf } from '#core/rig/positions.ts';
import { templates } from './templates.ts';

describe('templates', () => {
  it.each(templates.map((t) => [t.name, t] as const))(
    '%s has no fault, and a vehicle in front of every trailer but one alone',
    (_, t) => {
      expect(t.units[0]?.kind).toBe(t.name.startsWith('Trailer alone') ? 'trailer' : 'vehicle');
      for (const unit of t.units) expect(faultsOf(unit)).toEqual([]);
    },
  );

  it('have names and ids of their own', () => {
    expect(new Set(templates.map((t) => t.id)).size).toBe(templates.length);
    expect(new Set(templates.map((t) => t.name)).size).toBe(templates.length);
  });
});
