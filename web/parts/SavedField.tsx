import { type ReactNode, useEffect, useRef, useState } from 'react';
import { dropDraft, keepDraft, readDraft } from '../state/drafts.ts';
import { Field } from './controls.tsx';

/** A text that is saved when it is left, and kept as typed meanwhile. */
export function SavedField({
  label,
  value,
  unit,
  check,
  onSave,
  draft,
  hint,
  fault,
  inputMode,
  className,
}: {
  label: string;
  value: string;
  unit?: string;
  check: (text: string) => string | null;
  onSave: (text: string) => void;
  /** Where what is typed and not saved yet is kept. */
  draft?: string;
  hint?: ReactNode;
  /** What is wrong with the saved value itself. */
  fault?: string | undefined;
  inputMode?: 'decimal' | 'numeric' | 'text';
  className?: string;
}) {
  const sent = useRef<string | null>(null);
  const [text, setText] = useState(() => (draft ? readDraft<string>(draft) : null) ?? value);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    sent.current = null;
    setText((draft ? readDraft<string>(draft) : null) ?? value);
  }, [value, draft]);
  const save = () => {
    const wrong = check(text);
    setError(wrong);
    if (wrong !== null) return;
    if (draft) dropDraft(draft);
    if (text.trim() === value) return;
    sent.current = text.trim();
    onSave(text.trim());
  };
  // Enter has saved it; leaving the field need not save it once more.
  const leave = () => {
    if (sent.current !== text.trim()) save();
  };
  return (
    <Field
      label={label}
      {...(unit ? { unit } : {})}
      value={text}
      error={error ?? fault}
      hint={hint}
      {...(inputMode ? { inputMode } : {})}
      {...(className ? { className } : {})}
      onChange={(e) => {
        setText(e.target.value);
        if (draft) keepDraft(draft, e.target.value);
      }}
      onBlur={leave}
      onKeyDown={(e) => {
        if (e.key !== 'Enter') return;
        // It saves this field, not the form around it.
        e.preventDefault();
        save();
      }}
    />
  );
}
