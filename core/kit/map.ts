import type { Monitor } from '#schema/monitor.ts';
import type { MonitorPlace, Rig, Unit } from '#schema/unit.ts';
import { type Place, type RigWheel, unitLetter, wheelsOf } from '../rig/positions.ts';
import { listsOf } from './lists.ts';

/** Why a wheel has no place on the monitor. */
export type GiveUpReason = 'noList' | 'noRow' | 'narrowRow' | 'noSparePlace';

export interface PositionMap {
  /** Every wheel that has a place. */
  places: Record<string, MonitorPlace>;
  /** Wheels that have none, what to give up first coming first: spares, then outer duals, then whole axles and units. */
  giveUp: { position: string; why: GiveUpReason }[];
}

/** What a map needs to know of a monitor. */
export type MapMonitor = Pick<Monitor, 'rows' | 'positionsPerUnit' | 'units' | 'listing'>;

/** Which places a single axle takes where the monitor draws duals. */
export type Pattern = 'inner' | 'outer';

/**
 * How a monitor's positions stand: places across, row by row. As described; else two in front and fours behind where that comes out
 * even, else pairs (assumed).
 */
export function rowsOf(monitor: Pick<Monitor, 'rows' | 'positionsPerUnit'>): number[] {
  if (monitor.rows) return [...monitor.rows];
  const n = monitor.positionsPerUnit;
  if (n > 4 && (n - 2) % 4 === 0) return [2, ...Array.from({ length: (n - 2) / 4 }, () => 4)];
  return [...Array.from({ length: Math.floor(n / 2) }, () => 2), ...(n % 2 === 1 ? [1] : [])];
}

/** Columns that the places of an axle take in a row; null: no room for that wheel. */
function columnOf(place: Place, width: number, axle: readonly Place[], pattern: Pattern): number | null {
  const right = width - 1;
  const inner = width >= 4 ? 1 : 0;
  const left = width >= 4 && pattern === 'inner' ? inner : 0;
  const half = right - left;
  switch (place) {
    case 'LO':
      return width >= 4 ? 0 : null;
    case 'RO':
      return width >= 4 ? right : null;
    case 'LI':
      return width >= 2 ? inner : null;
    case 'RI':
      return width >= 2 ? right - inner : null;
    case 'L':
      return width >= 2 ? left : null;
    case 'R':
      return width >= 2 ? half : null;
    case 'C':
      // Beside a sidecar wheel the centre one takes the other side.
      return axle.includes('L') && width >= 2 ? half : left;
  }
}

/**
 * Propose which place of the monitor is which wheel: unit by unit, axle by row, the same pattern on every axle, dual
 * places skipped where there are no duals.
 */
export function proposeMap(
  units: readonly Unit[],
  monitor: MapMonitor,
  pattern: Pattern = 'inner',
  lists: readonly (number | null)[] = units.map((_, i) => (monitor.listing === 'long' ? 0 : i)),
): PositionMap {
  if (monitor.listing === 'long') return proposeLong(units, monitor, lists);
  const rows = rowsOf(monitor);
  const places: Record<string, MonitorPlace> = {};
  const given: Given[] = [];
  const wheels = wheelsOf(units).filter((w) => lists[w.unitIndex] !== null);
  const give = (w: RigWheel, why: GiveUpReason) =>
    given.push({ position: w.position, why, order: w.place === 'S' ? 0 : why === 'narrowRow' ? 1 : why === 'noRow' ? 2 : 3 });
  for (const w of wheels) {
    const list = lists[w.unitIndex] as number;
    if (list >= monitor.units) {
      give(w, 'noList');
      continue;
    }
    if (w.place === 'S') {
      // A spare takes the first place that no axle of its unit needs.
      const n = Number(w.local.slice(1)) - 1;
      const free: MonitorPlace[] = [];
      for (let row = w.unit.axles.length; row < rows.length; row += 1) {
        for (let column = 0; column < (rows[row] ?? 0); column += 1) free.push({ list, row, column });
      }
      const spot = free[n];
      if (spot) places[w.position] = spot;
      else give(w, 'noSparePlace');
      continue;
    }
    const row = w.axleIndex as number;
    const width = rows[row];
    if (width === undefined) {
      give(w, 'noRow');
      continue;
    }
    const axle = w.unit.axles[row]?.wheels.map((v) => v.position.slice(1) as Place) ?? [];
    const column = columnOf(w.place, width, axle, pattern);
    if (column === null) give(w, 'narrowRow');
    else places[w.position] = { list, row, column };
  }
  fillFree(wheels, given, places, lists, rows);
  given.sort((a, b) => a.order - b.order);
  return { places, giveUp: given.map(({ position, why }) => ({ position, why })) };
}

interface Given {
  position: string;
  why: GiveUpReason;
  order: number;
}

/**
 * Put what has no place by the pattern on places of its list that are still free, whole axles first: a place that looks odd is better than
 * a tire that nobody watches. Left wheels take the free place furthest left, right ones the one furthest right.
 */
function fillFree(
  wheels: readonly RigWheel[],
  given: Given[],
  places: Record<string, MonitorPlace>,
  lists: readonly (number | null)[],
  rows: readonly number[],
): void {
  const taken = new Set(Object.values(places).map((p) => `${p.list} ${p.row} ${p.column}`));
  const left = given.filter((g) => g.why !== 'noList').sort((a, b) => b.order - a.order);
  for (const g of left) {
    const wheel = wheels.find((w) => w.position === g.position);
    const list = wheel && lists[wheel.unitIndex];
    if (!wheel || list === null || list === undefined) continue;
    const free = rows.flatMap((width, row) =>
      Array.from({ length: width }, (_, column) => ({ list, row, column })).filter(
        (p) => !taken.has(`${p.list} ${p.row} ${p.column}`),
      ),
    );
    const row = free[0]?.row;
    const inRow = free.filter((p) => p.row === row);
    const spot = wheel.place.startsWith('R') ? inRow.at(-1) : inRow[0];
    if (!spot) continue;
    places[g.position] = spot;
    taken.add(`${spot.list} ${spot.row} ${spot.column}`);
    given.splice(given.indexOf(g), 1);
  }
}

/** One long list: wheel after wheel in plan order, spares last. */
function proposeLong(units: readonly Unit[], monitor: MapMonitor, lists: readonly (number | null)[]): PositionMap {
  const wheels = wheelsOf(units).filter((w) => lists[w.unitIndex] !== null);
  const ordered = [...wheels.filter((w) => w.place !== 'S'), ...wheels.filter((w) => w.place === 'S')];
  const spots = rowsOf(monitor).flatMap((width, row) => Array.from({ length: width }, (_, column) => ({ row, column })));
  const places: Record<string, MonitorPlace> = {};
  const giveUp: PositionMap['giveUp'] = [];
  ordered.forEach((w, i) => {
    const list = lists[w.unitIndex] as number;
    const spot = spots[i];
    if (list >= monitor.units) giveUp.unshift({ position: w.position, why: 'noList' });
    else if (!spot) giveUp.unshift({ position: w.position, why: w.place === 'S' ? 'noSparePlace' : 'noRow' });
    else places[w.position] = { list, ...spot };
  });
  return { places, giveUp };
}

/** Where the wheels of a rig are on its monitor: as its owner moved them, else as proposed for the lists they are on. */
export function placesOf(
  rig: Pick<Rig, 'map' | 'lists' | 'unwatched' | 'unitIds'>,
  units: readonly Unit[],
  monitor: MapMonitor,
  pattern: Pattern = 'inner',
): Record<string, MonitorPlace> {
  if (rig.map && Object.keys(rig.map).length > 0) return rig.map;
  return proposeMap(units, monitor, pattern, listsOf(rig, monitor)).places;
}

/** What is wrong with a map. */
export type MapFault =
  | { code: 'twice'; positions: [string, string] }
  | { code: 'outside'; position: string }
  | { code: 'unmapped'; position: string }
  | { code: 'uneven'; axles: [string, string] };

/** Check a map, proposed or the owner's: each place once, all on the monitor, and singles on the same places of every row of one width. */
export function checkMap(
  units: readonly Unit[],
  monitor: MapMonitor,
  places: Readonly<Record<string, MonitorPlace>>,
  unwatched: readonly string[] = [],
): MapFault[] {
  const rows = rowsOf(monitor);
  const faults: MapFault[] = [];
  const taken = new Map<string, string>();
  const patterns = new Map<number, { axle: string; columns: string }>();
  const wheels = wheelsOf(units).filter((w) => !unwatched.includes(unitLetter(w.unitIndex)));
  for (const w of wheels) {
    const p = places[w.position];
    if (!p) {
      faults.push({ code: 'unmapped', position: w.position });
      continue;
    }
    const width = rows[p.row];
    if (p.list >= monitor.units || width === undefined || p.column >= width)
      faults.push({ code: 'outside', position: w.position });
    const key = `${p.list} ${p.row} ${p.column}`;
    const other = taken.get(key);
    if (other) faults.push({ code: 'twice', positions: [other, w.position] });
    taken.set(key, w.position);
  }
  const axles = new Map<string, RigWheel[]>();
  for (const w of wheels)
    if (w.place === 'L' || w.place === 'R') axles.set(w.position.slice(0, 2), [...(axles.get(w.position.slice(0, 2)) ?? []), w]);
  for (const [axle, own] of axles) {
    if (own.length !== 2) continue;
    const spots = own.map((w) => places[w.position]);
    const [a, b] = spots;
    if (!a || !b || monitor.listing === 'long') continue;
    // Where two axles share a row each has to take what is left of it.
    const shared = wheels.some((w) => {
      const p = places[w.position];
      return w.place !== 'S' && p !== undefined && p.list === a.list && p.row === a.row && w.position.slice(0, 2) !== axle;
    });
    if (shared || a.row !== b.row) continue;
    const width = rows[a.row] ?? 0;
    const columns = `${a.column} ${b.column}`;
    const first = patterns.get(width);
    if (!first) patterns.set(width, { axle, columns });
    else if (first.columns !== columns) faults.push({ code: 'uneven', axles: [first.axle, axle] });
  }
  return faults;
}
