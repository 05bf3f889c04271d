import { parse } from 'csv-parse/sync';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { BOX_ITEMS, checkBox } from './box.ts';
import { INVENTORY_HEAD, inventoryRows, readInventory } from './inventory.ts';
import { partsOf } from './parts.ts';

const unit: Unit = {
  id: 'u',
  version: 1,
  name: 'Car',
  kind: 'vehicle',
  axles: [makeAxle('single', 1), makeAxle('single', 2)],
  spares: [],
};
if (unit.axles[0]?.wheels[0]) unit.axles[0].wheels[0].sensor = { id: '4CA1E0', kind: 'cap' };
const wheels = wheelsOf([unit]);
const kit = { oRing: 3, cell: 5, label: 4 };
const rows = inventoryRows(
  checkBox(wheels, kit, { parts: (k) => partsOf({ fitting: { lockNuts: true } }, k), repeater: false }),
  wheels,
);

describe('the inventory as a table', () => {
  // RFC 4180, read back with another parser (csv-parse) than the one that wrote it.
  it('is read by another parser as it was written', () => {
    const text = Papa.unparse([INVENTORY_HEAD, ...rows], { newline: '\r\n' });
    expect(parse(text, { record_delimiter: '\r\n' })).toEqual([
      ['item', 'id', 'where', 'pieces'],
      ['oRing', '', 'box', '3'],
      ['cell', '', 'box', '5'],
      ['label', '', 'box', '4'],
      ['capSensor', '4CA1E0', 'A1L', '1'],
    ]);
  });

  it('comes back as the same counts', () => {
    expect(readInventory([INVENTORY_HEAD, ...rows], BOX_ITEMS)).toEqual({ kit, refused: [] });
  });

  it('keeps the good rows and names the others by line', () => {
    const text = 'Item,Pieces\r\noRing,9\r\n"gold, bars",2\r\ncell,-1\r\n\r\noRing,8\r\nsetScrew,4\r\n';
    const data = Papa.parse<string[]>(text).data;
    expect(readInventory(data, BOX_ITEMS)).toEqual({
      kit: { oRing: 9, setScrew: 4 },
      refused: [
        { line: 3, detail: expect.stringContaining('“gold, bars” is not a piece') },
        { line: 4, detail: '“-1” is not a count from 0 to 999' },
        { line: 6, detail: 'oRing stands twice' },
      ],
    });
  });

  it('needs its head', () => {
    expect(readInventory([['a', 'b']], BOX_ITEMS).refused).toEqual([
      { line: 1, detail: 'the first line must name the columns item and pieces' },
    ]);
    expect(readInventory([], BOX_ITEMS).refused).toHaveLength(1);
  });
});
