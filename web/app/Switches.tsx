import { Switch } from '../parts/controls.tsx';
import { setPreferences, usePreferences } from '../state/preferences.ts';

/** Units and light, in the head of every page. */
export default function Switches() {
  const prefs = usePreferences();
  return (
    <>
      <Switch
        label="Pressure unit"
        value={prefs.pressure}
        options={(['kPa', 'bar', 'psi'] as const).map((u) => ({ value: u, text: u }))}
        onChange={(pressure) => setPreferences({ pressure })}
      />
      <Switch
        label="Temperature unit"
        value={prefs.temp}
        options={(['C', 'F'] as const).map((u) => ({ value: u, text: `°${u}` }))}
        onChange={(temp) => setPreferences({ temp })}
      />
      <Switch
        label="Light"
        value={prefs.theme}
        options={[
          { value: 'day', text: 'Day' },
          { value: 'night', text: 'Night' },
        ]}
        onChange={(theme) => setPreferences({ theme })}
      />
    </>
  );
}
