import { describe, expect, it } from 'vitest';
import { severityOf } from './priority.ts';
import { stateOf } from './view.ts';
import type { WheelMemory } from './watch.ts';
import { freshMemory } from './wheel.ts';

const MIN = 60_000;
const memory = (change: Partial<WheelMemory> = {}): WheelMemory => ({
  ...freshMemory(),
  lastMs: 0,
  lastKpa: 250,
  lastC: 20,
  ...change,
});
const silent = { fromMs: 0, limit: 900, value: 250, worst: 250 };

describe('what a reading is worth', () => {
  it.each([
    ['no sensor', undefined, 0, true, 'notPaired'],
    ['a sensor that was never heard', memory({ lastMs: null }), 0, true, 'notHeard'],
    ['a reading of now', memory(), 0, true, 'live'],
    ['a reading of five minutes ago', memory(), 5 * MIN, true, 'live'],
    ['a reading of six minutes ago while the others speak', memory(), 6 * MIN, true, 'old'],
    ['a reading of six minutes ago while nobody speaks', memory(), 6 * MIN, false, 'asleep'],
    ['a reading of last year', memory(), 365 * 1440 * MIN, false, 'asleep'],
    ['a sensor that has gone silent', memory({ active: { silent } }), 30 * MIN, true, 'silent'],
    ['the same when the rig falls asleep', memory({ active: { silent } }), 300 * MIN, false, 'silent'],
  ] as const)('%s', (_, m, now, busy, state) => {
    expect(stateOf(m, now, busy)).toBe(state);
  });

  it('is never live once it is over five minutes old, whatever else', () => {
    for (let minutes = 6; minutes < 3000; minutes += 7) {
      for (const busy of [true, false]) expect(stateOf(memory(), minutes * MIN, busy)).not.toBe('live');
    }
  });
});

it('air lost or a hot tire is a reason to stop, silence to know', () => {
  expect(['low', 'hot', 'high', 'silent'].map((k) => severityOf(k as 'low'))).toEqual(['stop', 'stop', 'look', 'look']);
});
