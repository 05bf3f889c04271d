import { Box } from '../parts/Box.tsx';
import { sheets } from '../state/sheets.ts';

const keys: [string, string][] = [
  ['/', 'Find a sheet, a rig or a switch by name'],
  ['?', 'This list'],
  ...sheets.map((s): [string, string] => [String(s.number), `${s.title}: ${s.about}`]),
  ['0', 'All rigs'],
  ['← → ↑ ↓', 'Walk the wheels of the plan, in plan order'],
  ['Enter', 'Select the wheel, press the button'],
  ['A', 'On the watch: acknowledge the first alarm that is not'],
  ['N', 'On the watch: go to the next wheel with an alarm'],
  ['R', 'On the watch: type readings off a monitor'],
  ['S', 'On the watch: sound off for ten minutes, and on again'],
  ['Ctrl+Z', 'On the layout: undo; with Shift: redo'],
  ['Esc', 'Close a box'],
];

export default function KeysBox({ onClose }: { onClose: () => void }) {
  return (
    <Box open title="Keys" onClose={onClose}>
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
    </Box>
  );
}
