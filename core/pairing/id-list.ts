import { type IdFault, readId } from './ids.ts';

/** One line of a list of IDs. */
export interface ListedId {
  /** The wheel it is for; null where the list has more lines than wheels. */
  position: string | null;
  text: string;
  id: string | null;
  fault: IdFault | 'twice' | 'noWheel' | null;
}

/**
 * IDs from a text as it is copied out of a note or a table: one a line, or separated by commas or semicolons. A line may begin or end with
 * its position; the others are for the wheels in their order, those left out that were named.
 * @param order positions of the wheels, in the order in which they are paired
 */
export function readIdList(text: string, order: readonly string[]): ListedId[] {
  const lines = text
    .split(/[\r\n;,]+/)
    .map((l) => l.trim())
    .filter((l) => l !== '');
  const known = new Set(order);
  const read = lines.map((line) => {
    const words = line.split(/[\s:=\t]+/).filter((w) => w !== '');
    const named = [words[0], words.at(-1)].map((w) => w?.toUpperCase()).find((w) => w !== undefined && known.has(w)) ?? null;
    const rest = named === null ? line : words.filter((w) => w.toUpperCase() !== named).join('');
    return { named, text: line, ...readId(rest) };
  });
  const free = order.filter((p) => !read.some((r) => r.named === p));
  const seen = new Map<string, number>();
  for (const r of read) if (r.id) seen.set(r.id, (seen.get(r.id) ?? 0) + 1);
  const places = new Map<string, number>();
  for (const r of read) if (r.named) places.set(r.named, (places.get(r.named) ?? 0) + 1);
  return read.map((r) => {
    const position = r.named ?? free.shift() ?? null;
    const twice = (r.id !== null && (seen.get(r.id) ?? 0) > 1) || (r.named !== null && (places.get(r.named) ?? 0) > 1);
    return { position, text: r.text, id: r.id, fault: r.fault ?? (position === null ? 'noWheel' : twice ? 'twice' : null) };
  });
}
