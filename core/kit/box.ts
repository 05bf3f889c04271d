import type { SensorKind } from '#schema/common.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { LooseParts, Unit } from '#schema/unit.ts';
import type { RigWheel } from '../rig/positions.ts';
import { kindAt } from './kinds.ts';

/** What comes in the box, or should. */
export const BOX_ITEMS = [
  'monitor',
  'monitorMount',
  'monitorCable',
  'monitorBattery',
  'capSensor',
  'flowThroughSensor',
  'internalSensor',
  'smallBoot',
  'largeBoot',
  'lockNut',
  'setScrew',
  'oRing',
  'cell',
  'spareSeal',
  'label',
  'wrench',
  'setScrewKey',
  'antiTheftTool',
  'coreTool',
  'opener',
  'repeater',
  'cable',
  'screws',
  'pouch',
  'leaflet',
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
  /** Types of cell and how many of each, where there is more than one thing to know. */
  cells?: Record<string, number>;
}

/** What decides about a rig's box beyond its wheels. */
export interface BoxChoice {
  /** Loose parts of a kind of sensor. */
  parts: (kind: SensorKind) => LooseParts;
  repeater: boolean;
  /** What powers the monitor; undefined while it isn't known. */
  power?: Monitor['power'] | undefined;
  /** The kind of a wheel that has no sensor yet; left out: as `kindAt` has it. */
  kindOf?: (wheel: RigWheel) => SensorKind;
}

/**
 * Whether a rig is likely to have a repeater: where its kit reports through one, or a trailer puts sensors far behind the dash. A car or a
 * motorcycle alone needs none (common practice, no source).
 */
export const needsRepeater = (units: readonly Pick<Unit, 'kind'>[], monitor?: Pick<Monitor, 'link'> | null): boolean =>
  monitor?.link === 'repeater' || units.some((u) => u.kind === 'trailer');

/**
 * What a rig needs, piece by piece, against what was counted. Common practice, no source: an O-ring and a cell for each external sensor
 * and a spare seal for each, the loose parts of each kind, a label for every wheel, one of each tool that a part asks for.
 */
export function checkBox(wheels: readonly RigWheel[], have: Readonly<Record<string, number>>, choice: BoxChoice): BoxLine[] {
  const kindOf = choice.kindOf ?? kindAt;
  const kinds = wheels.map((w) => w.wheel.sensor?.kind ?? kindOf(w));
  const count = (kind: SensorKind) => kinds.filter((k) => k === kind).length;
  const parts = kinds.map((k) => ({ kind: k, ...choice.parts(k) }));
  const having = (test: (p: (typeof parts)[number]) => boolean) => parts.filter(test).length;
  const external = count('cap') + count('flowThrough');
  const cells: Record<string, number> = {};
  for (const p of parts) if (p.kind !== 'internal') cells[p.cell] = (cells[p.cell] ?? 0) + 1;
  const setScrew = having((p) => p.setScrew);
  const lockNut = having((p) => p.lockNut);
  const one = (n: number) => (n > 0 ? 1 : 0);
  const need: Record<BoxItem, number> = {
    monitor: 1,
    monitorMount: 1,
    monitorCable: choice.power === undefined || choice.power.some((p) => p === 'usb' || p === 'socket') ? 1 : 0,
    monitorBattery: choice.power?.includes('battery') ? 1 : 0,
    capSensor: count('cap'),
    flowThroughSensor: count('flowThrough'),
    internalSensor: count('internal'),
    smallBoot: having((p) => p.boot === 'small'),
    largeBoot: having((p) => p.boot === 'large'),
    lockNut,
    setScrew,
    oRing: external,
    cell: external,
    spareSeal: external,
    label: wheels.length,
    wrench: one(lockNut),
    setScrewKey: one(setScrew),
    antiTheftTool: one(having((p) => p.antiTheft)),
    coreTool: one(external),
    opener: one(external),
    repeater: choice.repeater ? 1 : 0,
    cable: choice.repeater ? 1 : 0,
    screws: choice.repeater ? 1 : 0,
    pouch: one(external),
    leaflet: 1,
  };
  return BOX_ITEMS.filter((item) => need[item] > 0 || (have[item] ?? 0) > 0).map((item) => {
    const counted = have[item];
    return {
      item,
      need: need[item],
      have: counted,
      missing: counted === undefined ? 0 : Math.max(0, need[item] - counted),
      left: counted === undefined ? 0 : Math.max(0, counted - need[item]),
      ...(item === 'cell' && external > 0 ? { cells } : {}),
    };
  });
}
