// Ten thousand days of ten wheels under six rules with fixed limits, as the Rules lab lives them.
import { typicalYear } from '#core/climate/typical.ts';
import { compareFixed } from '#core/lab/compare.ts';
import { LAB_SCHOOLS, labRule, type OwnAxle, ownRig } from '#core/lab/own.ts';

const axle = (code: string, places: readonly string[], coldKpa: number): OwnAxle => ({
  code,
  wheels: places.map((p) => ({ position: `${code}${p}`, kind: 'cap' })),
  coldKpa,
  coldTempC: 18,
  loadMinimumKpa: coldKpa * 0.8,
  ratingKpa: coldKpa,
  limits: null,
  hotC: 74,
});
const axles = [
  axle('A1', ['L', 'R'], 427),
  axle('A2', ['LO', 'LI', 'RI', 'RO'], 386),
  axle('B1', ['L', 'R'], 503),
  axle('B2', ['L', 'R'], 503),
];
const days = typicalYear({ coldestMonthMinC: -3, warmestMonthMaxC: 26, coldestC: -17, hottestC: 36, seed: 3, years: 4 });
const rules = LAB_SCHOOLS.flatMap((s) => labRule(s.name, axles, s.rule) ?? []);
const question = { rig: ownRig(axles, { stepKpa: 6.9, homeM: 310, passM: 1940 }), days, rules, seed: 7 };
const size = { fixedDays: 10_000, leaks: 0, hubs: 0, faultDays: 0 };
let least = Number.POSITIVE_INFINITY;
for (let turn = 0; turn < 3; turn += 1) {
  const start = performance.now();
  const { lived } = compareFixed(question, undefined, size);
  if (lived < 10_000) throw new Error('too few days were lived');
  least = Math.min(least, performance.now() - start);
}
console.log(
  `rules lab: 10,000 days, ${rules.length} rules, ${question.rig.wheels.length} wheels in ${(least / 1000).toFixed(1)} s`,
);
