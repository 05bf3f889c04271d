import { expect, it } from 'vitest';
import { loadMinimum } from './load.ts';

// 49 CFR 571.110/120 (from memory): a passenger tire on a trailer or truck carries its rated load divided by 1.10. Load index 91 is
// 615 kg (ISO 4000-1, from memory): 615 / 1.10 = 559.09 kg. Worked by hand: 500 kg at a reference of 250 kPa: 250 * 500 / 559.09 = 223.58.
it('a passenger tire on a trailer carries its index load divided by 1.10', () => {
  const m = loadMinimum({ loadKg: 500, dual: false, referenceKpa: 250, indexKg: 615, derate: true });
  expect(m.capacityKg).toBeCloseTo(559.09, 2);
  expect(m.kpa).toBeCloseTo(223.58, 2);
  expect(loadMinimum({ loadKg: 580, dual: false, referenceKpa: 250, indexKg: 615, derate: true }).faults).toEqual(['overIndex']);
  expect(loadMinimum({ loadKg: 580, dual: false, referenceKpa: 250, indexKg: 615 }).faults).toEqual([]);
});

// Handbook practice, from memory: load grows with pressure to a power of 0.5 (passenger) to 0.8 (truck), so that for 80 % of the load
// 0.8^(1/0.5) = 64.0 % to 0.8^(1/0.8) = 75.7 % of the pressure would do. The proportional estimate asks for 80 %: on the careful side.
it('the estimate asks for more than the power law', () => {
  const kpa = loadMinimum({ loadKg: 800, dual: false, referenceKpa: 1000, indexKg: 1000 }).kpa ?? 0;
  expect(kpa).toBeCloseTo(800, 9);
  expect(kpa).toBeGreaterThan(757);
});
