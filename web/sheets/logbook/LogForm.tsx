import { useRef, useState } from 'react';
import { v4 as newId } from 'uuid';
import { toolsOf } from '#core/log/tools.ts';
import { settingOf } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import { slipOf } from '#core/watch/slips.ts';
import { LOG_KINDS, type LogEntry, type Stated } from '#schema/unit.ts';
import { useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { fieldFigure, forField, parseNumber, useFormat } from '../../parts/format.ts';
import { Photos } from '../../parts/Photos.tsx';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';
import { useRig } from '../../state/useRig.ts';
import { KIND_WORDS } from './words.ts';

/** What stands in the form. */
interface TypedEntry {
  at: string;
  kind: LogEntry['kind'];
  position: string;
  before: string;
  after: string;
  tool: string;
  note: string;
  /** What the sensor read beside the gauge. */
  sensor: string;
  photos: string[];
}
const fresh = (): TypedEntry => ({
  at: '',
  kind: 'filled',
  position: '',
  before: '',
  after: '',
  tool: '',
  note: '',
  sensor: '',
  photos: [],
});

/** Kinds that are about a pressure. */
const WITH_FIGURES: readonly LogEntry['kind'][] = ['filled', 'checked', 'puncture'];
const OLDEST_MS = Date.UTC(1990, 0, 1);

/** Write something down. */
export function LogForm() {
  const { rig, wheels } = useRig();
  const f = useFormat();
  const { addToLog, changeRig } = useRecords();
  const [typed, setTyped, drop] = useDraft<TypedEntry>(`log.${rig.id}`, fresh());
  const [errors, setErrors] = useState<Partial<Record<keyof TypedEntry, string>>>({});
  const sent = useRef<TypedEntry | null>(null);
  const [slip, setSlip] = useState<{ field: 'before' | 'after'; meant: string } | null>(null);
  const figures = WITH_FIGURES.includes(typed.kind);
  const wheel = wheels.find((w) => w.position === typed.position);
  const cold = wheel ? settingOf(wheel, rig.loadState).cold : undefined;
  const put = (change: Partial<TypedEntry>) => setTyped({ ...typed, ...change });

  const stated = (field: 'before' | 'after' | 'sensor', found: typeof errors): Stated | undefined => {
    const text = (typed[field] ?? '').trim();
    if (text === '' || !figures) return undefined;
    const value = parseNumber(text);
    const kpa = value === null ? Number.NaN : convert(value, f.unit, 'kPa');
    if (!(kpa > 0 && kpa <= 1400)) {
      found[field] = `A pressure over 0, up to ${f.pressure(1400)}`;
      return undefined;
    }
    return { kpa, typed: { text, unit: f.unit } };
  };
  /** Typed in another unit: 2.4 where 35 psi is likely. */
  const findSlip = (): typeof slip => {
    for (const field of ['before', 'after'] as const) {
      const value = parseNumber(typed[field]);
      if (value === null || !figures) continue;
      const s = slipOf({ position: typed.position, value, unit: f.unit, likelyKpa: cold?.kpa ?? null });
      if (s?.kind === 'unit') return { field, meant: fieldFigure(convert(s.meant, f.unit, 'kPa'), f.unit) };
    }
    return null;
  };
  const save = async (sure: boolean) => {
    const found: typeof errors = {};
    const ms = typed.at === '' ? Date.now() : Date.parse(typed.at);
    if (Number.isNaN(ms)) found.at = 'A date and a time';
    else if (ms > Date.now() + 120_000) found.at = 'This is in the future. Write it down once it is done.';
    else if (ms < OLDEST_MS) found.at = 'Not before 1990';
    const before = stated('before', found);
    const after = stated('after', found);
    const sensor = stated('sensor', found);
    if (typed.kind === 'filled' && !after && !found.after) found.after = 'What it was filled to';
    if (typed.kind === 'note' && typed.note.trim() === '') found.note = 'Write the note';
    setErrors(found);
    if (Object.keys(found).length > 0) return;
    const asked = sure ? null : findSlip();
    setSlip(asked);
    if (asked) return;
    // A second press while the first is on its way.
    if (sent.current === typed) return;
    sent.current = typed;
    const entry: LogEntry = {
      id: newId(),
      at: new Date(ms).toISOString(),
      kind: typed.kind,
      ...(typed.position ? { position: typed.position } : {}),
      ...(before ? { before } : {}),
      ...(after ? { after } : {}),
      ...(sensor ? { sensorKpa: sensor.kpa } : {}),
      ...(typed.tool.trim() ? { tool: typed.tool.trim() } : {}),
      ...(typed.note.trim() ? { note: typed.note.trim() } : {}),
      ...((typed.photos ?? []).length > 0 ? { photos: typed.photos } : {}),
    };
    try {
      await addToLog(rig.id, entry);
      // The next one is often the same job on the next wheel.
      drop({ ...fresh(), kind: typed.kind, tool: typed.tool, at: typed.at }, typed);
      toast('Written down.', {
        undo: () =>
          void changeRig(rig.id, (now) => ({ ...now, log: (now.log ?? []).filter((e) => e.id !== entry.id) })).catch(toastError),
      });
    } catch (error) {
      sent.current = null;
      toastError(error);
    }
  };
  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void save(false);
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <div className="field">
          <label htmlFor="log-kind">What</label>
          <select
            id="log-kind"
            className="input"
            value={typed.kind}
            onChange={(e) => put({ kind: e.target.value as LogEntry['kind'] })}
          >
            {LOG_KINDS.map((k) => (
              <option key={k} value={k}>
                {KIND_WORDS[k]}
              </option>
            ))}
          </select>
        </div>
        <div className="field">
          <label htmlFor="log-wheel">Wheel</label>
          <select id="log-wheel" className="input" value={typed.position} onChange={(e) => put({ position: e.target.value })}>
            <option value="">The whole rig</option>
            {wheels.map((w) => (
              <option key={w.position} value={w.position}>
                {w.position}
              </option>
            ))}
          </select>
        </div>
      </div>
      <Field
        label="When; empty is now"
        type="datetime-local"
        max={forField(Date.now())}
        value={typed.at}
        error={errors.at}
        onChange={(e) => put({ at: e.target.value })}
      />
      {figures && (
        <div className="grid grid-cols-2 items-start gap-3">
          <Field
            label="Before"
            unit={f.unit}
            inputMode="decimal"
            value={typed.before}
            error={errors.before}
            onChange={(e) => put({ before: e.target.value })}
          />
          <Field
            label="After"
            unit={f.unit}
            inputMode="decimal"
            value={typed.after}
            error={errors.after}
            onChange={(e) => put({ after: e.target.value })}
          />
        </div>
      )}
      {slip && (
        <div className="border-2 border-ink p-3 text-body" role="alert">
          <p>
            {typed[slip.field]} {f.unit} is far from the cold pressure of {typed.position}. In another unit it would be{' '}
            {slip.meant} {f.unit}.
          </p>
          <p className="mt-2 flex flex-wrap gap-2">
            <button type="button" className="btn btn-small" onClick={() => void save(true)}>
              Keep {typed[slip.field]} {f.unit}
            </button>
            <button
              type="button"
              className="btn btn-small"
              onClick={() => {
                put({ [slip.field]: slip.meant });
                setSlip(null);
              }}
            >
              Take {slip.meant} {f.unit}
            </button>
          </p>
        </div>
      )}
      <Field
        label="Gauge or pump"
        placeholder="such as garage pump"
        list="log-tools"
        maxLength={60}
        value={typed.tool}
        onChange={(e) => put({ tool: e.target.value })}
      />
      <datalist id="log-tools">
        {toolsOf(rig.log ?? [], rig.tools).map((t) => (
          <option key={t.name} value={t.name} />
        ))}
      </datalist>
      {figures && (
        <Field
          label="The sensor then read; leave empty if you didn’t look"
          unit={f.unit}
          inputMode="decimal"
          value={typed.sensor ?? ''}
          error={errors.sensor}
          onChange={(e) => put({ sensor: e.target.value })}
        />
      )}
      <div className="field">
        <label htmlFor="log-note">Note</label>
        <textarea
          id="log-note"
          className="input min-h-[64px] py-2"
          maxLength={1000}
          aria-invalid={errors.note ? true : undefined}
          value={typed.note}
          onChange={(e) => put({ note: e.target.value })}
        />
        {errors.note && (
          <p className="error" role="alert">
            {errors.note}
          </p>
        )}
      </div>
      <Photos position={typed.position || 'log'} ids={typed.photos ?? []} onChange={(photos) => put({ photos })} />
      <p className="next-step">
        <button type="submit" className="btn btn-solid">
          Write it down
        </button>
      </p>
    </form>
  );
}
