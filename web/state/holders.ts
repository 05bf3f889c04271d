import { axleOf, type RigWheel, settingOf } from '#core/rig/positions.ts';
import type { LoadState } from '#schema/common.ts';
import type { Axle, Setting, Spare, Unit } from '#schema/unit.ts';
import type { WholeRig } from '../data/queries.ts';
import { holdersOf } from './sheets.ts';

/** An axle or a spare of the rig: what pressures and alarm rules belong to. */
export interface Holder {
  /** A2, or BS1 for a spare. */
  code: string;
  name: string;
  /** How many wheels share it. */
  wheels: number;
  first: RigWheel;
  setting: Setting;
}

/** What an owner calls an axle: front and rear, those of a trailer by that name, the only axle by its unit's. */
function axleName(unit: Pick<Unit, 'kind' | 'name' | 'axles'>, index: number): string {
  const n = unit.axles.length;
  if (n === 1) return unit.name.toLowerCase();
  const where = index === 0 ? 'front' : index === n - 1 ? 'rear' : n === 3 ? 'middle' : `axle ${index + 1}`;
  return unit.kind === 'trailer' ? `trailer ${where}` : where;
}

export function holders(whole: WholeRig): Holder[] {
  return holdersOf(whole).map((w) => {
    const count = whole.wheels.filter((v) => v.holder === w.holder).length;
    const label = 'label' in w.holder ? w.holder.label : undefined;
    return {
      code: axleOf(w.position),
      name: w.place === 'S' ? 'spare' : (label ?? axleName(w.unit, w.axleIndex ?? 0)),
      wheels: count,
      first: w,
      setting: settingOf(w, whole.rig.loadState),
    };
  });
}

/** The axle or spare of a holder inside a unit as it is stored now. */
const inUnit = (unit: Unit, h: Holder): Axle | Spare | undefined =>
  h.first.axleIndex === null ? unit.spares.find((s) => s.wheel.position === h.first.local) : unit.axles[h.first.axleIndex];

/** A unit with one axle or spare changed. */
export function withHolder(unit: Unit, h: Holder, work: (holder: Axle | Spare) => void): Unit {
  const next = structuredClone(unit);
  const holder = inUnit(next, h);
  if (holder) work(holder);
  return next;
}

/**
 * Units with new settings for some of their axles and spares, one load state.
 * @param change what a holder's setting becomes; `undefined` leaves it
 */
export function withSettings(whole: WholeRig, loadState: LoadState, change: (holder: Holder) => Setting | undefined): Unit[] {
  const next = new Map<string, Unit>();
  for (const h of holders(whole)) {
    const setting = change(h);
    if (setting === undefined) continue;
    const unit = next.get(h.first.unit.id) ?? structuredClone(h.first.unit);
    const holder = inUnit(unit, h);
    if (!holder) continue;
    holder.settings = { ...holder.settings, [loadState]: setting };
    next.set(unit.id, unit);
  }
  return [...next.values()];
}

/** Units as they were, to undo what was saved since. */
export const asBefore = (before: readonly Unit[], saved: readonly Unit[]): Unit[] =>
  saved.flatMap((now) => {
    const old = before.find((u) => u.id === now.id);
    return old ? [{ ...old, version: now.version }] : [];
  });
