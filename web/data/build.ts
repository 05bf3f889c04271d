import { useSyncExternalStore } from 'react';
import { addressOf } from './address.ts';

/** Header of every answer of the server with the name of its build. */
const HEADER = 'Druckwerk-Build';

/** The build this page is of; null where the page was not built (development, tests). */
const own = (): string | null => {
  const content = document.querySelector<HTMLMetaElement>('meta[name="build"]')?.content ?? null;
  return content === null || content.startsWith('__') ? null : content;
};

let outdated = false;
const listeners = new Set<() => void>();

/** Look at an answer of the server: is it of another build than this page? */
export function noteBuild(answer: Pick<Response, 'headers'>): void {
  const [page, server] = [own(), answer.headers.get(HEADER)];
  if (page === null || server === null || (page !== server) === outdated) return;
  outdated = page !== server;
  for (const l of listeners) l();
}

/** Whether the server runs another version than this page. */
export const useOutdated = (): boolean =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => outdated,
  );

/** Ask the server which build it is: this page's, another, or no answer. */
export async function askBuild(): Promise<'same' | 'other' | 'none'> {
  try {
    const answer = await fetch(addressOf('health', {}), { cache: 'no-store' });
    if (!answer.ok) return 'none';
    noteBuild(answer);
    return outdated ? 'other' : 'same';
  } catch {
    return 'none';
  }
}
