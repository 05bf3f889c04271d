import { describe, expect, it } from 'vitest';
import { validators as bodies, records as validators } from '../generated/bodies.js';
import { explain, MOST_FAULTS } from './explain.ts';

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
    const valid = bodies.benchCommand;
    const found = (value: unknown) => (valid(value) ? [] : explain(valid.errors).map((p) => `${p.pointer}: ${p.detail}`));
    expect(found({ action: 'dance' })).toEqual(['/action: is missing or not one of the known kinds']);
    expect(found({ action: 'drive', kmh: 0 })).toEqual(['/kmh: must be over 0']);
  });

  it('names at most a hundred faults, the first ones', () => {
    const found = problems('newMonitor', { power: Array(4000).fill(0) });
    expect(found).toHaveLength(MOST_FAULTS);
    expect(found.some((p) => p.startsWith('/power/'))).toBe(true);
  });

  it.each([
    ['a monitor of 900 kB', 'newMonitor', { power: Array(450_000).fill(0) }],
    ['a rig of empty units', 'rigExport', { units: Array(300_000).fill({ axles: 0 }), rig: [], monitors: Array(1000).fill([]) }],
    ['units nested in names', 'newUnit', { name: { name: { name: {} } }, axles: Array(90_000).fill({ wheels: [0, 0, 0] }) }],
  ] as const)('takes well under a second, whatever was sent: %s', (_what, name, value) => {
    const began = performance.now();
    expect(problems(name, value).length).toBeGreaterThan(0);
    expect(performance.now() - began).toBeLessThan(1000);
  });

  it('a document with thousands of faults inside a choice is refused all the same', () => {
    const step = { do: 'putUnit', doc: { name: 'x', axles: Array(9000).fill({ wheels: 0 }) } };
    expect(bodies.change({ steps: [step] })).toBe(false);
    expect(bodies.change({ steps: Array(50).fill({ ...step, doc: { axles: Array(2000).fill(0) } }) })).toBe(false);
  });

  it('a choice with a fault inside one of its members names the member', () => {
    const unit = {
      name: 'x',
      kind: 'vehicle',
      spares: [],
      axles: [{ kind: 'single', wheels: [{ position: '1L', sensor: { id: 'ZZ', kind: 'cap' } }] }],
    };
    const found = problems('newUnit', unit);
    expect(found.filter((p) => p.startsWith('/axles/0/wheels/0/sensor'))).toEqual([
      expect.stringContaining('/sensor/id: must be six hexadecimal digits'),
    ]);
  });
});
