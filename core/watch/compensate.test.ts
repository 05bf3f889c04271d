import { expect, it } from 'vitest';
import { compensate } from './compensate.ts';

it('a series that only warms holds the same all along; without a temperature nothing is said', () => {
  // Ideal gas law by hand: 652.925 kPa absolute at 20 °C is 551.6 kPa gauge.
  const points = Array.from({ length: 30 }, (_, i) => ({
    lastMs: i * 60_000,
    lastKpa: (652.925 * (293.15 + i)) / 293.15 - 101.325,
    lastC: i === 7 ? null : 20 + i,
  }));
  const held = compensate([{ position: 'A1L', points }], {
    A1L: { lowKpa: null, highKpa: null, hotC: null, coldKpa: 551.6, coldTempC: 20 },
  });
  held.get('A1L')?.forEach((v, i) => {
    if (i === 7) expect(v).toBeNull();
    else expect(v).toBeCloseTo(551.6, 6);
  });
});
