import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type AtRule, type Container, type Document, parse } from 'postcss';
import { expect, it } from 'vitest';

const root = import.meta.dirname;
/** What a theme may set, and leave every box where it is. */
const COLOUR =
  /^(color|background|background-color|border-color|outline-color|fill|stroke|color-scheme|--(paper2?|ink2?|rule|cyan|magenta|yellow))$/;
/** A shorthand may name a size beside a colour. */
const COLOUR_ALONE = /^(#[0-9a-f]{3,8}|var\(--[a-z0-9]+\)|light|dark)$/;

const inPrint = (at: Container | Document | undefined): boolean =>
  at !== undefined && ((at.type === 'atrule' && (at as AtRule).params === 'print') || inPrint(at.parent));

/** What a style sheet sets for the screen by theme, other than colours. */
function moreThanColour(css: string): string[] {
  const found: string[] = [];
  parse(css).walkRules(/data-theme/, (rule) => {
    if (inPrint(rule.parent)) return;
    rule.walkDecls((d) => {
      if (!COLOUR.test(d.prop) || !COLOUR_ALONE.test(d.value.trim())) found.push(`${d.prop}: ${d.value}`);
    });
  });
  return found;
}

it('finds a size that goes by the theme, in a layer and in a nested rule too', () => {
  const by = (decl: string) => moreThanColour(`@layer a { [data-theme="night"] .b { ${decl} } }`);
  expect(by('padding: 2px')).toEqual(['padding: 2px']);
  expect(by('background: url(a.png) 2px')).toHaveLength(1);
  expect(by('.c { border: 1px solid var(--ink); }')).toHaveLength(1);
  expect(by('color: var(--ink); --paper: #0f1317')).toEqual([]);
  expect(moreThanColour('@media print { [data-theme="night"] { --text-note: 12px } }')).toEqual([]);
});

// So that how a sheet fits is looked at once for each size, by either theme (`e2e/sheets.spec.ts`).
it('night sets colours and nothing that moves or sizes a box', () => {
  expect(moreThanColour(readFileSync(join(root, 'styles.css'), 'utf8'))).toEqual([]);
  const sources = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (f) => /\.tsx?$/.test(f) && !f.includes('.test.'),
  );
  const variants = sources.filter((f) => /[\s"'`]night:/.test(readFileSync(join(root, f), 'utf8')));
  expect(variants).toEqual([]);
});
