import type { OperationInput, OperationName, OperationOutput } from '#schema/operations.ts';
import { ambientAtAltitude } from './air/atmosphere.ts';
import { heldLimits } from './alarms/held.ts';
import { judge } from './alarms/judge.ts';
import { checkMonitor, planKeying } from './alarms/keying.ts';
import { limitsFor } from './alarms/limits.ts';
import { FieldError } from './errors.ts';
import { faultsNext } from './faults/next.ts';
import { stemLoad } from './fitting/stem.ts';
import { pressureAt, temperatureFor } from './gas/gas.ts';
import { estimateLeak } from './leak/estimate.ts';
import { exchangesFor } from './pairing/exchanges.ts';
import { linkBudget } from './radio/link.ts';
import { seasonOutlook } from './season/outlook.ts';
import { readMarking } from './tire/marking.ts';
import { topUpPlan } from './topup/plan.ts';
import { bleedHot } from './track/bleed.ts';
import { tripOutlook } from './trip/outlook.ts';
import { convert } from './units/units.ts';
import { replay } from './watch/replay.ts';

/**
 * What other programs may call. Names, summaries and shapes stand in `schema/operations.ts`; the compiler sees to it that every one
 * of them has its function here. Route, command and OpenAPI file are made from the two.
 */
export const operations: { [N in OperationName]: (input: OperationInput<N>) => OperationOutput<N> } = {
  'units.convert': ({ value, from, to }) => ({ value: convert(value, from, to) }),
  'air.atAltitude': ({ altitudeM }) => ({ ambientAbsKpa: ambientAtAltitude(altitudeM) }),
  'gas.pressureAt': ({ pressureKpa, tempC, toTempC, ...ambients }) => ({
    pressureKpa: pressureAt(pressureKpa, tempC, toTempC, ambients),
  }),
  'gas.temperatureFor': ({ pressureKpa, tempC, toPressureKpa, ...ambients }) => ({
    tempC: temperatureFor(pressureKpa, tempC, toPressureKpa, ambients),
  }),
  'tire.read': ({ marking }) => readMarking(marking),
  'faults.next': faultsNext,
  'stem.load': (i) => stemLoad(i.massKg, i.valveRadiusM, i.speedMps, i.rollingRadiusM, i.rimRadiusM),
  'alarms.limits': ({ coldKpa, ...rule }) => limitsFor(rule, coldKpa),
  'alarms.judge': judge,
  'alarms.keying': ({ monitor, axles, shown }) => {
    checkMonitor(monitor);
    const twice = axles.findIndex((a, i) => axles.findIndex((b) => b.axle === a.axle) !== i);
    if (twice >= 0) throw new FieldError(`/axles/${twice}/axle`, `${axles[twice]?.axle} is in the list already`);
    return planKeying(monitor, axles, shown);
  },
  'alarms.held': ({ monitor, axles, shown }) => ({ axles: heldLimits(monitor, axles, shown) }),
  'pairing.exchanges': ({ now, wanted }) => ({ exchanges: exchangesFor(now, wanted) }),
  'leak.estimate': ({ readings, ...options }) => estimateLeak(readings, options),
  'topup.plan': ({ tires, flowLitresPerMin, handlingMin }) => topUpPlan(tires, flowLitresPerMin, handlingMin),
  'track.bleed': ({ wheels }) => ({ wheels: wheels.map(bleedHot) }),
  'trip.outlook': ({ axles, altitudeSetM, stages }) => tripOutlook(axles, altitudeSetM, stages),
  'season.outlook': seasonOutlook,
  'radio.link': linkBudget,
  'watch.replay': replay,
};
