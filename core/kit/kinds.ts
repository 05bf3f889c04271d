import type { SensorKind } from '#schema/common.ts';
import type { Rig, Unit, Wheel } from '#schema/unit.ts';
import type { RigWheel } from '../rig/positions.ts';

/**
 * The kind of sensor of a wheel: the one on it, else the one that was said for it, else the one of other wheels of its unit, else the usual
 * one of a mixed kit, caps on a vehicle and flow-through on a trailer (common practice, no source).
 * @param rig where its kit was said to be all of one kind, before wheels had kinds of their own
 */
export function kindAt(w: Pick<RigWheel, 'wheel' | 'unit'>, rig?: Pick<Rig, 'pairing'>): SensorKind {
  const own = w.wheel.sensor?.kind ?? w.wheel.sensorKind;
  if (own) return own;
  const beside = w.unit.axles.flatMap((a) => a.wheels).find((x) => x.sensor)?.sensor?.kind;
  if (beside) return beside;
  const said = rig?.pairing?.kind;
  return said && said !== 'cap' ? said : w.unit.kind === 'trailer' ? 'flowThrough' : 'cap';
}

/**
 * A unit whose wheels without a sensor are meant for one kind.
 * @param local a wheel whose own sensor is of that kind too, whatever was noted of it
 */
export function withKind(unit: Unit, kind: SensorKind, local?: string): Unit {
  const put = (w: Wheel): Wheel =>
    w.sensor === null
      ? { ...w, sensorKind: kind }
      : w.position === local
        ? { ...w, sensorKind: kind, sensor: { ...w.sensor, kind } }
        : w;
  return {
    ...unit,
    axles: unit.axles.map((a) => ({ ...a, wheels: a.wheels.map(put) })),
    spares: unit.spares.map((s) => ({ ...s, wheel: put(s.wheel) })),
  };
}
