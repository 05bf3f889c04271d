import type { Stop, WayOut } from '#core/alarms/rig-held.ts';
import type { Monitor } from '#schema/monitor.ts';
import type { Format } from './format.ts';
import { listed } from './listed.ts';

/** Sentences about the limits that a monitor ends with. */

/** Why one has to stop at an axle. */
export function stopWords(s: Stop, f: Format): string {
  const low = s.heldLowKpa === null ? 'none' : f.pressure(s.heldLowKpa);
  const high = s.heldHighKpa === null ? 'none' : f.pressure(s.heldHighKpa);
  const shared = s.with.length > 0 ? ` It shares them with ${listed(s.with)}.` : '';
  switch (s.code) {
    case 'rings-always':
      return `${s.axle} would ring at once and for ever: the monitor ends with low ${low} and high ${high}.${shared}`;
    case 'nuisance-low':
      return `${s.axle} would ring on cold mornings: the low limit ends at ${low}.${shared}`;
    case 'nuisance-high':
      return `${s.axle} would ring on hot runs: the high limit ends at ${high}.${shared}`;
    case 'unprotected-low':
      return `${s.axle} could no longer carry its load by the time it rings: the low limit ends at ${low}.${shared}`;
    case 'late-low':
      return `${s.axle} would ring only after losing ${f.pressure(s.lossKpa ?? 0)}: the low limit ends at ${low}, and its load is unknown.${shared}`;
    case 'unguarded':
      return `${s.axle} has no low limit on this monitor: a flat tire wouldn’t ring.`;
    case 'out-of-reach':
      return `${s.axle} needs limits that this monitor can’t be set to. It ends with low ${low} and high ${high}.`;
  }
}

/** How a monitor shares limits. */
export const groupingNames: Record<Monitor['groups'], string> = {
  axle: 'by axle',
  unit: 'by axle, a trailer as one',
  rearWithTrailer: 'for the rear axles with the trailer',
  wheel: 'by wheel',
  all: 'for all wheels together',
  baseline: 'from a baseline',
};

/** A way out, and what it leaves open. */
export function wayWords(w: WayOut, f: Format): string {
  const left = w.left === 0 ? '' : ` ${w.left === 1 ? 'One point is' : `${w.left} points are`} left open then.`;
  switch (w.kind) {
    case 'suggestion':
      return `Take the limits that Alarms suggests for ${listed(w.axles)}: what rings there is the rule, not the monitor.`;
    case 'appAlone':
      return `Leave ${listed(w.axles)} out of the monitor’s limits and let Druckwerk alone watch the trailer.${left}`;
    case 'otherGrouping':
      return `Switch this monitor to limits ${groupingNames[w.groups]}, and change that on Kit.${left}`;
    case 'otherMonitor':
      return `Another monitor: ${w.names.join(', or ')}. Look whether it has enough positions.${left}`;
    case 'closerCold':
      return `Bring the cold pressures closer: ${w.axles.map((a) => `${a.axle} to ${f.pressure(a.coldKpa)}`).join(', ')}, which its tires allow. Check that with the vehicle’s placard first.${left}`;
    case 'lowestLow':
      return `Key the lowest low, ${f.pressure(w.lowKpa)}, for all of ${listed(w.axles)}. Then ${w.unguarded
        .map((u) => `${u.axle} rings only after losing ${f.pressure(u.lossKpa)}`)
        .join(', ')}.${left}`;
  }
}
