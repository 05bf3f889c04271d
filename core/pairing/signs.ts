import type { Monitor } from '#schema/monitor.ts';
import type { PairingSign, Rig } from '#schema/unit.ts';

export const PAIRING_SIGNS = ['id', 'pressure', 'lamp', 'beep'] as const satisfies readonly PairingSign[];

/** What a monitor shows while sensors are paired to it. */
export interface Shows {
  /** What tells that it took a sensor; empty: nothing does. */
  signs: readonly PairingSign[];
  /** It shows IDs, so a sensor can be known by its own. */
  ids: boolean;
  /** What it shows at a position without a sensor. */
  open: 'allF' | 'code' | 'dashes' | 'skipped';
  /** When what was paired is kept: after each wheel, once at the end, or by itself. */
  save: 'each' | 'end' | 'none';
}

/**
 * What the owner will see at a monitor. The rig's own word about the signs wins over the monitor's description; a monitor that isn't
 * described is taken to show IDs.
 */
export function showsOf(
  monitor: Pick<Monitor, 'showsIds' | 'signs' | 'openShows' | 'pairSave' | 'saves'> | null | undefined,
  pairing?: Rig['pairing'],
): Shows {
  const signs = pairing?.signs ?? monitor?.signs ?? ((monitor?.showsIds ?? true) ? ['id' as const] : ['pressure' as const]);
  const ids = signs.includes('id');
  return {
    signs,
    ids,
    open: monitor?.openShows ?? (ids ? 'allF' : 'dashes'),
    save: monitor?.pairSave ?? (monitor?.saves === 'byItself' ? 'none' : 'each'),
  };
}
