import Papa from 'papaparse';
import { type ChangeEvent, useRef, useState } from 'react';
import { BOX_ITEMS, type BoxLine } from '#core/kit/box.ts';
import { INVENTORY_HEAD, inventoryRows, type ReadInventory, readInventory } from '#core/kit/inventory.ts';
import type { Unit } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { idText } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { SavedField } from '../../parts/SavedField.tsx';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { withWheel } from '../../state/wheels.ts';

/** The inventory to and from a table (CSV, RFC 4180), and every sensor with its cell. */
export default function Inventory({ lines }: { lines: readonly BoxLine[] }) {
  const { rig, wheels } = useRig();
  const { putRig, putUnit } = useRecords();
  const [read, setRead] = useState<ReadInventory | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const download = () => {
    // RFC 4180 ends lines with CR and LF.
    const text = Papa.unparse([INVENTORY_HEAD, ...inventoryRows(lines, wheels)], { newline: '\r\n' });
    const url = URL.createObjectURL(new Blob([`${text}\r\n`], { type: 'text/csv' }));
    const link = document.createElement('a');
    link.href = url;
    link.download = 'kit.csv';
    link.click();
    setTimeout(() => URL.revokeObjectURL(url), 1000);
  };
  const choose = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    if (!file) return;
    setRead(readInventory(Papa.parse<string[]>(await file.text(), { skipEmptyLines: 'greedy' }).data, BOX_ITEMS));
    if (input.current) input.current.value = '';
  };
  const take = async () => {
    if (!read) return;
    try {
      const saved = await putRig({ ...rig, kit: { ...rig.kit, ...read.kit } });
      toast('The counts are taken over.', {
        undo: () => putRig({ ...rig, version: saved.version }).then(() => undefined, toastError),
      });
      setRead(null);
    } catch (error) {
      toastError(error);
    }
  };
  const save = (unit: Unit) => void putUnit(unit).catch(toastError);
  const count = read ? Object.keys(read.kit).length : 0;
  return (
    <>
      <div className="mt-5 flex flex-wrap items-center gap-3">
        <button type="button" className="btn btn-small" onClick={download}>
          Download as CSV
        </button>
        <label className="text-body">
          <span className="mr-2">Read counts from a CSV</span>
          <input ref={input} type="file" accept=".csv,text/csv" onChange={(e) => void choose(e)} />
        </label>
      </div>
      {read && (
        <div className="mt-3 border border-ink p-3 text-body" role="status">
          {read.refused.length > 0 && (
            <ul className="mb-2">
              {read.refused.map((r) => (
                <li key={r.line} className="error">
                  Line {r.line}: {r.detail}
                </li>
              ))}
            </ul>
          )}
          {count > 0 ? (
            <p>
              {count === 1 ? 'One count' : `${count} counts`} can be taken:{' '}
              {Object.entries(read.kit)
                .map(([k, n]) => `${k} ${n}`)
                .join(', ')}
              .
            </p>
          ) : (
            <p>Nothing in it can be taken.</p>
          )}
          <p className="mt-2 flex gap-2">
            <button type="button" className="btn btn-small btn-solid" disabled={count === 0} onClick={() => void take()}>
              Take them over
            </button>
            <button type="button" className="btn btn-small" onClick={() => setRead(null)}>
              Leave it
            </button>
          </p>
        </div>
      )}
      <h2 className="mt-8 border-b border-ink pb-1">Sensors</h2>
      {wheels.some((w) => w.wheel.sensor) ? (
        <div className="overflow-x-auto">
          <table className="sheet-table">
            <HeadRow names={['Wheel', 'ID', 'Kind', 'Cell put in', 'Coded for, if by the factory']} />
            <tbody>
              {wheels.map((w) => {
                const { sensor } = w.wheel;
                if (!sensor) return null;
                return (
                  <tr key={w.position}>
                    <td className="font-semibold">{w.position}</td>
                    <td className="narrow whitespace-nowrap">{idText(sensor)}</td>
                    <td>{sensor.kind === 'flowThrough' ? 'flow-through' : sensor.kind}</td>
                    <td>
                      <SavedField
                        label={`${w.position}, such as 2026-05-01`}
                        value={sensor.cellSince ?? ''}
                        check={(t) =>
                          t.trim() === '' || /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/.test(t.trim())
                            ? null
                            : 'Year-month-day'
                        }
                        onSave={(t) => {
                          const { cellSince: _old, ...rest } = sensor;
                          save(withWheel(w, (v) => ({ ...v, sensor: t === '' ? rest : { ...rest, cellSince: t } })));
                        }}
                      />
                    </td>
                    <td>
                      <SavedField
                        label={`${w.position}, its mark`}
                        value={sensor.factoryPosition ?? ''}
                        check={(t) => (t.trim().length > 12 ? 'At most 12 characters' : null)}
                        onSave={(t) => {
                          const { factoryPosition: _old, ...rest } = sensor;
                          save(withWheel(w, (v) => ({ ...v, sensor: t === '' ? rest : { ...rest, factoryPosition: t } })));
                        }}
                      />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      ) : (
        <p className="mt-2 text-body text-ink2">None is paired yet.</p>
      )}
    </>
  );
}
