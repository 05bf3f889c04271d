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
});
