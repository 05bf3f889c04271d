import { type Bleed, bleedHot } from './bleed.ts';

/** What was read of one wheel in one session, kPa. What was not read is left out. */
export interface SessionReading {
  coldKpa?: number | undefined;
  /** In the pit, when the car came in. */
  pitKpa?: number | undefined;
  /** The most it showed on the lap. */
  peakKpa?: number | undefined;
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
}

/** How far the pit reading falls short of the lap's, from sessions that have both: their mean. */
export function learntFall(sessions: readonly SessionReading[]): number | null {
  const falls = sessions.flatMap((s) => (s.peakKpa === undefined || s.pitKpa === undefined ? [] : [s.peakKpa - s.pitKpa]));
  return falls.length === 0 ? null : falls.reduce((a, b) => a + b, 0) / falls.length;
}

/**
 * What to let out of a wheel after its last session, and what to start with next time. Judged by the peak on the lap; without it by the pit
 * reading and what this wheel's pit readings fell short by before, since a tire cools on the way in (common practice, no source).
 * @returns null while the last session has no hot reading or no session has a cold one
 */
export function trackAdvice({ position, targetHotKpa, sessions }: TrackWheel): TrackAdvice | null {
  const last = sessions.at(-1);
  const coldKpa = sessions.findLast((s) => s.coldKpa !== undefined)?.coldKpa;
  if (!last || coldKpa === undefined) return null;
  const fallKpa = learntFall(sessions);
  const { peakKpa, pitKpa } = last;
  const found =
    peakKpa !== undefined
      ? { lapKpa: peakKpa, by: 'peak' as const }
      : pitKpa === undefined
        ? null
        : fallKpa === null
          ? { lapKpa: pitKpa, by: 'pit' as const }
          : { lapKpa: pitKpa + fallKpa, by: 'pitAndFall' as const };
  if (!found) return null;
  return { ...bleedHot({ position, coldKpa, hotKpa: found.lapKpa, targetHotKpa }), ...found, fallKpa };
}
