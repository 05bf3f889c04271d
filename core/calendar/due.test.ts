import { describe, expect, it } from 'vitest';
import type { LogEntry, Rig, Unit } from '#schema/unit.ts';
import { makeAxle } from '../rig/positions.ts';
import { dueOf, madeOn, monthsOn } from './due.ts';

const wheels = ['A1L', 'A1R', 'A2L', 'A2R'];
const axle = (n: number): Unit['axles'][number] => ({
  ...makeAxle('single', n),
  settings: { loaded: { cold: { kpa: 500, tempC: 18 } } },
  wheels: ['L', 'R'].map((side) => ({
    position: `${n}${side}`,
    sensor: { id: `C0000${n}${side === 'L' ? 1 : 2}`.slice(0, 6), kind: 'cap' },
  })),
});
const units: Unit[] = [{ id: 'a', version: 1, name: 'Van', kind: 'vehicle', axles: [axle(1), axle(2)], spares: [] }];
const rig: Rig = { id: 'r', version: 1, name: 'Van', unitIds: ['a'], loadState: 'loaded' };
const due = (change: Partial<Rig>, today = '2026-11-26') =>
  dueOf({ ...rig, ...change }, units, today).map(
    (d) => `${d.date} ${d.kind} ${d.positions.join(' ')}${d.yearly ? ' yearly' : ''}`,
  );

describe('what is due', () => {
  it('months end where the month does', () => {
    expect(monthsOn('2026-01-31', 1)).toBe('2026-02-28');
    expect(monthsOn('2023-11-30', 3)).toBe('2024-02-29');
    expect(monthsOn('2026-11-26', 12)).toBe('2027-11-26');
  });
  it('cells a year after they were put in, the latest of what is known; the log counts for a wheel or for all', () => {
    const first = units[0]?.axles[0]?.wheels[0];
    if (first?.sensor) first.sensor.cellSince = '2026-01-31';
    expect(due({})).toEqual(['2027-01-31 cells A1L']);
    const log: Rig['log'] = [
      { id: '5eed1090-0000-4000-8000-000000000001', at: '2026-03-02T10:00:00Z', kind: 'cell', position: 'A1L' },
      { id: '5eed1090-0000-4000-8000-000000000002', at: '2026-03-02T10:00:00Z', kind: 'cell', position: 'A1R' },
    ];
    expect(due({ log })).toEqual(['2027-03-02 cells A1L A1R']);
    // The kit's own time.
    const own = {
      boot: 'small',
      lockNut: true,
      setScrew: false,
      antiTheft: false,
      cell: 'CR2032',
      cellMonths: 30,
      mount: 'valve',
    } as const;
    expect(due({ log, fitting: { parts: { cap: own } } })).toEqual(['2028-09-02 cells A1L A1R']);
    // What was tried on the bench counts for nothing.
    expect(due({ log: log.map((e) => ({ ...e, practice: true as const })) })).toEqual(['2027-01-31 cells A1L']);
    if (first?.sensor) delete first.sensor.cellSince;
  });
  it('nuts the day after the first drive, until they were tightened; gauge a year on; the warranty', () => {
    const firstDrive = {
      startedAt: '2026-11-20T08:00:00Z',
      readings: { A1L: { gauge: [{ kpa: 500 }], sensorKpa: 500, airC: 20, at: '2026-11-21T09:00:00Z' } },
    };
    const all = wheels.join(' ');
    expect(due({ firstDrive, papers: { warrantyUntil: '2027-05-01' } })).toEqual([
      `2026-11-21 retighten ${all}`,
      '2027-05-01 warranty ',
      '2027-11-21 gauge ',
    ]);
    expect(due({ firstDrive, fitting: { retightenedAt: '2026-11-22T08:00:00Z' } })).toEqual(['2027-11-21 gauge ']);
  });
  it('a season comes back each year; today is not over yet', () => {
    const cold = { kpa: 500, tempC: 5 };
    const limits = { rule: { school: 'share' as const }, lowKpa: 450, highKpa: 600, hotC: 70 };
    const season = (from: string) => ({ cold, limits, coldestC: -10, hottestC: 15, from });
    const first = units[0]?.axles[0];
    if (!first?.settings.loaded) throw new Error('no axle');
    const before = first.settings.loaded;
    first.settings = { loaded: { ...before, seasons: { inForce: 'summer', winter: season('11-26'), summer: season('04-15') } } };
    expect(due({})).toEqual(['2026-11-26 winter A1 yearly', '2027-04-15 summer A1 yearly']);
    expect(due({}, '2026-11-27')[1]).toBe('2027-11-26 winter A1 yearly');
    first.settings = { loaded: before };
  });
  it('a low-battery sign today, tires at six years, a job of its own rhythm', () => {
    // ISO 8601: week 23 of 2019 begins on 3 June.
    expect(madeOn('2319')).toBe('2019-06-03');
    expect(madeOn('0121')).toBe('2021-01-04');
    const first = units[0]?.axles[0];
    if (!first) throw new Error('no axle');
    first.tire = { made: '2319' };
    const got = dueOf(
      {
        ...rig,
        upkeep: { every: { repeaterCharge: 1.5, spare: 3 } },
        log: [
          { id: '5eed1090-0000-4000-8000-000000000001', at: '2026-10-10T10:00:00Z', kind: 'upkeep', job: 'repeaterCharge' },
          {
            id: '5eed1090-0000-4000-8000-000000000002',
            at: '2026-11-20T10:00:00Z',
            kind: 'upkeep',
            job: 'repeaterCharge',
            practice: true,
          },
        ],
      },
      units,
      '2026-11-26',
      { low: ['A1R'], missed: ['A1R', 'A2L'] },
    );
    expect(got.map((d) => `${d.date} ${d.kind} ${d.job ?? d.positions.join(' ')}`)).toEqual([
      '2025-06-03 tireAge A1',
      '2026-11-25 job repeaterCharge',
      '2026-11-26 cellMissed A2L',
      '2026-11-26 cellSign A1R',
      '2026-11-26 job spare',
    ]);
    delete first.tire;
  });

  it.each([
    ['never', [], '2025-06-03', undefined],
    ['a year after the last look', ['2025-07-01', '2026-01-10'], '2027-01-10', '2026-01-10'],
    ['a year after a look shortly before six years', ['2024-12-01'], '2025-12-01', '2024-12-01'],
    ['at six years after an early look', ['2023-03-01'], '2025-06-03', undefined],
    ['at six years when the look was at the tires before', ['2019-01-01'], '2025-06-03', undefined],
  ] as const)('old tires are looked at: %s', (_name, looks, date, last) => {
    // Week 23 of 2019 began on Monday, 3 June (ISO 8601).
    const old: Unit[] = [{ ...(units[0] as Unit), axles: [{ ...axle(1), tire: { made: '2319' } }] }];
    const entry = (at: string, practice: boolean): LogEntry => ({
      id: `5eed1090-0000-4000-8000-${at.replaceAll('-', '').padStart(12, '0')}`,
      at: `${at}T10:00:00Z`,
      kind: 'upkeep',
      job: 'oldTires',
      ...(practice ? { practice: true } : {}),
    });
    const log = [...looks.map((at) => entry(at, false)), entry('2026-11-20', true)];
    const got = dueOf({ ...rig, log }, old, '2026-11-26').filter((d) => d.kind === 'tireAge');
    expect(got.map((d) => [d.date, d.last, d.positions])).toEqual([[date, last, ['A1']]]);
  });

  it('counts days where the owner is', () => {
    // 09:00 on 27 November in Auckland (UTC+13), 17:00 on 25 November in Los Angeles (UTC-8).
    const entry = (at: string, rest: Partial<LogEntry>): LogEntry => ({
      id: '5eed1090-0000-4000-8000-000000000003',
      at,
      kind: 'upkeep',
      ...rest,
    });
    const days = (zone: string, at: string) =>
      dueOf(
        {
          ...rig,
          upkeep: { every: { spare: 3 } },
          firstDrive: { startedAt: at },
          log: [entry(at, { job: 'spare' }), entry(at, { kind: 'checked' }), entry(at, { kind: 'cell', position: 'A1L' })],
        },
        units,
        '2026-11-28',
        undefined,
        zone,
      ).map((d) => `${d.kind} ${d.date} ${d.since}`);
    expect(days('Pacific/Auckland', '2026-11-26T20:00:00Z')).toEqual([
      'retighten 2026-11-28 2026-11-27',
      'job 2027-02-27 2026-11-27',
      'cells 2027-11-27 2026-11-27',
      'gauge 2027-11-27 2026-11-27',
    ]);
    expect(days('America/Los_Angeles', '2026-11-26T01:00:00Z')).toEqual([
      'retighten 2026-11-26 2026-11-25',
      'job 2027-02-25 2026-11-25',
      'cells 2027-11-25 2026-11-25',
      'gauge 2027-11-25 2026-11-25',
    ]);
  });
});
