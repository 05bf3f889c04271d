import fc from 'fast-check';
import { expect, it } from 'vitest';
import { checkReading } from './check.ts';
import { quickReading } from './quick.ts';

const slow = (line: string) => {
  try {
    const r = checkReading(JSON.parse(line), Date.UTC(2026, 4, 1), true);
    return Array.isArray(r) ? null : r;
  } catch {
    return null;
  }
};

it('reads a plain line as the full check does, and never one that the full check refuses', () => {
  // Mostly right, now and then out of range or no number as JSON has them.
  const number = (min: number, max: number) =>
    fc.oneof(
      { weight: 8, arbitrary: fc.integer({ min, max }) },
      { weight: 4, arbitrary: fc.double({ min, max, noNaN: true }) },
      { weight: 1, arbitrary: fc.integer({ min: -300, max: 3000 }) },
      { weight: 1, arbitrary: fc.constantFrom('1e3', '01', '-0', '.5', 'NaN', '"7"') },
    );
  const two = (from: number, usual: number, max: number) =>
    fc
      .oneof(
        { weight: 30, arbitrary: fc.integer({ min: from, max: usual }) },
        { weight: 1, arbitrary: fc.integer({ min: 0, max }) },
      )
      .map((n) => String(n).padStart(2, '0'));
  const time = fc
    .tuple(
      fc.integer({ min: 1970, max: 2100 }),
      two(1, 12, 13),
      two(1, 31, 32),
      two(0, 23, 25),
      two(0, 59, 61),
      two(0, 59, 61),
      fc.constantFrom('', '.123', '.000', '.5', '.1234'),
    )
    .map(([y, mo, d, h, mi, s, f]) => `${y}-${mo}-${d}T${h}:${mi}:${s}${f}Z`);
  let read = 0;
  fc.assert(
    fc.property(
      fc.constantFrom('A00001', 'a0000f', 'B0FFEE', 'FFFFFF', 'G00001'),
      time,
      number(0, 2500),
      number(-60, 250),
      fc.option(number(0, 5), { nil: null }),
      fc.option(number(-150, 20), { nil: null }),
      fc.oneof({ weight: 8, arbitrary: fc.constant('') }, { weight: 1, arbitrary: fc.constantFrom(',"more":1', ' ') }),
      (id, at, kpa, c, volts, dbm, more) => {
        const line = `{"sensorId":"${id}","time":"${at}","pressureKpa":${kpa},"tempC":${c}${volts === null ? '' : `,"batteryV":${volts}`}${dbm === null ? '' : `,"rssiDbm":${dbm}`}${more}}`;
        const quick = quickReading(line);
        if (quick === null) return;
        read += 1;
        expect(quick).toEqual(slow(line));
      },
    ),
    { numRuns: 5000 },
  );
  expect(read).toBeGreaterThan(150);
});

it('a line as programs write it is read quickly', () => {
  const line = JSON.stringify({
    sensorId: 'A00001',
    time: '2026-05-01T08:00:00.000Z',
    pressureKpa: 551.6,
    tempC: -3,
    batteryV: 2.9,
    rssiDbm: -80,
  });
  expect(quickReading(line)).toEqual({
    sensorId: 'A00001',
    ms: Date.UTC(2026, 4, 1, 8),
    pressureKpa: 551.6,
    tempC: -3,
    batteryV: 2.9,
    rssiDbm: -80,
  });
});
