import { type ComponentType, type LazyExoticComponent, lazy } from 'react';

type Loaded<T> = { default: T };

/** A part that the server does not have: this page is of another version than it. Only loading the page anew helps. */
export class PartMissing extends Error {}

/** Whether the server answers at all. */
async function answers(): Promise<boolean> {
  try {
    return (await fetch('/api/health', { cache: 'no-store' })).ok;
  } catch {
    return false;
  }
}

/** So often may a part be missing while the server answers; then it is another version's. */
const MOST_MISSED = 3;
const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 10_000;

/**
 * Fetch a part of the app. When the line drops just then it is fetched again until it comes, however long that takes.
 * @throws PartMissing when the server answers and the part is not there all the same
 */
export async function fetchPart<T>(load: () => Promise<T>): Promise<T> {
  let missed = 0;
  for (let wait = FIRST_WAIT_MS; ; wait = Math.min(wait * 2, LONGEST_WAIT_MS)) {
    try {
      return await load();
    } catch (error) {
      if (await answers()) missed += 1;
      if (missed >= MOST_MISSED) throw new PartMissing(error instanceof Error ? error.message : String(error));
    }
    await new Promise((resolve) => setTimeout(resolve, wait));
  }
}

/** A part of the app that is fetched when it is first shown, over a line that may drop. */
// biome-ignore lint/suspicious/noExplicitAny: as React's own `lazy`
export const lazyPart = <T extends ComponentType<any>>(load: () => Promise<Loaded<T>>): LazyExoticComponent<T> =>
  lazy(() => fetchPart(load));
