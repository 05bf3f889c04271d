import { packDays } from '#core/climate/daily.ts';
import { typicalYear } from '#core/climate/typical.ts';
import { convert } from '#core/units/units.ts';
import type { BookEntry, Climate, LogEntry, Stated, Tool, TrackDay, Trip } from '#schema/unit.ts';

/** What happened to the demo's rigs in the year before now. All of it is invented. */

const DAY_MS = 86_400_000;

/** The kit went on a little over a year ago. */
export const FITTED_DAYS_AGO = 371;

/** A moment so many days before now, at an hour of that day (UTC): `2026-04-11T08:10:00.000Z`. */
export function ago(nowMs: number, days: number, time = '09:00'): string {
  const day = new Date(nowMs - days * DAY_MS).toISOString().slice(0, 10);
  return `${day}T${time}:00.000Z`;
}

const psi = (text: string): Stated => ({ kpa: convert(Number(text), 'psi', 'kPa'), typed: { text, unit: 'psi' } });
const sensor = (n: number): number => convert(n, 'psi', 'kPa');

type Wrote = Omit<LogEntry, 'id' | 'at'>;
/** Entries of the log with IDs of their own. */
function numbered(first: number, entries: readonly (readonly [at: string, entry: Wrote])[]): LogEntry[] {
  return entries.map(([at, entry], i) => ({
    id: `5eed1090-0000-4000-8000-${String(first + i).padStart(12, '0')}`,
    at,
    ...entry,
  }));
}

/** A set of gauge readings beside the sensors, wheel by wheel: `[wheel, gauge, sensor]`. */
const gaugeSet = (
  at: (minute: number) => string,
  rows: readonly (readonly [position: string, gauge: string, shown: number])[],
): [string, Wrote][] =>
  rows.map(([position, gauge, shown], i) => [
    at(i),
    { kind: 'checked', position, before: psi(gauge), sensorKpa: sensor(shown), tool: 'stick gauge' },
  ]);

/** A year with the hives: what the keepers wrote down. */
export function lindenLog(nowMs: number): LogEntry[] {
  const at = (days: number, time?: string) => ago(nowMs, days, time);
  const minute = (days: number, hour: number) => (i: number) =>
    at(days, `${String(hour).padStart(2, '0')}:${String(10 + 3 * i)}`);
  const spring = gaugeSet(minute(232, 8), [
    ['A1L', '61.5', 60.8],
    ['A1R', '60', 59.6],
    ['A2LO', '55', 54.1],
    ['A2LI', '54.5', 54.2],
    ['A2RI', '55.5', 54.6],
    ['A2RO', '55', 54.4],
    ['B1L', '70', 69.5],
    ['B2R', '70.5', 69.8],
  ]);
  const autumn = gaugeSet(minute(50, 7), [
    ['A1L', '60', 59.2],
    ['A2RO', '54', 53.6],
    ['B1L', '71', 70.3],
    ['B2L', '70', 69.2],
  ]);
  return numbered(1, [
    [at(FITTED_DAYS_AGO - 1, '17:20'), { kind: 'drive', note: 'First drive with the kit, Lindental and back.' }],
    [at(330, '09:20'), { kind: 'stored', note: 'Trailer under the roof until the willows bloom, truck on the road.' }],
    [at(260, '08:30'), { kind: 'filled', note: 'All wheels set for the season.', tool: 'garage pump' }],
    ...spring,
    [
      at(230, '08:25'),
      { kind: 'filled', position: 'B1L', before: psi('69'), after: psi('74.2'), sensorKpa: sensor(73.1), tool: 'garage pump' },
    ],
    [
      at(230, '08:31'),
      { kind: 'filled', position: 'B2R', before: psi('69'), after: psi('74'), sensorKpa: sensor(72.7), tool: 'garage pump' },
    ],
    [
      at(230, '08:40'),
      { kind: 'filled', position: 'A1L', before: psi('60'), after: psi('63'), sensorKpa: sensor(61.8), tool: 'garage pump' },
    ],
    [
      at(208, '17:05'),
      {
        kind: 'puncture',
        position: 'A1R',
        before: psi('49'),
        after: psi('62'),
        note: 'A nail in the tread, found because the watch told of a slow loss. Repaired from inside by the tire shop.',
      },
    ],
    [at(194, '18:40'), { kind: 'drive', note: 'Hives from Lindental to Heidmoor, lime bloom.' }],
    [at(128, '07:30'), { kind: 'cell', position: 'B1R', note: 'Dropped out on two cold mornings. New cell, new seal.' }],
    [at(90, '16:15'), { kind: 'note', position: 'B2R', note: 'Sensor cracked by a stone, a new one paired.' }],
    [at(75, '10:15'), { kind: 'rotated', note: 'Front left and right exchanged, the sensors put back by position.' }],
    ...autumn,
    [at(1, '06:40'), { kind: 'filled', note: 'All wheels set before the run.', tool: 'garage pump' }],
  ]);
}

export const lindenTools: Tool[] = [
  { name: 'garage pump', flowLitresPerMin: 38, mostRunMin: 12, restMin: 15 },
  { name: 'stick gauge' },
];

/** Sensors that were on the trailer before. */
export const trailerBook = (nowMs: number): BookEntry[] => [
  {
    position: '2R',
    sensorId: '71A06D',
    kind: 'flowThrough',
    since: ago(nowMs, FITTED_DAYS_AGO, '09:40'),
    style: 'screwedOn',
    until: ago(nowMs, 90, '16:05'),
    why: 'replaced',
  },
];

/** Over the pass with the hives, and back by the valley. */
export const lindenTrips: Trip[] = [
  {
    id: '5eed1090-0000-4000-9000-000000000001',
    name: 'Hives over the Kreuzjoch',
    airC: 8,
    stages: [
      { name: 'Lindental', km: 0, heightM: 310 },
      { name: 'Kreuzjoch', km: 46, heightM: 1940 },
      { name: 'Auweiler', km: 98, heightM: 180 },
      { name: 'Heidmoor', km: 171, heightM: 45 },
    ],
  },
];

/** A day on the hill: three runs, bled between them. */
export function droneDays(nowMs: number): TrackDay[] {
  const run = (airC: number, reads: Record<string, Partial<Record<'cold' | 'peak' | 'pit' | 'bled', string>>>) => ({
    airC,
    wheels: Object.fromEntries(
      Object.entries(reads).map(([p, r]) => [p, Object.fromEntries(Object.entries(r).map(([k, text]) => [k, psi(text)]))]),
    ),
  });
  return [
    {
      id: '5eed1090-0000-4000-9000-000000000002',
      date: ago(nowMs, 41).slice(0, 10),
      place: 'Kreuzjoch hill climb',
      direction: 'counter',
      target: psi('27.5'),
      sessions: [
        run(9, {
          A1L: { cold: '22.5', peak: '28.4', pit: '27.6', bled: '1' },
          A1R: { cold: '22.5', peak: '29.6', pit: '28.9', bled: '2' },
          A2L: { cold: '23.5', peak: '27.2', pit: '26.8' },
          A2R: { cold: '23.5', peak: '27.9', pit: '27.5', bled: '0.5' },
        }),
        run(13, {
          A1L: { peak: '27.9', pit: '27.2' },
          A1R: { peak: '28.2', pit: '27.4', bled: '0.5' },
          A2L: { peak: '27.5', pit: '27' },
          A2R: { peak: '27.6', pit: '27.3' },
        }),
        run(15, { A1L: { pit: '27.1' }, A1R: { pit: '27' }, A2L: { pit: '27.2' }, A2R: { pit: '27.3' } }),
      ],
    },
  ];
}

/** Summer wheels off, winter wheels on, and back. */
export const wingLog = (nowMs: number): LogEntry[] =>
  numbered(101, [
    [
      ago(nowMs, 352, '10:00'),
      { kind: 'rotated', note: 'Winter wheels on. Their sensors answer within half an hour of driving.' },
    ],
    [ago(nowMs, 218, '10:30'), { kind: 'rotated', note: 'Summer wheels on, tread 5 mm and more.' }],
    [ago(nowMs, 160, '08:15'), { kind: 'filled', position: 'B1L', note: 'Trailer stood since autumn.' }],
  ]);

/** A typical year at Auweiler (180 m), for rigs that have no weather file. */
export function typicalAuweiler(): Climate {
  const days = packDays(
    typicalYear({ coldestMonthMinC: -2.5, warmestMonthMaxC: 25.5, coldestC: -14, hottestC: 34, seed: 29, years: 2 }),
    'a typical year of Auweiler, made from four figures',
  );
  return { coldestC: -14, hottestC: 34, altitudeSetM: 180, ...(days ? { days } : {}) };
}
