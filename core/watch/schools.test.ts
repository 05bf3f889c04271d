import { describe, expect, it } from 'vitest';
import type { AlarmRule } from '#schema/unit.ts';
import { limitsFor } from '../alarms/limits.ts';
import { FieldError } from '../errors.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import { playScene, seedsFrom } from './scenes.test-data.ts';

/** Every school of limits, as a rule for a cold pressure. */
const SCHOOLS: Record<string, (coldKpa: number) => AlarmRule> = {
  share: () => ({ school: 'share' }),
  'share, hot climate': () => ({ school: 'share', hotClimate: true }),
  margin: () => ({ school: 'margin' }),
  rating: (coldKpa) => ({ school: 'rating', ratingKpa: coldKpa * 1.05 }),
  rough: () => ({ school: 'rough' }),
  floorCeiling: (coldKpa) => ({ school: 'floorCeiling', floorKpa: coldKpa * 0.85, ceilingKpa: coldKpa * 1.3 }),
  lowOnly: () => ({ school: 'lowOnly' }),
  regulation: () => ({ school: 'regulation' }),
};
/** Drawn anew at every run and printed, so that a failure can be played again: `DRUCKWERK_SEED=… npx vitest run core/watch/schools.test.ts`. */
const first = Number(process.env.DRUCKWERK_SEED ?? Math.floor(Math.random() * 2 ** 32));
const seeds = seedsFrom(first, 70);

/**
 * What must be so with any fixed limits while no air is lost: the watch's own alarms stay quiet, and a limit sounds only where the reading
 * really crosses it, with evidence that the tire still has its air (as far as its sensor reads true).
 */
function faults(scene: 'coldNight' | 'healthyFortnight', school: string, n: number): string[] {
  const rule = SCHOOLS[school] as (coldKpa: number) => AlarmRule;
  const { events, limits, state } = playScene(scene, n, (coldKpa) => limitsFor(rule(coldKpa), coldKpa));
  const errorOf = new Map(state.sensors.map((s) => [s.at, s.errorKpa]));
  const found: string[] = [];
  for (const e of events) {
    if (e.type !== 'raised') continue;
    const l = limits[e.position];
    const at = `seed ${n}: ${e.position} ${e.kind} ${e.value.toFixed(1)}`;
    if (e.kind !== 'low' && e.kind !== 'high') found.push(at);
    else if (e.kind === 'low' ? e.value > (l?.lowKpa ?? 0) : e.value < (l?.highKpa ?? 0)) found.push(`${at}: not past its limit`);
    else if (e.kind === 'low') {
      const missing = (l?.coldKpa ?? 0) - (e.evidence?.heldHighKpa ?? 0) + Math.min(0, errorOf.get(e.position) ?? 0);
      if (missing > KPA_PER_PSI) found.push(`${at}: taken for a loss of ${missing.toFixed(1)} kPa`);
    }
  }
  return found;
}

describe(`cold nights and healthy fortnights with every school's own limits, from ${first}`, () => {
  it.each(Object.keys(SCHOOLS))(
    '%s',
    (school) => {
      console.log(`${school}: seeds ${first} + i * 2654435761`);
      const nights: string[][] = [];
      let settable: number | null = null;
      for (let i = 0; nights.length < 6; i += 1) {
        try {
          nights.push(faults('coldNight', school, seeds[i] as number));
          settable ??= seeds[i] as number;
        } catch (error) {
          // Rough rounds to 10 psi, so it can't be set at all for some low cold pressures: that rig's owner is told, and has no alarms.
          if (!(school === 'rough' && error instanceof FieldError && i < 60)) throw error;
        }
      }
      expect([...nights.flat(), ...faults('healthyFortnight', school, settable as number)]).toEqual([]);
    },
    120_000,
  );
});

it.each([
  ['rough', 264412892],
  ['rough', 1574170168],
  ['rough', 4228605929],
  ['share', 2827424786],
])('%s, healthy fortnight %i: near a fixed limit on a cold morning no air is lost', (school, n) => {
  // Each of these once raised a slow loss, because what was only likely counted there.
  expect(faults('healthyFortnight', school, n)).toEqual([]);
});
