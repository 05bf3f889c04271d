import { limitsFor } from '#core/alarms/limits.ts';
import { makeAxle, wheelsOf } from '#core/rig/positions.ts';
import type { WheelView } from '#schema/alarm.ts';
import type { Rig, Unit } from '#schema/unit.ts';
import type { WholeRig } from '../data/queries.ts';
import { type Format, makeFormat } from '../parts/format.ts';

/** A flatbed with dual rears and a one-axle trailer with a spare, for tests. */
export function wholeRig(): WholeRig {
  const units: Unit[] = [
    { id: 'a', version: 3, name: 'Flatbed', kind: 'vehicle', axles: [makeAxle('single', 1), makeAxle('dual', 2)], spares: [] },
    {
      id: 'b',
      version: 5,
      name: 'Trailer',
      kind: 'trailer',
      axles: [makeAxle('single', 1)],
      spares: [{ wheel: { position: 'S1', sensor: null }, settings: {} }],
    },
  ];
  const rig: Rig = { id: 'r', version: 1, name: 'Run', unitIds: ['a', 'b'], loadState: 'loaded' };
  return { rig, units, wheels: wheelsOf(units), allWheels: wheelsOf(units) };
}

/** The same with every axle set and every wheel paired. */
export function readyRig(): WholeRig {
  const whole = wholeRig();
  const { lowKpa, highKpa } = limitsFor({ school: 'share' }, 500);
  const settings = {
    loaded: { cold: { kpa: 500, tempC: 20 }, limits: { rule: { school: 'share' as const }, lowKpa, highKpa, hotC: 70 } },
  };
  let next = 0xa00000;
  for (const { wheel, holder } of whole.wheels) {
    holder.settings = settings;
    wheel.sensor = { id: (next++).toString(16).toUpperCase(), kind: 'cap' };
  }
  return whole;
}

/** A wheel that reads its cold target. */
export const steadyView = (change: Partial<WheelView> = {}): WheelView => ({
  position: 'A1L',
  sensorId: 'A00000',
  sensorKind: 'cap',
  state: 'live',
  pressureKpa: 500,
  tempC: 22,
  time: '2026-05-01T08:00:00Z',
  ageS: 10,
  practice: false,
  coldKpa: 500,
  coldTempC: 20,
  lowKpa: 450,
  lowAssumed: false,
  highKpa: 600,
  hotC: 70,
  expectedKpa: 505,
  heldKpa: null,
  heldLowKpa: null,
  heldHighKpa: null,
  loadMinimumKpa: null,
  aheadTime: null,
  askedTime: null,
  offTime: null,
  filling: false,
  source: null,
  second: null,
  active: [],
  ...change,
});

/** A format whose figures and units stand apart by an ordinary space, so that expected texts can be typed. */
export function plainFormat(...args: Parameters<typeof makeFormat>): Format {
  const plain = Object.entries(makeFormat(...args)).map(([name, v]) => [
    name,
    typeof v === 'function' ? (...a: never[]) => (v as (...x: never[]) => string)(...a).replaceAll('\u00a0', ' ') : v,
  ]);
  return Object.fromEntries(plain) as Format;
}
