import { Toast as Radix } from 'radix-ui';
import { useEffect, useState } from 'react';
import { connectToasts, type Toast } from '../state/toast.ts';

/** Loaded after the first sheet. */
export default function Toasts() {
  const [list, setList] = useState<Toast[]>([]);
  useEffect(() => connectToasts((t) => setList((l) => [...l.slice(-1), t])), []);
  const drop = (id: number) => setList((l) => l.filter((t) => t.id !== id));
  return (
    <Radix.Provider swipeDirection="right" label="Message">
      {list.map((t) => (
        <Radix.Root
          key={t.id}
          duration={t.tone === 'error' ? 15_000 : 9000}
          onOpenChange={(open) => !open && drop(t.id)}
          className={`flex items-center gap-3 border-2 bg-paper px-4 py-1.5 text-body ${t.tone === 'error' ? 'border-magenta' : 'border-ink'}`}
        >
          <Radix.Description className="grow">{t.text}</Radix.Description>
          {t.undo && (
            <Radix.Action altText="Undo" asChild>
              <button type="button" className="btn btn-small btn-solid" onClick={() => void t.undo?.()}>
                Undo
              </button>
            </Radix.Action>
          )}
          <Radix.Close className="btn btn-small">Close</Radix.Close>
        </Radix.Root>
      ))}
      {/* Over the head of the page, the last one first: at the foot it lay on the act that leads on until it went. */}
      <Radix.Viewport className="fixed z-40 toasts flex w-[min(560px,calc(100vw-24px))] flex-col-reverse gap-1 outline-none max-md:top-0 max-md:left-1/2 max-md:-translate-x-1/2 md:top-[3px] md:left-[207px]" />
    </Radix.Provider>
  );
}
