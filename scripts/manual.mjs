// Writes docs/manual/ from the pages that the app shows.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { manual } from '../web/manual/manual.ts';
import { contents, fileOf, textOf } from '../web/manual/markdown.ts';

const folder = join(import.meta.dirname, '../docs/manual');
mkdirSync(folder, { recursive: true });
for (const page of manual) writeFileSync(join(folder, fileOf(page)), textOf(page));
writeFileSync(join(folder, 'README.md'), contents());
