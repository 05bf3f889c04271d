import { useState } from 'react';
import { manual } from '../manual/manual.ts';
import { Box } from '../parts/Box.tsx';
import { Switch } from '../parts/controls.tsx';
import { sheets } from '../state/sheets.ts';

const keys: [string, string][] = [
  ['/', 'Find a sheet or a part of it, a wheel, a rig, an action'],
  ['?', 'This help'],
  ...sheets.map((s): [string, string] => [String(s.number), `${s.title}: ${s.about}`]),
  ['0', 'All rigs'],
  ['← → ↑ ↓', 'Walk the wheels of the plan, in plan order; Home and End: the first and the last'],
  ['Enter', 'Select the wheel, press the button'],
  ['A', 'On the watch: acknowledge the first alarm that is not'],
  ['N', 'On the watch: go to the next wheel with an alarm'],
  ['R', 'On the watch: type readings off a monitor'],
  ['S', 'On the watch: sound off for ten minutes, and on again'],
  ['Ctrl+Z', 'On the layout and on the ladder: undo'],
  ['Esc', 'Close a box; on the alarms: discard what is not in force'],
];

/** The page of the manual for the sheet that is open, and all keys. */
export default function HelpBox({ path, onClose }: { path: string; onClose: () => void }) {
  const [part, setPart] = useState<'sheet' | 'keys'>('sheet');
  const page = manual.find((p) => p.path === path) ?? manual[0];
  if (!page) return null;
  return (
    <Box open title={part === 'keys' ? 'Keys' : page.title} onClose={onClose}>
      <div className="mb-4">
        <Switch
          label="Part of the help"
          value={part}
          options={[
            { value: 'sheet', text: 'This sheet' },
            { value: 'keys', text: 'Keys' },
          ]}
          onChange={setPart}
        />
      </div>
      {part === 'keys' ? (
        <table className="sheet-table">
          <tbody>
            {keys.map(([key, what]) => (
              <tr key={key}>
                <td className="w-28">
                  <span className="font-semibold whitespace-nowrap">{key}</span>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <>
          <p>{page.about}</p>
          <dl className="mt-3 border-t border-ink">
            {page.questions.map(([question, answer]) => (
              <div key={question} className="border-b border-rule py-2">
                <dt className="font-bold">{question}</dt>
                <dd className="text-ink2">{answer}</dd>
              </div>
            ))}
          </dl>
          {page.cautions.map((c) => (
            <p key={c} className="mt-3 border-l-4 border-ink pl-3 font-semibold">
              {c}
            </p>
          ))}
        </>
      )}
    </Box>
  );
}
