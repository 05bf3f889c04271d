/** Spread labels so that none lies on another, as near to their marks as that allows. */
export function spread(wanted: readonly number[], gap: number): number[] {
  const order = wanted.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y);
  for (let round = 0; round < 40; round += 1) {
    let moved = false;
    for (let k = 1; k < order.length; k += 1) {
      const a = order[k - 1] as { y: number };
      const b = order[k] as { y: number };
      if (b.y - a.y < gap - 0.01) {
        const mid = (a.y + b.y) / 2;
        a.y = mid - gap / 2;
        b.y = mid + gap / 2;
        moved = true;
      }
    }
    if (!moved) break;
  }
  const out: number[] = [];
  for (const { y, i } of order) out[i] = y;
  return out;
}
