import type { Mass, TableRow, Weighing } from '#schema/unit.ts';
import type { Place } from '../rig/positions.ts';

/** One end of an axle: what stands on one scale. A pair of duals is one end. */
export type End = 'L' | 'C' | 'R';

export const endOf = (place: Place): End => place[0] as End;

/** The ends an axle has, left to right, with how many tires stand on each. */
export function endsOf(places: readonly Place[]): { end: End; tires: number }[] {
  return (['L', 'C', 'R'] as const).flatMap((end) => {
    const tires = places.filter((p) => endOf(p) === end).length;
    return tires > 0 ? [{ end, tires }] : [];
  });
}

/** What is added to an even share when only the whole axle was weighed: one end may carry 55 % of it. Assumed. */
export const AXLE_ONLY_MARGIN = 0.1;

/** What the heaviest tire of an axle carries, and how that is known. */
export interface TireLoad {
  kg: number;
  /** `ends`: weighed end by end, the heaviest rules; `axle`: the whole axle weighed, with the margin; `one`: the axle has one end. */
  basis: 'ends' | 'axle' | 'one';
  /** The heaviest end, where the ends were weighed. */
  heaviest?: End;
  /** The load of that end, kg. */
  endKg?: number;
}

/** Why no load can be said. */
export type NoLoad = { missing: 'weighing' } | { missing: 'ends'; ends: End[] } | { missing: 'split' };

const kgOf = (m: Mass | undefined): number | undefined => m?.kg;

/**
 * Load of the heaviest tire of an axle, kg. Ends weighed one by one go before the axle's sum: the heaviest wheel of the axle rules
 * (common practice, no source). Tires of one end share its load alike.
 * @param places the axle's wheels
 */
export function tireLoad(weighing: Weighing | undefined, places: readonly Place[]): TireLoad | NoLoad {
  const ends = endsOf(places);
  const weighed = ends.flatMap(({ end, tires }) => {
    const kg = kgOf(weighing?.[end]);
    return kg === undefined ? [] : [{ end, tires, kg }];
  });
  const axleKg = kgOf(weighing?.axle);
  if (weighed.length === ends.length && ends.length > 0) {
    const heaviest = weighed.reduce((a, b) => (b.kg / b.tires > a.kg / a.tires ? b : a));
    const kg = heaviest.kg / heaviest.tires;
    return ends.length === 1
      ? { kg, basis: 'one', heaviest: heaviest.end, endKg: heaviest.kg }
      : { kg, basis: 'ends', heaviest: heaviest.end, endKg: heaviest.kg };
  }
  if (axleKg !== undefined) {
    if (ends.length === 1) return { kg: axleKg / (ends[0]?.tires ?? 1), basis: 'one' };
    // A sidecar's axle is not shared alike by its two wheels: its sum says nothing of either.
    if (ends.some((e) => e.end === 'C')) return { missing: 'split' };
    return { kg: (axleKg / places.length) * (1 + AXLE_ONLY_MARGIN), basis: 'axle' };
  }
  if (weighed.length > 0)
    return { missing: 'ends', ends: ends.map((e) => e.end).filter((e) => !weighed.some((w) => w.end === e)) };
  return { missing: 'weighing' };
}

/** What of a weighing cannot be. */
export interface WeighingFault {
  field: keyof Weighing;
  code: 'sumOverAxle' | 'sumUnderAxle' | 'lopsided';
}

/** Ends that add up to something else than the axle's sum by more than this share cannot both be right. Assumed. */
const SUM_TOLERANCE = 0.03;
/** One end carrying over this share of the axle is a slip of the scale or a dangerous load. Assumed. */
const LOPSIDED = 0.7;

/** Weights that cannot be: ends that do not add up to the axle, a left and right that no load explains. */
export function weighingFaults(weighing: Weighing): WeighingFault[] {
  const faults: WeighingFault[] = [];
  const { L, C, R } = weighing;
  const axle = kgOf(weighing.axle);
  const ends = [L, C, R].flatMap((m) => kgOf(m) ?? []);
  const sum = ends.reduce((a, b) => a + b, 0);
  if (axle !== undefined && ends.length > 0) {
    if (sum > axle * (1 + SUM_TOLERANCE)) faults.push({ field: 'axle', code: 'sumOverAxle' });
    else if (ends.length > 1 && sum < axle * (1 - SUM_TOLERANCE)) faults.push({ field: 'axle', code: 'sumUnderAxle' });
  }
  if (L && R && Math.max(L.kg, R.kg) > LOPSIDED * (L.kg + R.kg))
    faults.push({ field: L.kg > R.kg ? 'L' : 'R', code: 'lopsided' });
  return faults;
}

/** What of a load table cannot be, by row. */
export interface TableFault {
  row: number;
  code: 'fallingPressure' | 'twice';
}

/**
 * Split a load table into rows that can be used and those that cannot: more load never needs less pressure, and one load has one
 * pressure. The row that breaks the order of the rows before it (by load) is the one told.
 */
export function usableRows(rows: readonly TableRow[]): { rows: TableRow[]; faults: TableFault[] } {
  const faults: TableFault[] = [];
  const good: TableRow[] = [];
  for (const use of ['single', 'dual'] as const) {
    const sorted = rows.map((row, i) => ({ row, i })).filter(({ row }) => row.use === use);
    sorted.sort((a, b) => a.row.loadKg - b.row.loadKg || a.row.kpa - b.row.kpa);
    let last: TableRow | null = null;
    for (const { row, i } of sorted) {
      if (last && row.loadKg === last.loadKg) {
        if (row.kpa !== last.kpa) faults.push({ row: i, code: 'twice' });
        continue;
      }
      if (last && row.kpa < last.kpa) {
        faults.push({ row: i, code: 'fallingPressure' });
        continue;
      }
      good.push(row);
      last = row;
    }
  }
  return { rows: good, faults };
}

/** What is known of a tire for the question how much pressure its load needs. */
export interface LoadQuestion {
  /** Load of the heaviest tire, kg, over 0. */
  loadKg: number;
  /** It runs as one of a dual pair. */
  dual: boolean;
  /** The maker's load table; rows that cannot be used are left out. */
  table?: readonly TableRow[] | undefined;
  /** The pressure beside "max load at … cold" on the sidewall, kPa. */
  referenceKpa?: number | undefined;
  /** Load of the index, single and dual, kg. */
  indexKg?: number | undefined;
  indexDualKg?: number | undefined;
  /** A passenger tire on a trailer or truck carries its index load divided by 1.10. */
  derate?: boolean | undefined;
}

/** Divisor for a passenger tire on a trailer, truck or bus (49 CFR 571.110/120, from memory). */
export const PASSENGER_DERATING = 1.1;

export interface LoadMinimum {
  /** The cold pressure that carries the load, kPa; null when nothing can be said. */
  kpa: number | null;
  /** `table`: between or on rows of the maker's table; `tableLowest`: under its first row; `estimate`: in proportion to the index load. */
  method: 'table' | 'tableLowest' | 'estimate' | null;
  /** The figures the estimate was made from. */
  formula?: { referenceKpa: number; loadKg: number; capacityKg: number; derated: boolean };
  /** The rows it lies between. */
  between?: [TableRow, TableRow];
  /** What the tire carries at any pressure, kg: index load, derated where due; null when unknown. */
  capacityKg: number | null;
  faults: ('overIndex' | 'overTable')[];
  missing: ('reference' | 'index' | 'dualIndex' | 'dualRows' | 'singleRows')[];
}

/** What the tire carries at its reference pressure, kg, or what is missing to say it. */
export function capacityOf(q: Pick<LoadQuestion, 'dual' | 'indexKg' | 'indexDualKg' | 'derate'>): number | null {
  const kg = q.dual ? q.indexDualKg : q.indexKg;
  return kg === undefined ? null : q.derate ? kg / PASSENGER_DERATING : kg;
}

/**
 * The cold pressure at which a tire carries a load: by the maker's table, linear between its rows, never under its lowest; without a
 * table a careful estimate `p = reference * load / index load`. Proportion asks for more pressure than the usual power law
 * (`p = reference * (load / index load)^(1/0.5 … 1/0.8)`, handbook practice, from memory) wherever the load is under the index.
 * More load never gives less pressure.
 */
export function loadMinimum(q: LoadQuestion): LoadMinimum {
  const capacityKg = capacityOf(q);
  const out: LoadMinimum = { kpa: null, method: null, capacityKg, faults: [], missing: [] };
  if (capacityKg !== null && q.loadKg > capacityKg) out.faults.push('overIndex');
  const use = q.dual ? 'dual' : 'single';
  const rows = usableRows(q.table ?? []).rows.filter((r) => r.use === use);
  const first = rows[0];
  const last = rows.at(-1);
  if (first && last) {
    if (q.loadKg <= first.loadKg) return { ...out, kpa: first.kpa, method: q.loadKg === first.loadKg ? 'table' : 'tableLowest' };
    if (q.loadKg > last.loadKg) return { ...out, kpa: last.kpa, method: 'table', faults: [...out.faults, 'overTable'] };
    const i = rows.findIndex((r) => r.loadKg >= q.loadKg);
    const above = rows[i] as TableRow;
    const below = rows[i - 1] as TableRow;
    const t = (q.loadKg - below.loadKg) / (above.loadKg - below.loadKg);
    return { ...out, kpa: below.kpa + t * (above.kpa - below.kpa), method: 'table', between: [below, above] };
  }
  if ((q.table ?? []).length > 0) out.missing.push(q.dual ? 'dualRows' : 'singleRows');
  if (q.referenceKpa === undefined) out.missing.push('reference');
  if (capacityKg === null) out.missing.push(q.dual && q.indexKg !== undefined ? 'dualIndex' : 'index');
  if (q.referenceKpa === undefined || capacityKg === null) return out;
  return {
    ...out,
    kpa: (q.referenceKpa * q.loadKg) / capacityKg,
    method: 'estimate',
    formula: { referenceKpa: q.referenceKpa, loadKg: q.loadKg, capacityKg, derated: q.derate === true },
  };
}

/** What a tire carries at a cold pressure, kg: the careful estimate turned round, never over its capacity. */
export function loadAt(kpa: number, referenceKpa: number, capacityKg: number): number {
  return Math.min(capacityKg, (capacityKg * kpa) / referenceKpa);
}
