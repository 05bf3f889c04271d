import { shownIdOf } from '../pairing/ids.ts';
import type { RigWheel } from '../rig/positions.ts';
import type { BoxLine } from './box.ts';

/** One row of the inventory as it goes into a table of another program. */
export type InventoryRow = [what: string, detail: string, where: string, pieces: string];

/** Heads of the columns, in order. */
export const INVENTORY_HEAD: InventoryRow = ['item', 'id', 'where', 'pieces'];

/** Pieces in the box, then every sensor by its ID and where it is. */
export function inventoryRows(lines: readonly BoxLine[], wheels: readonly RigWheel[]): InventoryRow[] {
  return [
    ...lines.filter((l) => l.have !== undefined).map((l): InventoryRow => [l.item, '', 'box', String(l.have)]),
    ...wheels.flatMap(({ wheel, position }): InventoryRow[] =>
      wheel.sensor ? [[`${wheel.sensor.kind}Sensor`, shownIdOf(wheel.sensor) ?? '', position, '1']] : [],
    ),
  ];
}

/** What a row of an inventory that comes in says, or what is wrong with it. */
export interface ReadInventory {
  kit: Record<string, number>;
  /** Lines count from 1, the head included. */
  refused: { line: number; detail: string }[];
}

/**
 * Read the box's counts from rows of text: the head first, `item` and `pieces` among its columns; rows of single sensors are passed over.
 * Good rows are kept, the others named.
 */
export function readInventory(rows: readonly (readonly string[])[], items: readonly string[]): ReadInventory {
  const out: ReadInventory = { kit: {}, refused: [] };
  const head = rows[0]?.map((h) => h.trim().toLowerCase()) ?? [];
  const item = head.indexOf('item');
  const pieces = head.indexOf('pieces');
  const id = head.indexOf('id');
  if (item < 0 || pieces < 0)
    return { kit: {}, refused: [{ line: 1, detail: 'the first line must name the columns item and pieces' }] };
  rows.slice(1).forEach((row, i) => {
    const line = i + 2;
    const name = row[item]?.trim() ?? '';
    const count = row[pieces]?.trim() ?? '';
    if (row.every((cell) => cell.trim() === '') || (id >= 0 && (row[id]?.trim() ?? '') !== '')) return;
    if (!items.includes(name))
      out.refused.push({ line, detail: `“${name}” is not a piece of a kit; known are ${items.join(', ')}` });
    else if (!/^\d{1,3}$/.test(count)) out.refused.push({ line, detail: `“${count}” is not a count from 0 to 999` });
    else if (name in out.kit) out.refused.push({ line, detail: `${name} stands twice` });
    else out.kit[name] = Number(count);
  });
  return out;
}
