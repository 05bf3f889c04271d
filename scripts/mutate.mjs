// Mutation tests of core (Stryker): npm run mutate [-- gas watch/rules …]; all of core without a folder. Prints the score of every folder.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, root } from './bootstrap.mjs';

installPackages();
const { build } = await import('./build.mjs');
await build({ generateOnly: true });
const folders = process.argv.slice(2);
const chosen = folders.length === 0 ? [] : folders.map((f) => `core/${f}/*.ts`);
const tests = ['!core/**/*.test.ts', '!core/**/*.test-data.ts'];
const args = [
  join(root, 'node_modules/@stryker-mutator/core/bin/stryker.js'),
  'run',
  ...(chosen.length === 0 ? [] : ['--mutate', [...chosen, ...tests].join()]),
];
const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit' });
const report = join(root, 'reports/mutation.json');
if (existsSync(report)) {
  const scores = new Map();
  for (const [file, { mutants }] of Object.entries(JSON.parse(readFileSync(report, 'utf8')).files)) {
    const folder = file.includes('/rules/') ? 'watch/rules' : file.split('/').slice(1, -1).join('/') || '(core)';
    const sum = scores.get(folder) ?? { killed: 0, lived: 0, unseen: 0 };
    for (const { status: s } of mutants) {
      if (s === 'Killed' || s === 'Timeout') sum.killed += 1;
      else if (s === 'Survived') sum.lived += 1;
      else if (s === 'NoCoverage') sum.unseen += 1;
    }
    scores.set(folder, sum);
  }
  console.log('\nfolder            killed  lived  unseen  score');
  for (const [folder, { killed, lived, unseen }] of [...scores].sort()) {
    const all = killed + lived + unseen;
    const score = all === 0 ? '' : `${((100 * killed) / all).toFixed(1)} %`;
    console.log(
      `${folder.padEnd(16)} ${String(killed).padStart(7)} ${String(lived).padStart(6)} ${String(unseen).padStart(7)}  ${score}`,
    );
  }
}
process.exit(status ?? 1);
