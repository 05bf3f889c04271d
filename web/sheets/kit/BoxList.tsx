import { useEffect, useRef, useState } from 'react';
import { type BoxItem, checkBox } from '#core/kit/box.ts';
import { useRecords } from '../../data/queries.ts';
import { toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import Inventory from './Inventory.tsx';

const names: Record<BoxItem, [string, string]> = {
  capSensor: ['Cap sensors', 'about 8 g each, unscrewed to inflate'],
  flowThroughSensor: ['Flow-through sensors', 'metal stems only'],
  internalSensor: ['Internal sensors', 'fitted by a tire shop'],
  lockNut: ['Lock nuts', 'one for each external sensor; who swaps wheels often leaves them off'],
  oRing: ['O-rings', 'one for each housing, a new one with every battery'],
  setScrew: ['Set screws', 'one for each flow-through, in either of its two holes'],
  cell: ['Batteries CR1632', 'one for each external sensor, about a year'],
  label: ['Labels', 'one for each wheel; printed under Labels'],
  wrench: ['Wrench', 'for the lock nuts'],
  opener: ['Opener', 'for the housings'],
  repeater: ['Repeater', 'where the rig is long'],
  cable: ['Repeater cable', 'fused, red to plus, black to minus; none for one on its own battery'],
};

/** A count that is saved as it is typed. */
function Count({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | undefined;
  onChange: (n: number | undefined) => void;
}) {
  const [text, setText] = useState(value === undefined ? '' : String(value));
  const sent = useRef(value);
  useEffect(() => {
    sent.current = value;
    setText(value === undefined ? '' : String(value));
  }, [value]);
  const good = /^\d{0,3}$/.test(text);
  const save = () => {
    const n = text === '' ? undefined : Number(text);
    // Enter saves, and leaving the field saves too: once is enough.
    if (!good || sent.current === n) return;
    sent.current = n;
    onChange(n);
  };
  return (
    <input
      aria-label={label}
      className="input w-[76px]!"
      inputMode="numeric"
      aria-invalid={!good || undefined}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => e.key === 'Enter' && save()}
    />
  );
}

/** The box checked off. */
export default function BoxList() {
  const { rig, wheels } = useRig();
  const { changeRig } = useRecords();
  const have = rig.kit ?? {};
  const choice = { lockNuts: have.withoutNuts !== 1, repeater: have.withoutRepeater !== 1 };
  const lines = checkBox(wheels, have, choice);
  const missing = lines.filter((l) => l.missing > 0);
  const uncounted = lines.filter((l) => l.have === undefined && l.need > 0);
  const left = lines.filter((l) => l.left > 0);
  const set = (item: string, n: number | undefined) => {
    void changeRig(rig.id, (now) => {
      const { [item]: _old, ...rest } = now.kit ?? {};
      return { ...now, kit: n === undefined ? rest : { ...rest, [item]: n } };
    }).catch(toastError);
  };
  return (
    <div className="max-w-[860px]">
      <p className="mb-3 text-[16px]" role="status">
        {missing.length > 0 ? (
          <span className="bg-ink px-2 py-1 font-semibold text-paper">
            Missing: {missing.map((l) => `${l.missing} ${names[l.item][0].toLowerCase()}`).join(', ')}
          </span>
        ) : uncounted.length === 0 ? (
          <b>The box is complete.</b>
        ) : (
          `${uncounted.length} of ${lines.length} still to count.`
        )}
        {left.length > 0 && (
          <span className="ml-3 text-[14px] text-ink2">
            Left over as spares: {left.map((l) => `${l.left} ${names[l.item][0].toLowerCase()}`).join(', ')}
          </span>
        )}
      </p>
      <table className="sheet-table">
        <thead>
          <tr>
            <th scope="col">Piece</th>
            <th scope="col">This rig needs</th>
            <th scope="col">In the box</th>
            <th scope="col">So</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((l) => (
            <tr key={l.item}>
              <td>
                <b>{names[l.item][0]}</b>
                <span className="block text-[13px] text-ink2">{names[l.item][1]}</span>
              </td>
              <td className="figure text-[18px] font-semibold">{l.need}</td>
              <td>
                <Count label={`${names[l.item][0]} in the box`} value={l.have} onChange={(n) => set(l.item, n)} />
              </td>
              <td>
                {l.missing > 0 ? (
                  <b>{l.missing} missing</b>
                ) : l.left > 0 ? (
                  `${l.left} to spare`
                ) : l.have === undefined ? (
                  'not counted'
                ) : (
                  'right'
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-4 flex flex-wrap gap-x-6 gap-y-2 text-[14px]">
        {(
          [
            ['withoutNuts', 'Without lock nuts'],
            ['withoutRepeater', 'Without a repeater'],
          ] as const
        ).map(([key, text]) => (
          <label key={key} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-[18px] accent-ink"
              checked={have[key] === 1}
              onChange={(e) => set(key, e.target.checked ? 1 : undefined)}
            />
            {text}
          </label>
        ))}
      </div>
      <p className="mt-4 max-w-[70ch] text-[13px] text-ink2">
        Wheels without a sensor are counted as caps on a vehicle and flow-through on a trailer. Keep small parts in a tray; a
        pinched O-ring is the usual mistake.
      </p>
      <Inventory lines={lines} />
    </div>
  );
}
