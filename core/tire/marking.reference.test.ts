import { describe, expect, it } from 'vitest';
import { LOAD_INDEX_KG, loadOfIndex, SPEED_SYMBOL_KMH } from './load-index.ts';
import { airVolumeLitres, readMarking } from './marking.ts';

describe('load index and speed symbol', () => {
  // ISO 4000-1 / ECE R30 annex 4, from memory
  it.each(
    '56:224 58:236 70:335 75:387 80:450 82:475 85:515 88:560 91:615 94:670 95:690 98:750 100:800 102:850 104:900 107:975 108:1000 110:1060 112:1120 113:1150 115:1215 116:1250 118:1320 120:1400 121:1450 123:1550 126:1700'
      .split(' ')
      .map((p) => p.split(':').map(Number) as [number, number]),
  )('%d carries %d kg', (index, kg) => expect(loadOfIndex(index)).toBe(kg));

  // Two small entries are whole kilograms where eighty steps higher the table has halves (1215 and 1285): they differ by up to 2 %.
  it('runs from 0 to 150 and follows 45 * 10^(LI/80) kg within 1.8 %', () => {
    expect(LOAD_INDEX_KG).toHaveLength(151);
    LOAD_INDEX_KG.forEach((kg, index) => {
      const coarse = index === 35 || index === 37;
      expect(Math.abs(kg / (45 * 10 ** (index / 80)) - 1)).toBeLessThan(coarse ? 0.02 : 0.018);
    });
    expect(loadOfIndex(151)).toBeNull();
  });

  // ECE R30, from memory
  it.each([
    ['L', 120],
    ['M', 130],
    ['N', 140],
    ['P', 150],
    ['Q', 160],
    ['R', 170],
    ['S', 180],
    ['T', 190],
    ['H', 210],
    ['V', 240],
  ])('%s is %d km/h', (symbol, kmh) => expect(SPEED_SYMBOL_KMH[symbol]).toBe(kmh));
});

describe('overall diameter', () => {
  // Definition in ISO 4000-1, from memory: 16 * 25.4 + 2 * 0.55 * 205 = 631.9; 16 * 25.4 + 2 * 0.8 * 235 = 782.4; by hand
  it.each([
    ['205/55R16', 631.9],
    ['LT235/80R16', 782.4],
    // 12 * 25.4 + 2 * 0.7 * 130 = 486.8
    ['130/70-12', 486.8],
    // 31 * 25.4 = 787.4
    ['31x10.50R15LT', 787.4],
  ])('%s is %d mm', (marking, mm) => expect(readMarking(marking).diameterMm).toBeCloseTo(mm, 1));
});

describe('air in a tire', () => {
  // Shape factor 0.8 assumed; the four volumes worked by hand with it.
  it.each([
    ['LT235/80R16', 66],
    ['205/55R16', 30],
    ['ST225/75R15', 52],
    ['130/70-12', 12],
  ])('%s holds about %d litres', (marking, litres) => expect(Math.abs(readMarking(marking).airLitres - litres)).toBeLessThan(1));

  it('is nothing on a rim of its own size', () => expect(airVolumeLitres(406.4, 16, 200)).toBeCloseTo(0, 9));
});
