import type { Alarm, Severity, WheelView } from '#schema/alarm.ts';
import { isSpare } from '../rig/positions.ts';
import { KPA_PER_PSI } from '../units/units.ts';

/** What a screen shows as one alarm: all that is wrong with one wheel, or one cause on many wheels. */
export interface AlarmGroup {
  key: string;
  /** Wheels it concerns, or the letter of a unit. */
  positions: string[];
  /** Its parts, the most urgent first. */
  parts: Alarm[];
  severity: Severity;
  /** Many wheels are low because the air is cold, not because air was lost. */
  cold: boolean;
  /** Every part was seen. */
  acknowledged: boolean;
  /** Until when every part that would sound is shelved, by the rig's clock; null: one of them may sound. */
  shelvedUntil: string | null;
  /** When its first part began. */
  fromTime: string;
}

const URGENCY: Record<Severity, number> = { stop: 0, look: 1, note: 2 };
/** Of two alarms of one urgency the one that says more of the cause comes first. */
const TELLING: Record<Alarm['kind'], number> = {
  rapid: 0,
  low: 1,
  hot: 2,
  slow: 3,
  apart: 4,
  high: 5,
  stuck: 6,
  silent: 7,
  battery: 8,
};

const byUrgency = (a: Alarm, b: Alarm) => URGENCY[a.severity] - URGENCY[b.severity] || TELLING[a.kind] - TELLING[b.kind];

/** Whether a wheel may still hold its cold pressure, so that it reads low only because of the cold. */
const holdsItsAir = (w: WheelView): boolean =>
  w.heldHighKpa !== null && w.coldKpa !== null && w.heldHighKpa >= w.coldKpa - KPA_PER_PSI;

/**
 * Put alarms together as they belong: several causes on one wheel are one alarm with parts; low on most wheels while none lost air is one
 * notice of the cold, and no reason to stop unless a tire is below its load minimum.
 * @param open alarms that are active
 * @param wheels the rig's wheels as they stand
 */
export function groupAlarms(open: readonly Alarm[], wheels: readonly WheelView[]): AlarmGroup[] {
  const views = new Map(wheels.map((w) => [w.position, w]));
  const byPosition = new Map<string, Alarm[]>();
  for (const a of open) byPosition.set(a.position, [...(byPosition.get(a.position) ?? []), a]);
  const onlyCold = [...byPosition].filter(([position, list]) => {
    const w = views.get(position);
    // What the rules found to be the weather is; older alarms are judged by what the wheel holds now.
    const weather = (a: Alarm) =>
      a.evidence?.cause === 'weather' || (a.evidence?.cause === undefined && w !== undefined && holdsItsAir(w));
    return w !== undefined && list.every((a) => a.kind === 'low' && weather(a));
  });
  const rolling = wheels.filter((w) => w.pressureKpa !== null && w.state !== 'resting').length;
  const found = onlyCold.every(([, list]) => list.every((a) => a.evidence?.cause === 'weather'));
  const cold = onlyCold.length >= 2 && (found || onlyCold.length * 2 >= rolling);
  const groups: AlarmGroup[] = [];
  if (cold) {
    const parts = onlyCold.flatMap(([, list]) => list);
    const short = onlyCold.some(([position]) => loadState(views.get(position)) === 'cannot');
    groups.push(
      groupOf(
        'cold',
        onlyCold.map(([p]) => p),
        parts,
        short || parts.some((a) => a.severity === 'stop' && a.evidence?.cause === 'weather') ? 'stop' : found ? 'note' : 'look',
        true,
      ),
    );
    for (const [position] of onlyCold) byPosition.delete(position);
  }
  for (const [position, list] of byPosition) {
    const parts = [...list].sort(byUrgency);
    const { severity } = parts[0] as Alarm;
    // Nobody rides on a spare: nothing about it asks for a stop.
    groups.push(groupOf(position, [position], parts, severity === 'stop' && isSpare(position) ? 'look' : severity, false));
  }
  return groups.sort(
    (a, b) =>
      URGENCY[a.severity] - URGENCY[b.severity] ||
      Number(spareOnly(a)) - Number(spareOnly(b)) ||
      Number(a.acknowledged) - Number(b.acknowledged) ||
      b.fromTime.localeCompare(a.fromTime),
  );
}

const spareOnly = (g: AlarmGroup): boolean => g.positions.every(isSpare);

/** The first end of what is shelved; null where one isn't. */
const firstEnd = (parts: readonly Alarm[]): string | null =>
  parts.length > 0 && parts.every((a) => a.shelvedUntil !== undefined)
    ? (parts.map((a) => a.shelvedUntil as string).sort()[0] ?? null)
    : null;

function groupOf(key: string, positions: string[], parts: Alarm[], severity: Severity, cold: boolean): AlarmGroup {
  return {
    key,
    positions,
    parts,
    severity,
    cold,
    acknowledged: parts.every((a) => a.acknowledgedAt !== null),
    shelvedUntil: firstEnd(parts.filter((a) => a.severity !== 'note')),
    fromTime: parts.map((a) => a.fromTime).sort()[0] as string,
  };
}

/**
 * Whether a tire can carry its load now. Cold is compared with cold: its cold-equivalent pressure and the load's cold
 * minimum. `cannot`: the whole span lies under it. `perhaps`: the likely figure does. `unknown`: no load, or no reading to go by.
 */
export function loadState(w: WheelView | undefined): 'carries' | 'perhaps' | 'cannot' | 'unknown' {
  if (!w || w.loadMinimumKpa === null || w.heldKpa === null || w.heldHighKpa === null) return 'unknown';
  if (w.heldHighKpa < w.loadMinimumKpa) return 'cannot';
  return w.heldKpa < w.loadMinimumKpa ? 'perhaps' : 'carries';
}

/** Time left, s: likely and the shortest it may be. */
export interface TimeLeft {
  likelyS: number;
  shortestS: number;
}

const DAY_S = 86_400;

/** What a loss alarm says of the rate, kPa a second of cold pressure: likely and the fastest. Null when it tells of no loss. */
export function lossRate(alarm: Alarm): { likely: number; fastest: number } | null {
  const e = alarm.evidence;
  if (alarm.kind === 'rapid' && e?.lossKpa !== undefined) {
    const rate = e.lossKpa / 120;
    return { likely: rate, fastest: rate * 1.5 };
  }
  if (alarm.kind !== 'slow' || e?.rateKpaPerDay === undefined || e.rateKpaPerDay >= 0) return null;
  const likely = -e.rateKpaPerDay / DAY_S;
  return { likely, fastest: Math.max(likely, -(e.rateLowKpaPerDay ?? e.rateKpaPerDay) / DAY_S) };
}

/** A sensor may read this much more than is in the tire, kPa: one standard deviation of a cap's error. Assumed. */
const SENSOR_ERROR_KPA = KPA_PER_PSI;

/**
 * How long until a losing tire is below its load minimum; the shortest allows for a sensor that reads too much; like temperatures are compared (see `loadState`). Null: it is not losing, or
 * the load is unknown, or it is below it already.
 */
export function timeToLoadMinimum(w: WheelView | undefined, alarms: readonly Alarm[]): TimeLeft | null {
  if (!w || w.loadMinimumKpa === null || w.heldKpa === null || w.heldLowKpa === null) return null;
  if (w.heldKpa <= w.loadMinimumKpa) return null;
  return leftUntil(w, w.heldKpa - w.loadMinimumKpa, Math.max(0, w.heldLowKpa - SENSOR_ERROR_KPA - w.loadMinimumKpa), alarms);
}

/** How long until a losing tire reads its low limit, temperatures staying as they are. */
export function timeToLow(w: WheelView | undefined, alarms: readonly Alarm[]): TimeLeft | null {
  if (!w || w.lowKpa === null || w.pressureKpa === null || w.pressureKpa <= w.lowKpa) return null;
  return leftUntil(w, w.pressureKpa - w.lowKpa, w.pressureKpa - w.lowKpa, alarms);
}

function leftUntil(w: WheelView, kpa: number, leastKpa: number, alarms: readonly Alarm[]): TimeLeft | null {
  // It went on losing since it was heard.
  const ageS = w.state === 'live' ? 0 : (w.ageS ?? 0);
  for (const a of alarms) {
    const rate = lossRate(a);
    if (!rate) continue;
    return { likelyS: Math.max(0, kpa / rate.likely - ageS), shortestS: Math.max(0, leastKpa / rate.fastest - ageS) };
  }
  return null;
}
