import { describe, expect, it } from 'vitest';
import { coldStarts } from './starts.ts';

const at = (day: number, hour: number) => Date.UTC(2026, 4, day, hour);
const point = (lastMs: number, lastKpa: number, lastC: number | null, lowC: number | null = lastC) => ({
  lastMs,
  lastKpa,
  lastC,
  lowC,
});

describe('cold starts', () => {
  const wheels = { A1L: { lowKpa: 150, highKpa: null, hotC: null, coldKpa: 210, coldTempC: 20, sensorKind: 'ideal' as const } };
  it('the coolest reading of each day, at the temperature of the cold pressure', () => {
    const [wheel, ...rest] = coldStarts(
      [
        {
          position: 'A1L',
          points: [
            point(at(1, 6), 200, 10),
            point(at(1, 15), 230, 25),
            point(at(2, 3), 300, null),
            point(at(2, 7), 210, 20, 12),
            point(at(2, 16), 205, 14),
          ],
        },
      ],
      wheels,
    );
    expect(rest).toEqual([]);
    expect(wheel?.position).toBe('A1L');
    expect(wheel?.points.map((p) => p.ms)).toEqual([at(1, 6), at(2, 7)]);
    // Worked by hand: (200 + 101.325) x 293.15 / 283.15 - 101.325.
    expect(wheel?.points[0]?.kpa).toBeCloseTo(210.642, 2);
    expect(wheel?.points[1]?.kpa).toBeCloseTo(210, 9);
  });
  it('nothing where no temperature was given, and nothing of a wheel without limits', () => {
    expect(coldStarts([{ position: 'A1L', points: [point(at(1, 6), 200, null)] }], wheels)).toEqual([
      { position: 'A1L', points: [] },
    ]);
    expect(coldStarts([{ position: 'B1L', points: [point(at(1, 6), 200, 10)] }], wheels)[0]?.points).toEqual([]);
  });
});
