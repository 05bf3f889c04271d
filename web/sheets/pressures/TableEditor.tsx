import { usableRows } from '#core/pressure/load.ts';
import { convert } from '#core/units/units.ts';
import type { PressureUnit } from '#schema/common.ts';
import type { MassUnit, TableRow } from '#schema/unit.ts';
import { Switch } from '../../parts/controls.tsx';
import { type Format, fieldFigure, parseNumber, useFormat } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';

interface Row {
  use: TableRow['use'];
  load: string;
  pressure: string;
}

const toRows = (table: readonly TableRow[], f: Format, dual: boolean): Row[] =>
  table.length === 0
    ? [blank(dual), blank(dual), blank(dual)]
    : table.map((r) => ({
        use: r.use,
        load: String(Number(convert(r.loadKg, 'kg', f.massUnit).toFixed(1))),
        pressure: fieldFigure(r.kpa, f.unit),
      }));
const blank = (dual: boolean): Row => ({ use: dual ? 'dual' : 'single', load: '', pressure: '' });

/** Read what was typed: the rows that can be used, and what is wrong with the others, by the row's place. */
export function readTable(
  rows: readonly Row[],
  unit: PressureUnit,
  mass: MassUnit,
): { table: TableRow[]; faults: Map<number, string> } {
  const faults = new Map<number, string>();
  const read: { row: TableRow; i: number }[] = [];
  rows.forEach((r, i) => {
    if (r.load.trim() === '' && r.pressure.trim() === '') return;
    const load = parseNumber(r.load);
    const pressure = parseNumber(r.pressure);
    if (load === null || pressure === null) {
      faults.set(i, load === null ? 'The load is not a number' : 'The pressure is not a number');
      return;
    }
    const row: TableRow = { use: r.use, loadKg: convert(load, mass, 'kg'), kpa: convert(pressure, unit, 'kPa') };
    if (!(row.loadKg > 0 && row.loadKg <= 20_000)) faults.set(i, 'No tire carries such a load');
    else if (!(row.kpa > 0 && row.kpa <= 1500)) faults.set(i, `No road tire holds that: is it in ${unit}?`);
    else read.push({ row, i });
  });
  const { rows: table, faults: wrong } = usableRows(read.map((r) => r.row));
  for (const w of wrong)
    faults.set(
      read[w.row]?.i ?? 0,
      w.code === 'twice' ? 'This load stands twice with two pressures' : 'More load at less pressure than the row before it',
    );
  return { table, faults };
}

/** The tire maker's load table, row by row as the owner types it off. Rows that can't be used stay typed and are marked; the rest is used. */
export function TableEditor({
  table,
  dual,
  code,
  draft,
  onSave,
}: {
  table: readonly TableRow[];
  dual: boolean;
  code: string;
  draft: string;
  onSave: (table: TableRow[]) => Promise<boolean>;
}) {
  const f = useFormat();
  const key = `${draft}.${f.unit}.${f.massUnit}`;
  const [draftRows, setDraft, dropDraft] = useDraft<{ rows: Row[] }>(key, { rows: toRows(table, f, dual) });
  const { rows } = draftRows;
  const { table: good, faults } = readTable(rows, f.unit, f.massUnit);
  const change = (next: Row[]) => setDraft({ rows: next });
  const put = (i: number, part: Partial<Row>) => change(rows.map((r, k) => (k === i ? { ...r, ...part } : r)));
  const save = async () => {
    if (!(await onSave(good))) return;
    if (faults.size === 0) dropDraft(undefined, draftRows);
  };
  const open = JSON.stringify(good) !== JSON.stringify(usableRows(table).rows);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter in a row must not send the form around the table
    <div onKeyDown={(e) => e.key === 'Enter' && e.target instanceof HTMLInputElement && e.preventDefault()}>
      <table className="w-full text-body">
        <caption className="sr-only">Load table of {code}</caption>
        <thead>
          <tr className="text-left text-note text-ink2">
            {dual && <th className="pb-1 font-semibold">Tire</th>}
            <th className="pb-1 font-semibold">Load a tire, {f.massUnit}</th>
            <th className="pb-1 font-semibold">Cold, {f.unit}</th>
            <th className="sr-only">Remove</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own, and stay where they are while typed
            <tr key={i}>
              {dual && (
                <td className="py-[3px] pr-2 align-top">
                  <Switch
                    label={`Row ${i + 1}: tire`}
                    value={r.use}
                    options={[
                      { value: 'single', text: 'single' },
                      { value: 'dual', text: 'dual' },
                    ]}
                    onChange={(use) => put(i, { use })}
                  />
                </td>
              )}
              <td className="py-[3px] pr-2 align-top">
                <input
                  className="input"
                  inputMode="decimal"
                  aria-label={`Row ${i + 1}: load`}
                  aria-invalid={faults.has(i) || undefined}
                  aria-describedby={faults.has(i) ? `${draft}-${i}` : undefined}
                  value={r.load}
                  onChange={(e) => put(i, { load: e.target.value })}
                />
                {faults.has(i) && (
                  <p id={`${draft}-${i}`} className="error">
                    {faults.get(i)}
                  </p>
                )}
              </td>
              <td className="py-[3px] pr-2 align-top">
                <input
                  className="input"
                  inputMode="decimal"
                  aria-label={`Row ${i + 1}: pressure`}
                  aria-invalid={faults.has(i) || undefined}
                  value={r.pressure}
                  onChange={(e) => put(i, { pressure: e.target.value })}
                />
              </td>
              <td className="py-[3px] align-top">
                <button
                  type="button"
                  className="btn btn-small min-h-[38px]"
                  aria-label={`Remove row ${i + 1}`}
                  onClick={() => change(rows.filter((_, k) => k !== i))}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <button type="button" className="btn btn-small" onClick={() => change([...rows, blank(dual)])}>
          Add a row
        </button>
        <button type="button" className="btn btn-small btn-solid" disabled={!open} onClick={() => void save()}>
          Use this table
        </button>
        {faults.size > 0 && <span className="text-note">The other rows are used.</span>}
      </div>
    </div>
  );
}
