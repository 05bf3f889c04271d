import type { RigWheel } from '../rig/positions.ts';

/** What comes in the box, or should. */
export const BOX_ITEMS = [
  'capSensor',
  'flowThroughSensor',
  'internalSensor',
  'lockNut',
  'oRing',
  'setScrew',
  'cell',
  'label',
  'wrench',
  'opener',
  'repeater',
  'cable',
] as const;
export type BoxItem = (typeof BOX_ITEMS)[number];

/** One line of the list. */
export interface BoxLine {
  item: BoxItem;
  need: number;
  /** Undefined while nobody has counted. */
  have: number | undefined;
  missing: number;
  left: number;
}

/** How the owner wants it done. */
export interface BoxChoice {
  /** Lock nuts are optional: people who swap wheels often leave them off. */
  lockNuts: boolean;
  repeater: boolean;
}

/**
 * What a rig needs, piece by piece, against what was counted. Common practice, no source: an O-ring, a cell and a lock nut for each
 * external sensor, a set screw for each flow-through, a label for every wheel, one wrench and one opener.
 * Wheels without a sensor count as caps on a vehicle and flow-through on a trailer, the usual mixed kit.
 */
export function checkBox(wheels: readonly RigWheel[], have: Readonly<Record<string, number>>, choice: BoxChoice): BoxLine[] {
  const kinds = wheels.map((w) => w.wheel.sensor?.kind ?? (w.unit.kind === 'trailer' ? 'flowThrough' : 'cap'));
  const count = (kind: string) => kinds.filter((k) => k === kind).length;
  const external = count('cap') + count('flowThrough');
  const need: Record<BoxItem, number> = {
    capSensor: count('cap'),
    flowThroughSensor: count('flowThrough'),
    internalSensor: count('internal'),
    lockNut: choice.lockNuts ? external : 0,
    oRing: external,
    setScrew: count('flowThrough'),
    cell: external,
    label: wheels.length,
    wrench: choice.lockNuts && external > 0 ? 1 : 0,
    opener: external > 0 ? 1 : 0,
    repeater: choice.repeater ? 1 : 0,
    cable: choice.repeater ? 1 : 0,
  };
  return BOX_ITEMS.filter((item) => need[item] > 0 || (have[item] ?? 0) > 0).map((item) => {
    const counted = have[item];
    return {
      item,
      need: need[item],
      have: counted,
      missing: counted === undefined ? 0 : Math.max(0, need[item] - counted),
      left: counted === undefined ? 0 : Math.max(0, counted - need[item]),
    };
  });
}
