import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseInSlices } from './json-list.ts';

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch {
    return 'no JSON';
  }
};
const parse = (text: string, slice?: number): Promise<unknown> =>
  parseInSlices(text, slice).catch((e: { status: number }) => (e.status === 400 ? 'no JSON' : Promise.reject(e)));

describe('a list in slices', () => {
  it('is what JSON.parse says of it', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.jsonValue()), async (list) => {
        const text = JSON.stringify(list);
        expect(await parse(text, 0)).toEqual(JSON.parse(text));
      }),
    );
  });

  it.each([
    ['[]', []],
    ['[ ]  ', []],
    ['[1]', [1]],
    ['["a,]\\"b", {"c": [1, {"d": "}"}]}]', ['a,]"b', { c: [1, { d: '}' }] }]],
    ['["\\\\", 2]', ['\\', 2]],
  ])('%s', async (text, value) => {
    expect(await parse(text, 0)).toEqual(value);
  });

  it.each(['[', '[1', '[1,]', '[,1]', '[1 2]', '[1}', '[{]}]', '[1]]', '[1] x', '["a]', '[NaN]', '[{"a":1]'])(
    '%s is no JSON, long or short',
    async (text) => {
      expect(parsed(text)).toBe('no JSON');
      expect(await parse(text)).toBe('no JSON');
      expect(await parse(text, 0)).toBe('no JSON');
    },
  );

  it('a text with one character changed is JSON or not as JSON.parse has it', async () => {
    const text = JSON.stringify([{ a: 'x"y', b: [1, 2, { c: null }] }, 'z', [3]]);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(text.length - 1),
        fc.constantFrom('', ',', '"', '[', ']', '{', '}', '\\', ':', ' ', '1'),
        async (at, c) => {
          const changed = `[${text.slice(1, Math.max(1, at))}${c}${text.slice(Math.max(1, at) + 1)}`;
          expect(await parse(changed, 0)).toEqual(parsed(changed));
        },
      ),
      { numRuns: 500 },
    );
  });

  it('names the element that is none', async () => {
    await expect(parseInSlices('[{"a":1}, {"a":}, 3]', 0)).rejects.toMatchObject({
      status: 400,
      errors: [{ pointer: '/1' }],
    });
  });

  it('others have a turn in between', async () => {
    const text = JSON.stringify(Array.from({ length: 40_000 }, (_, i) => ({ sensorId: 'A00001', at: i, text: 'x'.repeat(40) })));
    let turns = 0;
    let over = false;
    const count = () => {
      turns += 1;
      if (!over) setImmediate(count);
    };
    setImmediate(count);
    expect(((await parseInSlices(text)) as unknown[]).length).toBe(40_000);
    over = true;
    // Over three million characters in slices of a quarter of a million.
    expect(turns).toBeGreaterThan(8);
  });
});
