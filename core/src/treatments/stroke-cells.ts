/**
 * Every cell of a grid that a line covers, each at least once.
 * @param points x and y one after the other, shares 0 to 1 of width and height
 * @param size width of the line, in cells
 */
export function strokeCells(
  points: readonly number[],
  size: number,
  width: number,
  height: number,
  touch: (cell: number) => void,
): void {
  eachSegment(points, size / 2, width, height, (cell, distance) => {
    if (distance <= size / 2) touch(cell);
  });
}

/**
 * Visits cells near each piece of a line with their distance from that piece, in cells.
 * @param reach cells farther away are not visited
 */
export function eachSegment(
  points: readonly number[],
  reach: number,
  width: number,
  height: number,
  visit: (cell: number, distance: number) => void,
): void {
  const last = Math.max(1, points.length / 2 - 1);
  for (let n = 0; n < last; n++) {
    const [ax, ay] = [points[n * 2] * width, points[n * 2 + 1] * height];
    const at = Math.min(n + 1, points.length / 2 - 1) * 2;
    const [bx, by] = [points[at] * width, points[at + 1] * height];
    const [dx, dy] = [bx - ax, by - ay];
    const length = dx * dx + dy * dy;
    const [x0, x1] = [
      Math.max(0, Math.floor(Math.min(ax, bx) - reach)),
      Math.min(width - 1, Math.ceil(Math.max(ax, bx) + reach)),
    ];
    const [y0, y1] = [
      Math.max(0, Math.floor(Math.min(ay, by) - reach)),
      Math.min(height - 1, Math.ceil(Math.max(ay, by) + reach)),
    ];
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const along = length > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / length)) : 0;
        const distance = Math.hypot(px - along * dx, py - along * dy);
        if (distance <= reach) visit(y * width + x, distance);
      }
  }
}
