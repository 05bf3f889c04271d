import { ends, type Grid, tidy } from '../alarms/grid.ts';
import { FieldError } from '../errors.ts';
import type { BenchKeyer } from './state.ts';

/** Keys of the menu. `group` goes on to the next group, round and round: gone one too far, one must step all the way. */
export type KeyerKey = 'group' | 'field' | 'up' | 'down' | 'up10' | 'down10' | 'save' | 'leave';

export interface KeyerSpec extends Grid {
  presetLow: number | null;
  presetHigh: number | null;
  interlock: boolean;
}

/** A monitor as it came from the factory. */
export function freshKeyer(groups: readonly string[], spec: KeyerSpec): BenchKeyer {
  const limits = Object.fromEntries(groups.map((g) => [g, { low: spec.presetLow, high: spec.presetHigh }]));
  return {
    groups: [...groups],
    at: 0,
    field: spec.presetLow === null ? 'high' : 'low',
    limits,
    saved: structure(limits),
    refusals: 0,
    wrongAxle: [],
    leftUnsaved: 0,
  };
}

const structure = (limits: BenchKeyer['limits']): BenchKeyer['limits'] =>
  Object.fromEntries(Object.entries(limits).map(([g, l]) => [g, { ...l }]));

/** What became of a press. */
export type PressAnswer = 'taken' | 'refused';

/**
 * Press a key. With an interlock a value that would bring the low to the high, or the high to the low, is refused with a beep.
 * @param intended the group the card is at, to notice a change of another one
 * @throws FieldError at `/key` when the menu has no group
 */
export function pressKey(keyer: BenchKeyer, key: KeyerKey, spec: KeyerSpec, intended?: string | undefined): PressAnswer {
  const group = keyer.groups[keyer.at];
  if (group === undefined) throw new FieldError('/key', 'there is no group to key');
  const now = keyer.limits[group] as { low: number | null; high: number | null };
  switch (key) {
    case 'group':
      keyer.at = (keyer.at + 1) % keyer.groups.length;
      return 'taken';
    case 'field': {
      const other = keyer.field === 'low' ? 'high' : 'low';
      if (now[other] === null) return 'refused';
      keyer.field = other;
      return 'taken';
    }
    case 'save':
      keyer.saved = structure(keyer.limits);
      return 'taken';
    case 'leave':
      if (JSON.stringify(keyer.saved) !== JSON.stringify(keyer.limits)) keyer.leftUnsaved += 1;
      keyer.limits = structure(keyer.saved);
      keyer.at = 0;
      return 'taken';
    default: {
      const value = now[keyer.field];
      if (value === null) return 'refused';
      const by = { up: 1, down: -1, up10: 10, down10: -10 }[key];
      const { least, most } = ends(spec);
      const next = tidy(value + by * spec.step, spec.step);
      const moved = { ...now, [keyer.field]: next };
      const crossed = spec.interlock && moved.low !== null && moved.high !== null && moved.low >= moved.high;
      if (next < least || next > most || crossed) {
        keyer.refusals += 1;
        return 'refused';
      }
      keyer.limits[group] = moved;
      if (intended !== undefined && intended !== group && !keyer.wrongAxle.includes(group)) keyer.wrongAxle.push(group);
      return 'taken';
    }
  }
}
