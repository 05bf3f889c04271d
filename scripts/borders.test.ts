import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, expect, it } from 'vitest';

const root = join(import.meta.dirname, '..');
const trial = mkdtempSync(join(tmpdir(), 'druckwerk-borders-'));
afterAll(() => rmSync(trial, { recursive: true, force: true }));

const forbidden: [string, string][] = [
  ['core', 'express'],
  ['core/watch/rules', 'node:fs'],
  ['core', '#server/app.ts'],
  ['core/watch', '../../server/app.ts'],
  ['core', 'react'],
  ['schema', '#core/errors.ts'],
  ['server', '#demo/load.ts'],
  ['server/watch', '../../demo/load.ts'],
  ['server', '../web/main.tsx'],
  ['web/data', '../parts/words.ts'],
  ['web/state', '../parts/words.ts'],
  ['web/parts', '../sheets/yard/Yard.tsx'],
  ['web/parts', '../app/Shell.tsx'],
  ['web/sheets/kit', '../yard/Yard.tsx'],
  ['web/sheets/kit', '../../app/Shell.tsx'],
  ['web', '#server/app.ts'],
];
const allowed: [string, string][] = [
  ['core/watch/rules', '../parameters.ts'],
  ['core', '#schema/alarm.ts'],
  ['server', '#core/errors.ts'],
  ['web/sheets/kit', '../../parts/words.ts'],
  ['web/sheets/kit', './Stems.tsx'],
];

/** Files with one import each, linted in a folder that has nothing but this project's rules. @returns files that break a border */
function breaches(): Set<string> {
  const rules = JSON.parse(readFileSync(join(root, 'biome.json'), 'utf8')) as Record<string, unknown>;
  writeFileSync(join(trial, 'biome.json'), JSON.stringify({ ...rules, vcs: { enabled: false }, $schema: undefined }));
  [...forbidden, ...allowed].forEach(([folder, what], i) => {
    const file = join(trial, folder, `zz${i}.ts`);
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, `import a from '${what}';\n\nexport const b = a;\n`);
  });
  const { stdout, stderr } = spawnSync(
    process.execPath,
    [join(root, 'node_modules/@biomejs/biome/bin/biome'), 'lint', '--reporter=github', '--max-diagnostics=500', '.'],
    { cwd: trial, encoding: 'utf8' },
  );
  const lines = (stdout + stderr).split('\n').filter((l) => l.includes('noRestrictedImports'));
  return new Set(lines.flatMap((l) => /file=[^,]*?((?:core|schema|server|web)\/[^,]*)/.exec(l)?.[1] ?? []));
}
const broken = breaches();

it.each(forbidden)('%s may not import %s', (folder, what) => {
  const i = forbidden.findIndex(([f, w]) => f === folder && w === what);
  expect([...broken]).toContain(join(folder, `zz${i}.ts`));
});

it.each(allowed)('%s may import %s', (folder, what) => {
  const i = forbidden.length + allowed.findIndex(([f, w]) => f === folder && w === what);
  expect([...broken]).not.toContain(join(folder, `zz${i}.ts`));
});
