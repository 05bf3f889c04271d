import { type ComponentType, type LazyExoticComponent, lazy } from 'react';
import { askBuild } from '../data/build.ts';

type Loaded<T> = { default: T };

/** The server runs another version than this page and no longer has this part. Only loading the page again helps. */
export class PartMissing extends Error {}

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 10_000;

/**
 * The part again under another address. A browser may remember for the life of a page that a module could not be fetched, and then never
 * asks for it again under the same one.
 * @returns null where the error doesn't say which file it was
 */
function again<T>(error: unknown, attempt: number): Promise<T> | null {
  const address = /https?:\/\/\S+?\.js/.exec(error instanceof Error ? error.message : '')?.[0];
  if (!address || new URL(address).origin !== window.location.origin) return null;
  return import(/* @vite-ignore */ `${address}?again=${attempt}`) as Promise<T>;
}

/**
 * A part of the app, fetched as often as it takes: when the line drops just then it comes with the line, however long that is.
 * @throws PartMissing when the server answers and is of another version
 */
export async function fetchPart<T>(load: () => Promise<T>): Promise<T> {
  let failure: unknown;
  try {
    return await load();
  } catch (error) {
    failure = error;
  }
  for (let attempt = 1, wait = FIRST_WAIT_MS; ; attempt += 1, wait = Math.min(wait * 2, LONGEST_WAIT_MS)) {
    const server = await askBuild();
    if (server === 'other') throw new PartMissing(failure instanceof Error ? failure.message : String(failure));
    if (server === 'same') {
      try {
        // By turns, for either may be what this browser needs.
        return await (attempt % 2 === 1 ? (again<T>(failure, attempt) ?? load()) : load());
      } catch {
        // Asked again below; the first failure names the file.
      }
    }
    await new Promise((resolve) => setTimeout(resolve, wait));
  }
}

/** A part of the app that is fetched when it is first shown, over a line that may drop. */
// biome-ignore lint/suspicious/noExplicitAny: as React's own `lazy`
export const lazyPart = <T extends ComponentType<any>>(load: () => Promise<Loaded<T>>): LazyExoticComponent<T> =>
  lazy(() => fetchPart(load));
