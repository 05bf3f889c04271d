import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readMarking, type TireMarking } from './marking.ts';

describe('readMarking', () => {
  it.each<[string, Partial<TireMarking>]>([
    [
      'LT235/80R16 120/116Q',
      {
        kind: 'lightTruck',
        widthMm: 235,
        aspectPercent: 80,
        rimIn: 16,
        loadIndex: 120,
        loadIndexDual: 116,
        loadKg: 1400,
        loadDualKg: 1250,
        speedSymbol: 'Q',
        speedKmh: 160,
        unread: [],
      },
    ],
    [
      '205/55 R16 91V',
      { kind: 'passenger', widthMm: 205, aspectPercent: 55, rimIn: 16, loadIndex: 91, loadKg: 615, speedSymbol: 'V', unread: [] },
    ],
    ['ST205/75R15 107/102M', { kind: 'specialTrailer', loadKg: 975, loadDualKg: 850, speedSymbol: 'M' }],
    ['130/70-12 56L', { kind: 'motorcycle', construction: 'bias', rimIn: 12, loadKg: 224, speedSymbol: 'L', unread: [] }],
    [
      '120/70ZR17 M/C (58W) TL',
      {
        kind: 'motorcycle',
        construction: 'radial',
        loadIndex: 58,
        speedSymbol: 'W',
        marks: ['tubeless', 'motorcycle'],
        unread: [],
      },
    ],
    ['P225/60R17 98T', { kind: 'passenger', loadKg: 750, speedSymbol: 'T' }],
    ['195/70R15C 104/102R', { kind: 'commercial', loadKg: 900, loadDualKg: 850, speedSymbol: 'R', unread: [] }],
    ['215/65 R16 C 109/107 T', { kind: 'commercial', loadIndex: 109, loadIndexDual: 107, speedSymbol: 'T', unread: [] }],
    ['225/75R16CP 118R', { kind: 'commercial', loadKg: 1320 }],
    ['205/55R16 94V XL M+S 3PMSF', { marks: ['extraLoad', 'mudAndSnow', 'winter'], loadIndex: 94, unread: [] }],
    ['155 R 13 78S', { kind: 'passenger', widthMm: 155, aspectPercent: 82, rimIn: 13, assumed: ['aspectPercent'], loadKg: 425 }],
    [
      '4.80-12 6PR',
      { kind: 'inch', widthMm: 121.9, rimIn: 12, aspectPercent: 88, plies: 6, assumed: ['aspectPercent'], unread: [] },
    ],
    ['3.50-18 56P', { kind: 'inch', widthMm: 88.9, aspectPercent: 100, loadKg: 224, speedSymbol: 'P' }],
    ['4.80/4.00-8', { kind: 'inch', widthMm: 121.9, rimIn: 8 }],
    ['31x10.50R15LT 109Q', { kind: 'flotation', widthMm: 266.7, rimIn: 15, loadKg: 1030, speedSymbol: 'Q', unread: [] }],
    ['ST225/75D15 Load Range D', { kind: 'specialTrailer', construction: 'bias', loadRange: 'D', unread: [] }],
    ['7.50R16LT 122/118N', { kind: 'lightTruck', loadIndex: 122, loadIndexDual: 118, rimIn: 16 }],
  ])('%s', (marking, expected) => expect(readMarking(marking)).toMatchObject(expected));

  it('keeps what it cannot read', () => {
    expect(readMarking('295/80R22.5 152/148M')).toMatchObject({ rimIn: 22.5, unread: ['152/148M'] });
    expect(readMarking('205/55R16 nonsense 91V')).toMatchObject({ loadIndex: 91, unread: ['NONSENSE'] });
    expect(readMarking('205/55R16')).toMatchObject({ unread: [] });
    expect(readMarking('205/55R16').loadIndex).toBeUndefined();
  });

  it.each(['', 'tire', '205/55', 'R16 91V', '91V', '205', '///'])('refuses %j', (marking) => {
    expect(() => readMarking(marking)).toThrow(expect.objectContaining({ pointer: '/marking' }));
  });

  it('reads any metric marking it could have written, whatever the spacing and case', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 10, max: 35 }).map((n) => n * 10 + 5),
        fc.integer({ min: 5, max: 17 }).map((n) => n * 5),
        fc.integer({ min: 12, max: 22 }),
        fc.integer({ min: 10, max: 150 }),
        fc.constantFrom('Q', 'R', 'S', 'T', 'H', 'V', 'W', 'Y'),
        fc.constantFrom('', 'LT', 'ST', 'P'),
        fc.boolean(),
        fc.boolean(),
        (width, aspect, rim, index, speed, prefix, spaced, lower) => {
          const s = spaced ? ' ' : '';
          const text = `${prefix}${width}/${aspect}${s}R${s}${rim} ${index}${s}${speed}`;
          expect(readMarking(lower ? text.toLowerCase() : text)).toMatchObject({
            widthMm: width,
            aspectPercent: aspect,
            rimIn: rim,
            loadIndex: index,
            speedSymbol: speed,
            unread: [],
          });
        },
      ),
    );
  });
});
