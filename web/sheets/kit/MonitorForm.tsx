import { useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { PAIRING_STYLES } from '#core/pairing/guide.ts';
import { PAIRING_SIGNS } from '#core/pairing/signs.ts';
import type { Monitor, NewMonitor } from '#schema/monitor.ts';
import { validators } from '../../../generated/forms.js';
import { ask } from '../../data/api.ts';
import { keys } from '../../data/queries.ts';
import { Box } from '../../parts/Box.tsx';
import { Field } from '../../parts/controls.tsx';
import { signNames, styleNames } from '../../parts/pairing-words.ts';
import { groupingNames } from '../../parts/words-held.ts';
import { checkedBy } from '../../state/forms.ts';
import { toastError } from '../../state/toast.ts';
import { MenuFields, TemperatureFields } from './MenuFields.tsx';
import { memory, read, type Typed, typedOf } from './monitorTyped.ts';

/** Fields that the monitor has under another name. */
const schemaNames: Partial<Record<keyof Typed, [string, string?]>> = {
  menuRepeat: ['menu', 'repeat'],
  menuTimeoutS: ['menu', 'timeoutS'],
  menuGroups: ['menu', 'groups'],
  presetHot: ['presetHotC'],
  presetCold: ['presetColdC'],
  correctsTo: ['correctsToC'],
};

const optionNames: Record<string, string> = { ...groupingNames, usb: 'USB', socket: '12 V socket', ...signNames, ...styleNames };

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
    defaultValues: typedOf(start, edit),
    resolver: checkedBy(validators.monitor, read),
  });
  const errors = form.formState.errors as Record<string, { message?: string } | undefined>;
  const faultOf = (key: keyof Typed): string | undefined => {
    const own = errors[key]?.message;
    const [first, second] = schemaNames[key] ?? [];
    if (own !== undefined || first === undefined) return own;
    const at = form.formState.errors as Record<string, { message?: string } & Record<string, { message?: string } | undefined>>;
    return second === undefined ? at[first]?.message : at[first]?.[second]?.message;
  };
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
    <Field label={label} inputMode="decimal" {...(unit ? { unit } : {})} error={faultOf(key)} {...form.register(key)} />
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
          {number('step', 'Smallest step')}
          {number('min', 'Lowest it takes')}
          {number('max', 'Highest it takes')}
          {number('presetLow', 'Low as it came (empty: none)')}
          {number('presetHigh', 'High as it came (empty: none)')}
          {form.watch('groups') === 'baseline' && (
            <>
              {number('derivesLow', 'Low alarm below the baseline by (empty: unknown)', '%')}
              {number('derivesHigh', 'High alarm above the baseline by (empty: unknown)', '%')}
              <div className="field">
                <label htmlFor="baselineBy">The baseline is keyed</label>
                <select id="baselineBy" className="input" {...form.register('baselineBy')}>
                  <option value="axle">by axle</option>
                  <option value="wheel">tire by tire</option>
                </select>
              </div>
              {number('presetBaseline', 'Baseline as it came (empty: unknown)')}
              <label className="col-span-2 flex items-center gap-2 text-body">
                <input type="checkbox" className="size-[18px] accent-ink" {...form.register('learnedOnly')} />
                Its menu shows only wheels whose sensor is paired
              </label>
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
        <MenuFields form={form} number={number} />
        <TemperatureFields form={form} number={number} />
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
            [
              'otherGroups',
              'Its limits can be switched to go (none: that is all)',
              ['axle', 'unit', 'rearWithTrailer', 'wheel', 'all'],
            ],
            ['alarms', 'It alarms for', ['low', 'high', 'hot', 'rapid', 'slow', 'silent', 'battery']],
            ['power', 'It runs from', ['battery', 'sun', 'usb', 'socket']],
            ['signs', 'When it took a sensor it shows (none: no sign)', PAIRING_SIGNS],
            ['styles', 'Its sensors are paired (none: any way)', PAIRING_STYLES],
          ] as const
        ).map(([key, label, options]) => (
          <fieldset key={key} className="text-body">
            <legend className="text-note text-ink2">{label}</legend>
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
            ['canDisconnect', 'Can disconnect a trailer'],
            ['canExchange', 'Can exchange two positions without pairing again'],
          ] as const
        ).map(([key, label]) => (
          <label key={key} className="flex items-center gap-2 text-body">
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
