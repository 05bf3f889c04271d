import { describe, expect, it } from 'vitest';
import type { Season, Setting } from '#schema/unit.ts';
import { putSeason, seasonIsOver, seasonOn, withoutSeasons } from './seasons.ts';

const season = (from: string, kpa: number, tempC: number): Season => ({
  from,
  coldestC: -10,
  hottestC: 30,
  cold: { kpa, tempC },
  limits: {
    rule: { school: 'floorCeiling', floorKpa: kpa - 50, ceilingKpa: kpa + 100 },
    lowKpa: kpa - 50,
    highKpa: kpa + 100,
    hotC: 70,
  },
});
const winter = season('11-01', 500, 0);
const summer = season('04-01', 500, 20);
const setting: Setting = { cold: winter.cold, limits: winter.limits, seasons: { inForce: 'winter', winter, summer } };

describe('seasons', () => {
  it.each([
    ['01-15', 'winter'],
    ['03-31', 'winter'],
    ['04-01', 'summer'],
    ['10-31', 'summer'],
    ['11-01', 'winter'],
    ['12-31', 'winter'],
  ])('%s is %s', (day, name) => {
    expect(seasonOn({ inForce: 'winter', winter, summer }, day)).toBe(name);
  });
  it('and round the other way on the other half of the earth', () => {
    const south = { inForce: 'winter' as const, winter: season('05-01', 500, 5), summer: season('10-01', 500, 20) };
    expect(['04-30', '05-01', '09-30', '10-01'].map((d) => seasonOn(south, d))).toEqual(['summer', 'winter', 'winter', 'summer']);
  });
  it('a change brings its pressure and limits with it, and can be changed back', () => {
    const now = putSeason(setting, 'summer');
    expect(now.cold).toEqual(summer.cold);
    expect(now.limits).toEqual(summer.limits);
    expect(now.seasons?.inForce).toBe('summer');
    expect(putSeason(now, 'winter')).toEqual(setting);
  });
  it('is over when the day says so', () => {
    expect(seasonIsOver(setting, '02-01')).toBe(false);
    expect(seasonIsOver(setting, '06-01')).toBe(true);
    expect(seasonIsOver({}, '06-01')).toBe(false);
  });
  it('given up, what is in force stays', () => {
    expect(withoutSeasons(setting)).toEqual({ cold: winter.cold, limits: winter.limits });
  });
});
