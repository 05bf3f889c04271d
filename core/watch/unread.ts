import type { WheelView } from '#schema/alarm.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Rig } from '#schema/unit.ts';
import { axleFacts } from '../pressure/axle.ts';
import { type RigWheel, settingOf } from '../rig/positions.ts';
import { limitsInForce } from './limits.ts';

/** What a wheel's load, tire and rim ask for: the least cold pressure that carries the load, and the most, kPa; null while unknown. */
export function wheelNeeds(w: RigWheel, rig: Rig): { loadMinimumKpa: number | null; maxColdKpa: number | null } {
  const { minimum, maxColdKpa } = axleFacts(w.holder, w.unit.kind, settingOf(w, rig.loadState));
  return { loadMinimumKpa: minimum?.kpa ?? null, maxColdKpa: maxColdKpa ?? null };
}

/** A wheel as a page shows it before any reading is known: what its unit, rig and monitor say, and nothing of the tire. */
export function unreadView(w: RigWheel, rig: Rig, monitor: Monitor | null): WheelView {
  const { cold, limits } = settingOf(w, rig.loadState);
  const low = limitsInForce({ cold, limits }, monitor);
  const { sensor, second } = w.wheel;
  return {
    position: w.position,
    sensorId: sensor?.shownId ?? sensor?.id ?? null,
    sensorKind: sensor?.kind ?? null,
    ...(monitor?.correctsToC === undefined ? {} : { correctedToC: monitor.correctsToC }),
    state: sensor ? 'notHeard' : 'notPaired',
    pressureKpa: null,
    tempC: null,
    time: null,
    ageS: null,
    practice: false,
    coldKpa: cold?.kpa ?? null,
    coldTempC: cold?.tempC ?? null,
    lowKpa: low.lowKpa,
    lowAssumed: low.assumed,
    highKpa: low.highKpa,
    hotC: limits?.hotC ?? null,
    expectedKpa: null,
    heldKpa: null,
    heldLowKpa: null,
    heldHighKpa: null,
    loadMinimumKpa: wheelNeeds(w, rig).loadMinimumKpa,
    aheadTime: null,
    askedTime: null,
    offTime: null,
    filling: false,
    source: null,
    second: second ? { name: second.name, pressureKpa: null, tempC: null, time: null, ageS: null, everyS: null } : null,
    active: [],
  };
}
