import { OPEN_ID } from './ids.ts';

/** What is found at a position when all are stepped through. */
export interface CheckFinding {
  position: string;
  code: 'open' | 'short' | 'twice' | 'differs' | 'notRead' | 'factoryElsewhere' | 'swapped' | 'wrongMark';
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
  /** What is printed on it by the book, and what was read on the sensor that is on this wheel. */
  mark?: string | undefined;
  markRead?: string | undefined;
}

const sameMark = (a: string, b: string) => a.trim().toUpperCase() === b.trim().toUpperCase();

/** Marks that were read at the wheels against those of the book: two that are crossed are one finding. */
function markFindings(positions: readonly CheckPosition[]): CheckFinding[] {
  const out: CheckFinding[] = [];
  const told = new Set<string>();
  for (const { position, mark, markRead } of positions) {
    if (mark === undefined || markRead === undefined || sameMark(mark, markRead) || told.has(position)) continue;
    const owner = positions.find((p) => p.position !== position && p.mark !== undefined && sameMark(p.mark, markRead));
    if (owner?.markRead !== undefined && sameMark(owner.markRead, mark)) {
      told.add(owner.position);
      out.push({ position, code: 'swapped', other: owner.position });
    } else out.push({ position, code: 'wrongMark', ...(owner ? { other: owner.position } : {}) });
  }
  return out;
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
  out.push(...markFindings(positions));
  return out;
}
