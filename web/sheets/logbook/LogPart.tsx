import Papa from 'papaparse';
import { useMemo, useState } from 'react';
import { type LogLine, timelineOf } from '#core/log/timeline.ts';
import { addressOf } from '../../data/address.ts';
import { useAlarmHistory, useEvents, useMonitor, useRecords } from '../../data/queries.ts';
import { dayAndTime, useFormat } from '../../parts/format.ts';
import { save } from '../../parts/save.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { LogForm } from './LogForm.tsx';
import { Tools } from './Tools.tsx';
import { useLeaks } from './useLeaks.ts';
import { FILTERS, type Filter, inFilter, lineWords } from './words.ts';

/** So many lines are drawn at first. */
const PAGE = 60;

interface Row {
  line: LogLine;
  words: { title: string; text: string };
  /** Wheels to which the same thing happened within two hours. */
  positions: string[];
}

/** The same on one wheel after the other is one line: within so many ms. */
const TOGETHER_MS: Partial<Record<LogLine['what'], number>> = { fitted: 2 * 3_600_000, found: 26 * 3_600_000 };

/** Wheels that were fitted, or filled, one after the other are one line. */
function together(lines: readonly Omit<Row, 'positions'>[]): Row[] {
  const out: Row[] = [];
  for (const { line, words } of lines) {
    const last = out.at(-1);
    const within = TOGETHER_MS[line.what];
    if (last && within !== undefined && last.line.what === line.what && last.line.ms - line.ms < within)
      last.positions.push(line.position as string);
    else out.push({ line, words, positions: line.position ? [line.position] : [] });
  }
  for (const row of out) row.positions.sort();
  return out;
}

/** All that happened to a rig, the latest first. */
export function LogPart() {
  const { rig, units, wheels } = useRig();
  const f = useFormat();
  const monitor = useMonitor(rig);
  const alarms = useAlarmHistory(rig.id);
  const events = useEvents(rig.id, `${rig.version} ${units.map((u) => u.version).join()}`);
  const { leaks } = useLeaks(365);
  const { changeRig } = useRecords();
  const [filter, setFilter] = useState<Filter>('all');
  const [position, setPosition] = useState('');
  const [text, setText] = useState('');
  const [most, setMost] = useState(PAGE);
  const lines = useMemo(
    () =>
      timelineOf(rig, units, monitor ?? null, alarms.data ?? [], { events: events.data ?? [], leaks }).map((line) => ({
        line,
        words: lineWords(line, f),
      })),
    [rig, units, monitor, alarms.data, events.data, leaks, f],
  );
  const asked = text.trim().toLowerCase();
  const shown = lines.filter(
    ({ line, words }) =>
      inFilter(line, filter) &&
      (position === '' || line.position === position) &&
      (asked === '' || `${line.position ?? ''} ${words.title} ${words.text}`.toLowerCase().includes(asked)),
  );
  const rows = together(shown);
  const csv = () => {
    const rows = shown.map(({ line, words }) => [new Date(line.ms).toISOString(), line.position ?? '', words.title, words.text]);
    const out = Papa.unparse([['time', 'wheel', 'what', 'details'], ...rows], { newline: '\r\n' });
    save(new Blob([`${out}\r\n`], { type: 'text/csv' }), `${rig.name} log.csv`);
  };
  const remove = async (id: string) => {
    const entry = rig.log?.find((e) => e.id === id);
    try {
      await changeRig(rig.id, (now) => ({ ...now, log: (now.log ?? []).filter((e) => e.id !== id) }));
      toast('The entry is deleted.', {
        undo: () => entry && void changeRig(rig.id, (now) => ({ ...now, log: [...(now.log ?? []), entry] })).catch(toastError),
      });
    } catch (error) {
      toastError(error);
    }
  };
  return (
    <div className="grid gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_336px]">
      <section aria-label="Log" className="min-w-0">
        <div className="mb-3 flex flex-wrap items-end gap-2 print:hidden">
          <div className="field w-[172px]">
            <label htmlFor="log-what">Show</label>
            <select id="log-what" className="input" value={filter} onChange={(e) => setFilter(e.target.value as Filter)}>
              {(Object.keys(FILTERS) as Filter[]).map((k) => (
                <option key={k} value={k}>
                  {FILTERS[k]}
                </option>
              ))}
            </select>
          </div>
          <div className="field w-[88px]">
            <label htmlFor="log-of">Of wheel</label>
            <select id="log-of" className="input" value={position} onChange={(e) => setPosition(e.target.value)}>
              <option value="">All</option>
              {wheels.map((w) => (
                <option key={w.position} value={w.position}>
                  {w.position}
                </option>
              ))}
            </select>
          </div>
          <div className="field min-w-[100px] grow basis-0">
            <label htmlFor="log-search">Search</label>
            <input id="log-search" type="search" className="input" value={text} onChange={(e) => setText(e.target.value)} />
          </div>
          <button type="button" className="btn" disabled={shown.length === 0} onClick={csv}>
            Export CSV
          </button>
          <button type="button" className="btn" disabled={shown.length === 0} onClick={() => window.print()}>
            Print
          </button>
        </div>
        {lines.length === 0 ? (
          <p className="max-w-[60ch]">
            Drives, alarms, paired sensors, fitted wheels and changed limits will be listed here by themselves. Write down what
            the app can’t know: a tire you filled, a puncture, a new battery.
          </p>
        ) : shown.length === 0 ? (
          <p>No matches</p>
        ) : (
          <ol className="border-t border-ink">
            {rows.slice(0, most).map(({ line, words, positions }) => (
              <li
                key={line.key}
                className="grid grid-cols-[148px_72px_minmax(0,1fr)_auto] items-baseline gap-x-3 border-b border-rule py-2 max-md:grid-cols-[72px_minmax(0,1fr)_auto]"
                data-what={line.what}
              >
                <span className="narrow text-note text-ink2 max-md:col-span-3">{dayAndTime(line.ms)}</span>
                <span className="narrow text-body font-bold">
                  {positions.length > 1 ? `${positions.length} wheels` : (line.position ?? 'rig')}
                </span>
                <span className="text-body break-words">
                  <span className="font-semibold">{words.title}</span>
                  {positions.length > 1 && line.what === 'found' ? (
                    <span>: {positions.join(', ')}, by their readings</span>
                  ) : (
                    <>
                      {words.text && <span>: {words.text}</span>}
                      {positions.length > 1 && <span>: {positions.join(', ')}</span>}
                    </>
                  )}
                  {line.what === 'entry' && line.entry.photos && (
                    <span className="mt-1 flex flex-wrap gap-2">
                      {line.entry.photos.map((id, i) => (
                        <a key={id} href={addressOf('photo', { params: { id } })} target="_blank" rel="noreferrer">
                          <img
                            src={addressOf('photo', { params: { id } })}
                            alt={`${words.title}, number ${i + 1}`}
                            className="h-[72px] border border-ink object-cover"
                          />
                        </a>
                      ))}
                    </span>
                  )}
                </span>
                {line.what === 'entry' && (
                  <button
                    type="button"
                    className="btn btn-small print:hidden"
                    aria-label={`Delete ${words.title} of ${dayAndTime(line.ms)}`}
                    onClick={() => void remove(line.entry.id)}
                  >
                    Delete
                  </button>
                )}
              </li>
            ))}
          </ol>
        )}
        {rows.length > most && (
          <p className="mt-3">
            <button type="button" className="btn" onClick={() => setMost(most + PAGE)}>
              Show more, {rows.length - most} left
            </button>
          </p>
        )}
      </section>
      <section aria-label="Write it down" className="print:hidden max-xl:order-first">
        <h2 className="mb-2 border-b border-ink pb-1">Write it down</h2>
        <LogForm />
        <Tools />
      </section>
    </div>
  );
}
