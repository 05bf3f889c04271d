import type { CardAxle } from '#core/alarms/card.ts';
import type { LoadState } from '#schema/common.ts';
import type { Holder } from '../../state/holders.ts';

/** The axles of a rig as the keying card sees them, in one of its load states. */
export const cardAxles = (list: readonly Holder[], loadState: LoadState): CardAxle[] =>
  list.map((h) => ({
    code: h.code,
    unitKind: h.first.unit.kind,
    wheels: h.wheels,
    setting: h.first.holder.settings[loadState] ?? {},
  }));
