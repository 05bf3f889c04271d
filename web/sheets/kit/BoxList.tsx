import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type BoxItem, checkBox, needsRepeater } from '#core/kit/box.ts';
import { kindAt } from '#core/kit/kinds.ts';
import { partsOf } from '#core/kit/parts.ts';
import { useMonitor, useRecords } from '../../data/queries.ts';
import { LoosePartsBox } from '../../parts/LoosePartsBox.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import Inventory from './Inventory.tsx';

const names: Record<BoxItem, [string, string]> = {
  monitor: ['Monitor', 'or the phone that shows the readings'],
  monitorMount: ['Its mount', 'pad or bracket'],
  monitorCable: ['Its cable and adapter', 'USB or 12 V'],
  monitorBattery: ['Its own battery', 'in it already, or beside it'],
  capSensor: ['Cap sensors', 'about 8 g each, unscrewed to inflate'],
  flowThroughSensor: ['Flow-through sensors', 'metal stems only'],
  internalSensor: ['Internal sensors', 'fitted by a tire shop'],
  smallBoot: ['Dust boots, small seal', 'one for each sensor that has one'],
  largeBoot: ['Dust boots, large seal', 'one for each sensor that has one'],
  lockNut: ['Lock nuts', 'one for each sensor that is locked by one'],
  setScrew: ['Set screws', 'in either of the two holes of a flow-through'],
  oRing: ['O-rings', 'one for each housing'],
  cell: ['Batteries', ''],
  spareSeal: ['Spare seals', 'a new one with every battery'],
  label: ['Labels', 'one for each wheel; printed under Labels'],
  wrench: ['Wrench', 'for the lock nuts'],
  setScrewKey: ['Set-screw key', 'a hex key, easily lost'],
  antiTheftTool: ['Anti-theft tool', 'without it the sensor only spins'],
  coreTool: ['Valve-core tool', 'for a core that leaks'],
  opener: ['Opener', 'for the housings: a two-part tool, or a small screwdriver'],
  repeater: ['Repeater', 'where the rig is long'],
  cable: ['Repeater cable', 'fused, red to plus, black to minus; none for one on its own battery'],
  screws: ['Screws for the repeater', 'or its clamp'],
  pouch: ['Pouch', 'for sensors that are off'],
  leaflet: ['Leaflet', 'it has the serial number and the warranty'],
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
  const { rig, units, wheels } = useRig();
  const monitor = useMonitor(rig);
  const { changeRig } = useRecords();
  const [, setSearch] = useSearchParams();
  const have = rig.kit ?? {};
  const lines = checkBox(wheels, have, {
    // Said here before kinds of sensor had parts of their own.
    parts: (kind) => ({ ...partsOf(rig, kind), ...(have.withoutNuts === 1 ? { lockNut: false } : {}) }),
    repeater:
      have.withoutRepeater !== 1 && (needsRepeater(units, monitor) || (have.repeater ?? 0) > 0 || rig.repeater !== undefined),
    power: monitor?.power,
    kindOf: (w) => kindAt(w, rig),
  });
  const missing = lines.filter((l) => l.missing > 0);
  const uncounted = lines.filter((l) => l.have === undefined && l.need > 0);
  const left = lines.filter((l) => l.left > 0);
  const set = (item: string, n: number | undefined) => {
    void changeRig(rig.id, (now) => {
      const { [item]: _old, ...rest } = now.kit ?? {};
      return { ...now, kit: n === undefined ? rest : { ...rest, [item]: n } };
    }).catch(toastError);
  };
  // A box that is complete needs no counting piece by piece.
  const allThere = async () => {
    const before = rig.kit;
    const counts = Object.fromEntries(uncounted.map((l) => [l.item, l.need]));
    try {
      await changeRig(rig.id, (now) => ({ ...now, kit: { ...counts, ...now.kit } }));
      toast('All of it is there.', {
        undo: () => void changeRig(rig.id, ({ kit: _now, ...now }) => (before ? { ...now, kit: before } : now)).catch(toastError),
      });
      setSearch({ part: 'monitor' }, { replace: true });
    } catch (error) {
      toastError(error);
    }
  };
  const paper = (name: 'serial' | 'warrantyUntil', text: string) => {
    void changeRig(rig.id, (now) => {
      const { [name]: _old, ...rest } = now.papers ?? {};
      return { ...now, papers: text === '' ? rest : { ...rest, [name]: text } };
    }).catch(toastError);
  };
  return (
    <div className="max-w-[860px]">
      <p className="mb-3 text-body" role="status">
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
          <span className="ml-3 text-body text-ink2">
            Left over as spares: {left.map((l) => `${l.left} ${names[l.item][0].toLowerCase()}`).join(', ')}
          </span>
        )}
      </p>
      {uncounted.length > 0 && (
        <p className="mb-3">
          <button type="button" className="btn btn-solid" onClick={() => void allThere()}>
            {uncounted.length === lines.filter((l) => l.need > 0).length ? 'All of it is there' : 'The rest is there'}, next: the
            monitor
          </button>
        </p>
      )}
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
                <span className="block text-note text-ink2">
                  {l.cells
                    ? Object.entries(l.cells)
                        .map(([type, n]) => `${n} × ${type}`)
                        .join(', ')
                    : names[l.item][1]}
                </span>
              </td>
              <td className="figure text-head font-semibold">{l.need}</td>
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
      <label className="mt-4 flex min-h-[44px] items-center gap-2 text-body">
        <input
          type="checkbox"
          className="size-[20px] accent-ink"
          checked={have.withoutRepeater === 1}
          onChange={(e) => set('withoutRepeater', e.target.checked ? 1 : undefined)}
        />
        Without a repeater
      </label>
      <h2 className="mt-4 border-b border-ink pb-1">Loose parts by kind of sensor</h2>
      <LoosePartsBox />
      <h2 className="mt-4 border-b border-ink pb-1">Leaflet</h2>
      <div className="mt-2 flex flex-wrap gap-4">
        <SavedField
          label="Serial number"
          value={rig.papers?.serial ?? ''}
          draft={`papers.${rig.id}.serial`}
          check={(t) => (t.length > 60 ? 'At most 60 characters' : null)}
          onSave={(t) => paper('serial', t)}
        />
        <div className="field">
          <label htmlFor="warranty">Warranty until</label>
          <input
            id="warranty"
            type="date"
            className="input"
            value={rig.papers?.warrantyUntil ?? ''}
            onChange={(e) => paper('warrantyUntil', e.target.value)}
          />
        </div>
      </div>
      <p className="mt-4 max-w-[70ch] text-note text-ink2">
        Wheels without a sensor are counted as caps on a vehicle and flow-through on a trailer. Keep small parts in a tray; a
        pinched O-ring is the usual mistake.
      </p>
      <Inventory lines={lines} />
    </div>
  );
}
