import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { describe, expect, it } from 'vitest';

const here = import.meta.dirname;
const sources = readdirSync(here, { recursive: true, encoding: 'utf8' }).filter(
  (f) => f.endsWith('.ts') && !f.endsWith('.test.ts'),
);

describe('core stands alone', () => {
  it.each(sources)('%s imports nothing but core, and types of the schemas', (file) => {
    const text = readFileSync(join(here, file), 'utf8');
    for (const [line, target] of [...text.matchAll(/^(?:import|export)[^;]*?from '([^']+)';/gms)].map((m) => [
      m[0],
      m[1] as string,
    ])) {
      if ((target as string).startsWith('#schema/')) expect(line).toMatch(/^import type /);
      else expect(relative(here, resolve(dirname(join(here, file)), target as string))).not.toMatch(/^\.\./);
    }
  });

  it.each(sources)('%s asks neither clock nor chance', (file) => {
    const text = readFileSync(join(here, file), 'utf8');
    expect(text).not.toMatch(/Date\.now|new Date\(\)|Math\.random|performance\.now/);
  });

  it('the watch knows nothing of the bench, however far its imports are followed', () => {
    const importsOf = (file: string): string[] =>
      [...readFileSync(join(here, file), 'utf8').matchAll(/^(?:import|export)[^;]*?from '(\.[^']+)';/gms)].map((m) =>
        relative(here, resolve(dirname(join(here, file)), m[1] as string)),
      );
    const seen = new Set(sources.filter((f) => f.startsWith('watch/') && !f.includes('.test')));
    for (const file of seen) for (const next of importsOf(file)) seen.add(next);
    expect(seen.size).toBeGreaterThan(10);
    expect([...seen].filter((f) => f.startsWith('bench/'))).toEqual([]);
  });
});
