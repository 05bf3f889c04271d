import { useMemo } from 'react';
import { type GuardedAxle, guarded } from '#core/alarms/rig-held.ts';
import { type AxleDay, type AxleFacts, atRest, axleDay, axleFacts } from '#core/pressure/axle.ts';
import type { Climate } from '#schema/unit.ts';
import { useLearned, type WholeRig } from '../data/queries.ts';
import { type Holder, holders } from './holders.ts';

/** An axle or spare with all that is worked out for it. */
export interface AxlePlan extends Holder {
  facts: AxleFacts;
  /** Null while the rig has no climate or the axle no cold pressure. */
  day: AxleDay | null;
}

/** An axle with its limits as the core judges them; others than its own while they are tried. */
export const guardedPlan = (h: AxlePlan, limits = h.setting.limits): GuardedAxle =>
  guarded(
    {
      code: h.code,
      unitKind: h.first.unit.kind,
      wheels: h.wheels,
      setting: limits ? { ...h.setting, limits } : h.setting,
      spare: h.first.place === 'S',
    },
    h.facts,
    h.day,
  );

/** A spare doesn't run. */
const dayFor = (h: Holder, day: AxleDay): AxleDay => (h.first.place === 'S' ? atRest(day) : day);

/**
 * Every axle of the rig worked out.
 * @param trial a climate that is being tried and not saved yet
 */
export function usePlans(whole: WholeRig, trial?: Climate | null): AxlePlan[] {
  const learned = useLearned(whole.rig.id).data?.axles;
  const list = useMemo(
    () => holders(whole).map((h) => ({ ...h, facts: axleFacts(h.first.holder, h.first.unit.kind, h.setting) })),
    [whole],
  );
  const climate = trial ?? whole.rig.climate;
  return useMemo(
    () =>
      list.map((h) => ({
        ...h,
        day: climate && h.setting.cold ? dayFor(h, axleDay(h.setting.cold, climate, learned?.[h.code], h.setting.seasons)) : null,
      })),
    [list, climate, learned],
  );
}
