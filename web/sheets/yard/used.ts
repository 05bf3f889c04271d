/** When each rig was last opened in this browser: the yard is in that order. */
const KEY = 'druckwerk.used';

export function usedAt(): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, number>;
  } catch {
    return {};
  }
}

export function markUsed(rigId: string, now: number): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...usedAt(), [rigId]: now }));
  } catch {
    // The order of the yard is a convenience.
  }
}
