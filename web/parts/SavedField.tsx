import { useEffect, useRef, useState } from 'react';
import { Field } from './controls.tsx';

/** A text that is saved when it is left, and kept as typed meanwhile. */
export function SavedField({
  label,
  value,
  unit,
  check,
  onSave,
}: {
  label: string;
  value: string;
  unit?: string;
  check: (text: string) => string | null;
  onSave: (text: string) => void;
}) {
  const sent = useRef<string | null>(null);
  const [text, setText] = useState(value);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    sent.current = null;
    setText(value);
  }, [value]);
  const save = () => {
    const wrong = check(text);
    setError(wrong);
    if (wrong !== null || text.trim() === value) return;
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
      error={error ?? undefined}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => e.key === 'Enter' && save()}
    />
  );
}
