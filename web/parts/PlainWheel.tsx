import type { ReactNode } from 'react';
import type { RigWheel } from '#core/rig/positions.ts';

/** A wheel to select on a plan, outside the watch: dashed while it has no sensor. */
export function PlainWheel({
  wheel,
  selected,
  paired,
  stripe = false,
  label,
  onSelect,
  children,
}: {
  wheel: RigWheel;
  selected: boolean;
  paired: boolean;
  /** A cyan edge for what is done. */
  stripe?: boolean;
  label?: string;
  onSelect: (position: string) => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className="wheel min-h-0!"
      data-ink={paired ? 'steady' : 'bare'}
      data-position={wheel.position}
      aria-pressed={selected}
      aria-label={label}
      onClick={() => onSelect(wheel.position)}
    >
      <span className={`flex h-full flex-col justify-between p-2 ${stripe ? 'border-l-[10px] border-cyan' : ''}`}>
        {children}
      </span>
    </button>
  );
}
