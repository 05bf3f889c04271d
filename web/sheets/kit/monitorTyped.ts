import type { Press } from '#core/alarms/menu.ts';
import { PAIRING_SIGNS, showsOf } from '#core/pairing/signs.ts';
import { convert } from '#core/units/units.ts';
import type { Monitor, NewMonitor } from '#schema/monitor.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { PairingSign, PairingStyle } from '#schema/unit.ts';
import { parseNumber } from '../../parts/format.ts';

/** The questions, as they are typed. */
export interface Typed {
  name: string;
  positionsPerUnit: string;
  units: string;
  groups: Monitor['groups'];
  otherGroups: Monitor['groups'][];
  unit: Monitor['unit'];
  step: string;
  min: string;
  max: string;
  presetLow: string;
  presetHigh: string;
  presetHot: string;
  scanS: string;
  updateS: string;
  sleepMin: string;
  batteryHours: string;
  derivesLow: string;
  derivesHigh: string;
  saves: '' | NonNullable<Monitor['saves']>;
  alarms: NonNullable<Monitor['alarms']>;
  power: NonNullable<Monitor['power']>;
  interlock: boolean;
  canDisconnect: boolean;
  canExchange: boolean;
  note: string;
  rows: string;
  idSets: string;
  styles: PairingStyle[];
  signs: PairingSign[];
  openShows: '' | NonNullable<Monitor['openShows']>;
  pairSave: '' | NonNullable<Monitor['pairSave']>;
  listing: NonNullable<Monitor['listing']>;
  link: NonNullable<Monitor['link']>;
  batteryAs: '' | NonNullable<Monitor['batteryAs']>;
  modes: string;
  menuWalk: '' | 'group' | 'limit';
  menuFirst: 'low' | 'high';
  menuBack: boolean;
  menuFree: boolean;
  menuLast: boolean;
  menuPreset: boolean;
  menuSetUnused: boolean;
  menuRepeat: string;
  menuTimeoutS: string;
  menuGroups: string;
  confirmValue: '' | Press;
  confirmPage: '' | Press;
  tempUnit: 'C' | 'F';
  hotMin: string;
  hotMax: string;
  hotStep: string;
  presetCold: string;
  correctsTo: string;
  baselineBy: 'axle' | 'wheel';
  presetBaseline: string;
  learnedOnly: boolean;
}

const text = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n));

export function read(t: Typed): { value: NewMonitor; problems: FieldProblem[] } {
  const problems: FieldProblem[] = [];
  const need = (key: keyof Typed) => {
    const n = parseNumber(String(t[key]));
    if (n === null) problems.push({ pointer: `/${key}`, detail: 'Type a number' });
    return n ?? Number.NaN;
  };
  const maybe = (key: keyof Typed) => (String(t[key]).trim() === '' ? null : need(key));
  /** A temperature of the monitor, typed in its unit. */
  const celsius = (key: 'presetHot' | 'presetCold' | 'correctsTo') => {
    const n = maybe(key);
    return n === null ? null : Math.round(convert(n, t.tempUnit, 'C') * 1e6) / 1e6;
  };
  const optional = <K extends string>(key: K, n: number | null) => (n === null ? {} : ({ [key]: n } as Record<K, number>));
  const known = <K extends 'scanS' | 'updateS' | 'sleepMin' | 'batteryHours' | 'idSets'>(key: K) => {
    const n = maybe(key);
    return n === null ? {} : ({ [key]: n } as Record<K, number>);
  };
  const menuOf = (): NonNullable<NewMonitor['menu']> => ({
    walk: t.menuWalk === 'limit' ? 'limit' : 'group',
    first: t.menuFirst,
    wrap: t.menuBack ? 'both' : 'forward',
    ...(t.menuFree ? { order: 'free' as const } : {}),
    ...(t.menuLast ? { opens: 'last' as const } : {}),
    ...(t.menuPreset ? { starts: 'preset' as const } : {}),
    ...(t.menuSetUnused ? { setUnused: true } : {}),
    ...(t.confirmValue === '' ? {} : { confirmValue: t.confirmValue }),
    ...(t.confirmPage === '' ? {} : { confirmPage: t.confirmPage }),
    ...optional('repeat', maybe('menuRepeat')),
    ...optional('timeoutS', maybe('menuTimeoutS')),
    ...optional('groups', maybe('menuGroups')),
  });
  const value: NewMonitor = {
    name: t.name.trim(),
    groups: t.groups,
    unit: t.unit,
    step: need('step'),
    min: need('min'),
    max: need('max'),
    presetLow: maybe('presetLow'),
    presetHigh: maybe('presetHigh'),
    presetHotC: celsius('presetHot'),
    interlock: t.interlock,
    positionsPerUnit: need('positionsPerUnit'),
    units: need('units'),
    showsIds: t.signs.includes('id'),
    signs: PAIRING_SIGNS.filter((s) => t.signs.includes(s)),
    canDisconnect: t.canDisconnect,
    ...(t.canExchange ? { canExchange: true } : {}),
    ...(t.note.trim() === '' ? {} : { note: t.note.trim() }),
    ...(t.styles.length > 0 ? { styles: t.styles } : {}),
    ...(t.openShows === '' ? {} : { openShows: t.openShows }),
    ...(t.pairSave === '' ? {} : { pairSave: t.pairSave }),
    ...(t.listing === 'long' ? { listing: t.listing } : {}),
    ...(t.link === 'repeater' ? { link: t.link } : {}),
    ...(t.otherGroups.filter((g) => g !== t.groups).length > 0
      ? { otherGroups: t.otherGroups.filter((g) => g !== t.groups) }
      : {}),
    ...(t.menuWalk === '' ? {} : { menu: menuOf() }),
    ...(t.tempUnit === 'F' ? { tempUnit: t.tempUnit } : {}),
    ...optional('hotMin', maybe('hotMin')),
    ...optional('hotMax', maybe('hotMax')),
    ...optional('hotStep', maybe('hotStep')),
    ...optional('presetColdC', celsius('presetCold')),
    ...optional('correctsToC', celsius('correctsTo')),
    ...(t.groups === 'baseline'
      ? {
          ...(t.baselineBy === 'wheel' ? { baselineBy: t.baselineBy } : {}),
          ...optional('presetBaseline', maybe('presetBaseline')),
          ...(t.learnedOnly ? { learnedOnly: true } : {}),
        }
      : {}),
    ...(t.batteryAs === '' ? {} : { batteryAs: t.batteryAs }),
    ...known('idSets'),
    ...known('scanS'),
    ...known('updateS'),
    ...known('sleepMin'),
    ...known('batteryHours'),
    ...(t.saves === '' ? {} : { saves: t.saves }),
    ...(t.alarms.length > 0 ? { alarms: t.alarms } : {}),
    ...(t.power.length > 0 ? { power: t.power } : {}),
  };
  const rows = t.rows.split(/[\s,;+]+/).filter((x) => x !== '');
  if (rows.length > 0) {
    value.rows = rows.map(Number);
    if (!value.rows.every((n) => Number.isInteger(n) && n >= 1 && n <= 6))
      problems.push({ pointer: '/rows', detail: 'Positions of each row, such as 2 4 4' });
    else if (value.rows.reduce((a, n) => a + n, 0) !== value.positionsPerUnit)
      problems.push({ pointer: '/rows', detail: `Must add up to ${value.positionsPerUnit}, the positions of one list` });
  }
  const modes = t.modes.split(';').filter((x) => x.trim() !== '');
  if (modes.length > 0) {
    const parsed = modes.flatMap((m) => {
      const [, wheels, keys] = /^\s*(\d{1,2})\s*:\s*(\S.*?)\s*$/.exec(m) ?? [];
      return wheels && keys ? [{ wheels: Number(wheels), keys }] : [];
    });
    if (parsed.length < modes.length)
      problems.push({ pointer: '/modes', detail: 'Wheels, a colon and the keys, such as 4: hold SET; 6: hold SET and UP' });
    else value.wheelModes = parsed;
  }
  const low = t.groups === 'baseline' ? maybe('derivesLow') : null;
  const high = t.groups === 'baseline' ? maybe('derivesHigh') : null;
  if (low !== null) value.derives = { lowShare: low / 100, highShare: high === null ? null : high / 100 };
  else if (high !== null) problems.push({ pointer: '/derivesLow', detail: 'Type the low one too' });
  if (low !== null && (low <= 0 || low >= 100)) problems.push({ pointer: '/derivesLow', detail: 'Between 0 and 100 %' });
  if (high !== null && (high <= 0 || high > 200)) problems.push({ pointer: '/derivesHigh', detail: 'Between 0 and 200 %' });
  if (t.menuSetUnused && t.menuGroups.trim() === '')
    problems.push({ pointer: '/menuGroups', detail: 'Type how many groups its menu goes through' });
  if (value.hotMin !== undefined && value.hotMax !== undefined && value.hotMin >= value.hotMax)
    problems.push({ pointer: '/hotMax', detail: 'Must be over the lowest' });
  if (value.min >= value.max) problems.push({ pointer: '/max', detail: 'Must be over the lowest' });
  return { value, problems };
}

/** A monitor as the form begins with it. @param edit the monitor itself, not another one like it */
export function typedOf(start: Monitor | undefined, edit: boolean): Typed {
  const unit = start?.tempUnit ?? 'C';
  const temp = (c: number | null | undefined) =>
    c === null || c === undefined ? '' : String(Math.round(convert(c, 'C', unit) * 100) / 100);
  return {
    name: start ? (edit ? start.name : `${start.name}, mine`.slice(0, 80)) : '',
    positionsPerUnit: text(start?.positionsPerUnit ?? 6),
    units: text(start?.units ?? 1),
    groups: start?.groups ?? 'axle',
    otherGroups: start?.otherGroups ?? [],
    unit: start?.unit ?? 'psi',
    step: text(start?.step ?? 1),
    min: text(start?.min ?? 0),
    max: text(start?.max ?? 150),
    presetLow: text(start?.presetLow),
    presetHigh: text(start?.presetHigh),
    presetHot: start ? temp(start.presetHotC) : '70',
    scanS: text(start?.scanS),
    updateS: text(start?.updateS),
    sleepMin: text(start?.sleepMin),
    batteryHours: text(start?.batteryHours),
    derivesLow: start?.derives ? text(Math.round(start.derives.lowShare * 1000) / 10) : '',
    derivesHigh: start?.derives && start.derives.highShare !== null ? text(Math.round(start.derives.highShare * 1000) / 10) : '',
    saves: start?.saves ?? '',
    alarms: start?.alarms ?? [],
    power: start?.power ?? [],
    interlock: start?.interlock ?? true,
    canDisconnect: start?.canDisconnect ?? false,
    canExchange: start?.canExchange ?? false,
    note: start?.note ?? '',
    rows: start?.rows?.join(' ') ?? '',
    idSets: text(start?.idSets),
    styles: start?.styles ?? [],
    signs: [...showsOf(start).signs],
    openShows: start?.openShows ?? '',
    pairSave: start?.pairSave ?? '',
    menuWalk: start?.menu?.walk ?? '',
    menuFirst: start?.menu?.first ?? 'low',
    menuBack: start?.menu?.wrap === 'both',
    menuFree: start?.menu?.order === 'free',
    menuLast: start?.menu?.opens === 'last',
    menuPreset: start?.menu?.starts === 'preset',
    menuSetUnused: start?.menu?.setUnused ?? false,
    menuRepeat: text(start?.menu?.repeat),
    menuTimeoutS: text(start?.menu?.timeoutS),
    menuGroups: text(start?.menu?.groups),
    confirmValue: start?.menu?.confirmValue ?? '',
    confirmPage: start?.menu?.confirmPage ?? '',
    tempUnit: unit,
    hotMin: text(start?.hotMin),
    hotMax: text(start?.hotMax),
    hotStep: text(start?.hotStep),
    presetCold: temp(start?.presetColdC),
    correctsTo: temp(start?.correctsToC),
    baselineBy: start?.baselineBy ?? 'axle',
    presetBaseline: text(start?.presetBaseline),
    learnedOnly: start?.learnedOnly ?? false,
    listing: start?.listing ?? 'unit',
    link: start?.link ?? 'direct',
    batteryAs: start?.batteryAs ?? '',
    modes: start?.wheelModes?.map((m) => `${m.wheels}: ${m.keys}`).join('; ') ?? '',
  };
}

/** What a monitor remembers beside its description: names of its places, and what was keyed into it. */
export const memory = ({ placeNames, keyed, keyedHotC, keyedColdC }: Monitor) => ({
  ...(placeNames === undefined ? {} : { placeNames }),
  ...(keyed === undefined ? {} : { keyed }),
  ...(keyedHotC === undefined ? {} : { keyedHotC }),
  ...(keyedColdC === undefined ? {} : { keyedColdC }),
});
