import { Command } from 'cmdk';
import { useNavigate } from 'react-router';
import { useRigs } from '../data/queries.ts';
import { Box } from '../parts/Box.tsx';
import { setPreferences, usePreferences } from '../state/preferences.ts';
import { sheets } from '../state/sheets.ts';

const item =
  'flex min-h-[42px] cursor-pointer items-center gap-3 px-3 data-[selected=true]:bg-ink data-[selected=true]:text-paper';

/** Everything that can be done from anywhere, by name. */
export default function Commands({ rigId, onClose, onKeys }: { rigId: string | null; onClose: () => void; onKeys: () => void }) {
  const navigate = useNavigate();
  const rigs = useRigs();
  const { theme } = usePreferences();
  const run = (work: () => void) => () => {
    onClose();
    work();
  };
  return (
    <Box open title="Find" onClose={onClose}>
      <Command label="Commands" loop>
        <Command.Input autoFocus placeholder="A sheet, a rig, a switch" className="input mb-3" />
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
                <span className="text-[13px]">{s.about}</span>
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
              <span className="text-[13px]">{r.note}</span>
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
          <Command.Item value="keys keyboard help" className={item} onSelect={run(onKeys)}>
            Show the keys
          </Command.Item>
        </Command.List>
      </Command>
    </Box>
  );
}
