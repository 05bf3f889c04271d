import type { KeyedGroup, Monitor } from '#schema/monitor.ts';
import type { Keyed, MonitorPlace, Rig, Unit } from '#schema/unit.ts';
import { placeKey } from '../kit/lists.ts';
import { placesOf } from '../kit/map.ts';
import { axleOf, watchedWheels } from '../rig/positions.ts';
import { type Card, cardGroups } from './card.ts';

/**
 * Under which name a group's limits are in the monitor: where its first wheel is shown there, whichever rig that wheel belongs to. A group
 * of all wheels is the same one for every rig; one whose wheels have no place keeps its own name.
 */
function keyOf(
  group: { group: string; axles: readonly string[] },
  places: Readonly<Record<string, MonitorPlace>>,
  positions: readonly string[],
): string {
  if (group.group === 'all') return 'all';
  const wheels = positions.filter((p) => axleOf(p) === group.axles[0]);
  const nth = / wheel (\d+)$/.exec(group.group)?.[1];
  const place = places[wheels[nth === undefined ? 0 : Number(nth) - 1] ?? ''];
  return place ? placeKey(place) : group.group;
}

/** What a monitor and its places are for one rig. */
export interface KeyedAt {
  monitor: Pick<Monitor, 'keyed' | 'keyedHotC' | 'keyedColdC'>;
  places: Readonly<Record<string, MonitorPlace>>;
  /** Wheels of the rig in plan order. */
  positions: readonly string[];
}

/**
 * What was keyed last into the groups that a rig uses. It belongs to the monitor's lists, so another rig on the same list may have keyed it;
 * what was noted with the rig alone, before that, counts where the monitor knows nothing.
 */
export function keyedOf(rig: Pick<Rig, 'keyed'>, groups: Card['groups'], at: KeyedAt): Keyed | null {
  const found = groups.flatMap((g): [string, KeyedGroup][] => {
    const kept = at.monitor.keyed?.[keyOf(g, at.places, at.positions)];
    return kept ? [[g.group, kept]] : [];
  });
  const last = found.map(([, k]) => k).sort((a, b) => b.at.localeCompare(a.at))[0];
  if (!last) return rig.keyed ?? null;
  return {
    at: last.at,
    loadState: last.loadState,
    groups: {
      ...rig.keyed?.groups,
      ...Object.fromEntries(
        found.map(([g, { low, high, baseline }]) => [g, { low, high, ...(baseline === undefined ? {} : { baseline }) }]),
      ),
    },
    hotC: at.monitor.keyedHotC ?? rig.keyed?.hotC ?? null,
    ...coldOf(at.monitor.keyedColdC ?? rig.keyed?.coldC),
  };
}

/** The monitor's memory after a card was keyed and read back. */
export function keyedInto(
  keyed: Keyed,
  groups: Card['groups'],
  at: KeyedAt,
): Pick<Monitor, 'keyed' | 'keyedHotC' | 'keyedColdC'> {
  const next: Record<string, KeyedGroup> = { ...at.monitor.keyed };
  for (const g of groups) {
    const own = keyed.groups[g.group];
    if (own) next[keyOf(g, at.places, at.positions)] = { ...own, at: keyed.at, loadState: keyed.loadState };
  }
  return { keyed: next, keyedHotC: keyed.hotC, ...(keyed.coldC === undefined ? {} : { keyedColdC: keyed.coldC }) };
}

const coldOf = (coldC: number | null | undefined): Pick<Keyed, 'coldC'> => (coldC === undefined ? {} : { coldC });

/** A monitor as one rig sees it. */
export const keyedAt = (rig: Rig, units: readonly Unit[], monitor: Monitor): KeyedAt => ({
  monitor,
  places: placesOf(rig, units, monitor),
  positions: watchedWheels(rig, units).map((w) => w.position),
});

/** What a rig's monitor was last keyed to, for the groups of its axles; null when nobody noted it. */
export function rigKeyed(rig: Rig, units: readonly Unit[], monitor: Monitor | null): Keyed | null {
  if (!monitor) return rig.keyed ?? null;
  const wheels = watchedWheels(rig, units);
  const axles = [...new Set(wheels.map((w) => axleOf(w.position)))].map((axle) => {
    const own = wheels.filter((w) => axleOf(w.position) === axle);
    return { axle, unitKind: own[0]?.unit.kind ?? 'vehicle', wheels: own.length };
  });
  const groups = cardGroups(monitor, axles);
  return keyedOf(rig, groups, keyedAt(rig, units, monitor));
}
