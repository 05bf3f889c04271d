import { type Standing, setPreferences, usePreferences } from '../state/preferences.ts';
import { Switch } from './controls.tsx';

const places: { value: Standing; text: string }[] = [
  { value: 'above', text: 'Plan' },
  { value: 'behind', text: 'Behind' },
  { value: 'left', text: 'Left of it' },
  { value: 'right', text: 'Right of it' },
];

/** Turns every plan to where the owner stands, so that sides are never swapped. */
export function StandSwitch() {
  const { standing } = usePreferences();
  return (
    <div className="flex flex-wrap items-center gap-2 text-note">
      <span className="text-ink2">As you stand</span>
      <Switch label="As you stand" value={standing} options={places} onChange={(s) => setPreferences({ standing: s })} />
    </div>
  );
}
