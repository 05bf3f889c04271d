// Numbers are sorted here without a call for each pair.
let scratch = new Float64Array(256);

/**
 * The middle of a list of numbers; the mean of the two middle ones when their count is even. Written out because the watch asks for
 * it with every reading of an axle: a library's makes and sorts a list each time.
 * @param but index of one to leave out
 */
export function median(values: readonly number[], but = -1): number {
  const n = but < 0 ? values.length : values.length - 1;
  if (n <= 4) {
    // The usual axle: no list has to be made for it.
    let sum = 0;
    let least = Number.POSITIVE_INFINITY;
    let most = Number.NEGATIVE_INFINITY;
    for (let i = 0; i < values.length; i += 1) {
      if (i === but) continue;
      const v = values[i] as number;
      sum += v;
      if (v < least) least = v;
      if (v > most) most = v;
    }
    return n <= 2 ? sum / n : n === 3 ? sum - least - most : (sum - least - most) / 2;
  }
  if (scratch.length < n) scratch = new Float64Array(2 * n);
  const sorted = scratch.subarray(0, n);
  let k = 0;
  for (let i = 0; i < values.length; i += 1) if (i !== but) sorted[k++] = values[i] as number;
  sorted.sort();
  const mid = n >> 1;
  return n % 2 === 1 ? (sorted[mid] as number) : ((sorted[mid - 1] as number) + (sorted[mid] as number)) / 2;
}
