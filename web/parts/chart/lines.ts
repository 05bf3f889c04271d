import type { ChartLine } from './ChartPart.tsx';

const BREAK_MS = 20 * 60_000;
/** Longer than this between two points, and the line has a break: nothing was heard. @param stepS seconds that a point gathers */
export const breakMs = (stepS: number): number => Math.max(BREAK_MS, 3 * stepS * 1000);

/** How a line is drawn, so that twelve differ in print: three inks in four kinds of dash. */
export interface LineStyle {
  ink: '--ink' | '--cyan' | '--ink2';
  dash: readonly number[];
}
const INKS = ['--ink', '--cyan', '--ink2'] as const;
const DASHES: readonly (readonly number[])[] = [[], [8, 3], [2, 3], [9, 3, 2, 3]];

/** The style of the n-th wheel. */
export const styleOf = (n: number): LineStyle => ({
  ink: INKS[n % INKS.length] as LineStyle['ink'],
  dash: DASHES[Math.floor(n / INKS.length) % DASHES.length] as readonly number[],
});

/**
 * Heights for names beside the ends of lines so that none overprints another: as near to its line as can be.
 * @param wanted height of each line's end, pixels, in any order
 * @param gap between two names
 * @returns a height for each, in the order given; closer than the gap only where there is no room
 */
export function spreadNames(wanted: readonly number[], gap: number, top: number, bottom: number): number[] {
  const order = wanted.map((_, i) => i).sort((a, b) => (wanted[a] as number) - (wanted[b] as number) || a - b);
  const space = Math.min(gap, wanted.length > 1 ? (bottom - top) / (wanted.length - 1) : gap);
  const out = new Array<number>(wanted.length);
  // Names that would touch form a block about the middle of what its members want.
  interface Block {
    from: number;
    members: number[];
  }
  const blocks: Block[] = [];
  const place = (members: number[]): number => {
    const middle = members.reduce((sum, i, k) => sum + (wanted[i] as number) - k * space, 0) / members.length;
    return Math.max(top, Math.min(middle, bottom - (members.length - 1) * space));
  };
  for (const i of order) {
    let block: Block = { from: place([i]), members: [i] };
    for (let last = blocks.at(-1); last && last.from + last.members.length * space > block.from; last = blocks.at(-1)) {
      blocks.pop();
      const members = [...last.members, ...block.members];
      block = { from: place(members), members };
    }
    blocks.push(block);
  }
  for (const b of blocks)
    b.members.forEach((i, k) => {
      out[i] = b.from + k * space;
    });
  return out;
}

/** What a line shows at a moment: its nearest point, unless that is further away than a break. */
export function valueAt(points: ChartLine['points'], ms: number, breakMs: number): number | null {
  let low = 0;
  let high = points.length - 1;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((points[mid] as { x: number }).x < ms) low = mid + 1;
    else high = mid;
  }
  const after = points[low];
  const before = points[low - 1];
  const near = before && (!after || ms - before.x <= Math.abs(after.x - ms)) ? before : after;
  return near && Math.abs(near.x - ms) <= breakMs ? near.y : null;
}
