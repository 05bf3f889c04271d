import { describe, expect, it } from 'vitest';
import { coldChoices, coldFaults, targetForColdStart } from './target.ts';

const PSI = 6.894757293168;

describe('schools of cold pressure', () => {
  it('say what is missing', () => {
    expect(coldChoices({})).toEqual([
      { school: 'placard', kpa: null, missing: 'placard' },
      { school: 'byLoad', kpa: null, missing: 'minimum' },
      { school: 'rating', kpa: null, missing: 'reference' },
      { school: 'startLow', kpa: null, missing: 'reference' },
    ]);
  });
  it('by load never goes under the placard', () => {
    const [, byLoad] = coldChoices({ placardKpa: 400, minimumKpa: 350 });
    expect(byLoad).toEqual({ school: 'byLoad', kpa: 400, raisedToPlacard: true });
    expect(coldChoices({ placardKpa: 300, minimumKpa: 350 })[1]).toEqual({ school: 'byLoad', kpa: 350 });
  });
  // Common practice, no source: the school that starts 6 psi under the rating. 80 psi: it sets 74, which carries 74/80 of the rated
  // load by the careful estimate: 1285 kg * 74 / 80 = 1188.6 kg, 7.5 % less, and the rated load of 1250 kg is not carried on the way.
  it('starting low carries less on the way, and says how much', () => {
    const low = coldChoices({ referenceKpa: 80 * PSI, capacityKg: 1285, loadKg: 1250 })[3];
    expect((low?.kpa ?? 0) / PSI).toBeCloseTo(74, 9);
    expect(low?.carriesKg).toBeCloseTo(1188.625, 3);
    expect(low?.lessShare).toBeCloseTo(0.075, 9);
    expect(low?.tooLittle).toBe(true);
  });
});

describe('schools of cold pressure, field by field', () => {
  it('the placard is what it says, and every school is at least it but the one that is shown as a warning', () => {
    expect(coldChoices({ placardKpa: 600, minimumKpa: 600, referenceKpa: 550, capacityKg: 1000, loadKg: 900 })).toEqual([
      { school: 'placard', kpa: 600 },
      { school: 'byLoad', kpa: 600 },
      { school: 'rating', kpa: 600, raisedToPlacard: true },
      // 550 - 6 psi = 508.63 of 550: 924.8 of 1,000 kg.
      {
        school: 'startLow',
        kpa: expect.closeTo(508.631, 3),
        lessShare: expect.closeTo(0.0752, 4),
        carriesKg: expect.closeTo(924.784, 3),
        tooLittle: false,
      },
    ]);
    expect(coldChoices({ placardKpa: 500, referenceKpa: 550 })[2]).toEqual({ school: 'rating', kpa: 550 });
    expect(coldChoices({ placardKpa: 550, referenceKpa: 550 })[2]).toEqual({ school: 'rating', kpa: 550 });
    expect(coldChoices({ minimumKpa: null })[1]).toEqual({ school: 'byLoad', kpa: null, missing: 'minimum' });
  });
  it('6 psi under 6 psi is no pressure, and what is unknown is not said', () => {
    // 41.37 kPa are 6 psi.
    expect(coldChoices({ referenceKpa: 41.3, capacityKg: 300, loadKg: 100 })[3]).toEqual({
      school: 'startLow',
      kpa: null,
      lessShare: expect.closeTo(1.0017, 4),
    });
    expect(coldChoices({ referenceKpa: 550, loadKg: 900 })[3]).not.toHaveProperty('carriesKg');
    expect(coldChoices({ referenceKpa: 550, capacityKg: 1000 })[3]).not.toHaveProperty('tooLittle');
  });
});

describe('what is wrong with a cold pressure', () => {
  it('with the figure it breaks, and 0.05 kPa of conversion let pass', () => {
    const q = { minimumKpa: 450, placardKpa: 450, maxColdKpa: 550, rimMaxKpa: 550, capacityKg: 900 };
    expect(coldFaults(449.96, q)).toEqual([]);
    expect(coldFaults(550.04, q)).toEqual([]);
    expect(coldFaults(449.94, q)).toEqual([
      { code: 'underMinimum', stop: true, kpa: 450 },
      { code: 'underPlacard', stop: true, kpa: 450 },
    ]);
    expect(coldFaults(550.06, q)).toEqual([
      { code: 'overSidewall', stop: true, kpa: 550 },
      { code: 'overRim', stop: true, kpa: 550 },
    ]);
    expect(coldFaults(500, { ...q, faults: ['overIndex', 'overTable'] })).toEqual([
      { code: 'overIndex', stop: true, kg: 900 },
      { code: 'overTable', stop: true },
    ]);
    expect(coldFaults(500, { faults: ['overIndex'] })).toEqual([{ code: 'overIndex', stop: true }]);
  });
  it.each([
    ['nothing', 500, {}, []],
    ['too little for the load', 440, {}, ['underMinimum', 'underPlacard']],
    ['more than the sidewall allows', 560, {}, ['overSidewall']],
    ['more than the rim allows', 600, {}, ['overSidewall', 'overRim']],
    ['a tire too small at any pressure', 500, { faults: ['overIndex' as const], capacityKg: 900 }, ['overIndex']],
  ])('%s', (_, kpa, more, codes) => {
    const found = coldFaults(kpa, { minimumKpa: 450, placardKpa: 480, maxColdKpa: 550, rimMaxKpa: 580, ...more });
    expect(found.map((f) => f.code)).toEqual(codes);
    expect(found.every((f) => f.stop)).toBe(true);
  });
  it('a figure converted to and fro is not under itself', () => {
    expect(coldFaults(449.98, { minimumKpa: 450 })).toEqual([]);
  });
});

// (448.16 + 101.325) * 293.15 / 263.15 - 101.325 = 510.80, worked by hand.
it('the figure to set so that the coldest start still carries the load', () => {
  expect(targetForColdStart(448.16, 20, -10)).toBeCloseTo(510.8, 1);
  expect(targetForColdStart(448.16, 0, 10)).toBe(448.16);
});
