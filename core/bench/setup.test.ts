import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { UNSET_COLD_KPA } from './bench.ts';
import { benchWheels, UNKNOWN_AIR_LITRES } from './setup.ts';

const unit: Unit = {
  id: 'u',
  version: 1,
  name: 'Truck',
  kind: 'vehicle',
  axles: [
    {
      ...makeAxle('single', 1),
      airLitres: 66,
      settings: { loaded: { cold: { kpa: 448, tempC: 12 } }, empty: { cold: { kpa: 300, tempC: 5 } } },
    },
    makeAxle('dual', 2),
  ],
  spares: [{ wheel: { position: 'S1', sensor: null }, settings: {} }],
};

describe('the bench’s view of a rig', () => {
  it('takes pressure and temperature of the load state, and the air of the axle', () => {
    expect(benchWheels([unit], 'loaded')[0]).toMatchObject({
      position: 'A1L',
      coldKpa: 448,
      coldTempC: 12,
      airLitres: 66,
      spare: false,
      twin: null,
    });
    expect(benchWheels([unit], 'empty')[0]).toMatchObject({ coldKpa: 300, coldTempC: 5 });
  });

  it('fills in what nobody has said', () => {
    expect(benchWheels([unit], 'towing')[0]).toMatchObject({ coldKpa: UNSET_COLD_KPA, coldTempC: 20 });
    expect(benchWheels([unit], 'loaded')[2]).toMatchObject({ airLitres: UNKNOWN_AIR_LITRES });
  });

  it('knows twins and spares', () => {
    const twins = Object.fromEntries(benchWheels([unit], 'loaded').map((w) => [w.position, w.twin]));
    expect(twins).toEqual({ A1L: null, A1R: null, A2LO: 'A2LI', A2LI: 'A2LO', A2RI: 'A2RO', A2RO: 'A2RI', AS1: null });
    expect(benchWheels([unit], 'loaded').at(-1)?.spare).toBe(true);
  });

  it('keeps the letters of a second unit', () => {
    expect(
      benchWheels([unit, unit], 'loaded')
        .map((w) => w.position)
        .filter((p) => p.startsWith('B')),
    ).toHaveLength(7);
  });
});
