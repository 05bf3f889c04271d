import { describe, expect, it } from 'vitest';
import type { Unit } from '#schema/unit.ts';
import { faultsOf, makeAxle } from './positions.ts';
import { addSet, fitSet } from './sets.ts';

const sensor = (id: string) => ({ id, kind: 'cap' as const });
function car(): Unit {
  const axles = [makeAxle('single', 1), makeAxle('single', 2)];
  axles.forEach((a, i) => {
    a.marking = '205/55R16 91V';
    a.wheels.forEach((w, j) => {
      w.sensor = sensor(`A0000${i * 2 + j}`);
    });
  });
  return { id: 'u', version: 1, name: 'Car', kind: 'vehicle', axles, spares: [] };
}
const ids = (u: Unit) => u.axles.flatMap((a) => a.wheels.map((w) => w.sensor?.id ?? '-'));

describe('wheel sets', () => {
  it('a second set goes on bare, and the first comes back whole', () => {
    const winter = addSet(car(), 'summer', 'winter');
    expect(ids(winter)).toEqual(['-', '-', '-', '-']);
    expect(winter.axles[0]?.marking).toBeUndefined();
    expect(winter.wheelSets?.fitted).toBe('winter');
    const summer = fitSet(winter, 'summer');
    expect(ids(summer)).toEqual(ids(car()));
    expect(summer.axles.map((a) => a.marking)).toEqual(['205/55R16 91V', '205/55R16 91V']);
    expect(summer.wheelSets?.stored.map((s) => s.name)).toEqual(['winter']);
    expect(faultsOf(summer)).toEqual([]);
  });

  it('each keeps its own sensors through changes to and fro', () => {
    let unit = addSet(car(), 'summer', 'winter');
    unit.axles[0]?.wheels.forEach((w, i) => {
      w.sensor = sensor(`B0000${i}`);
    });
    const winter = ids(unit);
    for (let i = 0; i < 3; i += 1) {
      unit = fitSet(unit, 'summer');
      expect(ids(unit)).toEqual(ids(car()));
      unit = fitSet(unit, 'winter');
      expect(ids(unit)).toEqual(winter);
    }
    unit = addSet(unit, 'ignored', 'track');
    expect(unit.wheelSets?.stored.map((s) => s.name).sort()).toEqual(['summer', 'winter']);
  });

  it('sensors whose wheel is gone stay behind, named', () => {
    const winter = addSet(car(), 'summer', 'winter');
    const shorter = { ...winter, axles: winter.axles.slice(0, 1) };
    const summer = fitSet(shorter, 'summer');
    expect(ids(summer)).toEqual(['A00000', 'A00001']);
    const left = summer.wheelSets?.stored.find((s) => s.name === 'summer, left over');
    expect(left?.wheels.map((w) => w.sensor?.id)).toEqual(['A00002', 'A00003']);
  });

  it('a sensor of a stored set may not be on a wheel too, nor two sets share a name', () => {
    const winter = addSet(car(), 'summer', 'winter');
    if (winter.axles[0]?.wheels[0]) winter.axles[0].wheels[0].sensor = sensor('A00003');
    expect(faultsOf(winter).map((f) => `${f.code} ${f.pointer}`)).toEqual(['sensorTwice /wheelSets/stored/0/wheels/3/sensor/id']);
    expect(() => addSet(winter, 'x', 'summer')).toThrow(expect.objectContaining({ pointer: '/name' }));
    expect(() => fitSet(winter, 'track')).toThrow(expect.objectContaining({ pointer: '/name' }));
  });
});

describe('pressures and limits of a set', () => {
  const kpa = (unit: Unit) => unit.axles.map((a) => a.settings.loaded?.cold?.kpa);
  function withCold(unit: Unit, value: number): Unit {
    return { ...unit, axles: unit.axles.map((a) => ({ ...a, settings: { loaded: { cold: { kpa: value, tempC: 15 } } } })) };
  }
  it('a new set takes over those in force, and from then on each keeps its own', () => {
    let unit = addSet(
      { ...withCold(car(), 240), axles: withCold(car(), 240).axles.map((a) => ({ ...a, tire: { onTruck: true } })) },
      'summer',
      'winter',
    );
    expect(kpa(unit)).toEqual([240, 240]);
    expect(unit.axles[0]?.tire).toBeUndefined();
    unit = fitSet(withCold(unit, 260), 'summer');
    expect(kpa(unit)).toEqual([240, 240]);
    expect(unit.axles[0]?.tire).toEqual({ onTruck: true });
    expect(kpa(fitSet(unit, 'winter'))).toEqual([260, 260]);
  });

  it('stems and ticks belong to the set', () => {
    const summer = car();
    const first = summer.axles[0]?.wheels[0];
    if (!first) throw new Error('no wheel');
    Object.assign(first, { stem: 'rubber', stemYear: 2024, fitting: { done: [{ code: 'soap', at: '2026-04-01T08:00:00Z' }] } });
    const winter = addSet(summer, 'summer', 'winter');
    expect(winter.axles[0]?.wheels[0]).toEqual({ position: '1L', sensor: null });
    if (winter.axles[0]?.wheels[0]) winter.axles[0].wheels[0].stem = 'metal';
    const back = fitSet(winter, 'summer');
    expect(back.axles[0]?.wheels[0]).toEqual(first);
    expect(fitSet(back, 'winter').axles[0]?.wheels[0]).toEqual({ position: '1L', sensor: null, stem: 'metal' });
  });

  it('one set of sensors goes to the summer wheels and back, to be fitted each time, and nothing is paired anew', () => {
    const winter = car();
    for (const w of winter.axles.flatMap((a) => a.wheels))
      Object.assign(w, { stem: 'metal', fitting: { done: [{ code: 'sensorOn', at: '2026-10-01T08:00:00Z' }] } });
    const summer = addSet(winter, 'winter', 'summer', true);
    expect(ids(summer)).toEqual(ids(winter));
    expect(summer.axles.flatMap((a) => a.wheels).every((w) => w.sensor?.fitted === false && !w.fitting && !w.stem)).toBe(true);
    expect(summer.wheelSets).toMatchObject({ fitted: 'summer', oneSetOfSensors: true });
    expect(summer.wheelSets?.stored[0]?.wheels.map((w) => [w.sensor, w.stem, w.fitting])).toEqual(
      Array.from({ length: 4 }, () => [null, 'metal', undefined]),
    );
    expect(faultsOf(summer)).toEqual([]);
    const back = fitSet(summer, 'winter', true);
    expect(ids(back)).toEqual(ids(winter));
    expect(back.axles.flatMap((a) => a.wheels).every((w) => w.stem === 'metal' && w.sensor?.fitted === false)).toBe(true);
    expect(faultsOf(back)).toEqual([]);
  });

  it('a sensor that the other set had of its own becomes a spare when one goes along in its place', () => {
    const summer = addSet(car(), 'winter', 'summer');
    if (summer.axles[0]?.wheels[0]) summer.axles[0].wheels[0].sensor = sensor('B00001');
    const winter = fitSet(summer, 'winter', true);
    expect(ids(winter)).toEqual(['B00001', 'A00001', 'A00002', 'A00003']);
    expect(winter.loose?.map((x) => x.id)).toEqual(['A00000']);
    expect(faultsOf(winter)).toEqual([]);
  });

  it('a sensor inside a tire stays with its wheel', () => {
    const unit = car();
    for (const w of unit.axles.flatMap((a) => a.wheels)) if (w.sensor) w.sensor = { ...w.sensor, kind: 'internal' };
    const summer = addSet(unit, 'winter', 'summer', true);
    expect(ids(summer)).toEqual(['-', '-', '-', '-']);
    expect(ids(fitSet(summer, 'winter', true))).toEqual(ids(unit));
  });
});
