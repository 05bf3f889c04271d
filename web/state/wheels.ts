import type { RigWheel } from '#core/rig/positions.ts';
import type { Unit, Wheel } from '#schema/unit.ts';

/**
 * The unit of a wheel with that wheel changed.
 * @param unit the unit as it is stored now, where that may be younger than the wheel's own
 */
export function withWheel(wheel: RigWheel, change: (w: Wheel) => Wheel, unit: Unit = wheel.unit): Unit {
  const put = (w: Wheel) => (w.position === wheel.local ? change(w) : w);
  return {
    ...unit,
    axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map(put) })),
    spares: unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
  };
}
