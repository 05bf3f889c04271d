import { useMemo } from 'react';
import { rigKeyed } from '#core/alarms/keyed.ts';
import { heldOn } from '#core/alarms/rig-held.ts';
import { unpackDays } from '#core/climate/daily.ts';
import { type OwnAxle, ownRig } from '#core/lab/own.ts';
import { watchedWheels } from '#core/rig/positions.ts';
import { convert } from '#core/units/units.ts';
import type { Monitor } from '#schema/monitor.ts';
import { useHeldStops } from '../../parts/HeldStops.tsx';
import { usePlans } from '../../state/plans.ts';
import { useRig } from '../../state/useRig.ts';

/** Without a monitor the readings are taken to have steps of 1 psi. */
const PLAIN_STEP_KPA = convert(1, 'psi', 'kPa');

/** The rig of the page as the lab takes it; spares and units with a system of their own are left out. */
export function useOwn(monitor: Monitor | null) {
  const whole = useRig();
  const { rig, units } = whole;
  const plans = usePlans(whole);
  const { axles: guarded } = useHeldStops(monitor);
  const axles = useMemo((): OwnAxle[] => {
    const watched = watchedWheels(rig, units);
    const held = new Map(
      (monitor ? heldOn(monitor, guarded, rigKeyed(rig, units, monitor)) : []).map((h) => [
        h.axle,
        { lowKpa: h.heldLowKpa, highKpa: h.heldHighKpa },
      ]),
    );
    return plans.flatMap((p): OwnAxle[] => {
      const wheels = watched
        .filter((w) => w.holder === p.first.holder && w.place !== 'S')
        .map((w) => ({ position: w.position, kind: w.wheel.sensor?.kind ?? ('cap' as const) }));
      const { cold, limits } = p.setting;
      if (wheels.length === 0 || !cold) return [];
      return [
        {
          code: p.code,
          wheels,
          coldKpa: cold.kpa,
          coldTempC: cold.tempC,
          loadMinimumKpa: p.facts.minimum?.kpa ?? null,
          ratingKpa: p.facts.maxColdKpa,
          limits: limits ? (held.get(p.code) ?? { lowKpa: limits.lowKpa, highKpa: limits.highKpa }) : null,
          hotC: limits?.hotC ?? 70,
        },
      ];
    });
  }, [plans, guarded, monitor, rig, units]);
  const days = useMemo(() => (rig.climate?.days ? unpackDays(rig.climate.days) : []), [rig.climate]);
  const own = useMemo(
    () =>
      axles.length === 0
        ? null
        : ownRig(axles, {
            stepKpa: monitor ? convert(monitor.step, monitor.unit, 'kPa') : PLAIN_STEP_KPA,
            homeM: rig.climate?.altitudeSetM,
            passM: rig.climate?.passM,
          }),
    [axles, monitor, rig.climate],
  );
  return { axles, days, own, source: rig.climate?.days?.source ?? '' };
}
