import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';

const root = join(import.meta.dirname, '.');
const sources = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
  (f) => f.endsWith('.tsx') && !f.includes('.test.'),
);

/** Handlers of an event that read it inside a function that is called later: by then the field shows what is stored again. */
function lateReads(source: string): string[] {
  const found: string[] = [];
  for (const handler of source.matchAll(/on[A-Z]\w*=\{(?:async )?\((\w+)\)\s*=>/g)) {
    const start = (handler.index ?? 0) + handler[0].length;
    let depth = 1;
    let end = start;
    for (; end < source.length && depth > 0; end += 1) depth += source[end] === '{' ? 1 : source[end] === '}' ? -1 : 0;
    const body = source.slice(start, end);
    for (const later of body.matchAll(/(?:change|changeRig|changeUnit|edit|work|then|setTimeout)\((?:[^()]|\([^()]*\))*?=>/g)) {
      const inside = body.slice((later.index ?? 0) + later[0].length);
      if (new RegExp(`\\b${handler[1]}\\.(target|currentTarget)`).test(inside)) found.push(body.trim().slice(0, 80));
    }
  }
  return found;
}

it('finds a handler that reads its event too late', () => {
  expect(
    lateReads('<input onChange={(e) => void changeRig(rig.id, (now) => ({ ...now, on: e.target.checked }))} />'),
  ).toHaveLength(1);
  expect(lateReads('<input onChange={(e) => setText(e.target.value)} />')).toEqual([]);
});

it.each(sources)('%s reads no event in a deferred update', (file) => {
  expect(lateReads(readFileSync(join(root, file), 'utf8'))).toEqual([]);
});
