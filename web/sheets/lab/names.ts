/** A box on the picture, pixels. */
export interface NameBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

const overlap = (a: NameBox, b: NameBox) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/**
 * Where the names of points are written so that none lies on another name or on a point: beside, above, below; or farther off.
 * @param points centre and radius of each, pixels
 * @param widths of the names, pixels
 * @param area the names must be inside
 */
export function placeNames(
  points: readonly { x: number; y: number; r: number }[],
  widths: readonly number[],
  height: number,
  area: NameBox,
): NameBox[] {
  const taken: NameBox[] = points.map(({ x, y, r }) => ({ x: x - r, y: y - r, width: 2 * r, height: 2 * r }));
  return points.map(({ x, y, r }, i) => {
    const width = widths[i] as number;
    const gap = r + 5;
    const tries = [0, 1, 2, 3, 4, 5].flatMap((n) => {
      const off = n * height;
      return [
        { x: x + gap, y: y - height - off - (n > 0 ? 0 : 1) },
        { x: x + gap, y: y + off + 1 },
        { x: x - gap - width, y: y - height - off - 1 },
        { x: x - gap - width, y: y + off + 1 },
      ];
    });
    const box = tries
      .map((t) => ({ ...t, width, height }))
      .find(
        (b) =>
          b.x >= area.x &&
          b.x + b.width <= area.x + area.width &&
          b.y >= area.y &&
          b.y + b.height <= area.y + area.height &&
          !taken.some((t) => overlap(t, b)),
      ) ?? { x: Math.max(area.x, Math.min(x + gap, area.x + area.width - width)), y: y - height, width, height };
    taken.push(box);
    return box;
  });
}
