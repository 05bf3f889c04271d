import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';

const root = join(import.meta.dirname, '..');

/** Phrases that read as translated. Plain spoken English has another way to say each. */
const BANNED = [
  /\btruths?\b/i,
  /\b(is|are|was|were|be) told\b/i,
  /\bgives? way\b/i,
  /\bat the least\b/i,
  /\bput up with\b/i,
  /\bby the cold\b/i,
  /\bBring in\b/,
  /\bTake out\b/,
  /\bof that name\b/i,
  /\bit stands\b/i,
  /\bstands? (here|there|for)\b/i,
  /\bkeeps? still\b/i,
  /\bit sleeps:/i,
  /\bnothing (is heard|can )?rings?\b/i,
  /\bwhat it holds\b/i,
  /\bwhat (its|the) load needs\b/i,
  /\bthe safer\b/i,
  /\ball in all\b/i,
  /\bto and fro\b/i,
  /\bheld against\b/i,
  /\bin the spirit of\b/i,
  /\bhas come to\b/i,
  /\bnot known\b/i,
  /\banew\b/i,
  /\bupon\b/i,
  /\b(thereby|therein|thereof)\b/i,
  /\bput away\b/i,
  /\bin place of\b/i,
  /\bis no (photo|leak|loss)\b/i,
];

const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], { cwd: root, encoding: 'utf8' })
  .split('\n')
  .filter(
    (f) => /\.(ts|tsx|md|mjs|html)$/.test(f) && !/(\.test\.|\.spec\.|^e2e\/|\.d\.ts$)/.test(f) && existsSync(join(root, f)),
  );

it('no sentence of interface, comments or documents uses a phrase that reads as translated', () => {
  const found = files.flatMap((f) =>
    readFileSync(join(root, f), 'utf8')
      .split('\n')
      .flatMap((line, i) => {
        const hit = BANNED.map((p) => p.exec(line)?.[0]).find(Boolean);
        return hit ? [`${f}:${i + 1} "${hit}"`] : [];
      }),
  );
  expect(found).toEqual([]);
});

it('looks at the interface, the core, the server and the documents', () => {
  for (const part of ['web/sheets/', 'core/', 'server/', 'docs/', 'README.md'])
    expect(files.some((f) => f.startsWith(part))).toBe(true);
});
