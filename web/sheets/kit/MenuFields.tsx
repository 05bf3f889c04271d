import type { ReactNode } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import type { NewMonitor } from '#schema/monitor.ts';
import type { Typed } from './monitorTyped.ts';

interface Props {
  form: UseFormReturn<Typed, unknown, NewMonitor>;
  number: (key: keyof Typed, label: string, unit?: string) => ReactNode;
}

const presses = [
  ['', 'nothing'],
  ['short', 'a short press'],
  ['long', 'a long press'],
] as const;

/** How one goes through the limit menu: the keying card and the practice menu follow it. */
export function MenuFields({ form, number }: Props) {
  const known = form.watch('menuWalk') !== '';
  const baseline = form.watch('groups') === 'baseline';
  return (
    <fieldset className="border-t border-rule pt-2">
      <legend className="pr-2 text-body font-semibold">Its limit menu</legend>
      <div className="grid grid-cols-2 gap-3">
        <div className="field">
          <label htmlFor="menuWalk">Its limit menu goes</label>
          <select id="menuWalk" className="input" {...form.register('menuWalk')}>
            <option value="">unknown</option>
            <option value="group">{baseline ? 'from one to the next' : 'group by group'}</option>
            {!baseline && <option value="limit">limit by limit: all of one, then all of the other</option>}
          </select>
        </div>
        {known && !baseline && (
          <div className="field">
            <label htmlFor="menuFirst">In it comes first</label>
            <select id="menuFirst" className="input" {...form.register('menuFirst')}>
              <option value="low">the low limit</option>
              <option value="high">the high limit</option>
            </select>
          </div>
        )}
        {known && (
          <>
            {(
              [
                ['confirmValue', 'A value is confirmed by'],
                ['confirmPage', 'A page is confirmed by'],
              ] as const
            ).map(([key, label]) => (
              <div key={key} className="field">
                <label htmlFor={key}>{label}</label>
                <select id={key} className="input" {...form.register(key)}>
                  {presses.map(([value, name]) => (
                    <option key={value} value={value}>
                      {name}
                    </option>
                  ))}
                </select>
              </div>
            ))}
            {number('menuRepeat', 'Steps a second while a key is held (empty: none)')}
            {number('menuTimeoutS', 'Closes by itself after (empty: never)', 's')}
            {number('menuGroups', 'Groups it goes through, used or not (empty: those used)')}
          </>
        )}
      </div>
      {known && (
        <div className="mt-2 flex flex-col gap-1">
          {(
            [
              ['menuBack', 'It goes back as well as on'],
              ['menuFree', 'Any value can be chosen directly'],
              ['menuLast', 'The last group blinks first'],
              ['menuPreset', 'It begins at its presets each time it is opened'],
              ['menuSetUnused', 'Groups that aren’t used have to be set too'],
            ] as const
          ).map(([key, label]) => (
            <label key={key} className="flex items-center gap-2 text-body">
              <input type="checkbox" className="size-[18px] accent-ink" {...form.register(key)} />
              {label}
            </label>
          ))}
        </div>
      )}
    </fieldset>
  );
}

/** Its temperature limit and alert, and whether it corrects what it shows. */
export function TemperatureFields({ form, number }: Props) {
  const unit = `°${form.watch('tempUnit')}`;
  return (
    <fieldset className="border-t border-rule pt-2">
      <legend className="pr-2 text-body font-semibold">Its temperatures</legend>
      <div className="grid grid-cols-2 gap-3">
        <div className="field">
          <label htmlFor="tempUnit">Temperatures are in</label>
          <select id="tempUnit" className="input" {...form.register('tempUnit')}>
            <option value="C">°C</option>
            <option value="F">°F</option>
          </select>
        </div>
        {number('presetHot', 'Hot as it came (empty: none)', unit)}
        {number('hotMin', 'Lowest temperature limit (empty: unknown)', unit)}
        {number('hotMax', 'Highest temperature limit (empty: unknown)', unit)}
        {number('hotStep', 'Step of it (empty: unknown)', unit)}
        {number('presetCold', 'Low-temperature alert as it came (empty: none)', unit)}
        {number('correctsTo', 'Its pressures are already corrected to (empty: they aren’t)', unit)}
      </div>
    </fieldset>
  );
}
