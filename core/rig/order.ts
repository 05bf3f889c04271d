import type { Rig } from '#schema/unit.ts';
import { unitLetter } from './positions.ts';

/** A record whose keys begin with a unit's letter, with the letters that the units have afterwards; units that left take theirs along. */
function relettered<T>(record: Readonly<Record<string, T>>, letters: ReadonlyMap<string, string>): Record<string, T> {
  return Object.fromEntries(
    Object.entries(record).flatMap(([key, value]) => {
      const letter = letters.get(key[0] as string);
      return letter === undefined ? [] : [[letter + key.slice(1), value] as const];
    }),
  );
}

/**
 * A rig whose units come in another order, or are more or fewer. What it says of a unit by its letter (how its sensors are paired, its
 * list and places on the monitor, that it isn't watched) goes with the unit.
 */
export function reorderUnits(rig: Rig, unitIds: readonly string[]): Rig {
  const letters = new Map(
    rig.unitIds.flatMap((id, i) => {
      const at = unitIds.indexOf(id);
      return at < 0 ? [] : [[unitLetter(i), unitLetter(at)] as const];
    }),
  );
  const { pairing, map, lists, unwatched } = rig;
  return {
    ...rig,
    unitIds: [...unitIds],
    ...(pairing?.byUnit ? { pairing: { ...pairing, byUnit: relettered(pairing.byUnit, letters) } } : {}),
    ...(map ? { map: relettered(map, letters) } : {}),
    ...(lists ? { lists: relettered(lists, letters) } : {}),
    ...(unwatched ? { unwatched: unwatched.flatMap((l) => letters.get(l) ?? []) } : {}),
  };
}
