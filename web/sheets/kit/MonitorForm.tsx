import { useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { PAIRING_STYLES } from '#core/pairing/guide.ts';
import { PAIRING_SIGNS, showsOf } from '#core/pairing/signs.ts';
import type { Monitor, NewMonitor } from '#schema/monitor.ts';
import type { FieldProblem } from '#schema/problem.ts';
import type { PairingSign, PairingStyle } from '#schema/unit.ts';
import { validators } from '../../../generated/forms.js';
import { ask } from '../../data/api.ts';
import { keys } from '../../data/queries.ts';
import { Box, Field } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { signNames, styleNames } from '../../parts/pairing-words.ts';
import { checkedBy } from '../../state/forms.ts';
import { toastError } from '../../state/toast.ts';

/** The questions, as they are typed. */
interface Typed {
  name: string;
  positionsPerUnit: string;
  units: string;
  groups: Monitor['groups'];
  unit: Monitor['unit'];
  step: string;
  min: string;
  max: string;
  presetLow: string;
  presetHigh: string;
  presetHotC: string;
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
}

const optionNames: Record<string, string> = { usb: 'USB', socket: '12 V socket', ...signNames, ...styleNames };

const text = (n: number | null | undefined) => (n === null || n === undefined ? '' : String(n));

function read(t: Typed): { value: NewMonitor; problems: FieldProblem[] } {
  const problems: FieldProblem[] = [];
  const need = (key: keyof Typed) => {
    const n = parseNumber(String(t[key]));
    if (n === null) problems.push({ pointer: `/${key}`, detail: 'Type a number' });
    return n ?? Number.NaN;
  };
  const maybe = (key: keyof Typed) => (String(t[key]).trim() === '' ? null : need(key));
  const known = <K extends 'scanS' | 'updateS' | 'sleepMin' | 'batteryHours' | 'idSets'>(key: K) => {
    const n = maybe(key);
    return n === null ? {} : ({ [key]: n } as Record<K, number>);
  };
  const value: NewMonitor = {
    name: t.name.trim(),
    groups: t.groups,
    unit: t.unit,
    step: need('step'),
    min: need('min'),
    max: need('max'),
    presetLow: maybe('presetLow'),
    presetHigh: maybe('presetHigh'),
    presetHotC: maybe('presetHotC'),
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
    ...(t.menuWalk === '' || t.groups === 'baseline'
      ? {}
      : { menu: { walk: t.menuWalk, first: t.menuFirst, wrap: t.menuBack ? ('both' as const) : ('forward' as const) } }),
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
  if (value.min >= value.max) problems.push({ pointer: '/max', detail: 'Must be over the lowest' });
  return { value, problems };
}

const openNames: Record<NonNullable<Monitor['openShows']>, string> = {
  allF: 'all F (FF FF FF)',
  code: 'its position',
  dashes: 'dashes',
  skipped: 'nothing: it is skipped',
};
const pairSaveNames: Record<NonNullable<Monitor['pairSave']>, string> = {
  each: 'after each wheel',
  end: 'once, at the end',
  none: 'by itself: leave the menu',
};

/** What a monitor remembers beside its description: names of its places, and what was keyed into it. */
const memory = ({ placeNames, keyed, keyedHotC }: Monitor) => ({
  ...(placeNames === undefined ? {} : { placeNames }),
  ...(keyed === undefined ? {} : { keyed }),
  ...(keyedHotC === undefined ? {} : { keyedHotC }),
});

/** A monitor described by what it can do. @param start what it begins with @param edit change that one instead of making another */
export function MonitorForm({
  start,
  edit,
  onClose,
  onMade,
}: {
  start: Monitor | undefined;
  edit: boolean;
  onClose: () => void;
  onMade: (m: Monitor) => void;
}) {
  const client = useQueryClient();
  const form = useForm<Typed, unknown, NewMonitor>({
    defaultValues: {
      name: start ? (edit ? start.name : `${start.name}, mine`.slice(0, 80)) : '',
      positionsPerUnit: text(start?.positionsPerUnit ?? 6),
      units: text(start?.units ?? 1),
      groups: start?.groups ?? 'axle',
      unit: start?.unit ?? 'psi',
      step: text(start?.step ?? 1),
      min: text(start?.min ?? 0),
      max: text(start?.max ?? 150),
      presetLow: text(start?.presetLow),
      presetHigh: text(start?.presetHigh),
      presetHotC: start ? text(start.presetHotC) : '70',
      scanS: text(start?.scanS),
      updateS: text(start?.updateS),
      sleepMin: text(start?.sleepMin),
      batteryHours: text(start?.batteryHours),
      derivesLow: start?.derives ? text(Math.round(start.derives.lowShare * 1000) / 10) : '',
      derivesHigh:
        start?.derives && start.derives.highShare !== null ? text(Math.round(start.derives.highShare * 1000) / 10) : '',
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
      listing: start?.listing ?? 'unit',
      link: start?.link ?? 'direct',
      batteryAs: start?.batteryAs ?? '',
      modes: start?.wheelModes?.map((m) => `${m.wheels}: ${m.keys}`).join('; ') ?? '',
    },
    resolver: checkedBy(validators.monitor, read),
  });
  const errors = form.formState.errors as Record<string, { message?: string } | undefined>;
  const save = form.handleSubmit(async (value) => {
    try {
      const made =
        edit && start
          ? await ask('monitors.replace', {
              params: { id: start.id },
              body: { ...value, ...memory(start), id: start.id, version: start.version },
            })
          : await ask('monitors.create', { body: value });
      await client.invalidateQueries({ queryKey: keys.monitors });
      onMade(made);
    } catch (error) {
      toastError(error);
    }
  });
  const number = (key: keyof Typed, label: string, unit?: string) => (
    <Field label={label} inputMode="decimal" {...(unit ? { unit } : {})} error={errors[key]?.message} {...form.register(key)} />
  );
  return (
    <Box open title={edit ? 'Edit the monitor' : 'Describe your monitor'} onClose={onClose}>
      <form onSubmit={save} noValidate className="flex flex-col gap-3">
        <Field
          label="What do you call it?"
          autoFocus
          error={errors.name ? 'Give it a name' : undefined}
          {...form.register('name')}
        />
        <Field label="A note (empty: none)" error={errors.note?.message} {...form.register('note')} />
        <div className="grid grid-cols-2 gap-3">
          <div className="field col-span-2">
            <label htmlFor="listing">Its positions are</label>
            <select id="listing" className="input" {...form.register('listing')}>
              <option value="unit">a list for each vehicle or trailer</option>
              <option value="long">one long list for a whole rig</option>
            </select>
          </div>
          {number(
            'positionsPerUnit',
            form.watch('listing') === 'long' ? 'Places in its list' : 'Positions for one vehicle or trailer',
          )}
          {number('units', form.watch('listing') === 'long' ? 'How many such lists' : 'How many vehicles and trailers')}
          <Field
            label="Positions row by row, from the front (empty: by the count)"
            placeholder="2 4 4"
            error={errors.rows?.message}
            {...form.register('rows')}
          />
          {number('idSets', 'Sets of sensors it holds at once (empty: one)')}
          <div className="field">
            <label htmlFor="groups">Limits go</label>
            <select id="groups" className="input" {...form.register('groups')}>
              <option value="axle">by axle</option>
              <option value="unit">by axle, a trailer as one</option>
              <option value="rearWithTrailer">rear axles with the trailer</option>
              <option value="wheel">by wheel</option>
              <option value="all">one pair for all</option>
              <option value="baseline">by a baseline, it derives them</option>
            </select>
          </div>
          <div className="field">
            <label htmlFor="munit">Keyed in</label>
            <select id="munit" className="input" {...form.register('unit')}>
              <option>psi</option>
              <option>bar</option>
              <option>kPa</option>
            </select>
          </div>
          {form.watch('groups') !== 'baseline' && (
            <>
              <div className="field">
                <label htmlFor="menuWalk">Its limit menu goes</label>
                <select id="menuWalk" className="input" {...form.register('menuWalk')}>
                  <option value="">unknown</option>
                  <option value="group">group by group</option>
                  <option value="limit">limit by limit: all of one, then all of the other</option>
                </select>
              </div>
              <div className="field">
                <label htmlFor="menuFirst">In it comes first</label>
                <select id="menuFirst" className="input" {...form.register('menuFirst')}>
                  <option value="low">the low limit</option>
                  <option value="high">the high limit</option>
                </select>
              </div>
            </>
          )}
          {number('step', 'Smallest step')}
          {number('min', 'Lowest it takes')}
          {number('max', 'Highest it takes')}
          {number('presetLow', 'Low as it came (empty: none)')}
          {number('presetHigh', 'High as it came (empty: none)')}
          {number('presetHotC', 'Hot as it came (empty: none)', '°C')}
          {form.watch('groups') === 'baseline' && (
            <>
              {number('derivesLow', 'Low alarm below the baseline by (empty: unknown)', '%')}
              {number('derivesHigh', 'High alarm above the baseline by (empty: unknown)', '%')}
            </>
          )}
          <Field
            label="Modes by number of wheels and their keys (empty: none)"
            placeholder="4: hold SET; 6: hold SET and UP"
            className="col-span-2"
            error={errors.modes?.message}
            {...form.register('modes')}
          />
          <div className="field">
            <label htmlFor="link">Sensors reach it</label>
            <select id="link" className="input" {...form.register('link')}>
              <option value="direct">by themselves</option>
              <option value="repeater">only through a repeater (a phone)</option>
            </select>
          </div>
          <div className="field">
            <label htmlFor="batteryAs">A sensor’s battery is shown</label>
            <select id="batteryAs" className="input" {...form.register('batteryAs')}>
              <option value="">unknown</option>
              <option value="volts">in volts</option>
              <option value="percent">in percent</option>
              <option value="bars">as bars</option>
              <option value="none">not at all</option>
            </select>
          </div>
          {number('scanS', 'One scan of all wheels takes', 's')}
          {number('updateS', 'A sensor reports on the move every (empty: unknown)', 's')}
          {number('sleepMin', 'Sleeps at rest after', 'min')}
          {number('batteryHours', 'On its own battery', 'h')}
          <div className="field">
            <label htmlFor="saves">Keeps what is keyed</label>
            <select id="saves" className="input" {...form.register('saves')}>
              <option value="">unknown</option>
              <option value="byItself">by itself</option>
              <option value="shortPress">with a press</option>
              <option value="longPress">with a long press</option>
              <option value="extraPress">with one more press</option>
            </select>
          </div>
        </div>
        <div className="grid grid-cols-2 gap-3">
          {(
            [
              ['openShows', 'At a position without a sensor it shows', openNames],
              ['pairSave', 'Paired sensors are saved', pairSaveNames],
            ] as const
          ).map(([key, label, names]) => (
            <div key={key} className="field">
              <label htmlFor={key}>{label}</label>
              <select id={key} className="input" {...form.register(key)}>
                <option value="">unknown</option>
                {Object.entries(names).map(([value, name]) => (
                  <option key={value} value={value}>
                    {name}
                  </option>
                ))}
              </select>
            </div>
          ))}
        </div>
        {(
          [
            ['alarms', 'It alarms for', ['low', 'high', 'hot', 'rapid', 'slow', 'silent', 'battery']],
            ['power', 'It runs from', ['battery', 'sun', 'usb', 'socket']],
            ['signs', 'When it took a sensor it shows (none: no sign)', PAIRING_SIGNS],
            ['styles', 'Its sensors are paired (none: any way)', PAIRING_STYLES],
          ] as const
        ).map(([key, label, options]) => (
          <fieldset key={key} className="text-[14px]">
            <legend className="text-[13px] text-ink2">{label}</legend>
            <div className="flex flex-wrap gap-x-4 gap-y-1">
              {options.map((o) => (
                <label key={o} className="flex items-center gap-2">
                  <input type="checkbox" value={o} className="size-[18px] accent-ink" {...form.register(key)} />
                  {optionNames[o] ?? o}
                </label>
              ))}
            </div>
          </fieldset>
        ))}
        {(
          [
            ['interlock', 'Refuses a high under the low while keying'],
            ['menuBack', 'Its limit menu goes back as well as on'],
            ['canDisconnect', 'Can disconnect a trailer'],
            ['canExchange', 'Can exchange two positions without pairing again'],
          ] as const
        ).map(([key, label]) => (
          <label key={key} className="flex items-center gap-2 text-[14px]">
            <input type="checkbox" className="size-[18px] accent-ink" {...form.register(key)} />
            {label}
          </label>
        ))}
        <div>
          <button type="submit" className="btn btn-solid" disabled={form.formState.isSubmitting}>
            {edit ? 'Save the monitor' : 'Use this monitor'}
          </button>
        </div>
      </form>
    </Box>
  );
}
