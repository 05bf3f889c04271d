import { useSyncExternalStore } from 'react';
import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { MassUnit } from '#schema/unit.ts';

/** Above: the plan as drawn. The others: beside or behind the rig, left being the driver's-seat left. */
export type Standing = 'above' | 'behind' | 'left' | 'right';

/** What the owner chose for this browser. */
export interface Preferences {
  pressure: PressureUnit;
  temp: TempUnit;
  mass: MassUnit;
  theme: 'day' | 'night';
  /** Where the owner stands: the plan is turned to it. */
  standing: Standing;
  sound: boolean;
}

const KEY = 'druckwerk.preferences';
const defaults: Preferences = { pressure: 'psi', temp: 'C', mass: 'kg', theme: 'day', standing: 'above', sound: false };

function read(): Preferences {
  try {
    const stored = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Preferences>;
    // Sound needs a press of a button in every visit: no browser lets a page ring by itself.
    return { ...defaults, ...stored, sound: false };
  } catch {
    return defaults;
  }
}

let current = read();
const listeners = new Set<() => void>();
const show = () => {
  document.documentElement.dataset.theme = current.theme;
};
show();

export function setPreferences(change: Partial<Preferences>): void {
  current = { ...current, ...change };
  try {
    localStorage.setItem(KEY, JSON.stringify(current));
  } catch {
    // A browser that stores nothing still works for this visit.
  }
  show();
  for (const l of listeners) l();
}

export const usePreferences = (): Preferences =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => current,
  );
