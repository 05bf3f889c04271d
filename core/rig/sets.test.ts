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
});
