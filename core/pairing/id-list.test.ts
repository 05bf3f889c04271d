import { describe, expect, it } from 'vitest';
import { readIdList } from './id-list.ts';

const order = ['A1L', 'A1R', 'A2L', 'A2R', 'BS1'];
const places = (text: string) => readIdList(text, order).map((r) => `${r.position} ${r.id} ${r.fault}`);

describe('a pasted list of IDs', () => {
  it('goes to the wheels in their order, one a line', () => {
    expect(places('4ca1e0\r\n4C A1 E1\n\n4C-A1-E2')).toEqual(['A1L 4CA1E0 null', 'A1R 4CA1E1 null', 'A2L 4CA1E2 null']);
  });

  it('takes commas and semicolons too', () => {
    expect(places('4CA1E0, 4CA1E1; 4CA1E2')).toHaveLength(3);
  });

  it('goes where a line names its wheel, before or after the ID; the rest fills up', () => {
    expect(places('bs1 4CA1E9\n4CA1E0\n4CA1E1 = A2L\nA2R: 4C A1 E3\n4CA1E4')).toEqual([
      'BS1 4CA1E9 null',
      'A1L 4CA1E0 null',
      'A2L 4CA1E1 null',
      'A2R 4CA1E3 null',
      'A1R 4CA1E4 null',
    ]);
  });

  it('names what is wrong with a line and keeps the others', () => {
    expect(places('4CA1E\n4CA1EG\nFFFFFF\n4CA1E01\n4CA1E5\n4CA1E6')).toEqual([
      'A1L null short',
      'A1R null letters',
      'A2L null open',
      'A2R null long',
      'BS1 4CA1E5 null',
      'null 4CA1E6 noWheel',
    ]);
  });

  it('refuses an ID twice and a wheel twice', () => {
    expect(places('4CA1E0\n4CA1E0')).toEqual(['A1L 4CA1E0 twice', 'A1R 4CA1E0 twice']);
    expect(places('A2L 4CA1E0\nA2L 4CA1E1')).toEqual(['A2L 4CA1E0 twice', 'A2L 4CA1E1 twice']);
    expect(places('')).toEqual([]);
  });
});
