import type { LogEntry, Wheel } from '#schema/unit.ts';
import { fittedAt } from '../upkeep/since.ts';
import type { WheelLeak } from './history.ts';

/** Where a tire may lose its air. */
export type SuspectCode = 'seat' | 'core' | 'nail' | 'bead' | 'repair' | 'stem' | 'extension' | 'rim';
/** Why one of them comes earlier than usual. */
export type SuspectWhy =
  | 'handled'
  | 'newTire'
  | 'repaired'
  | 'sudden'
  | 'steady'
  | 'rubberStem'
  | 'oldStem'
  | 'onRubber'
  | 'innerDual';

export interface Suspect {
  code: SuspectCode;
  why: SuspectWhy[];
}

/** What is known about a wheel that loses air. */
export interface SuspectQuestion {
  leak: Pick<WheelLeak, 'verdict' | 'fromMs' | 'slope'>;
  wheel: Pick<Wheel, 'sensor' | 'stem' | 'stemForm' | 'stemYear' | 'fitting'>;
  /** The inner one of a dual pair. */
  inner: boolean;
  /** Entries of the log about this wheel, or about the whole rig. */
  log: readonly LogEntry[];
  /** The last reading, ms. */
  nowMs: number;
}

const DAY_MS = 86_400_000;
/** Handled so short before the loss began, its sensor or core comes first, days. Assumed. */
const HANDLED_DAYS = 21;
/** A bead or a repair shows itself within this, days. Assumed. */
const WORKED_DAYS = 90;
/** A rubber stem is renewed with each tire; older than this it is suspect, years. Assumed. */
const OLD_STEM_YEARS = 6;

/** How often each is the cause when nothing else is known. Assumed, in the trade's order: valve, sensor seat, bead, tread. */
const USUAL: Record<SuspectCode, number> = {
  core: 4,
  seat: 3.5,
  nail: 3,
  bead: 2,
  stem: 1,
  repair: 0.2,
  extension: 0.1,
  rim: 0.5,
};

/**
 * Where to look first on a wheel that loses air, the likeliest first, with what speaks for it. An order for looking, not a finding.
 */
export function suspectsOf({ leak, wheel, inner, log, nowMs }: SuspectQuestion): Suspect[] {
  const weight = { ...USUAL };
  const why = new Map<SuspectCode, SuspectWhy[]>();
  const raise = (code: SuspectCode, by: number, reason: SuspectWhy) => {
    weight[code] *= by;
    why.set(code, [...(why.get(code) ?? []), reason]);
  };
  const beganMs = leak.verdict === 'fell' ? nowMs : leak.fromMs;
  const shortBefore = (ms: number, days: number) => ms <= nowMs && beganMs - ms <= days * DAY_MS;
  const handled = [
    Date.parse(fittedAt(wheel) ?? ''),
    ...(wheel.sensor?.pairedAt ? [Date.parse(wheel.sensor.pairedAt)] : []),
    ...log.filter((e) => e.kind === 'cell' || e.kind === 'filled' || e.kind === 'rotated').map((e) => Date.parse(e.at)),
  ];
  if (handled.some((ms) => shortBefore(ms, HANDLED_DAYS))) {
    raise('seat', 4, 'handled');
    raise('core', 3, 'handled');
  }
  const worked = (kind: LogEntry['kind']) => log.some((e) => e.kind === kind && shortBefore(Date.parse(e.at), WORKED_DAYS));
  if (worked('tire')) raise('bead', 5, 'newTire');
  if (worked('puncture')) raise('repair', 60, 'repaired');
  if (leak.verdict === 'fell') raise('nail', 3, 'sudden');
  else if (leak.slope && leak.slope.perDay > -3) {
    raise('core', 1.5, 'steady');
    raise('bead', 1.5, 'steady');
  }
  if (wheel.stem === 'rubber') {
    raise('stem', 3, 'rubberStem');
    if (wheel.sensor?.kind === 'flowThrough') raise('stem', 4, 'onRubber');
  }
  const year = new Date(nowMs).getUTCFullYear();
  if (wheel.stemYear !== undefined && year - wheel.stemYear >= OLD_STEM_YEARS) raise('stem', 3, 'oldStem');
  if (wheel.stemForm === 'extension' || inner) raise('extension', wheel.stemForm === 'extension' ? 40 : 10, 'innerDual');
  // An internal sensor sits on the valve inside: its seat is the valve's.
  if (wheel.sensor === null || wheel.sensor.kind === 'internal') weight.seat = 0.3;
  return (Object.keys(weight) as SuspectCode[])
    .filter((code) => weight[code] >= 0.3)
    .sort((a, b) => weight[b] - weight[a])
    .map((code) => ({ code, why: [...new Set(why.get(code) ?? [])] }));
}
