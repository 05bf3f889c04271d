import { Dialog } from 'radix-ui';
import { type ReactNode, useRef } from 'react';

/** A box over the sheet. */
export function Box({
  open,
  onClose,
  title,
  children,
  focusOn,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  children: ReactNode;
  /** What has the focus when it opens, as a CSS selector inside the box; its first control unless given. */
  focusOn?: string;
}) {
  // Noted while it opens: a field of the box may take the focus before anything else is asked.
  const before = useRef<Element | null>(null);
  const wasOpen = useRef(false);
  if (open !== wasOpen.current) {
    wasOpen.current = open;
    if (open) before.current = document.activeElement;
  }
  return (
    <Dialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="dialog-veil" />
        <Dialog.Content
          className="dialog"
          aria-describedby={undefined}
          onOpenAutoFocus={(e) => {
            const target = focusOn && e.target instanceof HTMLElement && e.target.querySelector<HTMLElement>(focusOn);
            if (!target) return;
            e.preventDefault();
            target.focus();
          }}
          onCloseAutoFocus={(e) => {
            e.preventDefault();
            // Back to where it was opened from, unless what was chosen has led elsewhere by now.
            const { activeElement } = document;
            if ((activeElement === null || activeElement === document.body) && before.current instanceof HTMLElement)
              before.current.focus();
          }}
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <Dialog.Title className="font-display text-big font-semibold">{title}</Dialog.Title>
            <Dialog.Close className="btn btn-small">Close</Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
