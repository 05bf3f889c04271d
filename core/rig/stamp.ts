import type { Monitor } from '#schema/monitor.ts';
import type { Rig, Unit } from '#schema/unit.ts';

/**
 * Says which documents a rig is made of, by their ids and versions: two stamps are equal when the rig, its units in order, and its monitor are.
 * @param monitor null when it has none
 */
export const stampOf = (rig: Rig, units: readonly Unit[], monitor: Monitor | null): string =>
  [rig, ...units, ...(monitor ? [monitor] : [])].map((d) => `${d.id} ${d.version}`).join();
