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
