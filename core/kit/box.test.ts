import { describe, expect, it } from 'vitest';
import type { SensorKind } from '#schema/common.ts';
import type { Unit } from '#schema/unit.ts';
import { makeAxle, wheelsOf } from '../rig/positions.ts';
import { type BoxChoice, checkBox, needsRepeater } from './box.ts';
import { partsOf, USUAL_PARTS } from './parts.ts';

const unit = (kind: Unit['kind'], dual = false): Unit => ({
  id: kind,
  version: 1,
  name: kind,
  kind,
  axles: [makeAxle('single', 1), makeAxle(dual ? 'dual' : 'single', 2)],
  spares: [],
});
const wheels = wheelsOf([unit('vehicle', true), unit('trailer')]);
const usual = (kind: SensorKind) => partsOf({}, kind);
const need = (have: Record<string, number>, choice: Partial<BoxChoice> = {}) =>
  Object.fromEntries(checkBox(wheels, have, { parts: usual, repeater: true, ...choice }).map((l) => [l.item, l]));

describe('the box', () => {
  it('needs caps on the vehicle and flow-through on the trailer, with all that goes with them', () => {
    const lines = need({});
    expect(Object.fromEntries(Object.values(lines).map((l) => [l.item, l.need]))).toEqual({
      monitor: 1,
      monitorMount: 1,
      monitorCable: 1,
      capSensor: 6,
      flowThroughSensor: 4,
      smallBoot: 6,
      largeBoot: 4,
      lockNut: 10,
      oRing: 10,
      spareSeal: 10,
      setScrew: 4,
      setScrewKey: 1,
      cell: 10,
      label: 10,
      wrench: 1,
      coreTool: 1,
      opener: 1,
      repeater: 1,
      cable: 1,
      screws: 1,
      pouch: 1,
      leaflet: 1,
    });
    expect(lines.cell?.cells).toEqual({ CR1632: 10 });
    expect(lines.oRing).toMatchObject({ have: undefined, missing: 0, left: 0 });
  });

  it('says what is missing and what is left over', () => {
    const lines = need({ oRing: 9, cell: 12, capSensor: 6 });
    expect(lines.oRing).toMatchObject({ missing: 1, left: 0 });
    expect(lines.cell).toMatchObject({ missing: 0, left: 2 });
    expect(lines.capSensor).toMatchObject({ missing: 0, left: 0 });
  });

  it('leaves out lock nuts and repeater for who does without, but shows what lies in the box', () => {
    const lines = need({ lockNut: 10 }, { repeater: false, parts: (k) => ({ ...usual(k), lockNut: false }) });
    expect(lines.wrench).toBeUndefined();
    expect(lines.repeater).toBeUndefined();
    expect(lines.lockNut).toMatchObject({ need: 0, left: 10 });
  });

  it('goes by the sensors that are there', () => {
    const internal = unit('vehicle');
    for (const a of internal.axles) for (const w of a.wheels) w.sensor = { id: `A0000${w.position.length}`, kind: 'internal' };
    const items = checkBox(wheelsOf([internal]), {}, { parts: usual, repeater: false, power: ['sun'] }).map(
      (l) => `${l.item} ${l.need}`,
    );
    expect(items).toEqual(['monitor 1', 'monitorMount 1', 'internalSensor 4', 'label 4', 'leaflet 1']);
  });

  it('counts each type of cell, and the tools that its parts ask for', () => {
    const lines = need(
      {},
      {
        power: ['battery', 'usb'],
        parts: (k) =>
          k === 'cap'
            ? { ...USUAL_PARTS.cap, antiTheft: true, lockNut: false, cell: 'CR1225' }
            : { ...USUAL_PARTS[k], lockNut: false },
      },
    );
    expect(lines.cell?.cells).toEqual({ CR1225: 6, CR1632: 4 });
    expect(lines).toMatchObject({ antiTheftTool: { need: 1 }, setScrewKey: { need: 1 }, monitorBattery: { need: 1 } });
    expect(lines.wrench).toBeUndefined();
    expect(lines.lockNut).toBeUndefined();
  });

  it('asks a trailer or a phone for a repeater, never a car or a motorcycle', () => {
    expect(needsRepeater([{ kind: 'vehicle' }])).toBe(false);
    expect(needsRepeater([{ kind: 'vehicle' }], { link: 'direct' })).toBe(false);
    expect(needsRepeater([{ kind: 'vehicle' }], { link: 'repeater' })).toBe(true);
    expect(needsRepeater([{ kind: 'vehicle' }, { kind: 'trailer' }])).toBe(true);
  });
});
