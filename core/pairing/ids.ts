import type { Sensor } from '#schema/unit.ts';

/** What a monitor shows at an open position. */
export const OPEN_ID = 'FFFFFF';

/** Whether a sensor is kept under a key of our own: its ID wasn't known when it was paired. */
export const isSensorKey = (id: string): boolean => id.length === 12 && id.startsWith('K');

/** A new key from at least 11 random bytes. */
export const sensorKey = (random: ArrayLike<number>): string =>
  `K${Array.from({ length: 11 }, (_, i) => ((random[i] ?? 0) % 36).toString(36)).join('')}`.toUpperCase();

/** A sensor's ID as a display shows it; null while it isn't known. */
export const shownIdOf = (sensor: Pick<Sensor, 'id' | 'shownId'>): string | null =>
  sensor.shownId ?? (isSensorKey(sensor.id) ? null : sensor.id);

/** What is wrong with a typed ID. */
export type IdFault = 'empty' | 'short' | 'long' | 'letters' | 'open';

export interface ReadId {
  /** Six hexadecimal digits in capitals; null when there is a fault. */
  id: string | null;
  fault: IdFault | null;
  /** Digits that were read, for "five of six". */
  digits: number;
  /** Letters that were taken for digits: O for 0, I and L for 1. */
  corrected: string[];
  /** Letters that are no hexadecimal digits. */
  wrong: string[];
}

const LOOKALIKE: Record<string, string> = { O: '0', Q: '0', I: '1', L: '1' };

/**
 * Read an ID as a person types it off a screen: blanks, dashes and colons let pass, small letters raised, O taken for 0 and I or L for
 * 1, since neither is a hexadecimal digit.
 */
export function readId(text: string): ReadId {
  const raw = text.toUpperCase().replace(/[\s\-:.]/g, '');
  const corrected: string[] = [];
  const wrong: string[] = [];
  let id = '';
  for (const c of raw) {
    const digit = LOOKALIKE[c];
    if (digit !== undefined) {
      corrected.push(c);
      id += digit;
    } else if (/[0-9A-F]/.test(c)) id += c;
    else wrong.push(c);
  }
  const answer = (fault: IdFault | null): ReadId => ({ id: fault ? null : id, fault, digits: id.length, corrected, wrong });
  if (raw === '') return answer('empty');
  if (wrong.length > 0) return answer('letters');
  if (id.length < 6) return answer('short');
  if (id.length > 6) return answer('long');
  return answer(id === OPEN_ID ? 'open' : null);
}

/** Digits that are taken for each other on a small display. */
const canonical = (id: string): string => id.toUpperCase().replaceAll('B', '8').replaceAll('D', '0');

/**
 * IDs among those known that a person could have meant: the same but for B and 8, or D and 0.
 * @param known sensors heard, in the tray, or in the book
 */
export function lookAlikes(id: string, known: readonly string[]): string[] {
  const own = canonical(id);
  return known.filter((k) => k.toUpperCase() !== id.toUpperCase() && canonical(k) === own);
}

/** Whether an ID has a digit that is easily misread. */
export const hasDoubtfulDigit = (id: string): boolean => /[B8D0]/.test(id);
