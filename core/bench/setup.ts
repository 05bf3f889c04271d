import type { LoadState } from '#schema/common.ts';
import type { Unit } from '#schema/unit.ts';
import { settingOf, wheelsOf } from '../rig/positions.ts';
import { UNSET_COLD_KPA } from './bench.ts';
import type { BenchWheelSetup } from './state.ts';

/** Air in a tire nobody has described, litres. Assumed: a van or trailer tire. */
export const UNKNOWN_AIR_LITRES = 60;

const twinOf: Record<string, string> = { LO: 'LI', LI: 'LO', RI: 'RO', RO: 'RI' };

/** The wheels of a rig as the bench needs them, in plan order. Tires carry their rated load until loads are known. */
export function benchWheels(units: readonly Unit[], loadState: LoadState): BenchWheelSetup[] {
  const wheels = wheelsOf(units);
  const positions = new Set(wheels.map((w) => w.position));
  return wheels.map((w) => {
    const cold = settingOf(w, loadState).cold;
    const twinPlace = twinOf[w.place];
    const twin = twinPlace ? w.position.replace(w.place, twinPlace) : null;
    return {
      position: w.position,
      coldKpa: cold?.kpa ?? UNSET_COLD_KPA,
      coldTempC: cold?.tempC ?? 20,
      airLitres: w.holder.airLitres ?? UNKNOWN_AIR_LITRES,
      loadShare: 1,
      twin: twin && positions.has(twin) ? twin : null,
      spare: w.place === 'S',
    };
  });
}
