import { useMemo } from 'react';
import { cellShareOf, daysSince, type FaultFacts } from '#core/faults/hints.ts';
import type { BranchId } from '#core/faults/tables.ts';
import { partsOf } from '#core/kit/parts.ts';
import { estimateRig } from '#core/radio/estimate.ts';
import { sceneOf } from '#core/radio/scene.ts';
import { cellSinceOf, entriesOf, fittedAt } from '#core/upkeep/since.ts';
import type { WatchView } from '#schema/alarm.ts';
import type { WholeRig } from '../../data/queries.ts';
import { zoneHere } from '../../data/time-zone.ts';

/** Height of a repeater above the ground, m. As on Radio. */
const REPEATER_Z = 0.5;

/** What is known of the rig, and of the wheel in question, before anything is tested. */
export function useFacts(
  whole: WholeRig,
  view: WatchView | undefined,
  branch: BranchId | null,
  position: string,
): FaultFacts | null {
  const { rig, units, wheels } = whole;
  const margins = useMemo(() => {
    const scene = sceneOf(units, rig.towVehicle, { unwatched: rig.unwatched });
    const spot = rig.repeater ? { x: rig.repeater.x, y: rig.repeater.y, z: REPEATER_Z } : null;
    return new Map(
      estimateRig(scene, spot).map((w) => [
        w.position,
        Math.max(w.direct.marginDb.mid, w.viaRepeater?.marginDb.mid ?? Number.NEGATIVE_INFINITY),
      ]),
    );
  }, [units, rig.towVehicle, rig.unwatched, rig.repeater]);
  return useMemo(() => {
    if (branch === null) return null;
    if (!view) return { branch };
    const nowMs = Date.parse(view.time);
    const paired = view.wheels.filter((w) => w.sensorId !== null);
    const heard = paired.filter((w) => w.state === 'live').length;
    const common: FaultFacts = {
      branch,
      othersHeard: heard,
      notHeard: paired.length - heard,
      unitMissing: view.missing.length > 0,
      repeater: rig.repeater !== undefined,
      resting: view.resting.length > 0,
      warm: view.moving === true,
    };
    const w = wheels.find((x) => x.position === position);
    const v = view.wheels.find((x) => x.position === position);
    if (!w?.wheel.sensor || !v) return { ...common, state: heard === 0 && paired.length > 0 ? 'asleep' : undefined };
    const { sensor } = w.wheel;
    const own = entriesOf(rig.log, position);
    const handled = [
      fittedAt(w.wheel),
      sensor.pairedAt,
      ...own.filter((e) => e.kind === 'cell' || e.kind === 'filled').map((e) => e.at),
    ]
      .flatMap((d) => daysSince(d, nowMs) ?? [])
      .sort((a, b) => a - b)[0];
    return {
      ...common,
      state: v.state,
      cellShare: cellShareOf(cellSinceOf(w.wheel, own, zoneHere()), partsOf(rig, sensor.kind).cellMonths, nowMs),
      cellSign: v.active.includes('battery'),
      handledDays: handled,
      marginDb: margins.get(position),
      resting: view.resting.includes(position[0] as string),
      cold: v.noted?.includes('low'),
      ageS: v.ageS ?? undefined,
    };
  }, [branch, view, position, rig, wheels, margins]);
}
