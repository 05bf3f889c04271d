import Papa from 'papaparse';
import { useMemo, useState } from 'react';
import { type DailyMapping, guessMapping, packDays, readDaily } from '#core/climate/daily.ts';
import { DEFAULT_HOT_SHARE } from '#core/pressure/hot-run.ts';
import { convert } from '#core/units/units.ts';
import type { Climate } from '#schema/unit.ts';
import { useLearned, useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { type Format, parseLength, parseNumber, useFormat } from '../../parts/format.ts';
import { dailyFaultWords } from '../../parts/words-limits.ts';
import { keepDraft, readDraft, useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { TypicalYear } from './TypicalYear.tsx';

type Typed = Record<'coldest' | 'hottest' | 'setAt' | 'pass' | 'hot', string>;

const degree = (c: number, f: Format) => String(Number(convert(c, 'C', f.temp).toFixed(1)));

function toTyped(climate: Climate | undefined, f: Format): Typed {
  return {
    coldest: climate ? degree(climate.coldestC, f) : '',
    hottest: climate ? degree(climate.hottestC, f) : '',
    setAt: climate?.altitudeSetM === undefined ? '' : String(climate.altitudeSetM),
    pass: climate?.passM === undefined ? '' : String(climate.passM),
    hot: climate?.hotShare === undefined ? '' : String(Number((climate.hotShare * 100).toFixed(1))),
  };
}

type Errors = Partial<Record<keyof Typed, string>>;

/** Read the day as it is typed. */
export function readDay(typed: Typed, f: Pick<Format, 'temp'>): { climate: Omit<Climate, 'days'> | null; errors: Errors } {
  const errors: Errors = {};
  const temp = (name: 'coldest' | 'hottest') => {
    if (typed[name].trim() === '') return null;
    const n = parseNumber(typed[name]);
    if (n === null) {
      errors[name] = 'Type a number';
      return null;
    }
    const c = convert(n, f.temp, 'C');
    if (c < -60 || c > 60) errors[name] = `No weather is at ${n} °${f.temp}`;
    return c;
  };
  const altitude = (name: 'setAt' | 'pass') => {
    if (typed[name].trim() === '') return undefined;
    const m = parseLength(typed[name]);
    if (m === null) errors[name] = 'Type metres, or feet as in 6360 ft';
    else if (m < -430 || m > 6000) errors[name] = 'No road is there';
    return m ?? undefined;
  };
  const coldestC = temp('coldest');
  const hottestC = temp('hottest');
  const altitudeSetM = altitude('setAt');
  const passM = altitude('pass');
  const hot = typed.hot.trim() === '' ? undefined : parseNumber(typed.hot);
  if (hot === null) errors.hot = 'Type a number';
  else if (hot !== undefined && (hot < 0 || hot > 60)) errors.hot = 'Between 0 and 60 %';
  if (coldestC !== null && hottestC !== null && coldestC > hottestC) errors.coldest = 'Colder than the hottest afternoon';
  if (Object.keys(errors).length > 0 || coldestC === null || hottestC === null) return { climate: null, errors };
  return {
    climate: {
      coldestC,
      hottestC,
      ...(altitudeSetM === undefined ? {} : { altitudeSetM }),
      ...(passM === undefined ? {} : { passM }),
      ...(hot === undefined || hot === null ? {} : { hotShare: hot / 100 }),
    },
    errors,
  };
}

/** The air the rig lives in: typed, or read from a file of daily figures. */
export function DayAndYear() {
  const { rig } = useRig();
  const f = useFormat();
  const { changeRig } = useRecords();
  const learned = useLearned(rig.id).data?.axles ?? {};
  const key = `climate.${rig.id}.${f.temp}`;
  const stored = useMemo(() => toTyped(rig.climate, f), [rig.climate, f]);
  const [typed, setTyped, dropTyped] = useDraft<Typed>(key, stored);
  const { climate, errors } = readDay(typed, f);
  const put = (part: Partial<Typed>) => setTyped((now) => ({ ...now, ...part }));
  const store = async (next: Climate, said: string) => {
    const before = rig.climate;
    try {
      await changeRig(rig.id, (now) => ({ ...now, climate: next }));
      dropTyped();
      toast(said, {
        undo: async () => {
          await changeRig(rig.id, ({ climate: _now, ...rest }) => (before ? { ...rest, climate: before } : rest)).catch(
            toastError,
          );
        },
      });
    } catch (error) {
      toastError(error);
    }
  };
  const leave = () => {
    if (!climate || JSON.stringify(typed) === JSON.stringify(stored)) return;
    // What was not touched keeps its exact value.
    const exact: Climate = { ...climate };
    if (rig.climate && typed.coldest === stored.coldest) exact.coldestC = rig.climate.coldestC;
    if (rig.climate && typed.hottest === stored.hottest) exact.hottestC = rig.climate.hottestC;
    if (rig.climate?.days) exact.days = rig.climate.days;
    void store(exact, 'The day is noted');
  };
  const seen = Object.entries(learned);
  const field = (name: keyof Typed, label: string, unit: string, more: { hint?: string; placeholder?: string } = {}) => (
    <Field
      label={label}
      unit={unit}
      value={typed[name]}
      error={errors[name]}
      onChange={(e) => put({ [name]: e.target.value })}
      onBlur={leave}
      onKeyDown={(e) => e.key === 'Enter' && leave()}
      {...more}
    />
  );
  return (
    <section aria-label="The day and the year" className="mt-8">
      <h2 className="border-b border-ink pb-2">The day and the year</h2>
      <p className="lede mt-1.5 max-w-[72ch]">
        The coldest start and the hottest afternoon of the trip, or of home. They decide which limits make sense.
      </p>
      <div className="mt-3 grid grid-cols-2 items-start gap-3 sm:grid-cols-3 lg:grid-cols-5">
        {field('coldest', 'Coldest start', `°${f.temp}`)}
        {field('hottest', 'Hottest afternoon', `°${f.temp}`)}
        {field('setAt', 'Pressures are set at', 'm', { placeholder: '0' })}
        {field('pass', 'Highest pass', 'm', { placeholder: 'none' })}
        {field('hot', 'A run adds', '%', {
          placeholder: String(DEFAULT_HOT_SHARE * 100),
          hint: seen.length > 0 ? 'empty: what your own runs showed' : 'empty: 10 %, common practice',
        })}
      </div>
      {seen.length > 0 && (
        <p className="mt-2 text-note text-ink2">
          Your own runs added{' '}
          {seen
            .map(
              ([code, l]) =>
                `${(l.share * 100).toFixed(1)} %${l.sd === null ? '' : ` ± ${(l.sd * 100).toFixed(1)}`} on ${code} (${l.runs === 1 ? 'one run' : `${l.runs} runs`})`,
            )
            .join(', ')}
          .
        </p>
      )}
      <TypicalYear
        climate={climate}
        onUse={(days, source) => {
          const packed = packDays(days, source);
          // The coldest and hottest stay those that were typed.
          if (packed && climate) void store({ ...climate, days: packed }, `The Year counts on ${source}.`);
        }}
      />
      <WeatherFile
        onUse={(days, name) => {
          const packed = packDays(days, name);
          if (!packed) return;
          const next: Climate = {
            ...(climate ?? {}),
            coldestC: Math.min(...days.map((d) => d.minC)),
            hottestC: Math.max(...days.map((d) => d.maxC)),
            days: packed,
          };
          void store(next, `${days.length} days of ${name} are in use`);
        }}
      />
    </section>
  );
}

interface Opened {
  name: string;
  rows: string[][];
  mapping: DailyMapping;
}

const MAPPINGS = 'climate.mappings';
/** Files of one source have one head: its mapping is found again by that. */
const headOf = (rows: readonly string[][], skip: number) =>
  (rows[skip - 1] ?? []).join('|').slice(0, 200) || `${rows[0]?.length ?? 0} columns`;

/** A file with a date and a minimum and maximum for each day. */
function WeatherFile({ onUse }: { onUse: (days: ReturnType<typeof readDaily>['days'], name: string) => void }) {
  const { rig } = useRig();
  const f = useFormat();
  const [opened, setOpened] = useState<Opened | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const open = async (file: File) => {
    setProblem(null);
    setOpened(null);
    const rows = Papa.parse<string[]>(await file.text(), { skipEmptyLines: true }).data;
    const guess = guessMapping(rows);
    const width = Math.max(0, ...rows.slice(0, 50).map((r) => r.length));
    if (rows.length === 0 || width < 3) {
      setProblem(
        `${file.name} has no three columns: a date, a minimum and a maximum are needed, with a comma, semicolon or tab between.`,
      );
      return;
    }
    const mapping = guess ?? {
      date: 0,
      min: 1,
      max: 2,
      order: 'ymd' as const,
      unit: 'C' as const,
      decimal: '.' as const,
      skip: 1,
    };
    const known = readDraft<Record<string, DailyMapping>>(MAPPINGS)?.[headOf(rows, mapping.skip)];
    setOpened({ name: file.name, rows, mapping: known ? { ...known, skip: mapping.skip } : mapping });
  };
  const read = useMemo(() => (opened ? readDaily(opened.rows, opened.mapping) : null), [opened]);
  const { days: kept } = rig.climate ?? {};
  const select = <K extends keyof DailyMapping>(label: string, name: K, options: [DailyMapping[K], string][]) => {
    if (!opened) return null;
    return (
      <label className="text-note text-ink2">
        {label}
        <select
          className="input block text-ink"
          value={String(opened.mapping[name])}
          onChange={(e) => {
            const value = options.find(([v]) => String(v) === e.target.value)?.[0];
            if (value !== undefined) setOpened({ ...opened, mapping: { ...opened.mapping, [name]: value } });
          }}
        >
          {options.map(([v, text]) => (
            <option key={String(v)} value={String(v)}>
              {text}
            </option>
          ))}
        </select>
      </label>
    );
  };
  const columns = (opened?.rows[Math.max(0, opened.mapping.skip - 1)] ?? []).map((t, i): [number, string] => [
    i,
    opened && opened.mapping.skip > 0 ? `${i + 1}: ${t || 'no name'}` : `column ${i + 1}`,
  ]);
  return (
    <div className="mt-3">
      <div className="flex flex-wrap items-center gap-3">
        <label className="btn cursor-pointer focus-within:outline-3 focus-within:outline-cyan">
          Read a weather file
          <input
            type="file"
            accept=".csv,.txt,.tsv,text/csv"
            className="sr-only"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void open(file);
              e.target.value = '';
            }}
          />
        </label>
        <span className="text-note text-ink2">
          {kept
            ? `In use: ${kept.source}, ${kept.minC.length} days from ${kept.from}.`
            : 'Any CSV with a date and each day’s minimum and maximum. With it your limits are compared with every day of the year.'}
        </span>
      </div>
      {problem && <p className="error mt-2">{problem}</p>}
      {opened && read && (
        <div className="mt-3 border border-ink p-3">
          <p className="font-semibold">{opened.name}</p>
          <div className="mt-2 grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-6">
            {select('Date', 'date', columns)}
            {select('Minimum', 'min', columns)}
            {select('Maximum', 'max', columns)}
            {select('Date is written', 'order', [
              ['ymd', 'year first'],
              ['dmy', 'day first'],
              ['mdy', 'month first'],
            ])}
            {select('Degrees', 'unit', [
              ['C', '°C'],
              ['F', '°F'],
            ])}
            {select('Decimal sign', 'decimal', [
              ['.', 'point'],
              [',', 'comma'],
            ])}
          </div>
          {read.days.length > 0 ? (
            <p className="mt-2 text-body">
              {read.days.length} days from {read.days[0]?.date} to {read.days.at(-1)?.date}: coldest{' '}
              {f.temperature(Math.min(...read.days.map((d) => d.minC)))}, hottest{' '}
              {f.temperature(Math.max(...read.days.map((d) => d.maxC)))}.
            </p>
          ) : (
            <p className="error mt-2">No day could be read: are the columns right?</p>
          )}
          {read.faults.length > 0 && (
            <details className="mt-1 text-note">
              <summary>
                {read.faults.length === 1 ? 'One line is left out' : `${read.faults.length} lines are left out`}, the rest is used
              </summary>
              <ul className="mt-1 max-h-[180px] overflow-auto">
                {read.faults.slice(0, 200).map((x) => (
                  <li key={x.line}>
                    Line {x.line}: {dailyFaultWords[x.code]}
                    {x.text ? ` (${x.text})` : ''}
                  </li>
                ))}
              </ul>
            </details>
          )}
          <div className="mt-3 flex gap-2">
            <button
              type="button"
              className="btn btn-solid"
              disabled={read.days.length === 0}
              onClick={() => {
                keepDraft(MAPPINGS, {
                  ...readDraft<Record<string, DailyMapping>>(MAPPINGS),
                  [headOf(opened.rows, opened.mapping.skip)]: opened.mapping,
                });
                onUse(read.days, opened.name);
                setOpened(null);
              }}
            >
              Use these days
            </button>
            <button type="button" className="btn" onClick={() => setOpened(null)}>
              Leave it
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
