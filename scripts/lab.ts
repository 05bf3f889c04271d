// The lab: rigs lived through years of weather and through faults, under every school's limits and under the watch.
// Usage: npm run lab [-- rigs [first seed]]. What a seed gave is kept in .lab/, so that a run that was stopped goes on where it was.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readDays } from '#core/lab/days.ts';
import { byShare, countFixed, countHealthy, liveFault, SCHOOLS } from '#core/lab/tables.ts';
import { drawRig, type LabFault } from '#core/lab/world.ts';

const root = join(import.meta.dirname, '..');
const rigs = Number(process.argv[2] ?? 24);
const first = Number(process.argv[3] ?? Math.floor(Math.random() * 1e6));
const kept = join(root, '.lab');
mkdirSync(kept, { recursive: true });
const weather = ['new-york', 'seattle'].map((name) =>
  readDays(readFileSync(join(root, `core/climate/${name}-weather.test-data.csv`), 'utf8')),
);
/** A year of one of two cities (NOAA days, in the vega-datasets package), by seed. */
const year = (seed: number) => {
  const days = weather[seed % weather.length] ?? [];
  const from = (seed % 3) * 365;
  return days.slice(from, from + 365);
};

/** Work that is done once for a seed and kept. */
function once<T>(name: string, work: () => T): T {
  const file = join(kept, `${name}.json`);
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as T;
  const answer = work();
  writeFileSync(file, JSON.stringify(answer));
  return answer;
}

const seeds = Array.from({ length: rigs }, (_, i) => first + i);
const KINDS = ['low', 'high', 'hot', 'slow', 'rapid', 'apart', 'stuck', 'silent', 'battery'];
interface Line {
  wheelYears: number;
  byKind: Record<string, number>;
  sum: number;
  chatter: number;
  raised: number;
}
const line = (name: string, each: (seed: number) => Line) => {
  const all: Line = { wheelYears: 0, byKind: {}, sum: 0, chatter: 0, raised: 0 };
  for (const seed of seeds) {
    const one = once(`${name.replaceAll(/[^a-z0-9]+/gi, '-')}-${seed}`, () => each(seed));
    for (const [k, n] of Object.entries(one.byKind)) all.byKind[k] = (all.byKind[k] ?? 0) + n;
    for (const k of ['wheelYears', 'sum', 'chatter', 'raised'] as const) all[k] += one[k];
  }
  const per = (n: number) => (n / all.wheelYears).toFixed(2).padStart(7);
  console.log(
    `${name.padEnd(34)}${KINDS.map((k) => per(all.byKind[k] ?? 0)).join('')}${per(all.sum)}   ${all.chatter} of ${all.raised}`,
  );
};

console.log(
  `${rigs} rigs from seed ${first}. Alarms that sound, a healthy wheel-year; chatter is raised again within 10 minutes.`,
);
console.log(`${''.padEnd(34)}${KINDS.map((k) => k.padStart(7)).join('')}    sum   chatter`);
for (const { name, limitsOf } of SCHOOLS) {
  line(`fixed limits, ${name}`, (seed) => countFixed(seed, year(seed), limitsOf));
  line(`watch, ${name}`, (seed) => countHealthy([seed], year, limitsOf));
}
line('watch, 25 %, steps of 2.5 psi', (seed) => countHealthy([seed], year, byShare(0.25, null), { steps: [17.237] }));
line('watch, 25 %, life every 8 min', (seed) =>
  countHealthy([seed], year, byShare(0.25, null), { speech: { how: 'life', lifeMin: 8 } }),
);

console.log('\nFaults, by the watch with limits of 10 and 20 %');
for (const kind of ['leak', 'hub', 'stuck', 'dead', 'repeater'] as LabFault['kind'][]) {
  const able = (s: number) => kind !== 'repeater' || drawRig(s).wheels.some((w) => w.position.startsWith('B'));
  const own = Array.from({ length: rigs * 8 }, (_, i) => first + 500_000 + i)
    .filter(able)
    .slice(0, rigs * 2);
  const lived = own.map((seed) =>
    once(`fault-${kind}-${seed}`, () => {
      const f = liveFault(seed, kind, year(seed).slice(60, kind === 'leak' ? 100 : 80), byShare(0.1, 0.2));
      return { heardMs: f.heardMs, underMs: f.underMs, drivenUnderMin: f.drivenUnderMin };
    }),
  );
  const heard = lived.filter((f) => f.heardMs !== null);
  const under = lived.filter((f) => f.underMs !== null);
  const before = under.filter((f) => f.heardMs !== null && f.heardMs <= (f.underMs as number));
  const late = lived.filter((f) => f.drivenUnderMin > 10);
  const more =
    kind === 'leak'
      ? `; ${before.length} of ${under.length} before the load minimum, ${late.length} driven over 10 minutes under it unheard`
      : '';
  console.log(`${kind.padEnd(9)} ${heard.length} of ${lived.length} heard${more}`);
}
