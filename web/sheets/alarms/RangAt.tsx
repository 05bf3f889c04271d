import { useState } from 'react';
import type { Monitor } from '#schema/monitor.ts';
import { useRecords } from '../../data/queries.ts';
import { Field } from '../../parts/controls.tsx';
import { parseNumber } from '../../parts/format.ts';
import { useDraft } from '../../state/drafts.ts';
import { toast, toastError } from '../../state/toast.ts';

/** What a baseline monitor makes of its baseline, learnt from what it rang at: once low, and high where that was tried. */
export function RangAt({ monitor }: { monitor: Monitor }) {
  const { changeMonitor } = useRecords();
  const [typed, setTyped, drop] = useDraft(`rang.${monitor.id}`, { normal: '', low: '', high: '' });
  const [errors, setErrors] = useState<Partial<Record<'normal' | 'low' | 'high', string>>>({});
  const note = async () => {
    const normal = parseNumber(typed.normal);
    const low = parseNumber(typed.low);
    const high = typed.high.trim() === '' ? null : parseNumber(typed.high);
    const wrong: typeof errors = {};
    if (normal === null || normal <= 0) wrong.normal = 'The normal pressure that was keyed';
    else {
      if (low === null || low <= 0 || low >= normal) wrong.low = 'Under the normal pressure';
      if (high !== null && (high <= normal || high > 3 * normal)) wrong.high = 'Over the normal pressure';
      if (high === null && typed.high.trim() !== '') wrong.high = 'Type a number';
    }
    setErrors(wrong);
    if (Object.keys(wrong).length > 0 || normal === null || low === null) return;
    const before = monitor.derives;
    try {
      await changeMonitor(monitor.id, (m) => ({
        ...m,
        derives: { lowShare: 1 - low / normal, highShare: high === null ? null : high / normal - 1 },
      }));
      drop();
      toast('Noted: that is what this monitor makes of a baseline.', {
        undo: async () => {
          await changeMonitor(monitor.id, ({ derives: _now, ...m }) => (before ? { ...m, derives: before } : m)).catch(
            toastError,
          );
        },
      });
    } catch (error) {
      toastError(error);
    }
  };
  const field = (name: 'normal' | 'low' | 'high', label: string) => (
    <Field
      label={label}
      unit={monitor.unit}
      className="w-[150px]"
      inputMode="decimal"
      value={typed[name]}
      error={errors[name]}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
      onKeyDown={(e) => {
        if (e.key !== 'Enter') return;
        // It notes the rings, not the rule around them.
        e.preventDefault();
        void note();
      }}
    />
  );
  return (
    <fieldset className="mt-3 text-body">
      <legend className="font-semibold">When did it ring?</legend>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        {field('normal', 'Normal that was keyed')}
        {field('low', 'It rang low at')}
        {field('high', 'High at (may be empty)')}
        <button type="button" className="btn btn-small" onClick={() => void note()}>
          Note it
        </button>
      </div>
    </fieldset>
  );
}
