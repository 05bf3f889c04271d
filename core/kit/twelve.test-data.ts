import type { SensorKind } from '#schema/common.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { AlarmRule, LooseParts, Rig, Unit } from '#schema/unit.ts';
import { type AxleLayout, makeAxle } from '../rig/positions.ts';
import { USUAL_PARTS } from './parts.ts';

/** A kit as an owner describes it, on a rig it is sold for. All of it invented. */
export interface Kit {
  name: string;
  units: Unit[];
  monitor: Monitor;
  pairing: NonNullable<Rig['pairing']> & { kind: SensorKind };
  /** Kind of the sensors of a trailer, where they are others. */
  trailerKind?: SensorKind;
  parts?: NonNullable<Rig['fitting']>['parts'];
  rule: AlarmRule;
  rig?: Partial<Rig>;
  /** Cold pressure of each unit, kPa. */
  coldKpa: number[];
  /** What this kit hasn't got, so that no sentence may speak of it. */
  without: RegExp;
}

const unit = (name: string, kind: Unit['kind'], axles: AxleLayout[], spares = 0): Unit => ({
  id: name,
  version: 1,
  name,
  kind,
  axles: axles.map((l, i) => makeAxle(l, i + 1)),
  spares: Array.from({ length: spares }, (_, i) => ({ wheel: { position: `S${i + 1}`, sensor: null }, settings: {} })),
});
const car = (name = 'Estate') => unit(name, 'vehicle', ['single', 'single']);
const monitor = (change: Partial<Monitor> & Pick<Monitor, 'name'>): Monitor => ({
  id: 'm',
  version: 1,
  groups: 'axle',
  unit: 'psi',
  step: 1,
  min: 3,
  max: 168,
  presetLow: 47,
  presetHigh: 96,
  presetHotC: 73,
  interlock: true,
  positionsPerUnit: 6,
  rows: [2, 2, 2],
  units: 2,
  showsIds: true,
  canDisconnect: true,
  saves: 'shortPress',
  ...change,
});
const share: AlarmRule = { school: 'share', lowShare: 0.13 };
const part = (kind: SensorKind, change: Partial<LooseParts>) => ({ [kind]: { ...USUAL_PARTS[kind], ...change } });
const DIGITS = /digit|FF FF|\bIDs?\b/;
const LAMP = /lamp|red to green/;
const BEEP = /beep|tone/;
const any = (...list: RegExp[]) => new RegExp(list.map((r) => r.source).join('|'), 'i');
const NUTS = /nut\b/;
const BOOT = /boot/;
const SCREW_OWN = /set screw/;

/** Kits that the trade really uses, each different in what it shows, how it is paired and what comes with it. */
export const TWELVE_KITS: Kit[] = [
  {
    name: 'caps with an ID on the display, screwed on',
    units: [car()],
    monitor: monitor({ name: 'Digit box', units: 1 }),
    pairing: { style: 'screwedOn', limitsFirst: true, kind: 'cap' },
    rule: share,
    coldKpa: [231],
    without: any(LAMP, BEEP, SCREW_OWN),
  },
  {
    name: 'caps without an ID, a lamp, held near at the table',
    units: [car(), unit('Cart', 'trailer', ['single'])],
    monitor: monitor({ name: 'Lamp box', showsIds: false, signs: ['lamp'], openShows: 'skipped', pairSave: 'end' }),
    pairing: { style: 'heldNear', limitsFirst: false, kind: 'cap' },
    parts: part('cap', { lockNut: false }),
    rule: share,
    coldKpa: [236, 281],
    without: any(DIGITS, BEEP, NUTS, SCREW_OWN),
  },
  {
    name: 'caps without an ID, only a pressure, cell put in at the wheel',
    units: [unit('Sidecar rig', 'vehicle', ['centre', 'sidecarRight'])],
    monitor: monitor({
      name: 'Plain box',
      units: 1,
      showsIds: false,
      signs: ['pressure'],
      openShows: 'dashes',
      pairSave: 'none',
    }),
    pairing: { style: 'cellIn', limitsFirst: true, kind: 'cap' },
    parts: part('cap', { boot: 'none' }),
    rule: share,
    coldKpa: [222],
    without: any(DIGITS, LAMP, BEEP, BOOT, SCREW_OWN),
  },
  {
    name: 'caps coded by position, marked with letters',
    units: [car()],
    monitor: monitor({ name: 'Coded box', units: 1, showsIds: false, signs: ['pressure'], openShows: 'dashes' }),
    pairing: { style: 'factory', limitsFirst: true, kind: 'cap' },
    rule: share,
    coldKpa: [239],
    without: any(DIGITS, LAMP, BEEP, SCREW_OWN),
  },
  {
    name: 'a learned car and a coded trailer set in a tray',
    units: [car(), unit('Caravan', 'trailer', ['single', 'single'])],
    monitor: monitor({ name: 'Mixed box', units: 3 }),
    pairing: { style: 'heldNear', limitsFirst: true, kind: 'cap', byUnit: { B: 'factory' } },
    rule: share,
    coldKpa: [243, 365],
    without: any(LAMP, BEEP, SCREW_OWN),
  },
  {
    name: 'a phone that hears its sensors through a repeater, a trailer alone',
    units: [unit('Hay trailer', 'trailer', ['single', 'single'])],
    monitor: monitor({ name: 'Phone', units: 1, link: 'repeater', batteryAs: 'percent', saves: 'byItself', pairSave: 'none' }),
    pairing: { style: 'phoneFirst', limitsFirst: true, kind: 'flowThrough' },
    rig: { towVehicle: { dashToCouplingM: 6, body: 'steel' }, repeater: { x: 0.2, y: 0, seatDb: -68 } },
    rule: share,
    coldKpa: [447],
    without: any(LAMP, BEEP),
  },
  {
    name: 'a console with a baseline',
    units: [unit('Camper', 'vehicle', ['single', 'single']), car('Runabout')],
    monitor: monitor({
      name: 'Console',
      groups: 'baseline',
      presetLow: null,
      presetHigh: null,
      derives: { lowShare: 0.11, highShare: 0.22 },
      signs: ['id', 'beep'],
    }),
    pairing: { style: 'heldNear', limitsFirst: false, kind: 'cap' },
    rule: { school: 'baseline' },
    coldKpa: [392, 217],
    without: any(LAMP, SCREW_OWN),
  },
  {
    name: 'low only, on a motorcycle',
    units: [unit('Tourer', 'vehicle', ['centre', 'centre'])],
    monitor: monitor({
      name: 'Pair of dials',
      unit: 'bar',
      step: 0.1,
      min: 0.9,
      max: 3.9,
      presetLow: 1.7,
      presetHigh: null,
      units: 1,
      positionsPerUnit: 2,
      rows: [1, 1],
      showsIds: false,
      signs: ['pressure', 'beep'],
      openShows: 'dashes',
    }),
    pairing: { style: 'screwedOn', limitsFirst: true, kind: 'cap' },
    rule: { school: 'lowOnly', lowShare: 0.12 },
    coldKpa: [238],
    without: any(DIGITS, LAMP, SCREW_OWN),
  },
  {
    name: 'internal sensors on the valve, with a wake tool',
    units: [car('Saloon')],
    monitor: monitor({ name: 'Horn box', units: 1, showsIds: false, signs: ['beep'], openShows: 'code' }),
    pairing: { style: 'wakeTool', limitsFirst: true, kind: 'internal' },
    rule: share,
    coldKpa: [228],
    without: any(DIGITS, LAMP, NUTS, BOOT, SCREW_OWN),
  },
  {
    name: 'internal sensors on a band, the monitor carried to the wheel',
    units: [unit('Flatbed', 'vehicle', ['single', 'dual']), unit('Tipper', 'trailer', ['single', 'single'], 1)],
    monitor: monitor({ name: 'Hand box', positionsPerUnit: 8, rows: [2, 4, 2], units: 4, groups: 'unit' }),
    pairing: { style: 'carried', limitsFirst: true, kind: 'internal' },
    parts: part('internal', { mount: 'band' }),
    rule: share,
    coldKpa: [433, 512],
    without: any(LAMP, BEEP, NUTS, BOOT, SCREW_OWN),
  },
  {
    name: 'anti-theft caps on a truck, flow-throughs with set screws on its trailer',
    units: [unit('Truck', 'vehicle', ['single', 'dual']), unit('Low loader', 'trailer', ['dual', 'dual'])],
    monitor: monitor({ name: 'Cab box', positionsPerUnit: 10, rows: [2, 4, 4], groups: 'rearWithTrailer', saves: 'longPress' }),
    pairing: { style: 'screwedOn', limitsFirst: true, kind: 'cap' },
    trailerKind: 'flowThrough',
    parts: {
      ...part('cap', { antiTheft: true, lockNut: false, boot: 'none' }),
      ...part('flowThrough', { lockNut: false, boot: 'none' }),
    },
    rule: share,
    coldKpa: [634, 634],
    without: any(LAMP, BEEP, /lock nut|nut back/, BOOT),
  },
  {
    name: 'one long list of 22 places',
    units: [
      unit('Bus', 'vehicle', ['single', 'dual'], 1),
      unit('Box trailer', 'trailer', ['single', 'single', 'single'], 1),
      car('Buggy'),
    ],
    monitor: monitor({
      name: 'Long list',
      listing: 'long',
      positionsPerUnit: 22,
      rows: Array.from({ length: 11 }, () => 2),
      units: 1,
      placeNames: { '0.0.0': 'T01', '0.0.1': 'T02' },
    }),
    pairing: { style: 'heldNear', limitsFirst: true, kind: 'cap' },
    rule: share,
    coldKpa: [521, 466, 205],
    without: any(LAMP, BEEP, SCREW_OWN),
  },
];
