import type { PressureUnit, TempUnit } from '#schema/common.ts';
import type { MassUnit } from '#schema/unit.ts';
import { sharedValue } from '../data/shared-value.ts';

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

const preferences = sharedValue(read());
const showTheme = ({ theme }: Preferences) => {
  document.documentElement.dataset.theme = theme;
};
showTheme(preferences.get());

export function setPreferences(change: Partial<Preferences>): void {
  const next = { ...preferences.get(), ...change };
  try {
    localStorage.setItem(KEY, JSON.stringify(next));
  } catch {
    // A browser that stores nothing still works for this visit.
  }
  // First the theme: a chart that is drawn again takes its colours from the page.
  showTheme(next);
  preferences.set(next);
}

export const usePreferences = preferences.use;
