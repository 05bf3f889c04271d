import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { checkBox } from './box.ts';

const unit = (kind: Unit['kind'], dual = false): Unit => ({
  id: kind,
  version: 1,
  name: kind,
  kind,
  axles: [makeAxle('single', 1), makeAxle(dual ? 'dual' : 'single', 2)],
  spares: [],
});
const wheels = wheelsOf([unit('vehicle', true), unit('trailer')]);
const need = (have: Record<string, number>, choice = { lockNuts: true, repeater: true }) =>
  Object.fromEntries(checkBox(wheels, have, choice).map((l) => [l.item, l]));

describe('the box', () => {
  it('needs caps on the vehicle and flow-through on the trailer, with all that goes with them', () => {
    const lines = need({});
    expect(Object.fromEntries(Object.values(lines).map((l) => [l.item, l.need]))).toEqual({
      capSensor: 6,
      flowThroughSensor: 4,
      lockNut: 10,
      oRing: 10,
      setScrew: 4,
      cell: 10,
      label: 10,
      wrench: 1,
      opener: 1,
      repeater: 1,
      cable: 1,
    });
    expect(lines.oRing).toMatchObject({ have: undefined, missing: 0, left: 0 });
  });

  it('says what is missing and what is left over', () => {
    const lines = need({ oRing: 9, cell: 12, capSensor: 6 });
    expect(lines.oRing).toMatchObject({ missing: 1, left: 0 });
    expect(lines.cell).toMatchObject({ missing: 0, left: 2 });
    expect(lines.capSensor).toMatchObject({ missing: 0, left: 0 });
  });

  it('leaves out lock nuts and repeater for who does without, but shows what lies in the box', () => {
    const lines = need({ lockNut: 10 }, { lockNuts: false, repeater: false });
    expect(lines.wrench).toBeUndefined();
    expect(lines.repeater).toBeUndefined();
    expect(lines.lockNut).toMatchObject({ need: 0, left: 10 });
  });

  it('goes by the sensors that are there', () => {
    const internal = unit('vehicle');
    for (const a of internal.axles) for (const w of a.wheels) w.sensor = { id: `A0000${w.position.length}`, kind: 'internal' };
    const items = checkBox(wheelsOf([internal]), {}, { lockNuts: true, repeater: false }).map((l) => `${l.item} ${l.need}`);
    expect(items).toEqual(['internalSensor 4', 'label 4']);
  });
});
