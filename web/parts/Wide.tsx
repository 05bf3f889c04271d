import type { ReactNode } from 'react';

/** Something wider than a phone: it scrolls by finger, and by key once it is focused. */
export function Wide({ label, className = '', children }: { label: string; className?: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by the keyboard
    <section aria-label={label} tabIndex={0} className={`overflow-x-auto ${className}`}>
      {children}
    </section>
  );
}
