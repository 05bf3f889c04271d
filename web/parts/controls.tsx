import { ToggleGroup } from 'radix-ui';
import { type ComponentProps, type ReactNode, useId } from 'react';

/** A row of choices of which one holds. */
export function Switch<T extends string>({
  label,
  value,
  options,
  onChange,
  parts = false,
}: {
  label: string;
  value: T;
  options: readonly { value: T; text: string }[];
  onChange: (value: T) => void;
  /** It leads to another part of a sheet; else it is a setting. */
  parts?: boolean;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      className={`switch ${parts ? 'switch-parts' : ''}`}
      aria-label={label}
      value={value}
      onValueChange={(v) => v !== '' && onChange(v as T)}
    >
      {options.map((o) => (
        <ToggleGroup.Item key={o.value} value={o.value}>
          {o.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

export interface FieldProps extends Omit<ComponentProps<'input'>, 'id'> {
  label: string;
  /** Shown behind the input: the unit of the figure. */
  unit?: string;
  error?: string | undefined;
  hint?: ReactNode;
}

/** A labelled input with its unit and its error. */
export function Field({ label, unit, error, hint, className = '', ...input }: FieldProps) {
  const id = useId();
  const about = [error ? `${id}-error` : '', hint ? `${id}-hint` : ''].filter(Boolean).join(' ');
  return (
    <div className={`field ${className}`}>
      <label htmlFor={id}>{label}</label>
      <div className="flex items-center gap-2">
        <input
          id={id}
          className="input"
          aria-invalid={error ? true : undefined}
          aria-describedby={about || undefined}
          autoComplete="off"
          {...input}
        />
        {unit && <span className="text-body whitespace-nowrap">{unit}</span>}
      </div>
      {error && (
        <p id={`${id}-error`} className="error" role="alert">
          {error}
        </p>
      )}
      {hint && (
        <p id={`${id}-hint`} className="mt-1 text-note text-ink2">
          {hint}
        </p>
      )}
    </div>
  );
}

/** A caution beside the act it concerns. */
export function Notice({ children, tone = 'look' }: { children: ReactNode; tone?: 'look' | 'act' }) {
  return (
    <div className={`notice ${tone === 'look' ? 'halftone-yellow' : 'halftone-magenta'}`}>
      <div>{children}</div>
    </div>
  );
}

/** Head of a sheet: what it is, and the one line that says where things stand. */
export function SheetHead({ title, children, aside }: { title: string; children?: ReactNode; aside?: ReactNode }) {
  return (
    <div className="mb-4 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
      <div>
        <h1>{title}</h1>
        {children && <p className="lede mt-1.5 max-w-[68ch]">{children}</p>}
      </div>
      {aside}
    </div>
  );
}
