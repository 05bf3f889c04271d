import { addressOf } from './address.ts';
import { sharedValue } from './shared-value.ts';

/** Header of every answer of the server with the name of its build. */
const HEADER = 'Druckwerk-Build';

/** The build this page is of; null where the page was not built (development, tests). */
const own = (): string | null => {
  const content = document.querySelector<HTMLMetaElement>('meta[name="build"]')?.content ?? null;
  return content === null || content.startsWith('__') ? null : content;
};

/** Whether the server runs another version than this page. */
const outdated = sharedValue(false);
export const useOutdated = outdated.use;

/** Look at an answer of the server: is it of another build than this page? */
export function noteBuild(answer: Pick<Response, 'headers'>): void {
  const [page, server] = [own(), answer.headers.get(HEADER)];
  if (page !== null && server !== null) outdated.set(page !== server);
}

/** Ask the server which build it is: this page's, another, or no answer. */
export async function askBuild(): Promise<'same' | 'other' | 'none'> {
  try {
    const answer = await fetch(addressOf('health', {}), { cache: 'no-store' });
    if (!answer.ok) return 'none';
    noteBuild(answer);
    return outdated.get() ? 'other' : 'same';
  } catch {
    return 'none';
  }
}
