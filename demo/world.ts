import { limitsFor } from '#core/alarms/limits.ts';
import { normal } from '#core/bench/random.ts';
import { packDays } from '#core/climate/daily.ts';
import { typicalYear } from '#core/climate/typical.ts';
import { fittingCard } from '#core/fitting/cards.ts';
import { USUAL_PARTS } from '#core/kit/parts.ts';
import { AXLE_LAYOUTS, type AxleLayout } from '#core/rig/positions.ts';
import { KPA_PER_BAR, KPA_PER_PSI } from '#core/units/units.ts';
import type { LoadState, PressureUnit, SensorKind } from '#schema/common.ts';
import type {
  AlarmRule,
  Axle,
  Climate,
  FirstDrive,
  LogEntry,
  NewUnit,
  Rig,
  Settings,
  Stem,
  Tool,
  TrackDay,
  Trip,
  Wheel,
} from '#schema/unit.ts';
import {
  ago,
  droneDays,
  FITTED_DAYS_AGO,
  lindenLog,
  lindenTools,
  lindenTrips,
  trailerBook,
  typicalAuweiler,
  wingLog,
} from './life.ts';

/** The demo world. All of it is invented. */

const factor: Record<PressureUnit, number> = { kPa: 1, bar: KPA_PER_BAR, psi: KPA_PER_PSI };

/** Settings of one load state from a pressure as a person would key it. */
function set(state: LoadState, text: string, unit: PressureUnit, tempC: number, rule: AlarmRule | null, hotC = 70): Settings {
  const kpa = Number(text) * factor[unit];
  const cold = { kpa, tempC, typed: { text, unit }, typedTemp: { text: String(tempC), unit: 'C' as const } };
  if (!rule) return { [state]: { cold } };
  const { lowKpa, highKpa } = limitsFor(rule, kpa);
  return { [state]: { cold, limits: { rule, lowKpa, highKpa, hotC } } };
}

interface AxleOptions {
  label?: string;
  kind?: SensorKind;
  stem?: Stem;
  /** IDs left to right; a dash for none. */
  ids?: string;
  airLitres: number;
  marking?: string;
  distanceM?: number;
  /** Max load at this cold pressure, as on the sidewall. */
  reference?: [text: string, unit: PressureUnit];
}

/** What a scale said of the two ends of an axle, kg. */
function weighed(settings: Settings, L: number, R: number): Settings {
  const mass = (kg: number) => ({ kg, typed: { text: String(kg), unit: 'kg' as const } });
  return Object.fromEntries(
    Object.entries(settings).map(([state, s]) => [state, { ...s, weighing: { L: mass(L), R: mass(R) } }]),
  );
}

function axle(number: number, layout: AxleLayout, settings: Settings, o: AxleOptions): Axle {
  const ids = o.ids?.split(' ') ?? [];
  return {
    ...(o.label ? { label: o.label } : {}),
    airLitres: o.airLitres,
    ...(o.marking ? { marking: o.marking } : {}),
    ...(o.reference
      ? {
          tire: {
            reference: {
              kpa: Number(o.reference[0]) * factor[o.reference[1]],
              typed: { text: o.reference[0], unit: o.reference[1] },
            },
          },
        }
      : {}),
    ...(o.distanceM === undefined ? {} : { distanceM: o.distanceM }),
    settings,
    wheels: AXLE_LAYOUTS[layout].map((place, i) => ({
      position: `${number}${place}`,
      sensor: ids[i] && ids[i] !== '-' ? { id: ids[i], kind: o.kind ?? 'cap' } : null,
      ...(o.stem ? { stem: o.stem } : {}),
    })),
  };
}

const share: AlarmRule = { school: 'share' };

/** Two invented years at Auweiler (180 m): a wave through the year with cold and warm spells from a fixed seed. */
function auweiler(): Climate {
  const random = { s: 20260417 };
  const minC: number[] = [];
  const maxC: number[] = [];
  let spell = 0;
  for (let day = 0; day < 731; day += 1) {
    spell = 0.82 * spell + 2.4 * normal(random);
    const mean = 10.5 - 12 * Math.cos((2 * Math.PI * (day - 18)) / 365.25) + spell;
    const half = 4.5 + 1.5 * Math.sin((2 * Math.PI * (day - 80)) / 365.25) + 0.8 * Math.abs(normal(random));
    minC.push(Math.round((mean - half) * 10) / 10);
    maxC.push(Math.round((mean + half) * 10) / 10);
  }
  return {
    coldestC: Math.min(...minC),
    hottestC: Math.max(...maxC),
    altitudeSetM: 180,
    days: { source: 'auweiler-two-years.csv', from: '2024-01-01', minC, maxC },
  };
}

export interface DemoRig {
  name: string;
  note: string;
  loadState: LoadState;
  monitor: string;
  climate?: Climate;
  repeater?: { x: number; y: number };
  firstDrive?: FirstDrive;
  log?: LogEntry[];
  tools?: Tool[];
  trips?: Trip[];
  trackDays?: TrackDay[];
  fitting?: Rig['fitting'];
  /** When every position of the monitor was seen to show its own sensor. */
  checkedAt?: string;
  units: NewUnit[];
}

/** The sensor that is on B2R now. */
const REPLACED_BY = '71A07F';

/** A wheel whose card was ticked to its end when the kit went on. */
function fitted(wheel: Wheel, place: string, nowMs: number): Wheel {
  if (!wheel.sensor) return wheel;
  const { steps } = fittingCard({
    kind: wheel.sensor.kind,
    stem: wheel.stem,
    stemForm: wheel.stemForm,
    dualInner: place.endsWith('I'),
    motorcycle: false,
    newCell: true,
    parts: USUAL_PARTS[wheel.sensor.kind],
  });
  const start = Date.parse(ago(nowMs, FITTED_DAYS_AGO, '09:00'));
  return {
    ...wheel,
    // One was replaced since.
    sensor: {
      style: 'screwedOn',
      ...(wheel.sensor.id === REPLACED_BY
        ? { pairedAt: ago(nowMs, 90, '16:10'), cellSince: ago(nowMs, 90).slice(0, 10) }
        : { pairedAt: ago(nowMs, FITTED_DAYS_AGO, '08:30') }),
      ...wheel.sensor,
    },
    fitting: { done: steps.map((code, i) => ({ code, at: new Date(start + i * 25_000).toISOString() })), leak: 'none' },
  };
}
const allFitted = (unit: NewUnit, nowMs: number): NewUnit => ({
  ...unit,
  axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map((w) => fitted(w, w.position, nowMs)) })),
  spares: unit.spares.map((x) => ({ ...x, wheel: fitted(x.wheel, x.wheel.position, nowMs) })),
});

export const LINDEN = 'Linden run';

/** When the monitor first showed each wheel of Linden run, on the afternoon of its first drive. */
const FIRST_WORDS = [
  ['A1L', '14:12'],
  ['A1R', '14:12'],
  ['A2LO', '14:14'],
  ['A2LI', '14:15'],
  ['A2RI', '14:14'],
  ['A2RO', '14:16'],
  ['B1L', '14:16'],
  ['B1R', '14:17'],
  ['B2L', '14:16'],
  ['B2R', '14:19'],
  ['BS1', '14:31'],
] as const;

/** Its rigs as they are now; what happened to them is counted back from there. @param nowMs ms since the epoch */
export const demoWorld = (nowMs: number): DemoRig[] => [
  {
    name: LINDEN,
    note: 'flatbed with dual rears, tandem hive trailer',
    loadState: 'loaded',
    monitor: 'Four-group cab monitor',
    repeater: { x: 7.4, y: 0 },
    log: lindenLog(nowMs),
    tools: lindenTools,
    trips: lindenTrips,
    checkedAt: ago(nowMs, FITTED_DAYS_AGO, '08:50'),
    fitting: { retightenedAt: ago(nowMs, FITTED_DAYS_AGO - 1, '16:30') },
    firstDrive: {
      startedAt: ago(nowMs, FITTED_DAYS_AGO, '14:10'),
      heard: Object.fromEntries(FIRST_WORDS.map(([position, clock]) => [position, ago(nowMs, FITTED_DAYS_AGO, clock)])),
      proof: {
        position: 'A1L',
        startedAt: ago(nowMs, FITTED_DAYS_AGO, '15:02'),
        cameAt: ago(nowMs, FITTED_DAYS_AGO, '15:03'),
        monitor: { did: 'rang', at: ago(nowMs, FITTED_DAYS_AGO, '15:04') },
        practice: false,
      },
    },
    climate: {
      coldestC: -2,
      hottestC: 30,
      altitudeSetM: 310,
      passM: 1940,
      days:
        packDays(
          typicalYear({ coldestMonthMinC: 3.5, warmestMonthMaxC: 24.5, coldestC: -2, hottestC: 30, seed: 11, years: 2 }),
          'a typical year, made from four figures',
        ) ?? undefined,
    },
    units: [
      allFitted(
        {
          name: 'Flatbed',
          body: { material: 'steel' },
          kind: 'vehicle',
          hitchM: 6.2,
          note: 'Wabenhof’s flatbed, hives on the bed from Lindental to the Kreuzjoch',
          axles: [
            axle(1, 'single', weighed(set('loaded', '62', 'psi', 18, { school: 'share', hotClimate: true }), 815, 830), {
              reference: ['78', 'psi'],
              label: 'front',
              stem: 'metal',
              ids: '3C41D7 3C41DA',
              marking: 'LT235/80R16 120/116Q',
              airLitres: 66,
            }),
            axle(2, 'dual', weighed(set('loaded', '56', 'psi', 18, { school: 'share', hotClimate: true }), 1290, 1315), {
              reference: ['78', 'psi'],
              label: 'rear duals',
              stem: 'metal',
              ids: '3C420B 3C4213 3C4219 3C422E',
              marking: 'LT235/80R16 120/116Q',
              distanceM: 3.9,
              airLitres: 66,
            }),
          ],
          spares: [],
        },
        nowMs,
      ),
      allFitted(
        {
          name: 'Hive trailer',
          body: { material: 'wood' },
          kind: 'trailer',
          note: 'tandem axle, 24 hives',
          idBook: trailerBook(nowMs),
          axles: [
            axle(1, 'single', weighed(set('loaded', '73', 'psi', 18, { school: 'share', hotClimate: true }), 920, 935), {
              reference: ['82', 'psi'],
              kind: 'flowThrough',
              stem: 'metal',
              ids: '71A05C 71A061',
              marking: 'ST225/75R15 117/112M',
              distanceM: 4.1,
              airLitres: 52,
            }),
            axle(2, 'single', weighed(set('loaded', '73', 'psi', 18, { school: 'share', hotClimate: true }), 905, 925), {
              reference: ['82', 'psi'],
              kind: 'flowThrough',
              stem: 'metal',
              ids: '71A066 71A07F',
              marking: 'ST225/75R15 117/112M',
              distanceM: 4.95,
              airLitres: 52,
            }),
          ],
          spares: [
            {
              wheel: { position: 'S1', sensor: { id: '3C4240', kind: 'cap' }, stem: 'metal' },
              airLitres: 52,
              settings: set('loaded', '73', 'psi', 18, { school: 'lowOnly' }),
            },
          ],
        },
        nowMs,
      ),
    ],
  },
  {
    name: 'Scout',
    note: 'motorcycle with sidecar',
    loadState: 'loaded',
    monitor: 'Low-only handlebar display',
    climate: typicalAuweiler(),
    units: [
      {
        name: 'Motorcycle and sidecar',
        kind: 'vehicle',
        note: 'the keeper’s way to the far stands; one rubber stem to be replaced before its sensor goes on',
        axles: [
          axle(1, 'centre', set('loaded', '2.2', 'bar', 18, { school: 'lowOnly' }), {
            label: 'front',
            stem: 'metal',
            ids: '5E0A14',
            airLitres: 12,
          }),
          {
            ...axle(2, 'sidecarRight', set('loaded', '2.5', 'bar', 18, { school: 'lowOnly' }), {
              label: 'rear and sidecar',
              ids: '5E0A1B -',
              airLitres: 14,
            }),
            wheels: [
              { position: '2C', sensor: { id: '5E0A1B', kind: 'cap' }, stem: 'metal' },
              { position: '2R', sensor: null, stem: 'rubber' },
            ],
          },
        ],
        spares: [],
      },
    ],
  },
  {
    name: 'Wing',
    note: 'estate car and sailplane trailer',
    loadState: 'towing',
    monitor: 'Per-axle dash display',
    climate: auweiler(),
    log: wingLog(nowMs),
    units: [
      {
        name: 'Estate car',
        kind: 'vehicle',
        axles: [
          axle(1, 'single', set('towing', '2.4', 'bar', 12, share), {
            label: 'front',
            stem: 'rubber',
            ids: '90B101 90B102',
            marking: '205/55 R16 91V',
            airLitres: 30,
          }),
          axle(2, 'single', set('towing', '2.8', 'bar', 12, share), {
            label: 'rear',
            stem: 'rubber',
            ids: '90B103 90B104',
            marking: '205/55 R16 91V',
            distanceM: 2.7,
            airLitres: 30,
          }),
        ],
        wheelSets: {
          fitted: 'summer',
          stored: [
            {
              name: 'winter',
              wheels: ['1L', '1R', '2L', '2R'].map((position, i) => ({
                position,
                sensor: { id: `90B20${i + 1}`, kind: 'cap' as const },
              })),
              markings: ['195/65 R15 91T M+S', '195/65 R15 91T M+S'],
            },
          ],
        },
        spares: [],
      },
      {
        name: 'Sailplane trailer',
        kind: 'trailer',
        axles: [
          axle(1, 'single', weighed(set('towing', '3.0', 'bar', 12, share), 480, 470), {
            stem: 'metal',
            ids: 'C7D23A C7D24F',
            marking: '185R14C 102/100Q',
            reference: ['4.5', 'bar'],
            airLitres: 28,
          }),
        ],
        spares: [
          {
            wheel: { position: 'S1', sensor: null, stem: 'metal' },
            airLitres: 28,
            settings: set('towing', '3.2', 'bar', 12, null),
          },
        ],
      },
    ],
  },
  {
    name: 'Smoker',
    note: 'camper with a towed car',
    loadState: 'towing',
    monitor: 'Baseline console',
    climate: typicalAuweiler(),
    units: [
      {
        name: 'Camper',
        kind: 'vehicle',
        axles: [
          axle(1, 'single', set('towing', '72', 'psi', 16, { school: 'baseline' }), {
            label: 'front',
            kind: 'internal',
            ids: 'A40E11 A40E12',
            airLitres: 58,
          }),
          axle(2, 'single', set('towing', '78', 'psi', 16, { school: 'baseline' }), {
            label: 'rear',
            kind: 'internal',
            ids: 'A40E1C A40E2D',
            airLitres: 58,
          }),
        ],
        spares: [],
      },
      {
        name: 'Towed car',
        kind: 'vehicle',
        axles: [
          axle(1, 'single', set('towing', '33', 'psi', 16, { school: 'baseline' }), {
            label: 'front',
            stem: 'metal',
            ids: '18F3C0 18F3C4',
            airLitres: 26,
          }),
          axle(2, 'single', set('towing', '31', 'psi', 16, { school: 'baseline' }), {
            label: 'rear',
            stem: 'metal',
            ids: '18F3CA 18F3D1',
            airLitres: 26,
          }),
        ],
        spares: [],
      },
    ],
  },
  {
    name: 'Drone',
    note: 'hill-climb car',
    loadState: 'loaded',
    monitor: 'Phone-linked receiver',
    climate: typicalAuweiler(),
    trackDays: droneDays(nowMs),
    units: [
      {
        name: 'Hill-climb car',
        kind: 'vehicle',
        note: 'caps on short metal stems',
        axles: [
          axle(
            1,
            'single',
            set('loaded', '22.5', 'psi', 11, {
              school: 'floorCeiling',
              floorKpa: 19 * KPA_PER_PSI,
              ceilingKpa: 34 * KPA_PER_PSI,
            }),
            {
              label: 'front',
              stem: 'metal',
              ids: '2B77E0 2B77E5',
              airLitres: 24,
            },
          ),
          axle(
            2,
            'single',
            set('loaded', '23.5', 'psi', 11, {
              school: 'floorCeiling',
              floorKpa: 19 * KPA_PER_PSI,
              ceilingKpa: 34 * KPA_PER_PSI,
            }),
            {
              label: 'rear',
              stem: 'metal',
              ids: '2B77EC 2B77F3',
              airLitres: 24,
            },
          ),
        ],
        spares: [],
      },
    ],
  },
];
