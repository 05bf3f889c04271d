import { limitsFor } from '#core/alarms/limits.ts';
import { makeAxle } from '#core/rig/positions.ts';
import type { NewUnit } from '#schema/unit.ts';

/** A car with four sensors at 250 kPa cold and the share rule (225 and 300 kPa). */
export function carDocument(ids = ['A00001', 'A00002', 'A00003', 'A00004']): NewUnit {
  const cold = { kpa: 250, tempC: 20 };
  const { lowKpa, highKpa } = limitsFor({ school: 'share' }, cold.kpa);
  const settings = { loaded: { cold, limits: { rule: { school: 'share' as const }, lowKpa, highKpa, hotC: 70 } } };
  const axles = [1, 2].map((n) => ({ ...makeAxle('single', n), settings }));
  return {
    name: 'Car',
    kind: 'vehicle',
    spares: [],
    axles: axles.map((a, i) => ({
      ...a,
      wheels: a.wheels.map((w, j) => ({
        ...w,
        sensor: ids[i * 2 + j] ? { id: ids[i * 2 + j] as string, kind: 'cap' as const } : null,
      })),
    })),
  };
}
