import { type ComponentType, type LazyExoticComponent, lazy } from 'react';
import { askBuild } from '../data/build.ts';

type Loaded<T> = { default: T };

/**
 * A part that only loading the page again brings. `updated`: the server runs another version and no longer has it. `stuck`: a module that it
 * shares with others didn't come while the line was down. A browser remembers that for the life of the page, and no other address helps, since
 * the part names the module itself.
 */
export class PartMissing extends Error {
  readonly why: 'updated' | 'stuck';
  constructor(why: 'updated' | 'stuck', error: unknown) {
    super(error instanceof Error ? error.message : String(error));
    this.why = why;
  }
}

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 10_000;
/** So often it fails while the server answers, by both ways twice, until it is called stuck. */
const STUCK_AFTER = 4;

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
 * @param patient never call it stuck: the page goes on well without it
 * @throws PartMissing when the server answers and is of another version, or answers again and again and the part doesn't come
 */
export async function fetchPart<T>(load: () => Promise<T>, patient = false): Promise<T> {
  let failure: unknown;
  let answered = 0;
  try {
    return await load();
  } catch (error) {
    failure = error;
  }
  for (let attempt = 1, wait = FIRST_WAIT_MS; ; attempt += 1, wait = Math.min(wait * 2, LONGEST_WAIT_MS)) {
    const server = await askBuild();
    if (server === 'other') throw new PartMissing('updated', failure);
    if (server === 'same') {
      answered += 1;
      try {
        // By turns, for either may be what this browser needs.
        return await (attempt % 2 === 1 ? (again<T>(failure, attempt) ?? load()) : load());
      } catch {
        // Asked again below; the first failure names the file.
      }
    }
    if (answered >= STUCK_AFTER && !patient) throw new PartMissing('stuck', failure);
    await new Promise((resolve) => setTimeout(resolve, wait));
  }
}

/** A part of the app that is fetched when it is first shown, over a line that may drop. @param patient as of `fetchPart` */
// biome-ignore lint/suspicious/noExplicitAny: as React's own `lazy`
export const lazyPart = <T extends ComponentType<any>>(load: () => Promise<Loaded<T>>, patient = false): LazyExoticComponent<T> =>
  lazy(() => fetchPart(load, patient));
