import { FieldError } from '../errors.ts';

/** Which sensor a monitor shows at each position. */
export type Shows = Record<string, string>;

/**
 * The fewest pairwise exchanges that bring a monitor from what it shows to what is wanted, in an order that works: the number of
 * positions less the number of cycles of the permutation (each exchange can close at most one more cycle).
 * @throws FieldError when the two do not hold the same positions and the same sensors, each once
 */
export function exchangesFor(now: Shows, wanted: Shows): [string, string][] {
  const positions = Object.keys(now);
  const extra = Object.keys(wanted).find((p) => !(p in now));
  if (extra !== undefined) throw new FieldError(`/wanted/${extra}`, 'is not among the positions now');
  const missing = positions.find((p) => !(p in wanted));
  if (missing !== undefined) throw new FieldError(`/wanted/${missing}`, 'is missing');
  const at = new Map<string, string>();
  for (const p of positions) {
    const id = now[p] as string;
    const other = at.get(id);
    if (other !== undefined) throw new FieldError(`/now/${p}`, `${id} stands at ${other} already`);
    at.set(id, p);
  }
  const seen = new Map<string, string>();
  for (const p of positions) {
    const id = wanted[p] as string;
    if (!at.has(id)) throw new FieldError(`/wanted/${p}`, `${id} is not among the sensors now`);
    const other = seen.get(id);
    if (other !== undefined) throw new FieldError(`/wanted/${p}`, `${id} is wanted at ${other} already`);
    seen.set(id, p);
  }
  const shows = new Map(positions.map((p) => [p, now[p] as string]));
  const out: [string, string][] = [];
  for (const p of positions) {
    const want = wanted[p] as string;
    const has = shows.get(p) as string;
    if (has === want) continue;
    const from = at.get(want) as string;
    out.push([p, from]);
    shows.set(p, want);
    shows.set(from, has);
    at.set(want, p);
    at.set(has, from);
  }
  return out;
}
