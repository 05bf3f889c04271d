import { OPEN_ID } from './ids.ts';

/** What is found at a position when all are stepped through. */
export interface CheckFinding {
  position: string;
  code: 'open' | 'short' | 'twice' | 'differs' | 'notRead' | 'factoryElsewhere';
  /** The other position of the same ID, or the wheel a factory code belongs to. */
  other?: string;
  /** What the book says. */
  wanted?: string;
}

/** A position as it is stepped to. */
export interface CheckPosition {
  position: string;
  /** What the monitor shows there; null while it was not looked at. */
  shows: string | null;
  /** What the book says. */
  book: string | null;
  /** What a factory-coded sensor always reports as. */
  factoryPosition?: string | undefined;
}

/** A position shows a pressure; the ID of its sensor isn't known. */
export const HEARD = 'HEARD';

/**
 * Step through all positions as a monitor does: every one full, none twice, none short, none left open, each what the book says.
 * A factory-coded sensor reports its own position wherever it is screwed on: on another wheel that is reported.
 */
export function finalCheck(positions: readonly CheckPosition[]): CheckFinding[] {
  const out: CheckFinding[] = [];
  const seen = new Map<string, string>();
  for (const { position, shows, book, factoryPosition } of positions) {
    const code = shows === null ? null : shows.toUpperCase().replaceAll(' ', '');
    if (code === null) out.push({ position, code: 'notRead' });
    else if (code === '' || code === OPEN_ID) {
      if (book !== null) out.push({ position, code: 'open', wanted: book });
    } else if (code === HEARD) {
      if (book === null) out.push({ position, code: 'differs' });
    } else if (code.length < 6) out.push({ position, code: 'short', ...(book === null ? {} : { wanted: book }) });
    else {
      const first = seen.get(code);
      if (first !== undefined) out.push({ position, code: 'twice', other: first });
      else seen.set(code, position);
      if (first === undefined && book !== null && book.toUpperCase() !== code)
        out.push({ position, code: 'differs', wanted: book });
    }
    if (factoryPosition !== undefined && factoryPosition.toUpperCase() !== position)
      out.push({ position, code: 'factoryElsewhere', other: factoryPosition });
  }
  return out;
}
