import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { axleOf, faultsOf, layoutOf, makeAxle, renumber, wheelsOf } from './positions.ts';

const unit = (axles: Unit['axles'], spares: Unit['spares'] = []): Unit => ({
  id: 'u',
  version: 1,
  name: 'Flatbed',
  kind: 'vehicle',
  axles,
  spares,
});
const spare = { wheel: { position: 'S1', sensor: null }, settings: {} };

describe('positions', () => {
  it('are told unit by unit, axle by axle, left to right, then spares', () => {
    const flatbed = unit([makeAxle('single', 1), makeAxle('dual', 2)]);
    const trailer = unit([makeAxle('single', 1)], [spare]);
    expect(wheelsOf([flatbed, trailer]).map((w) => w.position)).toEqual('A1L A1R A2LO A2LI A2RI A2RO B1L B1R BS1'.split(' '));
  });

  it('a motorcycle with a sidecar has its third wheel on the second axle', () => {
    const bike = unit([makeAxle('centre', 1), makeAxle('sidecarRight', 2)]);
    expect(wheelsOf([bike]).map((w) => w.position)).toEqual(['A1C', 'A2C', 'A2R']);
  });

  it('axleOf drops side and O/I', () => {
    expect(['A2RO', 'B1L', 'A1C', 'BS1'].map(axleOf)).toEqual(['A2', 'B1', 'A1', 'BS1']);
  });

  it('a change of layout keeps the wheels that stay and the settings', () => {
    const sensor = { id: '4CA1E0', kind: 'cap' as const };
    const before = { ...makeAxle('sidecarRight', 1), settings: { loaded: { cold: { kpa: 250, tempC: 20 } } } };
    before.wheels[1] = { position: '1R', sensor };
    const after = makeAxle('single', 1, before);
    expect(after.wheels.map((w) => w.sensor?.id ?? null)).toEqual([null, '4CA1E0']);
    expect(after.settings.loaded?.cold?.kpa).toBe(250);
    expect(layoutOf(after)).toBe('single');
  });

  it('renumber gives every axle the codes of its order', () => {
    const u = renumber(unit([makeAxle('single', 5), makeAxle('dual', 2)], [spare]));
    expect(u.axles.map((a) => a.wheels[0]?.position)).toEqual(['1L', '2LO']);
    expect(faultsOf(u)).toEqual([]);
  });
});

describe('faultsOf', () => {
  it('names each fault at its field', () => {
    const sensor = { id: '4ca1e0', kind: 'cap' as const };
    const u = unit([
      {
        wheels: [
          { position: '1L', sensor },
          { position: '1L', sensor: { ...sensor, id: '4CA1E0' } },
        ],
        settings: {},
      },
      { wheels: [{ position: '1L', sensor: null }], settings: {} },
      {
        wheels: [
          { position: '3L', sensor: null },
          { position: '3LO', sensor: null },
        ],
        settings: {},
      },
      {
        wheels: [{ position: '4C', sensor: null }],
        settings: {
          loaded: { cold: { kpa: 250, tempC: 20 }, limits: { rule: { school: 'share' }, lowKpa: 300, highKpa: 300, hotC: 70 } },
          empty: { cold: { kpa: 250, tempC: 20 }, limits: { rule: { school: 'share' }, lowKpa: 250, highKpa: 300, hotC: 70 } },
          towing: { cold: { kpa: 250, tempC: 20 }, limits: { rule: { school: 'share' }, lowKpa: null, highKpa: 250, hotC: 70 } },
        },
      },
    ]);
    expect(faultsOf(u).map((f) => `${f.pointer} ${f.code}`)).toEqual([
      '/axles/0/wheels/1/position positionTwice',
      '/axles/0/wheels/1/sensor/id sensorTwice',
      '/axles/1/wheels/0/position wrongAxle',
      '/axles/2/wheels dualAndSingle',
      '/axles/3/settings/loaded/limits/lowKpa lowOverHigh',
      '/axles/3/settings/empty/limits/lowKpa lowOverCold',
      '/axles/3/settings/towing/limits/highKpa highUnderCold',
    ]);
  });
});
