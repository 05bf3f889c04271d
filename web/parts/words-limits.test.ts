import { describe, expect, it } from 'vitest';
import { keyingCard } from '#core/alarms/card.ts';
import { judgeHot, judgeTrip } from '#core/alarms/judge.ts';
import { suggest } from '#core/alarms/suggest.ts';
import { axleDay, axleFacts } from '#core/pressure/axle.ts';
import { loadMinimum } from '#core/pressure/load.ts';
import { gasNow, nowAgainstCold } from '#core/pressure/now.ts';
import { coldChoices } from '#core/pressure/target.ts';
import { makeAxle } from '#core/rig/positions.ts';
import type { Monitor } from '#schema/monitor.ts';
import { plainFormat } from '../testing/rigs.ts';
import {
  coldChoiceWords,
  coldFaultWords,
  compromiseWords,
  dayOfYear,
  dayWords,
  hotWords,
  type Judged,
  loadWords,
  minimumWords,
  mismatchWords,
  nowWords,
  stepReason,
  suggestionWords,
  unmetWords,
  verdictWords,
} from './words-limits.ts';

const PSI = 6.894757293168;
const f = plainFormat('psi', 'C');
const day = axleDay({ kpa: 80 * PSI, tempC: 20 }, { coldestC: -10, hottestC: 24 });
const q: Judged = { coldKpa: 80 * PSI, coldTempC: 20, lowKpa: 72 * PSI, highKpa: 100 * PSI, loadMinimumKpa: 65 * PSI, day };
const trip = (over: Partial<Judged> = {}) => judgeTrip({ ...q, ...over, coldestC: day.coldestC, runningC: day.runningC });

describe('verdicts in words', () => {
  it('say what, how much, and from which morning on it rings', () => {
    const said = verdictWords('nuisance-low', trip(), q, f);
    // 80 psi at 20 °C reads 72 psi at -4.8 °C: 86.696 / 94.696 * 293.15 = 268.39 K, worked by hand.
    expect(said).toBe(
      'A cold start at \u221210 °C reads 70.3 psi, which is at or below the low limit of 72.0. It alarms on every start at \u22125 °C or colder, though no air is lost.',
    );
  });
  it('say what a hot tire holds when it reaches its low alarm', () => {
    expect(verdictWords('unprotected-hot', trip(), q, f)).toMatch(
      /^A hot tire that reads 72\.0 psi would read only 64\.\d psi cold, 0\.\d below the load minimum/,
    );
  });
  it('say of a low alarm under the load how far it is', () => {
    const low = { ...q, lowKpa: 60 * PSI };
    expect(verdictWords('unprotected-low', trip({ lowKpa: 60 * PSI }), low, f)).toContain(
      'is 5.0 psi below the load minimum (65.0)',
    );
  });
  it('do not claim that the load is carried when it is unknown', () => {
    const bare = { ...q, loadMinimumKpa: 0 };
    expect(verdictWords('ok', trip({ loadMinimumKpa: 0 }), bare, f)).toContain('The load minimum is unknown');
  });
  it('name the pass where it makes the difference', () => {
    const high = { ...q, day: { ...day, passM: 2500 }, highKpa: 90 * PSI };
    const j = judgeTrip({ ...high, coldestC: day.coldestC, runningC: day.runningC, passM: 2500 });
    expect(verdictWords('nuisance-high', j, high, f)).toContain('psi on the pass, which is at or above the high limit of 90.0');
  });
  it('tell a sleeping temperature limit and the one that would ring', () => {
    const said = hotWords(judgeHot(70, 'cap', 20, 45), 70, 20, 'cap', f);
    expect(said).toContain('the air inside is at about 120 °C');
    expect(said).toContain('A limit of 48 °C would sound at 77 °C inside');
  });
});

describe('loads and minimums in words', () => {
  const axle = { ...makeAxle('dual', 2), marking: 'LT235/80R16 120/116Q' };
  it('say how a load is known and what margin was taken', () => {
    const whole = axleFacts(axle, 'vehicle', { weighing: { axle: { kg: 3000 } } });
    expect(loadWords(whole, f)).toContain('The heaviest tire carries 825 kg. Only the axle’s total is known, so 10 % is added');
    const ends = axleFacts(axle, 'vehicle', { weighing: { L: { kg: 1500 }, R: { kg: 1600 } } });
    expect(loadWords(ends, f)).toBe('The heaviest tire carries 800 kg: the right end’s 1,600 kg on two tires.');
    expect(loadWords(axleFacts(axle, 'vehicle', { weighing: { L: { kg: 1 } } }), f)).toContain('Weigh the right end too');
  });
  it('call an estimate an estimate and show its formula', () => {
    const said = minimumWords(loadMinimum({ loadKg: 800, dual: false, referenceKpa: 80 * PSI, indexKg: 1000 }), f);
    expect(said).toContain('Its load minimum is 64.0 psi cold. An estimate, not the maker’s table: 80.0 psi × 800 kg / 1,000 kg');
  });
  it('name the rows of the table, and what is missing', () => {
    const table = [
      { use: 'single' as const, loadKg: 900, kpa: 60 * PSI },
      { use: 'single' as const, loadKg: 1000, kpa: 70 * PSI },
    ];
    expect(minimumWords(loadMinimum({ loadKg: 950, dual: false, table }), f)).toContain(
      'is 65.0 psi cold, by the maker’s table: between 900 kg at 60.0 psi and 1,000 kg at 70.0 psi',
    );
    expect(minimumWords(loadMinimum({ loadKg: 950, dual: true, indexKg: 1000 }), f)).toBe(
      'Missing: the pressure beside “max load” on the sidewall and the load index as a dual (Layout, marking).',
    );
  });
  it('advise against starting low, with figures', () => {
    const low = coldChoices({ referenceKpa: 80 * PSI, capacityKg: 1285, loadKg: 1250 })[3];
    expect(low && coldChoiceWords(low, f)).toMatch(
      /^Not advised\. A tire then carries 1,189 kg on the way, 7\.5 % less than its rating, and less than/,
    );
  });
  it('stop a tire that is too small', () => {
    expect(coldFaultWords({ code: 'overIndex', stop: true, kg: 900 }, f)).toContain(
      'more than this tire carries at any pressure (900 kg)',
    );
  });
});

describe('now is not cold, in words', () => {
  const target = { kpa: 65 * PSI, tempC: 20 };
  it('the sentence of the trade', () => {
    const w = nowWords(nowAgainstCold(gasNow({ airC: 32.5, restHours: 4 }), target, null), target, f);
    expect(`${w.title}. ${w.text}`).toBe('Fill to 68.4 psi now. It will be 65.0 psi at 20 °C.');
  });
  it('never lets air out of a warm tire', () => {
    const w = nowWords(nowAgainstCold(gasNow({ airC: 20, restHours: 0 }), target, 76 * PSI), target, f);
    expect(w.title).toBe('Leave it. Never bleed a hot road tire');
  });
  it('carries its spread while it is not sure', () => {
    const w = nowWords(nowAgainstCold(gasNow({ airC: 20, restHours: 0 }), target, null), target, f);
    expect(w.title).toBe('Wait until it is cold');
    expect(w.text).toMatch(/is between [\d.]+ to [\d.]+ psi/);
  });
});

describe('suggestions in words', () => {
  it('name the requirements it gives up and the seasons of a compromise', () => {
    const s = suggest(
      { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 60 * PSI, coldestC: -15, runningC: 60 },
      { unit: 'psi', step: 1, min: 0, max: 188 },
      { school: 'share' },
      { hottestC: 35, hotShare: 0.1 },
    );
    if (!s) throw new Error('no suggestion');
    expect(suggestionWords(s, f)).toMatch(
      /^No pair of limits meets every requirement here\. The best, [\d.]+ to [\d.]+ psi, gives up: /,
    );
    const first = s.compromises[0];
    expect(first && compromiseWords(first, f).text).toMatch(
      /^Winter from 1 November: .*; summer from 1 April: .*It meets every requirement\. Druckwerk reminds you/,
    );
  });
  it('say why a low is nearer to the cold pressure than the rule has it', () => {
    const s = suggest(
      { coldKpa: 80 * PSI, coldTempC: 20, loadMinimumKpa: 65 * PSI, coldestC: -10, runningC: 60 },
      { unit: 'psi', step: 1, min: 0, max: 188 },
      { school: 'regulation' },
      { hottestC: 35, hotShare: 0.1 },
    );
    expect(s && suggestionWords(s, f)).toMatch(
      /nearer to the cold pressure than this rule’s own 60\.0\spsi, which would give up: /,
    );
  });
  it('days of the year have names', () => {
    expect(dayOfYear('11-01')).toBe('1 November');
  });
});

describe('the keying card in words', () => {
  const monitor = {
    groups: 'unit',
    unit: 'psi',
    step: 1,
    min: 0,
    max: 188,
    presetLow: 100,
    presetHigh: 175,
    presetHotC: 70,
    interlock: true,
  } as Monitor;
  const limits = (low: number, high: number) => ({
    cold: { kpa: 80 * PSI, tempC: 20 },
    limits: { rule: { school: 'share' as const }, lowKpa: low * PSI, highKpa: high * PSI, hotC: 70 },
  });
  const card = keyingCard(
    monitor,
    [
      { code: 'B1', unitKind: 'trailer', wheels: 2, setting: limits(71.4, 100) },
      { code: 'B2', unitKind: 'trailer', wheels: 2, setting: limits(70, 102) },
    ],
    null,
  );
  it('says why each step stands where it stands', () => {
    expect(card.steps.map(stepReason)).toEqual([
      'low first, or the monitor refuses the high; one value for B1 and B2',
      'now there is room to lower the high; one value for B1 and B2',
    ]);
  });
  it('says what each axle gives up', () => {
    expect(card.unmet.map((u) => unmetWords(u, f))).toEqual([
      'B1 low: 72.0 psi instead of 71.4 psi, because of the monitor’s step.',
      'B2 low: 72.0 psi instead of 70.0 psi, because its group shares the highest low.',
      'B2 high: 100.0 psi instead of 102.0 psi, because its group shares the lowest high.',
    ]);
  });
  it('explains what was read back', () => {
    expect(mismatchWords({ reason: 'notSaved' }, card)).toContain('without saving');
    expect(mismatchWords({ reason: 'otherGroup', group: 'B' }, card)).toContain('the figure of B1 and B2');
    expect(mismatchWords({ reason: 'stepsShort', presses: 1 }, card)).toBe('1 press short.');
  });
});

it('the row of an axle says where its day takes it', () => {
  expect(dayWords({ kpa: 80 * PSI, tempC: 20 }, day, f)).toBe('70.3 psi at a \u221210 °C start, 89.3 psi on a hot run.');
  // A spare doesn't run: on the hottest afternoon it is as warm as the air.
  const still = { ...day, runningC: day.hottestC, hotShare: 0 };
  expect(dayWords({ kpa: 80 * PSI, tempC: 20 }, still, f)).toMatch(/psi on the hottest afternoon\.$/);
  expect(dayWords({ kpa: 80 * PSI, tempC: 20 }, null, f)).toContain('The same air reads 70.3 psi at \u221210 °C');
});
