import type { LoadState } from '#schema/common.ts';
import type { SettingFigures } from '#schema/log.ts';
import type { NewUnit, Setting, Settings } from '#schema/unit.ts';

/** Cold pressure or limits of an axle that were changed. */
export interface SettingChange {
  /** Axle number, or the spare's place: `1`, `S1`. */
  axle: string;
  loadState: LoadState;
  from: SettingFigures;
  to: SettingFigures;
}

/** What is set, as figures alone. */
export const figuresOf = (s: Setting | undefined): SettingFigures => ({
  coldKpa: s?.cold?.kpa ?? null,
  coldTempC: s?.cold?.tempC ?? null,
  lowKpa: s?.limits?.lowKpa ?? null,
  highKpa: s?.limits?.highKpa ?? null,
  hotC: s?.limits?.hotC ?? null,
});

/** A change that is only a change of rounding is none. */
const LEAST = 1e-6;
export const sameFigures = (a: SettingFigures, b: SettingFigures): boolean =>
  (Object.keys(a) as (keyof SettingFigures)[]).every((k) =>
    a[k] === null || b[k] === null ? a[k] === b[k] : Math.abs(a[k] - b[k]) < LEAST,
  );

const STATES: readonly LoadState[] = ['empty', 'loaded', 'towing'];

/** Cold pressures and limits that differ between two versions of a unit. Axles that came or went are no change of a setting. */
export function settingChanges(
  before: Pick<NewUnit, 'axles' | 'spares'>,
  after: Pick<NewUnit, 'axles' | 'spares'>,
): SettingChange[] {
  const out: SettingChange[] = [];
  const compare = (axle: string, a: Settings | undefined, b: Settings | undefined) => {
    if (!a || !b) return;
    for (const loadState of STATES) {
      const [from, to] = [figuresOf(a[loadState]), figuresOf(b[loadState])];
      if (!sameFigures(from, to)) out.push({ axle, loadState, from, to });
    }
  };
  after.axles.forEach((axle, i) => {
    compare(String(i + 1), before.axles[i]?.settings, axle.settings);
  });
  for (const spare of after.spares) {
    const { position } = spare.wheel;
    compare(position, before.spares.find((s) => s.wheel.position === position)?.settings, spare.settings);
  }
  return out;
}
