import { describe, expect, it } from 'vitest';
import { validators } from '../generated/records.js';
import { explain } from './explain.ts';

const problems = (name: keyof typeof validators, value: unknown) => {
  const valid = validators[name];
  return valid(value) ? [] : explain(valid.errors).map((p) => `${p.pointer}: ${p.detail}`);
};

describe('explain', () => {
  const reading = { sensorId: '4CA1E0', time: '2026-05-01T08:00:00Z', pressureKpa: 250, tempC: 20 };
  it.each<[string, unknown, string[]]>([
    ['a good reading', reading, []],
    ['a reading with an offset', { ...reading, time: '2026-05-01T10:00:00+02:00' }, []],
    ['no object', 7, [': must be an object']],
    ['a missing field', { ...reading, tempC: undefined }, ['/tempC: is missing']],
    ['an unknown field', { ...reading, 'a/b': 1 }, ['/a~1b: is not a field of this record']],
    ['Infinity', { ...reading, pressureKpa: Number.POSITIVE_INFINITY }, ['/pressureKpa: must be a number']],
    ['NaN', { ...reading, tempC: Number.NaN }, ['/tempC: must be a number']],
    ['a time that is none', { ...reading, time: '2026-13-01' }, ['/time: must be a time such as 2026-05-01T08:00:00Z']],
    ['too much pressure', { ...reading, pressureKpa: 99999 }, ['/pressureKpa: must be at most 2500']],
  ])('%s', (_, value, expected) => {
    // JSON has no undefined: drop it as a body would.
    const sent =
      typeof value === 'object' && value !== null
        ? Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined))
        : value;
    expect(problems('reading', sent)).toEqual(expected);
  });

  it('tells a choice as the list of what may stand there', () => {
    const rig = { name: 'x', unitIds: ['a'], loadState: 'full' };
    expect(problems('newRig', rig)).toEqual(['/loadState: must be one of empty, loaded, towing']);
  });

  it('tells a wrong value inside "value or null" without speaking of null', () => {
    const unit = {
      name: 'x',
      kind: 'trailer',
      spares: [],
      axles: [{ settings: {}, wheels: [{ position: '1L', sensor: { id: 'FFFFFF', kind: 'cap' } }] }],
    };
    expect(problems('newUnit', unit)).toEqual([
      '/axles/0/wheels/0/sensor/id: must be six hexadecimal digits (0 to 9, A to F); FFFFFF means an open position, not a sensor',
    ]);
  });

  it('names the kind of a record that is one of several', () => {
    expect(problems('benchCommand', { action: 'dance' })).toEqual(['/action: is missing or not one of the known kinds']);
    expect(problems('benchCommand', { action: 'drive', kmh: 0 })).toEqual(['/kmh: must be over 0']);
  });
});
