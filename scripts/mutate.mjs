// Mutation tests of core (Stryker), folder by folder: npm run mutate [-- gas watch/rules …]. Prints the score of every folder, and what
// survived into reports/.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { installPackages, installTool, root } from './bootstrap.mjs';

const USUAL = ['gas', 'leak', 'topup', 'track', 'watch/rules', 'fitting', 'pairing', 'alarms', 'pressure', 'radio'];

/** Stryker brings 130 packages that nothing else needs: they come when it is asked for. */
const tool = join(root, 'scripts/mutation');
installPackages();
installTool(tool);
const { build } = await import('./build.mjs');
await build({ generateOnly: true });
const report = join(root, 'reports/mutation.json');
const folders = process.argv.slice(2);
const scores = [];
for (const folder of folders.length === 0 ? USUAL : folders) {
  rmSync(report, { force: true });
  const mutate = [`core/${folder}/*.ts`, '!core/**/*.test.ts', '!core/**/*.test-data.ts'].join();
  const stryker = join(tool, 'node_modules/@stryker-mutator/core/bin/stryker.js');
  const env = { ...process.env, DRUCKWERK_MUTATE: folder };
  spawnSync(process.execPath, [stryker, 'run', '--mutate', mutate], { cwd: root, stdio: 'inherit', env });
  const score = { folder, killed: 0, lived: 0, unseen: 0 };
  const survivors = [];
  if (existsSync(report)) {
    for (const [file, { source, mutants }] of Object.entries(JSON.parse(readFileSync(report, 'utf8')).files)) {
      for (const m of mutants) {
        if (m.status === 'Killed' || m.status === 'Timeout') score.killed += 1;
        else if (m.status === 'Survived' || m.status === 'NoCoverage') {
          if (m.status === 'Survived') score.lived += 1;
          else score.unseen += 1;
          const line = source.split('\n')[m.location.start.line - 1].trim();
          survivors.push(
            `${file}:${m.location.start.line} ${m.status} ${m.mutatorName}: ${line}  =>  ${(m.replacement ?? '').replaceAll(/\s+/g, ' ')}`,
          );
        }
      }
    }
  }
  writeFileSync(join(root, 'reports', `survivors-${folder.replace('/', '-')}.txt`), `${survivors.join('\n')}\n`);
  scores.push(score);
}
console.log('\nfolder        killed  lived  unseen   score');
for (const { folder, killed, lived, unseen } of scores) {
  const all = killed + lived + unseen;
  const share = all === 0 ? 'none' : `${((100 * killed) / all).toFixed(1)} %`;
  console.log(
    `${folder.padEnd(12)} ${String(killed).padStart(7)} ${String(lived).padStart(6)} ${String(unseen).padStart(7)} ${share.padStart(7)}`,
  );
}
