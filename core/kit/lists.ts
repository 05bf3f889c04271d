import type { Monitor } from '#schema/monitor.ts';
import type { MonitorPlace, Rig, Unit } from '#schema/unit.ts';
import { unitLetter } from '../rig/positions.ts';

/** A monitor as its lists are: one for each vehicle or trailer, or one long one for a whole rig. */
export type Listing = Pick<Monitor, 'units' | 'listing'>;

/**
 * Which list of its monitor each unit of a rig is on, from 0; null for a unit that isn't watched. The owner's word counts; else each unit
 * takes the next list that no other of the rig has. On a monitor with one long list all units are on the same one.
 */
export function listsOf(rig: Pick<Rig, 'unitIds' | 'lists' | 'unwatched'>, monitor: Listing): (number | null)[] {
  const watched = rig.unitIds.map((_, i) => !rig.unwatched?.includes(unitLetter(i)));
  if (monitor.listing === 'long') {
    const list = rig.lists?.A ?? 0;
    return watched.map((w) => (w ? list : null));
  }
  const taken = new Set(Object.values(rig.lists ?? {}));
  let next = 0;
  return watched.map((w, i) => {
    if (!w) return null;
    const own = rig.lists?.[unitLetter(i)];
    if (own !== undefined) return own;
    while (taken.has(next)) next += 1;
    taken.add(next);
    return next;
  });
}

/** One list of a monitor that two things want. */
export interface ListConflict {
  /** From 0. */
  list: number;
  /** What this rig has on it, and what another rig has there. */
  own: string;
  other: string;
  otherRig: string;
}

/**
 * Lists of a monitor that a rig shares with another rig for something else: what is paired into one is lost to the other. The same tow
 * vehicle in two rigs is no conflict.
 */
export function listConflicts(
  rig: Rig,
  rigs: readonly Rig[],
  units: readonly Unit[],
  monitor: Listing & Pick<Monitor, 'id'>,
): ListConflict[] {
  const name = (id: string) => units.find((u) => u.id === id)?.name ?? '';
  const own = listsOf(rig, monitor);
  const out: ListConflict[] = [];
  for (const other of rigs) {
    if (other.id === rig.id || other.archived || other.monitorId !== monitor.id) continue;
    const theirs = listsOf(other, monitor);
    rig.unitIds.forEach((id, i) => {
      other.unitIds.forEach((otherId, j) => {
        if (own[i] === null || own[i] !== theirs[j] || id === otherId) return;
        // On one long list each unit has its own stretch of places; two rigs with a unit in common may share the rest by choice.
        if (monitor.listing === 'long' && (rig.unitIds.includes(otherId) || other.unitIds.includes(id))) return;
        out.push({ list: own[i] as number, own: name(id), other: name(otherId), otherRig: other.name });
      });
    });
  }
  return out;
}

/**
 * Lists for a rig that gets a monitor which other rigs use already: what they share with it stays on its list, and everything else takes
 * one that is free, as long as there are any.
 */
export function freeLists(rig: Rig, rigs: readonly Rig[], monitor: Listing & Pick<Monitor, 'id'>): Record<string, number> {
  const taken = new Map<number, string>();
  for (const other of rigs) {
    if (other.id === rig.id || other.archived || other.monitorId !== monitor.id) continue;
    listsOf(other, monitor).forEach((list, i) => {
      if (list !== null) taken.set(list, other.unitIds[i] as string);
    });
  }
  const out: Record<string, number> = {};
  const used = new Set<number>();
  const put = (i: number, list: number) => {
    out[unitLetter(i)] = list;
    used.add(list);
  };
  if (monitor.listing === 'long') {
    const free = Array.from({ length: monitor.units }, (_, i) => i).find((i) => !taken.has(i)) ?? 0;
    return rig.unitIds.length > 0 ? { A: free } : {};
  }
  const waiting: number[] = [];
  rig.unitIds.forEach((id, i) => {
    if (rig.unwatched?.includes(unitLetter(i))) return;
    const there = [...taken].find(([, unitId]) => unitId === id)?.[0];
    if (there === undefined) waiting.push(i);
    else put(i, there);
  });
  for (const i of waiting) {
    const lists = Array.from({ length: monitor.units }, (_, n) => n);
    const free = lists.find((n) => !taken.has(n) && !used.has(n)) ?? lists.find((n) => !used.has(n));
    // Too few lists: its own number, so that the map says there is none for it.
    put(i, free ?? Math.min(7, Math.max(monitor.units, i)));
  }
  return out;
}

/** The key of a place in `placeNames` and `keyed`. */
export const placeKey = ({ list, row, column }: MonitorPlace): string => `${list}.${row}.${column}`;

/** What the owner's leaflet calls a place; null while nobody has typed it. */
export const placeName = (
  monitor: Pick<Monitor, 'placeNames'> | null | undefined,
  place: MonitorPlace | undefined,
): string | null => (place && monitor?.placeNames?.[placeKey(place)]) || null;

/** The mode of a monitor that shows a number of wheels: the smallest that is enough; null where it has none to choose. */
export const modeFor = (
  monitor: Pick<Monitor, 'wheelModes'>,
  wheels: number,
): NonNullable<Monitor['wheelModes']>[number] | null =>
  [...(monitor.wheelModes ?? [])].sort((a, b) => a.wheels - b.wheels).find((m) => m.wheels >= wheels) ?? null;
