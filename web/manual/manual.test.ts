import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { sheets } from '../state/sheets.ts';
import { manual } from './manual.ts';
import { contents, fileOf, textOf } from './markdown.ts';

const docs = join(import.meta.dirname, '../../docs');

describe('the manual', () => {
  it('has a page for every sheet, each with five questions', () => {
    expect(manual.map((p) => p.path)).toEqual(['yard', ...sheets.map((s) => s.path)]);
    for (const p of manual) expect(`${p.path} ${p.questions.length}`).toBe(`${p.path} 5`);
  });

  it('is in docs/manual as the app shows it, with pictures that are there', () => {
    for (const p of manual) {
      expect(readFileSync(join(docs, 'manual', fileOf(p)), 'utf8')).toBe(textOf(p));
      if (p.picture) expect(existsSync(join(docs, 'screenshots', p.picture))).toBe(true);
    }
    expect(readFileSync(join(docs, 'manual/README.md'), 'utf8')).toBe(contents());
    expect(readdirSync(join(docs, 'manual'))).toHaveLength(manual.length + 1);
  });

  it('keeps its pictures under twenty', () => {
    expect(readdirSync(join(docs, 'screenshots')).length).toBeLessThan(20);
  });
});
