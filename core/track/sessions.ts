import { STANDARD_AMBIENT_KPA } from '../air/atmosphere.ts';
import { pressureAt } from '../gas/gas.ts';
import { KPA_PER_PSI } from '../units/units.ts';
import { type Bleed, bleedHot } from './bleed.ts';

/** What was read of one wheel in one session, kPa. What was not read is left out. */
export interface SessionReading {
  coldKpa?: number | undefined;
  /** In the pit, when the car came in. */
  pitKpa?: number | undefined;
  /** The most it showed on the lap. */
  peakKpa?: number | undefined;
  /** What was let out after it; left out: as it was advised. */
  bledKpa?: number | undefined;
}

export interface TrackWheel {
  position: string;
  targetHotKpa: number;
  /** Its sessions, the first first; the last is the one to be judged. */
  sessions: readonly SessionReading[];
}

/** What to do with a wheel now. */
export interface TrackAdvice extends Bleed {
  /** The pressure on the lap that it is judged by, and where it comes from. */
  lapKpa: number;
  by: 'peak' | 'pitAndFall' | 'pit';
  /** How far the pit reading is under the lap's on this wheel, as its sessions showed it, kPa; null while no session has both. */
  fallKpa: number | null;
  /** What it would read cold now, before anything is let out, kPa. */
  coldKpa: number;
}

/** How far the pit reading falls short of the lap's, from sessions that have both: their mean. */
export function learntFall(sessions: readonly SessionReading[]): number | null {
  const falls = sessions.flatMap((s) => (s.peakKpa === undefined || s.pitKpa === undefined ? [] : [s.peakKpa - s.pitKpa]));
  return falls.length === 0 ? null : falls.reduce((a, b) => a + b, 0) / falls.length;
}

/** The lap's pressure of a session and where it comes from; null without a hot reading. */
function lapOf(s: SessionReading, fallKpa: number | null): Pick<TrackAdvice, 'lapKpa' | 'by'> | null {
  if (s.peakKpa !== undefined) return { lapKpa: s.peakKpa, by: 'peak' };
  if (s.pitKpa === undefined) return null;
  return fallKpa === null ? { lapKpa: s.pitKpa, by: 'pit' } : { lapKpa: s.pitKpa + fallKpa, by: 'pitAndFall' };
}

/**
 * What to let out of a wheel after its last session, and what to start with next time. Judged by the peak on the lap; without it by the pit
 * reading and what this wheel's pit readings fell short by before, since a tire cools on the way in (common practice, no source). What was
 * let out between sessions is gone from the cold pressure too: the same share of its air (ideal gas law).
 * @returns null while the last session has no hot reading or no session has a cold one
 */
export function trackAdvice({ position, targetHotKpa, sessions }: TrackWheel): TrackAdvice | null {
  const fallKpa = learntFall(sessions);
  let coldKpa: number | null = null;
  let advice: TrackAdvice | null = null;
  for (const s of sessions) {
    coldKpa = s.coldKpa ?? coldKpa;
    const lap = lapOf(s, fallKpa);
    advice = null;
    if (coldKpa === null || lap === null) continue;
    const bleed = bleedHot({ position, coldKpa, hotKpa: lap.lapKpa, targetHotKpa });
    advice = { ...bleed, ...lap, fallKpa, coldKpa };
    const out = s.bledKpa ?? Math.max(0, bleed.bleedHotKpa);
    const hot = (s.pitKpa ?? lap.lapKpa) + STANDARD_AMBIENT_KPA;
    coldKpa = ((hot - out) / hot) * (coldKpa + STANDARD_AMBIENT_KPA) - STANDARD_AMBIENT_KPA;
  }
  return advice;
}

/** Which way round a circuit goes: clockwise it loads the left tires, the front left most (common practice, no source). */
export type Direction = 'clockwise' | 'counter';

/** A wheel after a session: its cold pressure and the lap's, kPa, and where it is. */
export interface RunWheel {
  position: string;
  axle: number;
  side: 'L' | 'R' | null;
  coldKpa: number;
  lapKpa: number;
}

/** What the differences between the wheels mean. Pressures kPa. */
export type TrackFinding =
  /** The corner that rose the most, and whether the circuit explains it. */
  | { code: 'corner'; position: string; riseKpa: number; explained: boolean | null }
  /** One side of an axle rose more than the other. */
  | { code: 'side'; axle: number; more: 'L' | 'R'; byKpa: number; explained: boolean | null }
  /** One end of the car rose more than the other. */
  | { code: 'end'; more: 'front' | 'rear'; byKpa: number };

const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;

/**
 * What the wheels' rises say beside each other: which corner works the most, side against side, front against rear. Less than 1 psi says
 * nothing (common practice, no source).
 */
export function trackFindings(wheels: readonly RunWheel[], direction: Direction | null): TrackFinding[] {
  const out: TrackFinding[] = [];
  const rise = (w: RunWheel) => w.lapKpa - w.coldKpa;
  const loaded = direction === null ? null : direction === 'clockwise' ? 'L' : 'R';
  const front = Math.min(...wheels.map((w) => w.axle));
  const sorted = [...wheels].sort((a, b) => rise(b) - rise(a));
  const [most, second] = sorted;
  if (most && second && rise(most) - rise(second) >= KPA_PER_PSI)
    out.push({
      code: 'corner',
      position: most.position,
      riseKpa: rise(most),
      explained: loaded === null || most.side === null ? null : most.side === loaded && most.axle === front,
    });
  for (const axle of new Set(wheels.map((w) => w.axle))) {
    const of = (side: 'L' | 'R') => wheels.filter((w) => w.axle === axle && w.side === side).map(rise);
    const [left, right] = [of('L'), of('R')];
    if (left.length === 0 || right.length === 0) continue;
    const by = mean(left) - mean(right);
    if (Math.abs(by) < KPA_PER_PSI) continue;
    const more = by > 0 ? 'L' : 'R';
    out.push({ code: 'side', axle, more, byKpa: Math.abs(by), explained: loaded === null ? null : more === loaded });
  }
  const ahead = wheels.filter((w) => w.axle === front).map(rise);
  const behind = wheels.filter((w) => w.axle !== front).map(rise);
  if (ahead.length > 0 && behind.length > 0) {
    const by = mean(ahead) - mean(behind);
    if (Math.abs(by) >= KPA_PER_PSI) out.push({ code: 'end', more: by > 0 ? 'front' : 'rear', byKpa: Math.abs(by) });
  }
  return out;
}

/** What the weather alone does to a tire since it was set cold, kPa. @param coldC air when it was set @param airC air now, °C */
export const weatherShift = (coldKpa: number, coldC: number, airC: number): number => pressureAt(coldKpa, coldC, airC) - coldKpa;
