import type { GaugeJudgement, SetJudgement } from '#core/fitting/gauge.ts';
import type { OpenItem } from '#core/report/report.ts';
import type { Format } from '../../parts/format.ts';

/** The sentences of the First drive sheet and the report. */

export function gaugeVerdictWords(j: GaugeJudgement, f: Format): string {
  const by = `${j.differenceKpa >= 0 ? 'reads high' : 'reads low'} by ${f.pressure(Math.abs(j.differenceKpa))}`;
  switch (j.verdict) {
    case 'fine':
      return 'fine';
    case 'offset':
      return `usable, ${by}${j.raiseLowKpa > 0 ? `: it hides a loss, raise its low limit by ${f.pressure(j.raiseLowKpa)}` : ''}`;
    case 'suspect':
      return `suspect, ${by}: beyond tolerance`;
  }
}

export function blameWords(s: SetJudgement, f: Format): string {
  const all =
    s.commonKpa === null
      ? ''
      : `All of them read ${s.commonKpa >= 0 ? 'high' : 'low'} by about ${f.pressure(Math.abs(s.commonKpa))}`;
  switch (s.blame) {
    case 'nobody':
      return 'Gauge and sensors agree as well as they ever do.';
    case 'gauge':
      return `${all}: a common offset points at the gauge, not at the sensors. Try another gauge.`;
    case 'sensors':
      return `${s.sensors.join(', ')} ${s.sensors.length === 1 ? 'differs' : 'differ'} from the others. That points at the sensor, not the gauge.`;
    case 'both':
      return `${all}, which points at the gauge; and ${s.sensors.join(', ')} ${s.sensors.length === 1 ? 'differs' : 'differ'} even so. Try another gauge first.`;
    case 'cannotTell':
      return 'Something is off, and with so few wheels nothing shows whether it is the gauge or a sensor. Measure again with a second gauge.';
  }
}

const openTexts: Record<OpenItem['code'], string> = {
  noSensor: 'No sensor paired',
  noCold: 'No cold pressure set',
  noLimits: 'No alarm limits',
  notFitted: 'Not ticked as fitted',
  bubbles: 'Leaks at the soap test',
  suspect: 'Sensor suspect against the gauge',
  heldStops: 'The monitor ends with limits that need a second look, and no reason was given',
  notKeyed: 'Limits were not ticked as keyed into the monitor',
  noProof: 'The monitor’s alarm was not proved',
  stayedQuiet: 'The monitor stayed quiet when its alarm was tried',
  notRetightened: 'Not re-tightened after the first drive',
  noGauge: 'Not compared with a gauge',
};
export const openWords = (o: OpenItem): string =>
  o.positions.length > 0 ? `${openTexts[o.code]}: ${o.positions.join(', ')}` : openTexts[o.code];
