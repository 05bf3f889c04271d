import Papa from 'papaparse';
import { useEffect, useMemo, useRef, useState } from 'react';
import { type ColumnMapping, guessDelimiter, guessMapping, isZone, needsZone, readLine, shapeOf } from '#core/files/columns.ts';
import { encodingOf } from '#core/files/encoding.ts';
import { addressOf } from '../../data/address.ts';
import { ApiProblem, ask } from '../../data/api.ts';
import { type ImportProgress, useImportProgress } from '../../data/queries.ts';
import { zoneHere } from '../../data/time-zone.ts';
import { SheetHead } from '../../parts/controls.tsx';
import { dayAndTime, useFormat } from '../../parts/format.ts';
import { HeadRow } from '../../parts/HeadRow.tsx';
import { useRig } from '../../state/useRig.ts';
import { WatchTabs } from './Tabs.tsx';

const HEAD_BYTES = 64_000;

const sizeWords = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`);

/** What the first lines of a file show. */
interface Sample {
  file: File;
  kind: 'csv' | 'ndjson';
  delimiter: string;
  names: string[];
  rows: string[][];
  header: boolean;
  shape: string;
}

async function sampleOf(file: File): Promise<Sample> {
  const bytes = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
  if (bytes.length === 0) throw new Error('The file is empty.');
  const text = new TextDecoder(encodingOf(bytes)).decode(bytes).replace(/^\uFEFF/, '');
  const lines = text.split(/\r\n|\n|\r/);
  // The last line of the sample may be cut.
  if (file.size > HEAD_BYTES) lines.pop();
  const full = lines.filter((l) => l.trim() !== '').slice(0, 60);
  if (full.length === 0) throw new Error('There is no line in the file.');
  if (full[0]?.trimStart().startsWith('{')) {
    const objects = full.flatMap((l) => {
      try {
        return [JSON.parse(l) as Record<string, unknown>];
      } catch {
        return [];
      }
    });
    const names = [...new Set(objects.flatMap((o) => Object.keys(o)))];
    const rows = objects.map((o) => names.map((n) => (o[n] === undefined || o[n] === null ? '' : String(o[n]))));
    return { file, kind: 'ndjson', delimiter: ',', names, rows, header: false, shape: shapeOf('ndjson', ',', names, false) };
  }
  const delimiter = guessDelimiter(full);
  const table = Papa.parse<string[]>(full.join('\n'), { delimiter }).data;
  const [first = [], ...rest] = table;
  const header = !first.some((c) => /^\s*[+-]?\d+([.,]\d+)?\s*$/.test(c));
  const names = header ? first : first.map((_, i) => `column ${i + 1}`);
  return {
    file,
    kind: 'csv',
    delimiter,
    names,
    rows: header ? rest : table,
    header,
    shape: shapeOf('csv', delimiter, names, header),
  };
}

/** Readings from files, and into files. */
export default function Files() {
  const { rig } = useRig();
  const [sample, setSample] = useState<Sample | null>(null);
  const [remembered, setRemembered] = useState<ColumnMapping | null>(null);
  const [problem, setProblem] = useState('');
  const input = useRef<HTMLInputElement>(null);

  const take = async (file: File | undefined) => {
    if (!file) return;
    setProblem('');
    setSample(null);
    try {
      const s = await sampleOf(file);
      const known = await ask('fileShape', { query: { shape: s.shape } });
      setRemembered(known.mapping);
      setSample(s);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
    if (input.current) input.current.value = '';
  };
  const exports = [
    ['Readings, CSV', 'exportReadings', 'csv'],
    ['Readings, NDJSON', 'exportReadings', 'ndjson'],
    ['Alarms, CSV', 'exportAlarms', 'csv'],
    ['Alarms, NDJSON', 'exportAlarms', 'ndjson'],
  ] as const;
  return (
    <>
      <SheetHead title="Watch">Readings from a file, and out into one.</SheetHead>
      <WatchTabs rigId={rig.id} />
      <section aria-label="Import readings" className="mb-8">
        <h2 className="text-head">Import readings</h2>
        <p className="mt-1 mb-3 max-w-[68ch] text-body">
          A CSV (any separator) or NDJSON file of any size. You choose once what its columns mean; a file of the same make is
          recognized. Readings keep their own time, and one that is already here isn’t stored twice.
        </p>
        <label className="btn w-fit cursor-pointer focus-within:outline-3">
          Choose a file
          <input
            ref={input}
            type="file"
            accept=".csv,.tsv,.txt,.ndjson,.jsonl,.json"
            className="sr-only"
            onChange={(e) => void take(e.target.files?.[0])}
          />
        </label>
        {problem !== '' && (
          <p className="error mt-2" role="alert">
            {problem}
          </p>
        )}
        {sample && (
          <ImportForm key={`${sample.file.name} ${sample.file.size} ${sample.shape}`} sample={sample} remembered={remembered} />
        )}
      </section>
      <section aria-label="Export">
        <h2 className="text-head">Export</h2>
        <p className="mt-1 mb-3 max-w-[68ch] text-body">
          All readings and alarms of this rig, in kPa and °C, with times in UTC. Imported again, a file of readings gives exactly
          what went out.
        </p>
        <p className="flex flex-wrap gap-2">
          {exports.map(([text, route, format]) => (
            <a key={text} className="btn" href={addressOf(route, { params: { rig: rig.id }, query: { format } })} download>
              {text}
            </a>
          ))}
        </p>
      </section>
    </>
  );
}

function ImportForm({ sample, remembered }: { sample: Sample; remembered: ColumnMapping | null }) {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const [m, setM] = useState<ColumnMapping>(
    () =>
      remembered ??
      guessMapping(sample.kind, sample.names, sample.rows, {
        delimiter: sample.delimiter,
        header: sample.header,
        zone: zoneHere(),
      }),
  );
  const [state, setState] = useState<'form' | 'running' | 'done'>('form');
  const [answer, setAnswer] = useState<ImportProgress | null>(null);
  const [problem, setProblem] = useState('');
  const abort = useRef<AbortController | null>(null);
  const job = useRef('');
  const progress = useImportProgress(rig.id);
  const set = (change: Partial<ColumnMapping>) => setM((before) => ({ ...before, ...change }));
  const cellOf = (row: readonly string[]) => (column: string) =>
    sample.kind === 'csv' ? row[Number(column)] : row[sample.names.indexOf(column)];
  const options = sample.names.map((n, i) => ({
    value: sample.kind === 'csv' ? String(i) : n,
    text: n === '' ? `column ${i + 1}` : n,
  }));

  // Names the file gives to wheels that are neither a position nor a sensor of this rig.
  const known = useMemo(() => {
    const map = new Map<string, string>();
    for (const w of wheels) {
      if (!w.wheel.sensor) continue;
      map.set(w.position, w.position);
      map.set(w.wheel.sensor.id.toUpperCase(), w.position);
      if (w.wheel.sensor.shownId) map.set(w.wheel.sensor.shownId.toUpperCase(), w.position);
    }
    return map;
  }, [wheels]);
  const cellsAt = (row: readonly string[]) => cellOf(row)(m.wheel)?.trim() ?? '';
  const strange = [...new Set(sample.rows.map(cellsAt))].filter((n) => n !== '' && !known.has(n.toUpperCase())).slice(0, 40);
  const preview = sample.rows.slice(0, 6).map((row) => readLine(cellOf(row), m));
  const good = preview.filter((r) => r !== null && !('detail' in r)).length;
  const zoneWrong = needsZone(m.timeFormat) && !isZone(m.zone);

  const live = progress.data && progress.data.job === job.current ? progress.data : null;
  useEffect(() => () => abort.current?.abort(), []);

  const run = async () => {
    setProblem('');
    setState('running');
    job.current = Math.random().toString(36).slice(2);
    abort.current = new AbortController();
    try {
      const body = await ask('importReadings', {
        params: { rig: rig.id },
        query: { mapping: JSON.stringify(m), shape: sample.shape, job: job.current },
        raw: sample.file,
        signal: abort.current.signal,
      });
      setAnswer(body);
      setState('done');
    } catch (error) {
      if (abort.current.signal.aborted) {
        setAnswer(null);
        setState('form');
        setProblem('Cancelled. Everything read so far is kept. You can import the same file again.');
        return;
      }
      const faults = error instanceof ApiProblem ? error.errors.map((e) => `${e.pointer} ${e.detail}`).join('; ') : '';
      setProblem(faults || (error instanceof Error ? error.message : String(error)));
      setState('form');
    }
  };

  const column = (label: string, field: 'time' | 'wheel' | 'pressure') => (
    <label className="field">
      <span>{label}</span>
      <select className="input" value={m[field]} onChange={(e) => set({ [field]: e.target.value })}>
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.text}
          </option>
        ))}
      </select>
    </label>
  );
  const optional = (label: string, field: 'clock' | 'temp' | 'battery' | 'rssi') => (
    <label className="field">
      <span>{label}</span>
      <select
        className="input"
        value={m[field] ?? ''}
        onChange={(e) => set({ [field]: e.target.value === '' ? null : e.target.value })}
      >
        <option value="">none</option>
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.text}
          </option>
        ))}
      </select>
    </label>
  );
  const choice = <K extends 'timeFormat' | 'pressureUnit' | 'tempUnit' | 'decimal'>(
    label: string,
    field: K,
    list: readonly (readonly [ColumnMapping[K], string])[],
  ) => (
    <label className="field">
      <span>{label}</span>
      <select className="input" value={m[field]} onChange={(e) => set({ [field]: e.target.value } as Partial<ColumnMapping>)}>
        {list.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );

  const shown = answer ?? live;
  return (
    <div className="mt-4 border-t border-ink pt-3">
      <h3>
        {sample.file.name}{' '}
        <span className="font-normal text-ink2">
          {sizeWords(sample.file.size)}, {sample.kind === 'csv' ? 'table' : 'NDJSON'}
          {remembered ? ', a make that is known' : ''}
        </span>
      </h3>
      {state !== 'done' && (
        <fieldset disabled={state === 'running'} className="mt-3">
          <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
            {column('Time', 'time')}
            {choice('Times are written', 'timeFormat', [
              ['iso', 'with their offset (ISO 8601)'],
              ['local', 'as a local clock'],
              ['localDayFirst', 'as a local clock, 31/12/2026'],
              ['epochS', 'as seconds since 1970'],
              ['epochMs', 'as milliseconds since 1970'],
            ])}
            {needsZone(m.timeFormat) && (
              <label className="field">
                <span>Time zone of that clock</span>
                <input
                  className="input"
                  value={m.zone}
                  aria-invalid={zoneWrong || undefined}
                  onChange={(e) => set({ zone: e.target.value })}
                />
                {zoneWrong && (
                  <span className="error" role="alert">
                    There is no such zone. Write it like Europe/Berlin or UTC.
                  </span>
                )}
              </label>
            )}
            {needsZone(m.timeFormat) && optional('Time of day, if apart', 'clock')}
            {column('Wheel or sensor', 'wheel')}
            {column('Pressure', 'pressure')}
            {choice('Pressure is in', 'pressureUnit', [
              ['psi', 'psi'],
              ['bar', 'bar'],
              ['kPa', 'kPa'],
            ])}
            {choice('Decimal sign', 'decimal', [
              ['.', 'point'],
              [',', 'comma'],
            ])}
            {optional('Temperature', 'temp')}
            {choice('Temperature is in', 'tempUnit', [
              ['C', '°C'],
              ['F', '°F'],
              ['K', 'K'],
            ])}
            {optional('Cell, volts', 'battery')}
            {optional('Level, dBm', 'rssi')}
          </div>
          {strange.length > 0 && (
            <div className="mt-4">
              <h4 className="font-semibold">Which wheel is meant?</h4>
              <div className="mt-2 grid gap-2 sm:grid-cols-2 lg:grid-cols-4">
                {strange.map((name) => (
                  <label key={name} className="field">
                    <span>“{name}”</span>
                    <select
                      className="input"
                      value={m.wheels[name] ?? '?'}
                      onChange={(e) => {
                        const { [name]: _gone, ...rest } = m.wheels;
                        set({ wheels: e.target.value === '?' ? rest : { ...rest, [name]: e.target.value } });
                      }}
                    >
                      <option value="?">not said: listed as a bad line</option>
                      <option value="">pass over</option>
                      {wheels
                        .filter((w) => w.wheel.sensor)
                        .map((w) => (
                          <option key={w.position} value={w.position}>
                            {w.position}
                          </option>
                        ))}
                    </select>
                  </label>
                ))}
              </div>
            </div>
          )}
          <div className="mt-4 overflow-x-auto">
            <table className="sheet-table">
              <caption className="text-left text-body">Read like this, the first lines say:</caption>
              <HeadRow names={['Time', 'Wheel', 'Pressure', 'Temperature']} />
              <tbody>
                {preview.map((r, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a file have no other name
                  <tr key={i}>
                    {r === null ? (
                      <td colSpan={4} className="text-ink2">
                        passed over
                      </td>
                    ) : 'detail' in r ? (
                      <td colSpan={4} className="error">
                        {options.find((o) => o.value === r.column)?.text ?? ''}: {r.detail}
                      </td>
                    ) : (
                      <>
                        <td>{dayAndTime(r.ms)}</td>
                        <td>{known.get(r.wheel.toUpperCase()) ?? `${r.wheel}?`}</td>
                        <td>{f.pressure(r.pressureKpa)}</td>
                        <td>{r.tempC === null ? 'none' : f.temperature(r.tempC)}</td>
                      </>
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </fieldset>
      )}
      {shown && (
        <div className="mt-4" aria-live="polite">
          {state === 'running' && (
            <progress className="ink-progress mb-2" max={sample.file.size} value={shown.bytes} aria-label="Read so far" />
          )}
          <p className="font-semibold">
            {shown.accepted.toLocaleString('en-GB')} readings kept, {shown.repeated.toLocaleString('en-GB')} were here already,{' '}
            {shown.refusedCount.toLocaleString('en-GB')} bad {shown.refusedCount === 1 ? 'line' : 'lines'}
            {shown.passedOver > 0 ? `, ${shown.passedOver.toLocaleString('en-GB')} passed over` : ''}.
          </p>
          {shown.from && shown.to && (
            <p className="text-body text-ink2">
              From {dayAndTime(Date.parse(shown.from))} to {dayAndTime(Date.parse(shown.to))}.
            </p>
          )}
        </div>
      )}
      {answer && answer.refused.length > 0 && (
        <ul className="mt-2 max-h-[260px] overflow-auto text-body" aria-label="Bad lines">
          {answer.refused.map((r) => (
            <li key={r.line} className="border-b border-rule py-1">
              <b>Line {r.line}</b> {options.find((o) => o.value === r.column)?.text ?? r.column}: {r.detail}
            </li>
          ))}
        </ul>
      )}
      {problem !== '' && (
        <p className="error mt-2" role="alert">
          {problem}
        </p>
      )}
      <p className="mt-4 flex flex-wrap gap-2">
        {state === 'form' && (
          <button type="button" className="btn btn-solid" disabled={good === 0 || zoneWrong} onClick={() => void run()}>
            Bring them in
          </button>
        )}
        {state === 'running' && (
          <button type="button" className="btn" onClick={() => abort.current?.abort()}>
            Cancel
          </button>
        )}
        {state === 'done' && (
          <a className="btn btn-solid" href={`/rigs/${rig.id}/watch/charts`}>
            Look at the charts
          </a>
        )}
      </p>
    </div>
  );
}
