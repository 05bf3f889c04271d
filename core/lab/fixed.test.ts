import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { compareFixed, compareWatch, dayAgain, drawOf, type LabQuestion, mostInHour } from './compare.ts';
import { readDays } from './days.ts';
import { type FixedRing, fixedFault, type LabRule, leakFigures, liveFixed, shareOf, spreadOf } from './fixed.ts';
import { labRule, type OwnAxle, ownLimits, ownRig, ownRule } from './own.ts';
import { byShare, countFixed } from './tables.ts';
import { drawOwn, drawRig, type LabRig, type OwnRig } from './world.ts';

const START = Date.UTC(2025, 0, 1);
const HOUR = 3_600_000;
/** NOAA days of one city, in the vega-datasets package. */
const days = readDays(readFileSync(join(import.meta.dirname, '../climate/new-york-weather.test-data.csv'), 'utf8'));

/** A rig without anything that is drawn: sensors without error, lag or noise, no rubber loss. */
function plainRig(change: Partial<LabRig> = {}): LabRig {
  const rig = drawRig(1);
  const wheel = rig.wheels[0] as LabRig['wheels'][number];
  return {
    ...rig,
    homeM: 0,
    setC: 20,
    speech: 'life',
    lifeMin: 10,
    use: 0,
    mountains: 0,
    capsOff: false,
    wheels: ['A1L', 'A1R'].map((position) => ({
      ...wheel,
      position,
      coldKpa: 250,
      loadMinimumKpa: 200,
      stepKpa: 0.001,
      biasKpa: 0,
      noiseKpa: 0,
      rubber: 0,
      side: 0 as const,
    })),
    ...change,
  };
}
const even = (minC: number, maxC = minC, n = 60) =>
  Array.from({ length: n }, (_, i) => ({ date: new Date(START + i * 24 * HOUR).toISOString().slice(0, 10), minC, maxC }));
const rule = (lowKpa: number | null, highKpa: number | null, n = 2, name = 'r'): LabRule => ({
  name,
  hotC: 70,
  limits: Array.from({ length: n }, () => ({ lowKpa, highKpa })),
});
const ringsOf = (rig: LabRig, weather: ReturnType<typeof even>, rules: LabRule[]): FixedRing[] => {
  const out: FixedRing[] = [];
  liveFixed(rig, weather, START, rules, { ring: (r) => out.push(r) });
  return out;
};

describe('days under fixed limits', () => {
  // 250 kPa at 20 °C is 351.325 absolute; at -10 °C that is 351.325 * 263.15 / 293.15 - 101.325 = 214.0 (ideal gas, worked by hand).
  // Barometer and first filling (0.8 % of 250) move it by about 2 to 6 kPa.
  it('a cold spell takes 250 kPa to 214: a low of 224 rings on both wheels, one of 203 never', () => {
    const rings = ringsOf(plainRig(), even(-10), [rule(224, null), rule(203, null)]);
    expect(new Set(rings.filter((r) => r.rule === 0).map((r) => r.wheel))).toEqual(new Set([0, 1]));
    expect(rings.filter((r) => r.rule === 1)).toEqual([]);
    for (const r of rings) {
      expect(r.kind).toBe('low');
      expect(r.airC).toBeCloseTo(-10, 5);
      expect(Math.abs(r.value - 214)).toBeLessThan(10);
    }
  });

  it('one cold spell is one alarm a wheel, not one a reading', () => {
    expect(ringsOf(plainRig(), even(-10), [rule(224, null)])).toHaveLength(2);
  });

  // At 40 °C: 351.325 * 313.15 / 293.15 - 101.325 = 274.0.
  it('heat takes it to 274: a high of 268 rings, one of 286 never', () => {
    const rings = ringsOf(plainRig(), even(40), [rule(null, 268), rule(null, 286)]);
    expect(rings.some((r) => r.rule === 0 && r.kind === 'high')).toBe(true);
    expect(rings.some((r) => r.rule === 1)).toBe(false);
  });

  it('a sensor that says nothing when parked rings for nobody', () => {
    expect(ringsOf(plainRig({ speech: 'quiet' }), even(-10), [rule(224, null)])).toEqual([]);
  });

  it('each rule is judged on its own, whatever the others do', () => {
    const rules = [rule(224, null), rule(219, 290), rule(203, null)];
    const together = ringsOf(drawOwn(asOwn(plainRig()), 5), even(-12, 3), rules);
    rules.forEach((r, i) => {
      const alone = ringsOf(drawOwn(asOwn(plainRig()), 5), even(-12, 3), [r]);
      expect(together.filter((x) => x.rule === i).map((x) => [x.wheel, x.kind, x.ms])).toEqual(
        alone.map((x) => [x.wheel, x.kind, x.ms]),
      );
    });
  });

  it('counts as many false alarms as the world lived minute by minute, over twelve rigs within a third', () => {
    const limits = byShare(0.1, 0.2);
    let minutes = 0;
    let quick = 0;
    for (let seed = 300; seed < 312; seed += 1) {
      const rig = drawRig(seed);
      const own = limits(rig);
      const pairs = rig.wheels.map((w) => ({
        lowKpa: own[w.position]?.lowKpa ?? null,
        highKpa: own[w.position]?.highKpa ?? null,
      }));
      minutes += countFixed(seed, days.slice(0, 120), limits).sum;
      quick += ringsOf(rig, days.slice(0, 120) as ReturnType<typeof even>, [{ name: 'x', hotC: 999, limits: pairs }]).length;
    }
    expect(minutes).toBeGreaterThan(60);
    expect(quick / minutes).toBeGreaterThan(0.67);
    expect(quick / minutes).toBeLessThan(1.5);
  });
});

const asOwn = (rig: LabRig): OwnRig => ({ wheels: rig.wheels, stepKpa: 0.001, homeM: 0, setC: 20 });

describe('a fault under fixed limits', () => {
  const leak = { kind: 'leak' as const, wheel: 1, fromMs: START + 20 * 24 * HOUR, size: 10 };

  // What is lost goes with what is left: from 250 to 225 at 10 kPa an hour takes -ln(225/250) * 250/10 = 2.63 h, to 200 5.58 h (worked by
  // hand). Parked, it is looked at every 90 minutes, and the first filling is up to 6 kPa off.
  it('10 kPa an hour is at 225 after 2.6 h and at its load minimum of 200 after 5.6', () => {
    const [seen] = fixedFault(plainRig(), even(20), START, [rule(225, null)], leak, 3);
    const hoursTo = (ms: number | null | undefined) => ((ms ?? Number.NaN) - leak.fromMs) / HOUR;
    expect(hoursTo(seen?.heardMs)).toBeGreaterThan(1.9);
    expect(hoursTo(seen?.heardMs)).toBeLessThan(5);
    expect(seen?.airGone).toBeGreaterThan(0.09);
    expect(seen?.airGone).toBeLessThan(0.17);
    const [deaf] = fixedFault(plainRig(), even(20), START, [rule(null, null)], leak, 3);
    expect(deaf?.heardMs).toBeNull();
    expect(hoursTo(deaf?.underMs)).toBeGreaterThan(5);
    expect(hoursTo(deaf?.underMs)).toBeLessThan(8);
  });

  it('what rings without the fault too is none of the fault’s', () => {
    // At -10 °C this limit rings from the first night on; the leak adds nothing that anybody could hear.
    const [seen] = fixedFault(plainRig(), even(-10), START, [rule(235, null)], leak, 3);
    expect(seen?.heardMs).toBeNull();
  });

  it('a leak is no cause of a high alarm; a hub is', () => {
    const rig = plainRig({ use: 1, speech: 'quiet' });
    const [leaked] = fixedFault(rig, even(20), START, [rule(null, 300)], leak, 5);
    expect(leaked?.heardMs).toBeNull();
    const [hub] = fixedFault(rig, even(20), START, [rule(null, 285)], { ...leak, kind: 'hub', size: 60 }, 10);
    expect(hub?.heardMs).not.toBeNull();
    expect(hub?.underMs).toBeNull();
  });
});

describe('figures', () => {
  it('8 of 10 at 95 %: 0.490 to 0.943 (Wilson’s interval, from memory; the same worked by hand)', () => {
    const s = shareOf(8, 10, 1.96);
    expect(s.middle).toBe(0.8);
    expect(s.low).toBeCloseTo(0.4902, 3);
    expect(s.high).toBeCloseTo(0.9433, 3);
    expect(shareOf(0, 0)).toEqual({ middle: 0, low: 0, high: 1 });
    expect(shareOf(5, 5).high).toBeCloseTo(1, 9);
  });

  it('the mean, and the tenth and ninetieth of a hundred', () => {
    const s = spreadOf(Array.from({ length: 101 }, (_, i) => 100 - i));
    expect(s).toEqual({ middle: 50, low: 10, high: 90 });
  });

  it('the most alarms in any hour', () => {
    expect(mostInHour([])).toBe(0);
    expect(mostInHour([0, 10 * HOUR, 10.5 * HOUR, 11 * HOUR, 11.2 * HOUR])).toBe(3);
  });

  it('in time is before the load minimum; one that shows nothing in its days is left out', () => {
    const at = (heardMs: number | null, underMs: number | null, drivenUnderMin = 0) => ({
      beganMs: 0,
      heardMs,
      underMs,
      airGone: heardMs === null ? null : 0.2,
      drivenUnderMin,
    });
    const f = leakFigures([
      at(HOUR, 2 * HOUR),
      at(3 * HOUR, 2 * HOUR, 11),
      at(5 * HOUR, null),
      at(null, HOUR, 9),
      at(null, null),
    ]);
    expect(f).toMatchObject({ n: 4, heard: 3, delayH: 3, airGone: 0.2, drivenUnder: 1 });
    expect(f.inTime.middle).toBe(0.5);
    expect(leakFigures([])).toMatchObject({ n: 0, heard: 0, delayH: null, airGone: null });
  });
});

const axle = (code: string, change: Partial<OwnAxle> = {}): OwnAxle => ({
  code,
  wheels: ['L', 'R'].map((side) => ({ position: `${code}${side}`, kind: 'cap' as const })),
  coldKpa: 250,
  coldTempC: 20,
  loadMinimumKpa: 205,
  limits: { lowKpa: 225, highKpa: 300 },
  hotC: 70,
  ...change,
});

describe('the owner’s rig', () => {
  it('an axle set at another temperature is brought to the first one’s: 250 kPa at 0 °C is 275.7 at 20', () => {
    // (250 + 101.325) * 293.15 / 273.15 - 101.325 = 275.72 (ideal gas, worked by hand).
    const rig = ownRig([axle('A1'), axle('A2', { coldTempC: 0, loadMinimumKpa: null })], { stepKpa: 10 });
    expect(rig.setC).toBe(20);
    expect(rig.wheels.map((w) => w.position)).toEqual(['A1L', 'A1R', 'A2L', 'A2R']);
    expect(rig.wheels[0]?.coldKpa).toBeCloseTo(250, 6);
    expect(rig.wheels[2]?.coldKpa).toBeCloseTo(275.72, 2);
    // No load is known: 80 % of 250 at 0 °C, (200 + 101.325) * 293.15 / 273.15 - 101.325 = 222.06.
    expect(rig.wheels[2]?.loadMinimumKpa).toBeCloseTo(222.06, 2);
  });

  it('has a pass only where it is over home', () => {
    expect(ownRig([axle('A1')], { stepKpa: 1, homeM: 400, passM: 300 }).passM).toBeUndefined();
    expect(ownRig([axle('A1')], { stepKpa: 1, homeM: 400, passM: 1900 }).passM).toBe(1900);
  });

  it('rules go axle by axle; one that can’t be is left out', () => {
    const axles = [axle('A1'), axle('B1', { coldKpa: 400, hotC: 76, limits: { lowKpa: 350, highKpa: null } })];
    const share = labRule('share', axles, () => ({ school: 'share' }));
    expect(share?.limits[0]).toEqual({ lowKpa: 225, highKpa: 300 });
    expect(share?.limits[3]).toEqual({ lowKpa: 360, highKpa: 480 });
    expect(share?.hotC).toBe(70);
    expect(labRule('margin', [axle('A1', { coldKpa: 90 })], () => ({ school: 'margin' }))).toBeNull();
    expect(labRule('rating', axles, () => null)).toBeNull();
    expect(ownRule('yours', axles)?.limits.map((l) => l.lowKpa)).toEqual([225, 225, 350, 350]);
    expect(ownRule('yours', [axle('A1'), axle('A2', { limits: null })])).toBeNull();
    // The watch rings at 25 % under cold where nobody set a low.
    expect(ownLimits([axle('A1', { limits: null })]).A1L).toMatchObject({ lowKpa: 187.5, highKpa: null, loadMinimumKpa: 205 });
  });
});

describe('rules compared', () => {
  const axles = [axle('A1'), axle('A2', { coldKpa: 270 })];
  const rules = [0.06, 0.12, 0.25].map(
    (lowShare) => labRule(String(lowShare), axles, () => ({ school: 'lowOnly', lowShare })) as LabRule,
  );
  const q: LabQuestion = { rig: ownRig(axles, { stepKpa: 6.895 }), days, rules, seed: 9 };
  const size = { fixedDays: 1400, leaks: 60, hubs: 6, faultDays: 20 };
  const answer = compareFixed(q, undefined, size);

  it('closer limits alarm for nothing more often and hear a leak with less air gone', () => {
    const [close, middle, far] = answer.figures;
    expect(close?.nuisance.middle).toBeGreaterThan(middle?.nuisance.middle as number);
    expect(middle?.nuisance.middle).toBeGreaterThan(far?.nuisance.middle as number);
    expect(close?.leaks.airGone).toBeLessThan(far?.leaks.airGone as number);
    expect(middle?.leaks.inTime.middle).toBeGreaterThan(far?.leaks.inTime.middle as number);
    expect(answer.lived).toBe(1460);
  });

  it('the same seed gives the same figures, another seed others', () => {
    const small = { ...size, fixedDays: 365, leaks: 8, hubs: 2 };
    expect(compareFixed(q, undefined, small)).toEqual(compareFixed(q, undefined, small));
    expect(compareFixed({ ...q, seed: 10 }, undefined, small)).not.toEqual(compareFixed(q, undefined, small));
  });

  it('counts by kind and by day add up, and progress ends at one', () => {
    const [close] = answer.figures;
    expect(Object.values(close?.byKind ?? {}).reduce((a, b) => a + b, 0)).toBeCloseTo(close?.nuisance.middle as number, 9);
    const shares: number[] = [];
    compareFixed(q, (s) => shares.push(s), { ...size, fixedDays: 365, leaks: 4, hubs: 0 });
    expect(shares.at(-1)).toBe(1);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
  });

  it('a day with a false alarm can be lived again: the same alarms on it', () => {
    const list = answer.days[0] ?? [];
    expect(list.length).toBeGreaterThan(5);
    for (const one of [list[0], list[Math.floor(list.length / 2)], list.at(-1)]) {
      if (!one) continue;
      const trace = dayAgain(q, rules[0] as LabRule, one);
      expect(trace.rings).toHaveLength(one.rings);
      expect(trace.points.length).toBeGreaterThan(3);
      for (const r of trace.rings) expect(trace.points.some((p) => p.ms === r.ms && p.kpa[r.wheel] === r.value)).toBe(true);
    }
  });

  it('the watch on a sample of the same rigs and leaks: few false alarms, every leak that shows is heard', () => {
    const f = compareWatch({ ...q, rules: [], limits: ownLimits(axles) }, undefined, {
      watchDraws: 2,
      watchDays: 40,
      watchLeaks: 6,
      watchHubs: 2,
      watchFaultDays: 14,
    });
    expect(f.wheelYears).toBeCloseTo((2 * 40 * 4) / 365, 9);
    expect(f.nuisance.middle).toBeLessThan(6);
    expect(f.leaks.n).toBeGreaterThan(3);
    expect(f.leaks.heard).toBeGreaterThanOrEqual(f.leaks.n - 1);
    expect(f.leaks.drivenUnder).toBe(0);
  });

  it('each draw is another set of sensors on the same rig', () => {
    const [a, b] = [drawOf(q, 0), drawOf(q, 1)];
    expect(a.wheels.map((w) => w.coldKpa)).toEqual(b.wheels.map((w) => w.coldKpa));
    expect(a.wheels[0]?.biasKpa).not.toBe(b.wheels[0]?.biasKpa);
  });
});
