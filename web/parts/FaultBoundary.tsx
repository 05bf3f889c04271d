import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { PartMissing } from './lazy-part.ts';

/** Instead of a part of the page that failed: what can be done about it. */
function Failed({ what, about, error, resetErrorBoundary }: FallbackProps & { what: string; about: string }) {
  const missing = error instanceof PartMissing;
  return (
    <section role="alert" className="my-4 max-w-[62ch] border-2 border-ink p-4">
      <h2 className="text-head">{what} could not be shown</h2>
      <p className="mt-2">
        {about} What was saved is safe.
        {missing &&
          (error.why === 'updated'
            ? ' Druckwerk has been updated since this page was opened.'
            : ' The connection dropped while it was being fetched, and this page can’t fetch it a second time.')}
        {missing && ' Load the page again and touch it once: until then the browser may not let alarms sound.'}
      </p>
      <p className="mt-2 text-note text-ink2">The browser says: {error instanceof Error ? error.message : String(error)}</p>
      <p className="mt-3 flex flex-wrap gap-2">
        {!missing && (
          <button type="button" className="btn btn-solid" onClick={resetErrorBoundary}>
            Try again
          </button>
        )}
        <button type="button" className={missing ? 'btn btn-solid' : 'btn'} onClick={() => window.location.reload()}>
          Load the page again
        </button>
      </p>
    </section>
  );
}

/**
 * A fault in what stands inside stays inside: the rest of the page, and the alarms on it, go on.
 * @param what is meant, as a sentence begins
 * @param about what the fault does not touch, or what it means, in full sentences
 * @param until when one of these changes, it is tried again
 */
export function FaultBoundary({
  what,
  about,
  until = [],
  children,
}: {
  what: string;
  about: string;
  until?: readonly unknown[];
  children: ReactNode;
}) {
  return (
    <ErrorBoundary resetKeys={[...until]} fallbackRender={(props) => <Failed {...props} what={what} about={about} />}>
      {children}
    </ErrorBoundary>
  );
}
