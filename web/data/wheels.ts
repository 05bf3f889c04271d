import type { RigWheel } from '#core/rig/positions.ts';
import type { Unit, Wheel } from '#schema/unit.ts';

/** The unit of a wheel with that wheel changed. */
export function withWheel(wheel: RigWheel, change: (w: Wheel) => Wheel): Unit {
  const put = (w: Wheel) => (w.position === wheel.local ? change(w) : w);
  return {
    ...wheel.unit,
    axles: wheel.unit.axles.map((a) => ({ ...a, wheels: a.wheels.map(put) })),
    spares: wheel.unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
  };
}
