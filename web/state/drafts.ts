import { useRef, useState } from 'react';

/** What was typed and not saved yet, kept in the browser so that nothing typed is ever lost. */
const PREFIX = 'druckwerk.draft.';

export function readDraft<T>(key: string): T | null {
  try {
    const text = localStorage.getItem(PREFIX + key);
    return text === null ? null : (JSON.parse(text) as T);
  } catch {
    return null;
  }
}

export function keepDraft(key: string, value: unknown): void {
  try {
    localStorage.setItem(PREFIX + key, JSON.stringify(value));
  } catch {
    // Without storage the form itself still holds it.
  }
}

export function dropDraft(key: string): void {
  try {
    localStorage.removeItem(PREFIX + key);
  } catch {
    // Nothing to drop.
  }
}

/**
 * A value that is kept as a draft: what it is now, to change it, and to drop it (it is what it was at the start again, or what is given). A drop `of`
 * what was sent does nothing where something was typed since.
 */
export type Draft<T> = readonly [T, (next: T | ((now: T) => T)) => void, (next?: T, of?: T) => void];

/**
 * State that outlives its page: it is kept in the browser under a key until it is dropped.
 * @param start what it is without a draft; it follows a saved value that changes
 */
export function useDraft<T>(key: string, start: T): Draft<T> {
  const [held, setHeld] = useState((): { key: string; value: T | undefined } => ({ key, value: readDraft<T>(key) ?? undefined }));
  // What it is after all calls so far: two in one event count both, and a drop after a change leaves no draft behind.
  const latest = useRef(held);
  if (latest.current.key !== key) {
    // Another thing is edited now: its own draft, at once and not a moment later.
    latest.current = { key, value: readDraft<T>(key) ?? undefined };
    setHeld(latest.current);
  }
  const put = (value?: T) => {
    // What comes late is of what was edited then: what is edited now stays as it is.
    if (latest.current.key !== key) return;
    latest.current = { key, value };
    setHeld(latest.current);
  };
  const keep = (next: T | ((now: T) => T)) => {
    const now = (latest.current.key === key ? latest.current.value : readDraft<T>(key)) ?? start;
    const value = typeof next === 'function' ? (next as (now: T) => T)(now) : next;
    keepDraft(key, value);
    put(value);
  };
  const drop = (next?: T, of?: T) => {
    const { key: edited, value: now } = latest.current;
    if (of !== undefined && edited === key && now !== undefined && now !== of) return;
    dropDraft(key);
    put(next);
  };
  const { value = start } = latest.current;
  return [value, keep, drop];
}
