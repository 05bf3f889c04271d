import { Command } from 'cmdk';
import { useNavigate } from 'react-router';
import { isSensorKey } from '#core/pairing/ids.ts';
import { useRigs, useWholeRig } from '../data/queries.ts';
import { Box } from '../parts/Box.tsx';
import { idText } from '../parts/format.ts';
import { placeInWords } from '../parts/words.ts';
import { setPreferences, usePreferences } from '../state/preferences.ts';
import { sheets } from '../state/sheets.ts';

const item =
  'flex min-h-[42px] cursor-pointer items-center gap-3 px-3 data-[selected=true]:bg-ink data-[selected=true]:text-paper';

/** Parts of sheets, and what is done there. */
const PLACES: readonly (readonly [string, string])[] = [
  ['Stems: what may go on which', 'kit?part=stems'],
  ['Box: count what came', 'kit?part=box'],
  ['Monitor: what it can do, its positions', 'kit?part=monitor'],
  ['Read back a kit that somebody else set up', 'kit?part=readback'],
  ['Compare ways of buying', 'kit?part=buying'],
  ['Print labels', 'kit?part=labels'],
  ['Keying card: print it, key it', 'alarms?part=card'],
  ['The year: which mornings would alarm', 'alarms?part=year'],
  ['ID book', 'pairing?part=book'],
  ['Final check of the pairing', 'pairing?part=check'],
  ['Rotation: wheels were moved', 'pairing?part=rotation'],
  ['Detective: which sensor is on which wheel', 'pairing?part=detective'],
  ['Compare gauge and sensor', 'first-drive?part=gauge'],
  ['Prove an alarm', 'first-drive?part=proof'],
  ['Report', 'first-drive?part=report'],
  ['Drive view', 'watch/drive'],
  ['Charts', 'watch/charts'],
  ['Replay', 'watch/replay'],
  ['Import a file of readings', 'watch/files'],
  ['Type readings', 'watch?type=readings'],
  ['Top-up round', 'logbook?part=topup'],
  ['Leaks', 'logbook?part=leaks'],
  ['Season', 'logbook?part=season'],
  ['Trip', 'logbook?part=trip'],
  ['Track day', 'logbook?part=track'],
  ['What is due', 'upkeep'],
  ['At the roadside', 'faults?part=roadside'],
];

/** Everything that can be done from anywhere, by name. */
export default function Commands({ rigId, onClose, onHelp }: { rigId: string | null; onClose: () => void; onHelp: () => void }) {
  const navigate = useNavigate();
  const rigs = useRigs();
  const whole = useWholeRig(rigId ?? '');
  const { theme } = usePreferences();
  const run = (work: () => void) => () => {
    onClose();
    work();
  };
  return (
    <Box open title="Find" onClose={onClose}>
      <Command label="Commands" loop>
        <Command.Input autoFocus placeholder="A sheet or a part of it, a wheel, a rig, an action" className="input mb-3" />
        <Command.List className="max-h-[50vh] overflow-auto">
          <Command.Empty className="px-3 py-4 text-ink2">
            No matches. Try a sheet such as “alarms”, or the name of a rig.
          </Command.Empty>
          {rigId !== null &&
            sheets.map((s) => (
              <Command.Item
                key={s.path}
                value={`${s.title} ${s.about}`}
                className={item}
                onSelect={run(() => navigate(`/rigs/${rigId}/${s.path}`))}
              >
                <span className="narrow w-6">{s.number}</span>
                <span className="font-semibold">{s.title}</span>
                <span className="text-note">{s.about}</span>
              </Command.Item>
            ))}
          {whole?.allWheels.map((w) => (
            <Command.Item
              key={w.position}
              value={`wheel ${w.position} ${w.unit.name} ${w.wheel.sensor?.id ?? ''}`}
              className={item}
              onSelect={run(() => navigate(`/rigs/${rigId}/watch?wheel=${w.position}`))}
            >
              <span className="narrow w-[42px] font-semibold">{w.position}</span>
              <span className="text-note">
                {placeInWords(w.local, w.unit.name, w.unit.axles.length)}
                {w.wheel.sensor && !isSensorKey(w.wheel.sensor.id) ? `, sensor ${idText(w.wheel.sensor)}` : ''}
              </span>
            </Command.Item>
          ))}
          {rigId !== null &&
            PLACES.map(([text, path]) => (
              <Command.Item key={path} value={text} className={item} onSelect={run(() => navigate(`/rigs/${rigId}/${path}`))}>
                {text}
              </Command.Item>
            ))}
          <Command.Item value="all rigs yard" className={item} onSelect={run(() => navigate('/'))}>
            All rigs
          </Command.Item>
          {rigs.data?.map((r) => (
            <Command.Item
              key={r.id}
              value={`rig ${r.name} ${r.note ?? ''}`}
              className={item}
              onSelect={run(() => navigate(`/rigs/${r.id}/watch`))}
            >
              <span className="font-semibold">{r.name}</span>
              <span className="text-note">{r.note}</span>
            </Command.Item>
          ))}
          {(['psi', 'bar', 'kPa'] as const).map((u) => (
            <Command.Item
              key={u}
              value={`pressure in ${u}`}
              className={item}
              onSelect={run(() => setPreferences({ pressure: u }))}
            >
              Pressure in {u}
            </Command.Item>
          ))}
          <Command.Item
            value="day night light theme"
            className={item}
            onSelect={run(() => setPreferences({ theme: theme === 'day' ? 'night' : 'day' }))}
          >
            {theme === 'day' ? 'Night' : 'Day'} colours
          </Command.Item>
          <Command.Item value="help manual keys keyboard" className={item} onSelect={run(onHelp)}>
            Help for this sheet, and all keys
          </Command.Item>
        </Command.List>
      </Command>
    </Box>
  );
}
