import { convert } from '../units/units.ts';

/** A figure as it was typed. */
export interface TypedFigure {
  position: string;
  /** As typed, in the unit it is meant to be in. */
  value: number;
  unit: 'psi' | 'bar' | 'kPa';
  /** What the wheel read last, or its cold target, kPa; null when neither is known. */
  likelyKpa: number | null;
}

/** A likely slip of the pen, and what may have been meant, in the unit of the figure. Null: nothing looks wrong. */
export type Slip =
  | { kind: 'unit'; readAs: 'psi' | 'bar' | 'kPa'; meant: number }
  | { kind: 'swapped'; meant: number }
  | { kind: 'far'; likely: number };

/** Within this share of what is likely a figure needs no question; past the other it does. Assumed. */
const NEAR = 0.12;
const FAR = 0.35;

const off = (value: number, likely: number) => Math.abs(value - likely) / likely;

/** A figure with two neighbouring digits exchanged, for each pair of them. */
function swaps(value: number): number[] {
  const text = String(value);
  const out: number[] = [];
  for (let i = 0; i < text.length; i += 1) {
    const next = text[i + 1] === '.' ? i + 2 : i + 1;
    if (next >= text.length || text[i] === '.') continue;
    const chars = [...text];
    [chars[i], chars[next]] = [chars[next] as string, chars[i] as string];
    const swapped = Number(chars.join(''));
    if (swapped !== value && !Number.isNaN(swapped)) out.push(swapped);
  }
  return out;
}

/**
 * Look for a slip in a typed figure: another unit (2.4 where 35 psi is likely), two digits exchanged (53 for 35), or a figure far from
 * what is likely. A tire that has really lost its air is far too, so nothing is refused: it is asked.
 */
export function slipOf({ value, unit, likelyKpa }: TypedFigure): Slip | null {
  if (likelyKpa === null || likelyKpa <= 0) return null;
  const likely = convert(likelyKpa, 'kPa', unit);
  if (off(value, likely) <= NEAR) return null;
  for (const other of ['bar', 'psi', 'kPa'] as const) {
    if (other === unit) continue;
    if (off(convert(value, other, 'kPa'), likelyKpa) <= 0.2 && off(value, likely) > 0.5) {
      return { kind: 'unit', readAs: other, meant: convert(value, other, unit) };
    }
  }
  const swapped = swaps(value).find((v) => off(v, likely) <= NEAR);
  if (swapped !== undefined) return { kind: 'swapped', meant: swapped };
  return off(value, likely) > FAR ? { kind: 'far', likely } : null;
}

/**
 * Whether a whole round is the last one again: three wheels or more, all to the digit what they read before. Then it was likely copied from
 * a monitor that only shows its last values.
 * @param before what each wheel read before, as it would have been typed; null when it is unknown
 */
export const sameAsBefore = (typed: readonly { value: number; before: number | null }[]): boolean =>
  typed.length >= 3 && typed.every((t) => t.before !== null && t.value === t.before);
