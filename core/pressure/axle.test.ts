import { describe, expect, it } from 'vitest';
import type { Axle } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { atRest, axleDay, axleFacts, dayEnds, faultsOfCold } from './axle.ts';

const trailer: Axle = {
  ...makeAxle('single', 1),
  marking: 'ST225/75R15 117/112M',
  tire: { reference: { kpa: 550 } },
};
const dual: Axle = { ...makeAxle('dual', 2), marking: 'LT235/80R16 120/116Q', tire: { reference: { kpa: 550 } } };

describe('an axle worked out', () => {
  // Load index 117 is 1285 kg (ISO 4000-1, from memory): 550 * 1100 / 1285 = 470.82, worked by hand.
  it('a trailer’s axle weighed by its ends', () => {
    const facts = axleFacts(trailer, 'trailer', { weighing: { L: { kg: 1000 }, R: { kg: 1100 } } });
    expect(facts.minimum?.kpa).toBeCloseTo(470.82, 2);
    expect(facts.maxColdKpa).toBe(550);
    expect(facts.choices.find((c) => c.school === 'byLoad')?.kpa).toBeCloseTo(470.82, 2);
    expect(faultsOfCold(450, facts).map((f) => f.code)).toEqual(['underMinimum']);
    expect(faultsOfCold(600, facts).map((f) => f.code)).toEqual(['overSidewall']);
    expect(faultsOfCold(500, facts)).toEqual([]);
  });
  // Dual index 116 is 1250 kg: 550 * 1000 / 1250 = 440.
  it('duals by the dual index, four tires on two ends', () => {
    const facts = axleFacts(dual, 'vehicle', { weighing: { L: { kg: 2000 }, R: { kg: 1900 } } });
    expect(facts.minimum?.kpa).toBeCloseTo(440, 9);
    expect(facts.dual).toBe(true);
  });
  it('a passenger tire is derated on a trailer, and on a truck when its owner says so', () => {
    const car: Axle = { ...makeAxle('single', 1), marking: '205/55R16 91V', tire: { reference: { kpa: 250 } } };
    expect(axleFacts(car, 'trailer', {}).capacityKg).toBeCloseTo(559.09, 2);
    expect(axleFacts(car, 'vehicle', {}).capacityKg).toBe(615);
    expect(axleFacts({ ...car, tire: { ...car.tire, onTruck: true } }, 'vehicle', {}).capacityKg).toBeCloseTo(559.09, 2);
  });
  it('a load over the index is told whatever the pressure', () => {
    const facts = axleFacts(trailer, 'trailer', { weighing: { L: { kg: 1300 }, R: { kg: 1300 } } });
    expect(faultsOfCold(550, facts).map((f) => f.code)).toContain('overIndex');
  });
  it('knows nothing of a marking it cannot read', () => {
    const facts = axleFacts({ ...trailer, marking: 'worn off' }, 'trailer', { weighing: { axle: { kg: 2000 } } });
    expect(facts.marking).toBeNull();
    expect(facts.minimum).toMatchObject({ kpa: null, missing: ['index'] });
  });
  it('a spare has no load of its own', () => {
    const spare = { wheel: { position: 'S1', sensor: null }, settings: {} };
    expect(axleFacts(spare, 'trailer', { placard: { kpa: 550 } })).toMatchObject({
      load: { missing: 'weighing' },
      placardKpa: 550,
    });
  });
});

describe('where the day takes a cold pressure', () => {
  const cold = { kpa: 551.58, tempC: 20 };
  // Worked by hand in judge.reference.test.ts: 484.76 at -10 °C.
  it('to the coldest start at home and the hot run on the pass', () => {
    const home = dayEnds(cold, axleDay(cold, { coldestC: -10, hottestC: 30 }));
    expect(home.coldestKpa).toBeCloseTo(484.76, 2);
    const pass = dayEnds(cold, axleDay(cold, { coldestC: -10, hottestC: 30, passM: 2000 }));
    expect(pass.coldestKpa).toBeCloseTo(484.76, 2);
    // Standard atmosphere: 101.325 - 79.495 more on the gauge.
    expect(pass.hotKpa - home.hotKpa).toBeCloseTo(21.83, 2);
  });
  it('without a climate only the run is known: 10 % more', () => {
    const ends = dayEnds(cold, null);
    expect(ends.coldestKpa).toBeNull();
    expect(ends.hotKpa).toBeCloseTo(551.58 * 1.1, 6);
  });
});

describe('the day of an axle', () => {
  const cold = { kpa: 551.58, tempC: 20 };
  it('takes the owner’s figure, else the readings, else common practice', () => {
    const climate = { coldestC: -10, hottestC: 30 };
    const learned = { share: 0.08, sd: 0.01, runs: 4 };
    expect(axleDay(cold, climate)).toMatchObject({ hotShare: 0.1, hotShareFrom: 'practice', altitudeSetM: 0 });
    expect(axleDay(cold, climate, learned)).toMatchObject({ hotShare: 0.08, hotShareFrom: 'learned' });
    expect(axleDay(cold, { ...climate, hotShare: 0.12 }, learned)).toMatchObject({ hotShare: 0.12, hotShareFrom: 'typed' });
    const season = (coldestC: number, hottestC: number) => ({
      cold,
      limits: { rule: { school: 'share' as const }, lowKpa: 500, highKpa: 600, hotC: 70 },
      coldestC,
      hottestC,
      from: '04-01',
    });
    const seasons = { inForce: 'summer' as const, winter: season(-10, 12), summer: season(4, 30) };
    expect(axleDay(cold, climate, null, seasons)).toMatchObject({ coldestC: 4, hottestC: 30 });
    // 293.15 * 0.1 * 551.58 / 652.905 = 24.77 K over 30 °C, worked by hand.
    expect(axleDay(cold, climate).runningC).toBeCloseTo(54.77, 2);
  });
});

it('a spare doesn’t run: the hottest it gets is the afternoon', () => {
  const day = axleDay({ kpa: 500, tempC: 18 }, { coldestC: -5, hottestC: 31 });
  expect(day.runningC).toBeGreaterThan(31);
  expect(atRest(day)).toEqual({ ...day, runningC: 31, hotShare: 0 });
});
